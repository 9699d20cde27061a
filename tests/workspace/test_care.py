"""Backups, what is kept for how long, and the commands of a server."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import psycopg
import pytest
from playhouse.migrations import Runner

from movrel.jobs.queue import order_judging, prepare
from movrel.workspace import projects, results, retention, runs
from movrel.workspace.backup import write_backup
from movrel.workspace.cluster import Cluster
from movrel.workspace.database import MIGRATIONS, connect, migrate
from movrel.workspace.tables import (
    ModelFile,
    Project,
    ResultColumn,
    Revision,
    Run,
    StoredEdit,
    Sweep,
    database,
)

LAG = "model Lag Real x(start=1, fixed=true); equation der(x) = -x; end Lag;"


@pytest.fixture
def workspace(cluster: Cluster) -> Iterator[str]:
    """A database of its own with one project, one run and its results; gives its address."""
    server = cluster.url.rpartition("/")[0]
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute("CREATE DATABASE care")
    url = f"{server}/care"
    pool = connect(url)
    migrate(pool)
    prepare(url)
    with pool.connection_context():
        made = projects.create_project("Kept")
        projects.add_file(made.id, "Lag.mo", LAG, "added")
        run = runs.order(made.id, "Lag", {}, "base", "")
        results.write_chunk(run.id, 0, np.arange(3.0), np.ones((3, 2)))
        yield url
    pool.close_all()
    connect(cluster.url)
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute("DROP DATABASE care WITH (FORCE)")


def movrel(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "movrel", *arguments]
    return subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)


def test_everything_comes_back_from_a_backup(workspace: str, tmp_path: Path) -> None:
    file = tmp_path / "kept.dump"
    done = movrel("backup", str(file), "--database", workspace)
    assert done.returncode == 0 and "kept.dump" in done.stdout, done.stderr
    run = Run.get()
    Project.update(name="Spoilt").execute()
    ResultColumn.delete().execute()
    projects.create_project("Made since")
    done = movrel("restore", str(file), "--database", workspace)
    assert done.returncode == 0, done.stderr
    assert [p.name for p in Project.select()] == ["Kept"]
    assert list(results.read_columns(run.id, [0])[0]) == [1.0, 1.0, 1.0]
    assert projects.snapshot(run.project_id).text("Lag.mo") == LAG
    assert movrel("migrate", "--database", workspace).stdout == "The tables are up to date.\n"


def test_a_backup_of_an_earlier_version_is_brought_up_to_date(
    workspace: str, tmp_path: Path
) -> None:
    file = tmp_path / "earlier.dump"
    steps = Runner(database.obj, str(MIGRATIONS))
    steps.down("0014_points_of_sweeps")
    assert not database.table_exists("stored_edit")
    write_backup(workspace, file)
    migrate(database.obj)
    StoredEdit.create(id="since", file=ModelFile.get(), revision=Revision.get())
    done = movrel("restore", str(file), "--database", workspace)
    assert done.returncode == 0, done.stderr
    assert StoredEdit.select().count() == 0 and Project.get().name == "Kept"
    assert not Sweep.select(Sweep.made).exists()


def test_what_is_no_backup_changes_nothing(workspace: str, tmp_path: Path) -> None:
    file = tmp_path / "text.dump"
    file.write_text("no backup")
    done = movrel("restore", str(file), "--database", workspace)
    assert done.returncode == 2 and "PostgreSQL refused" in done.stderr
    assert "Traceback" not in done.stderr and Project.get().name == "Kept"


def test_what_was_deleted_a_week_ago_leaves(workspace: str) -> None:
    run = Run.get()
    order_judging(workspace, run.project_id, "Lag")
    database.execute_sql("UPDATE procrastinate_jobs SET status = 'succeeded'")
    runs.delete(run.id)
    assert retention.tidy() == retention.Tidied(0, 0, 0), "a day too early"
    assert retention.room()[0].results > 0
    database.execute_sql("UPDATE run SET deleted = deleted - interval '8 days'")
    database.execute_sql("UPDATE procrastinate_events SET at = at - interval '2 days'")
    done = movrel("tidy", "--database", workspace)
    assert "Removed 1 runs, 0 sweeps and 1 jobs." in done.stdout and "Kept" in done.stdout
    assert ResultColumn.select().count() == Sweep.select().count() == 0
    [kept] = retention.room()
    assert (kept.results, kept.texts, kept.total) == (0, len(LAG), len(LAG))


def test_only_this_machine_is_served(tmp_path: Path) -> None:
    done = movrel("serve", "--host", "0.0.0.0", "--data", str(tmp_path))
    assert done.returncode == 2 and "nobody has to sign in yet" in done.stderr
    done = movrel("backup", str(tmp_path / "f"), "--data", str(tmp_path / "none"))
    assert done.returncode == 2 and "there is no workspace" in done.stderr

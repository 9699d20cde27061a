"""Backups, what is kept for how long, and the commands of a server."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from graphlib import TopologicalSorter
from pathlib import Path
from typing import Any

import numpy as np
import psycopg
import pytest
from playhouse.migrations import Runner

from movrel.jobs.queue import order_judging, prepare
from movrel.workspace import projects, results, retention, runs
from movrel.workspace.backup import back_up_before, write_backup
from movrel.workspace.cluster import Cluster
from movrel.workspace.database import MIGRATIONS, connect, due, migrate
from movrel.workspace.log_file import rotate
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


def fill(schema: int) -> dict[str, list[dict[str, Any]]]:
    """One row in each table as a schema has it, those first to which others refer; gives all rows by table."""
    columns = database.execute_sql(
        "SELECT table_name, column_name, data_type FROM information_schema.columns WHERE table_schema = 'public' "
        "AND is_nullable = 'NO' AND column_default IS NULL AND is_identity = 'NO' AND table_name NOT LIKE 'procrastinate%%' "
        "AND table_name <> 'schema_migration' ORDER BY table_name, ordinal_position"
    ).fetchall()
    refers = {
        (table, column): (other, key)
        for table, column, other, key in database.execute_sql(
            "SELECT c.conrelid::regclass::text, a.attname, c.confrelid::regclass::text, b.attname FROM pg_constraint c "
            "JOIN pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = c.conkey[1] "
            "JOIN pg_attribute b ON b.attrelid = c.confrelid AND b.attnum = c.confkey[1] WHERE c.contype = 'f'"
        ).fetchall()
    }
    tables: dict[str, list[tuple[str, str]]] = {t: [] for t in database.get_tables()}
    for table, column, kind in columns:
        tables[table].append((column, kind))
    ours = {t for t in tables if not t.startswith("procrastinate") and t != "schema_migration"}
    needs = {t: {refers[t, c][0] for c, _ in tables[t] if (t, c) in refers} - {t} for t in ours}
    made = {
        "text": f"step {schema} é", "character varying": f"step-{schema}", "jsonb": "{}", "bytea": b"\0\1",
        "timestamp without time zone": "2026-11-03 04:05:06", "boolean": True, "double precision": 0.5,
    }  # fmt: skip
    for table in TopologicalSorter(needs).static_order():
        names, values = [], []
        for column, kind in tables[table]:
            names.append(f'"{column}"')
            if (table, column) in refers:
                other, key = refers[table, column]
                newest = f'SELECT max("{key}") FROM "{other}"'
                values.append(database.execute_sql(newest).fetchone()[0])
            else:
                values.append(made.get(kind, schema))
        into = (
            f"({', '.join(names)}) VALUES ({', '.join(['%s'] * len(names))})"
            if names
            else "DEFAULT VALUES"
        )
        database.execute_sql(f'INSERT INTO "{table}" {into}', values)
    return {t: rows_of(t) for t in ours}


def rows_of(table: str) -> list[dict[str, Any]]:
    cursor = database.execute_sql(f'SELECT * FROM "{table}" ORDER BY 1, 2')
    return [
        dict(zip([d.name for d in cursor.description], row, strict=True))
        for row in cursor.fetchall()
    ]


def test_data_of_every_earlier_schema_is_brought_up_to_date(
    cluster: Cluster, tmp_path: Path
) -> None:
    """A database that grew through all versions, with rows from each, loses none of them and can be read."""
    server = cluster.url.rpartition("/")[0]
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute("CREATE DATABASE grown")
    pool = connect(f"{server}/grown")
    steps = Runner(database.obj, str(MIGRATIONS))
    before: dict[str, list[dict[str, Any]]] = {}
    try:
        with pool.connection_context():
            assert due(pool) == []  # a new workspace
            names = [step.name for step in steps.migrations()]
            for number, name in enumerate(names, 1):
                assert steps.up(name) == [name]
                for table, rows in before.items():
                    now = rows_of(table)
                    assert len(now) == len(rows), f"{name} lost rows of {table}"
                    for old, new in zip(rows, now, strict=True):
                        assert {k: new[k] for k in old if k in new} == {
                            k: v for k, v in old.items() if k in new
                        }, f"{name} changed {table}"
                assert due(pool) == names[number:]
                before = fill(number)
            for table in (Project, ModelFile, Revision, Run, Sweep, ResultColumn, StoredEdit):
                assert len(list(table.select())) == len(before[table._meta.table_name]) > 0
            backup = back_up_before(f"{server}/grown", names[-1:], tmp_path / "backups")
            assert backup is not None and names[-1] in backup.name and backup.stat().st_size > 1000
    finally:
        pool.close_all()
        connect(cluster.url)
        with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
            connection.execute("DROP DATABASE grown WITH (FORCE)")


def test_a_migration_writes_a_backup_first(workspace: str, tmp_path: Path) -> None:
    Runner(database.obj, str(MIGRATIONS)).down()
    for said in ("What was there before is in", ""):
        done = movrel("migrate", "--database", workspace, "--data", str(tmp_path))
        assert done.returncode == 0 and said in done.stdout, done.stderr
    [file] = (tmp_path / "backups").iterdir()
    Project.update(name="Spoilt").execute()
    assert movrel("restore", str(file), "--database", workspace).returncode == 0
    assert Project.get().name == "Kept"


def test_a_lost_password_is_replaced(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    server = Cluster(tmp_path / "server", fast=True)
    server.start()
    try:
        for running in (True, False):
            if not running:
                server.stop()
            (server.folder / "password").unlink()
            server.start()
            assert "the database has a new one" in capsys.readouterr().out
            with psycopg.connect(server.url) as connection:
                assert connection.execute("SELECT 1").fetchone() == (1,)
            assert (server.folder / "password").stat().st_mode & 0o777 == 0o600
    finally:
        server.stop()


def test_a_log_does_not_grow_for_ever(tmp_path: Path) -> None:
    log = tmp_path / "server.log"
    with log.open("a") as writer:
        for number in range(6):
            writer.write(f"{number}" * 100)
            writer.flush()
            assert rotate(log, largest=99) and log.stat().st_size == 0
        assert not rotate(log, largest=99)
    kept = sorted(p.name for p in tmp_path.iterdir())
    assert kept == ["server.log", "server.log.1", "server.log.2", "server.log.3"]
    assert log.with_name("server.log.1").read_text() == "5" * 100


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

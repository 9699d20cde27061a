"""What is kept for how long, and what takes the room."""

from __future__ import annotations

import shutil
from dataclasses import dataclass

from peewee import ProgrammingError

from movrel.workspace.tables import database

#: Days for which deleted runs and sweeps can be brought back, and for which what a worker has done is remembered.
DELETED, DONE = 7, 1
#: First key of the lock that keeps two processes from tidying at once.
LOCK = 727281


@dataclass(frozen=True, slots=True)
class Tidied:
    """What left for good."""

    runs: int
    sweeps: int
    jobs: int


@dataclass(frozen=True, slots=True)
class Room:
    """Bytes that a project takes: results of runs and sweeps, texts with their history, files beside the models."""

    project: int
    name: str
    deleted: bool
    results: int
    texts: int
    files: int

    @property
    def total(self) -> int:
        return self.results + self.texts + self.files


def tidy() -> Tidied:
    """Remove what was deleted a week ago, and jobs that ended more than a day ago."""
    with database.atomic():
        if not database.execute_sql("SELECT pg_try_advisory_xact_lock(%s)", (LOCK,)).fetchone()[0]:
            return Tidied(0, 0, 0)
        # Nobody waits for an answer so long.
        _count(
            "DELETE FROM stored_edit WHERE created < (now() AT TIME ZONE 'utc') - make_interval(days => %s)",
            DONE,
        )
        old = "deleted < (now() AT TIME ZONE 'utc') - make_interval(days => %s)"
        return Tidied(
            _count(f"DELETE FROM run WHERE {old}", DELETED),
            _count(f"DELETE FROM sweep WHERE {old}", DELETED),
            _count(
                "DELETE FROM procrastinate_jobs job WHERE status NOT IN ('todo', 'doing', 'aborting') AND NOT EXISTS "
                "(SELECT 1 FROM procrastinate_events e WHERE e.job_id = job.id AND e.at > now() - make_interval(days => %s))",
                DONE,
            ),
        )


def room() -> list[Room]:
    """What each project takes, the largest first."""
    rows = database.execute_sql(
        f"SELECT p.id, p.name, p.deleted IS NOT NULL, {_sum('result_column', 'run')} + {_sum('result_overview', 'run')} "
        f"+ {_sum('sweep_point', 'sweep')}, {_sum('revision', 'model_file', 'file', 'text')}, "
        "COALESCE((SELECT sum(size) FROM project_resource x WHERE x.project_id = p.id), 0) FROM project p"
    ).fetchall()
    rooms = [Room(*row[:3], *map(int, row[3:])) for row in rows]
    return sorted(rooms, key=lambda r: -r.total)


@dataclass(frozen=True, slots=True)
class DiskUse:
    """Bytes of the whole database with its indices and its log, and of what is free beside it, as far as that is known."""

    projects: list[Room]
    database: int
    free: int | None
    #: Days after which what was deleted leaves.
    kept_for: int


def disk_use() -> DiskUse:
    """What uses the disk."""
    size = database.execute_sql("SELECT pg_database_size(current_database())").fetchone()[0]
    try:
        with database.atomic():
            folder = database.execute_sql("SHOW data_directory").fetchone()[0]
        free: int | None = shutil.disk_usage(folder).free
    except (ProgrammingError, OSError):
        free = None  # not ours to see, or on another machine
    return DiskUse(room(), int(size), free, DELETED)


def _sum(table: str, owner: str, key: str = "", column: str = "data") -> str:
    """SQL: the bytes in a column of what belongs to a project ``p`` by its owner."""
    joined = f"{table} x JOIN {owner} o ON o.id = x.{key or owner}_id"
    return f"COALESCE((SELECT sum(octet_length(x.{column})) FROM {joined} WHERE o.project_id = p.id), 0)"


def _count(sql: str, *values: object) -> int:
    return int(database.execute_sql(sql, values).rowcount)

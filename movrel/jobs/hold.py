"""Whether the worker that took a job still lives: it holds the job by its connection to the database.

A process that ends lets go at once, whatever it was doing. One that only is slow, on a machine that is short of time, is
silent but holds on; one that is suspended for long loses the job all the same.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress

from peewee import DatabaseError, InterfaceError

from movrel.workspace.tables import database

#: First key of the advisory locks.
LOCKS = 727280
#: Seconds of silence after which a worker counts as dead when it holds its job no longer, and when it does.
SILENCE, SUSPENDED = 4.0, 60.0
#: Work whose worker was lost so many times is given up.
LOSS_LIMIT = 2

#: An SQL condition: a ``job`` of the queue is being done by a ``worker`` that lives.
ALIVE = f"""COALESCE(job.status IN ('doing', 'aborting') AND (
    worker.last_heartbeat > now() - make_interval(secs => {SILENCE})
    OR worker.last_heartbeat > now() - make_interval(secs => {SUSPENDED}) AND EXISTS (
        SELECT 1 FROM pg_locks held WHERE held.locktype = 'advisory' AND held.classid = {LOCKS}
        AND held.objid = mod(job.id, 2147483648)::oid AND held.granted
        AND held.database = (SELECT oid FROM pg_database WHERE datname = current_database()))), FALSE)"""


@contextmanager
def held(job: int | None) -> Iterator[None]:
    """A connection of this thread that holds a job of the queue while the block is carried out."""
    key = (LOCKS, (job or 0) % 2147483648)
    with database.connection_context():
        if job is not None:
            database.execute_sql("SELECT pg_try_advisory_lock(%s, %s)", key)
        try:
            yield
        finally:
            if job is not None and not database.is_closed():
                with suppress(DatabaseError, InterfaceError):
                    database.execute_sql("SELECT pg_advisory_unlock(%s, %s)", key)

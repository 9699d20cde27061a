"""The tasks that workers know."""

from __future__ import annotations

from procrastinate import Blueprint

from movrel.jobs.compute import compute
from movrel.workspace.tables import database

tasks = Blueprint()


@tasks.task(name="compute_run")
def compute_run(run: int) -> None:
    """Compute one run."""
    with database.connection_context():
        compute(run)

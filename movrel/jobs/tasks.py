"""The tasks that workers know."""

from __future__ import annotations

import asyncio

from procrastinate import Blueprint, JobContext

from movrel.jobs.analysing import analyse
from movrel.jobs.compute import compute
from movrel.jobs.exporting import make
from movrel.jobs.queue import BATCH
from movrel.jobs.sweeping import block
from movrel.jobs.trials import try_unit
from movrel.workspace.announce import announce
from movrel.workspace.tables import database
from movrel.workspace.verdicts import judge_anew

tasks = Blueprint()


@tasks.task(name="compute_run")
def compute_run(run: int) -> None:
    """Compute one run."""
    with database.connection_context():
        compute(run)


@tasks.task(name="make_unit")
def make_unit(export: int) -> None:
    """Make one unit."""
    with database.connection_context():
        make(export)


@tasks.task(name="try_unit")
def try_foreign_unit(unit: int) -> None:
    """Run a unit of others by itself."""
    with database.connection_context():
        try_unit(unit)


@tasks.task(name="analyse_model")
def analyse_model(analysis: int) -> None:
    """Fit a model to measurements, or make it linear."""
    with database.connection_context():
        analyse(analysis)


@tasks.task(name="judge_runs")
def judge_runs(project: int, model: str) -> None:
    """Judge the runs of a model by the claims that it has now."""
    with database.connection_context():
        for run in judge_anew(project, model):
            announce("run", run=run.id, project=project, model=model, state=run.state)


@tasks.task(name="sweep_block", pass_context=True)
async def sweep_block(context: JobContext, sweep: int) -> None:
    """Compute some points of a sweep, and order the next ones behind what else is waiting."""
    job = context.job.id if context.job is not None else None
    if await asyncio.to_thread(_block, sweep, job):
        await context.app.configure_task("movrel:sweep_block", queue=BATCH, priority=0).defer_async(
            sweep=sweep
        )


def _block(sweep: int, job: int | None) -> bool:
    with database.connection_context():
        return block(sweep, job)

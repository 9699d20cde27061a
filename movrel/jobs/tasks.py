"""The tasks that workers know."""

from __future__ import annotations

import asyncio

from procrastinate import Blueprint, JobContext

from movrel.jobs.analysing import analyse, help_fit
from movrel.jobs.compute import compute
from movrel.jobs.exporting import make
from movrel.jobs.hold import held
from movrel.jobs.queue import BATCH, order_helpers
from movrel.jobs.sweeping import block
from movrel.jobs.trials import try_unit
from movrel.workspace.announce import announce
from movrel.workspace.verdicts import judge_anew

tasks = Blueprint()


@tasks.task(name="compute_run", pass_context=True)
def compute_run(context: JobContext, run: int) -> None:
    """Compute one run."""
    with held(context.job.id):
        compute(run, context.job.id, context.should_abort)


@tasks.task(name="make_unit", pass_context=True)
def make_unit(context: JobContext, export: int) -> None:
    """Make one unit."""
    with held(context.job.id):
        make(export)


@tasks.task(name="try_unit", pass_context=True)
def try_foreign_unit(context: JobContext, unit: int) -> None:
    """Run a unit of others by itself."""
    with held(context.job.id):
        try_unit(unit)


@tasks.task(name="analyse_model", pass_context=True)
def analyse_model(context: JobContext, analysis: int) -> None:
    """Fit a model to measurements, or make it linear."""
    url = str(context.additional_context["database"])
    with held(context.job.id):
        analyse(analysis, context.job.id, lambda count: order_helpers(url, analysis, count))


@tasks.task(name="help_fit", pass_context=True)
def search_from_places(context: JobContext, analysis: int) -> None:
    """Help another worker with a fit."""
    with held(context.job.id):
        help_fit(analysis, context.job.id)


@tasks.task(name="judge_runs", pass_context=True)
def judge_runs(context: JobContext, project: int, model: str) -> None:
    """Judge the runs of a model by the claims that it has now."""
    with held(context.job.id):
        for run in judge_anew(project, model):
            announce("run", run=run.id, project=project, model=model, state=run.state)


@tasks.task(name="sweep_block", pass_context=True)
async def sweep_block(context: JobContext, sweep: int) -> None:
    """Compute some points of a sweep, and order the next ones behind what else is waiting."""
    for _ in range(await asyncio.to_thread(_block, sweep, context)):
        await context.app.configure_task("movrel:sweep_block", queue=BATCH, priority=0).defer_async(
            sweep=sweep
        )


def _block(sweep: int, context: JobContext) -> int:
    with held(context.job.id):
        return block(sweep, context.job.id, context.should_abort)

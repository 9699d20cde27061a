"""The task queue: orders for workers, kept in the database."""

from __future__ import annotations

import functools
from typing import Any

from procrastinate import App, PsycopgConnector, SyncPsycopgConnector

#: Work that a person waits for, and work that can wait.
QUICK, BATCH = "quick", "batch"
#: Workers that are asked to help with a fit, at most.
HELPERS = 8


def app(url: str) -> App:
    """The queue as a worker sees it."""
    return App(connector=PsycopgConnector(conninfo=url))


@functools.cache
def ordering_app(url: str) -> App:
    """The queue as the web process sees it: it only orders work."""
    made = App(connector=SyncPsycopgConnector(conninfo=url))
    made.open()
    return made


def prepare(url: str) -> None:
    """Create the queue's tables if they are missing."""
    queue = ordering_app(url)
    import psycopg

    with psycopg.connect(url) as connection:
        row = connection.execute("SELECT to_regclass('procrastinate_jobs')").fetchone()
    if row is None or row[0] is None:
        queue.schema_manager.apply_schema()


def order_run(url: str, run: int, quick: bool = True) -> int:
    """Queue the computation of a run; returns the number of the job."""
    task: Any = ordering_app(url).configure_task(
        "movrel:compute_run", queue=QUICK if quick else BATCH, priority=10 if quick else 0
    )
    return int(task.defer(run=run))


def order_unit(url: str, export: int) -> None:
    """Queue the making of a unit."""
    task: Any = ordering_app(url).configure_task("movrel:make_unit", queue=QUICK, priority=5)
    task.defer(export=export)


def order_analysis(url: str, analysis: int) -> None:
    """Queue a fit or a linear model."""
    task: Any = ordering_app(url).configure_task("movrel:analyse_model", queue=QUICK, priority=5)
    task.defer(analysis=analysis)


def order_helpers(url: str, analysis: int, count: int) -> None:
    """Ask workers that are free to help with a fit, as many as it has places to search from."""
    task: Any = ordering_app(url).configure_task("movrel:help_fit", queue=BATCH, priority=1)
    for _ in range(min(count, HELPERS)):
        task.defer(analysis=analysis)


def order_trial(url: str, unit: int) -> None:
    """Queue a run of a unit of others by itself."""
    task: Any = ordering_app(url).configure_task("movrel:try_unit", queue=QUICK, priority=5)
    task.defer(unit=unit)


def order_judging(url: str, project: int, model: str) -> None:
    """Queue that the runs of a model are judged by its present claims."""
    task: Any = ordering_app(url).configure_task("movrel:judge_runs", queue=QUICK, priority=20)
    task.defer(project=project, model=model)


def order_sweep(url: str, sweep: int, chains: int = 1) -> None:
    """Queue work on a sweep; each chain of orders keeps one worker busy."""
    task: Any = ordering_app(url).configure_task("movrel:sweep_block", queue=BATCH, priority=0)
    for _ in range(chains):
        task.defer(sweep=sweep)

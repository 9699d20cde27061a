"""The starts of one fit, searched by as many workers as are free.

Whoever fits works through them, too, so that it never waits for a worker that has other things to do; what a worker that
died had begun is begun again.
"""

from __future__ import annotations

import time as clock
from collections.abc import Callable, Sequence
from contextlib import suppress

import numpy as np
import numpy.typing as npt

from movrel.analyse.fit import Fit
from movrel.errors import RunCancelled
from movrel.jobs.hold import ALIVE
from movrel.workspace.tables import FitStart, database

Array = npt.NDArray[np.float64]

#: Seconds between two looks for what others have finished.
LOOK = 0.2


def put_on_record(analysis: int, points: Sequence[Array]) -> None:
    """The places of a fit, in place of those of an attempt before."""
    with database.atomic():
        FitStart.delete().where(FitStart.analysis == analysis).execute()
        rows = [(analysis, k, p.tolist(), "waiting", 0) for k, p in enumerate(points)]
        fields = [
            FitStart.analysis, FitStart.number, FitStart.theta, FitStart.state, FitStart.runs,
        ]  # fmt: skip
        FitStart.insert_many(rows, fields).execute()


def search(analysis: int, job: int | None, fit: Fit) -> None:
    """Search from places that nobody has, until there is none."""
    while (claimed := _claim(analysis, job)) is not None:
        number, theta = claimed
        before = fit.runs
        cost, best = fit.search(np.array(theta))
        own = FitStart.job.is_null() if job is None else FitStart.job == job
        FitStart.update(
            state="done",
            theta=best.tolist(),
            cost=cost if np.isfinite(cost) else None,
            runs=fit.runs - before,
        ).where((FitStart.analysis == analysis) & (FitStart.number == number) & own).execute()


def results(
    analysis: int, job: int | None, fit: Fit, goes_on: Callable[[], bool]
) -> list[tuple[float, Array]]:
    """Sum of squares and values of all places, once others are done with theirs, or of those that are done when it is
    stopped."""
    place = FitStart.analysis == analysis
    while FitStart.select().where(place & (FitStart.state != "done")).exists():
        if not goes_on():
            break
        search(analysis, job, fit)  # what a worker that died had begun
        clock.sleep(LOOK)
    done = list(FitStart.select().where(place & (FitStart.state == "done")))
    others = [start for start in done if start.job != job]
    fit.runs += sum(start.runs for start in others)
    return [(start.cost, np.array(start.theta)) for start in done if start.cost is not None]


def _claim(analysis: int, job: int | None) -> tuple[int, list[float]] | None:
    """A place that waits, or whose worker is gone; it is this job's from now on."""
    row: tuple[int, list[float]] | None = database.execute_sql(
        f"""
        UPDATE fit_start SET state = 'running', job = %s WHERE analysis_id = %s AND number = (
            SELECT number FROM fit_start start
            LEFT JOIN procrastinate_jobs job ON job.id = start.job
            LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
            WHERE start.analysis_id = %s AND (start.state = 'waiting' OR start.state = 'running' AND NOT {ALIVE})
            ORDER BY number LIMIT 1 FOR UPDATE OF start SKIP LOCKED)
        RETURNING number, theta
        """,
        (job, analysis, analysis),
    ).fetchone()
    return row


def spread(
    analysis: int,
    job: int | None,
    order_helpers: Callable[[int], None],
    goes_on: Callable[[], bool],
) -> Callable[[Fit, list[Array]], list[tuple[float, Array]]]:
    """How a fit searches from many places: other workers are asked to help."""

    def searched(fit: Fit, points: list[Array]) -> list[tuple[float, Array]]:
        put_on_record(analysis, points)
        order_helpers(len(points))
        with suppress(RunCancelled):
            search(analysis, job, fit)
        rivals = results(analysis, job, fit, goes_on)
        if goes_on():
            return rivals
        fit.best = min([*([fit.best] if fit.best else []), *rivals], key=lambda rival: rival[0])
        raise RunCancelled("the fit was stopped.")

    return searched

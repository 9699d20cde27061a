"""Computing sweeps: workers take points a few at a time, so that quick work comes between and nothing is lost."""

from __future__ import annotations

import os
import socket
import time as clock
from collections.abc import Callable
from typing import Any

import numpy as np

from movrel.analyse.claim_text import Claim, read, read_expression
from movrel.analyse.claims import judge
from movrel.analyse.curves import RunCurves
from movrel.analyse.sweep import measured
from movrel.couple.rig import coupled
from movrel.edits.scenario_model import ScenarioModel, with_changes
from movrel.errors import MovrelError
from movrel.jobs.hold import ALIVE, LOSS_LIMIT
from movrel.workspace import projects, sweeps
from movrel.workspace.announce import announce
from movrel.workspace.tables import Sweep, SweepPoint, database, now

#: Points that a worker claims at once, and seconds after which a worker looks for quicker work.
AT_ONCE, SECONDS = 16, 1.0
#: Orders of a sweep that are on their way at once, at most.
CHAINS = 8
#: How this process is called where it says what it did.
WORKER = f"{socket.gethostname()[:150]}:{os.getpid()}"


def block(number: int, job: int | None, leaving: Callable[[], bool] = lambda: False) -> int:
    """Compute some points of a sweep; tells how many orders are to follow, 0 when nothing is left to begin.

    The first one makes the points. Gives back what is left when the worker is ``leaving``.
    """
    sweep = Sweep.get_or_none(Sweep.id == number)
    if sweep is None or sweep.state != "running":
        return 0
    # As many workers can take part as there are orders.
    following = min(CHAINS, sweep.count) if not sweep.made and sweeps.make_points(number) else 1
    points = _claim(number, job)
    if not points:
        _end(sweep)
        return 0
    began = clock.monotonic()
    try:
        prepared = with_changes(
            projects.snapshot(sweep.project_id, sweep.revisions), sweep.model, sweep.changes, {}
        )
        prepared.loaded = coupled(prepared.loaded)
        fault = ""
    except MovrelError as refused:
        fault = refused.sentence()
    measures = [read_expression(text) for text in sweep.measures]
    claims = [_readable(claim["text"]) for claim in sweep.claims]
    left = list(points)
    # What another worker has taken over meanwhile is that one's.
    own = (SweepPoint.sweep == number) & (
        SweepPoint.job.is_null() if job is None else SweepPoint.job == job
    )
    for point, values in points:
        if leaving() or (clock.monotonic() - began > SECONDS and len(left) < len(points)):
            break
        left.pop(0)
        changes = (
            {"state": "failed", "reason": fault}
            if fault
            else _compute(sweep, prepared, measures, claims, values)
        )
        SweepPoint.update(**changes).where(own & (SweepPoint.number == point)).execute()
    if left:
        SweepPoint.update(state="waiting", job=None).where(
            own & SweepPoint.number.in_([p for p, _ in left]) & (SweepPoint.state == "running")
        ).execute()
    counts = sweeps.counts(number)
    announce(
        "sweep",
        sweep=number,
        project=sweep.project_id,
        model=sweep.model,
        state="running",
        **counts,
    )
    if counts["waiting"] == 0:
        _end(sweep)
    return following if counts["waiting"] > 0 else 0


def _claim(number: int, job: int | None) -> list[tuple[int, dict[str, float]]]:
    """Some waiting points, which are this worker's from now on."""
    rows = database.execute_sql(
        """
        UPDATE sweep_point SET state = 'running', job = %s, worker = %s WHERE sweep_id = %s AND number IN (
            SELECT number FROM sweep_point WHERE sweep_id = %s AND state = 'waiting'
            ORDER BY number LIMIT %s FOR UPDATE SKIP LOCKED)
        RETURNING number, "values"
        """,
        (job, WORKER, number, number, AT_ONCE),
    ).fetchall()
    return sorted(rows)


def _compute(
    sweep: Sweep,
    prepared: ScenarioModel,
    measures: list[Claim],
    claims: list[Claim | None],
    values: dict[str, float],
) -> dict[str, Any]:
    """The fields of a point after it was computed."""
    try:
        run = prepared.loaded.simulate(set=prepared.values | values, **sweep.options)
    except MovrelError as refused:
        return {"state": "failed", "reason": refused.sentence()}
    except MemoryError:
        return {"state": "failed", "reason": "the machine has not enough memory for this point."}
    curves = RunCurves(run)
    result = measured(values, curves, measures)
    _note_units(sweep, measures, result.units)
    kept = [
        sweeps.on_grid(run.time, np.asarray(run[name], dtype=float), sweep.start, sweep.stop)
        for name in sweep.curves
    ]
    holds = [None if claim is None else judge(claim, curves).holds for claim in claims]
    unmeasured = bool(result.failure) and all(v is None for v in result.values) and bool(measures)
    return {
        "state": "failed" if unmeasured else "done", "measures": result.values, "reason": result.failure,
        "claims": holds, "data": sweeps.pack(kept) or None,
    }  # fmt: skip


def _readable(text: str) -> Claim | None:
    """A claim as it can be judged; None where it cannot be read any more."""
    try:
        return read(text)
    except MovrelError:
        return None


def _note_units(sweep: Sweep, measures: list[Claim], units: list[str]) -> None:
    """Take note of the units of measures once they are known."""
    new = {
        m.text: u
        for m, u in zip(measures, units, strict=True)
        if u and sweep.units.get(m.text) != u
    }
    if new:
        sweep.units = sweep.units | new
        Sweep.update(units=sweep.units).where(Sweep.id == sweep.id).execute()


def _end(sweep: Sweep) -> None:
    """A sweep is done when no point is waiting or under way."""
    counts = sweeps.counts(sweep.id)
    if counts["waiting"] == counts["running"] == 0:
        done = (
            Sweep.update(state="done", ended=now(), claims=sweeps.claim_counts(sweep))
            .where((Sweep.id == sweep.id) & (Sweep.state == "running"))
            .execute()
        )
        if done:
            announce(
                "sweep",
                sweep=sweep.id,
                project=sweep.project_id,
                model=sweep.model,
                state="done",
                **counts,
            )


def recover_points(url: str) -> list[int]:
    """Points of dead workers wait again, or fail when they were the end of several; sweeps without orders get one."""
    from movrel.jobs.queue import order_sweep

    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(727277)")
        database.execute_sql(
            f"""
            UPDATE sweep_point p SET attempts = p.attempts + 1, job = NULL,
                state = CASE WHEN p.attempts + 1 >= %s THEN 'failed' ELSE 'waiting' END,
                reason = CASE WHEN p.attempts + 1 >= %s THEN
                    'The worker process ended unexpectedly ' || (p.attempts + 1) || ' times while it computed this point.'
                    ELSE '' END
            FROM sweep s
            WHERE s.id = p.sweep_id AND p.state = 'running' AND NOT EXISTS (
                SELECT 1 FROM procrastinate_jobs job JOIN procrastinate_workers worker ON worker.id = job.worker_id
                WHERE job.id = p.job AND {ALIVE})
            """,
            (LOSS_LIMIT, LOSS_LIMIT),
        )
        idle = database.execute_sql(
            f"""
            SELECT s.id FROM sweep s WHERE s.state = 'running' AND s.deleted IS NULL
              AND s.created < (now() AT TIME ZONE 'utc') - make_interval(secs => 2)
              AND NOT EXISTS (
                SELECT 1 FROM procrastinate_jobs job LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
                WHERE job.task_name = 'movrel:sweep_block' AND (job.args->>'sweep')::bigint = s.id
                  AND (job.status = 'todo' OR {ALIVE}))
            """
        ).fetchall()
        for (number,) in idle:
            order_sweep(url, number)
    return [number for (number,) in idle]

"""Taking up again what a dead worker left behind."""

from __future__ import annotations

from movrel.jobs.hold import ALIVE, LOSS_LIMIT
from movrel.jobs.queue import order_run
from movrel.views.run_data import RunState
from movrel.workspace import foreign_units
from movrel.workspace.announce import announce
from movrel.workspace.tables import Analysis, Run, UnitExport, database, now


def recover(url: str) -> list[int]:
    """Order the runs of dead workers again, or fail them with a reason; returns their numbers.

    A run is orphaned when it is not finished although its job is no longer waiting, or is being
    done by a worker that has died or was suspended for long. Only a run that was under way counts as lost.
    """
    touched = []
    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(727276)")
        orphans = database.execute_sql(
            f"""
            SELECT run.id, run.attempts, run.state, run.project_id, run.model FROM run
            LEFT JOIN procrastinate_jobs job ON job.id = run.job
            LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
            WHERE run.state IN ('queued', 'running', 'stopping')
              AND run.created < (now() AT TIME ZONE 'utc') - make_interval(secs => 2)
              AND NOT (job.id IS NOT NULL AND job.status = 'todo') AND NOT {ALIVE}
            """
        ).fetchall()
        for number, attempts, state, project, model in orphans:
            lost = attempts + (state != RunState.QUEUED)
            if state == RunState.STOPPING:
                changes = {
                    "state": RunState.STOPPED,
                    "reason": "Stopped; the worker had ended.",
                    "ended": now(),
                    "job": None,
                }
            elif lost >= LOSS_LIMIT:
                changes = {
                    "state": RunState.FAILED, "ended": now(), "job": None,
                    "reason": f"The worker process ended unexpectedly {lost} times while it computed this run. "
                    "It may need more memory than the machine has.",
                }  # fmt: skip
            else:
                changes = {"state": RunState.QUEUED, "job": None, "attempts": lost}
            if changes["state"] != RunState.QUEUED:
                changes["interim"] = None
            # The row is this transaction's from here on, so that nobody begins before it knows the new job.
            Run.update(**changes).where(Run.id == number).execute()
            if changes["state"] == RunState.QUEUED:
                Run.update(job=order_run(url, number)).where(Run.id == number).execute()
            announce("run", run=number, project=project, model=model, state=changes["state"])
            touched.append(number)
    return touched


def recover_orders() -> list[int]:
    """Units, trials, fits and verdicts that dead workers had under way wait again, or fail; returns their jobs."""
    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(727278)")
        orphans = database.execute_sql(
            f"""
            SELECT job.id, job.task_name, job.args, job.attempts + 1 FROM procrastinate_jobs job
            LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
            WHERE job.status = 'doing' AND NOT {ALIVE} AND job.task_name = ANY(%s)
            """,
            ([f"movrel:{task}" for task in ("make_unit", "try_unit", "analyse_model", "judge_runs")],),
        ).fetchall()  # fmt: skip
        for job, task, arguments, lost in orphans:
            if lost < LOSS_LIMIT:
                database.execute_sql(
                    "SELECT procrastinate_retry_job_v2(%s, now(), NULL, NULL, NULL)", (job,)
                )
                continue
            database.execute_sql("SELECT procrastinate_finish_job_v1(%s, 'failed', FALSE)", (job,))
            _give_up(task.removeprefix("movrel:"), arguments, lost)
    return [job for job, *_ in orphans]


def _give_up(task: str, arguments: dict[str, int], lost: int) -> None:
    """Say on the order, and to whoever looks at it, that nobody carries it out any more."""
    failed = {
        "state": "failed",
        "reason": f"The worker process ended unexpectedly {lost} times over this. It may need more memory than the machine has.",
    }
    match task:
        case "make_unit":
            order = UnitExport.get_or_none(UnitExport.id == arguments["export"])
            kind = "unit"
        case "analyse_model":
            order = Analysis.get_or_none(Analysis.id == arguments["analysis"])
            kind = "analysis"
        case "try_unit":
            foreign_units.keep_trial(arguments["unit"], **failed)
            return
        case _:
            return
    if order is not None:
        type(order).update(**failed).where(type(order).id == order.id).execute()
        announce(
            kind, project=order.project_id, model=order.model, state="failed", **{kind: order.id}
        )

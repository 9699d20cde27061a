"""Taking up again what a dead worker left behind."""

from __future__ import annotations

from movrel.workspace.announce import announce
from movrel.workspace.tables import Run, database, now

#: A worker that has not been heard of for so many seconds counts as dead.
SILENCE = 6.0
#: A run whose worker was lost so many times is given up.
LOSS_LIMIT = 2


def recover(url: str) -> list[int]:
    """Order the runs of dead workers again, or fail them with a reason; returns their numbers.

    A run is orphaned when it is not finished although its job is no longer waiting, or is being
    done by a worker that has been silent or is gone.
    """
    from movrel.jobs.queue import order_run

    touched = []
    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(727276)")
        orphans = database.execute_sql(
            """
            SELECT run.id, run.attempts, run.state, run.project_id, run.model FROM run
            LEFT JOIN procrastinate_jobs job ON job.id = run.job
            LEFT JOIN procrastinate_workers worker ON worker.id = job.worker_id
            WHERE run.state IN ('queued', 'running', 'stopping')
              AND run.created < (now() AT TIME ZONE 'utc') - make_interval(secs => 2)
              AND NOT (job.id IS NOT NULL AND job.status = 'todo')
              AND NOT (job.id IS NOT NULL AND job.status IN ('doing', 'aborting') AND worker.id IS NOT NULL
                       AND worker.last_heartbeat > now() - make_interval(secs => %s))
            """,
            (SILENCE,),
        ).fetchall()
        for number, attempts, state, project, model in orphans:
            if state == "stopping":
                changes = {
                    "state": "stopped",
                    "reason": "Stopped; the worker had ended.",
                    "ended": now(),
                }
            elif attempts + 1 >= LOSS_LIMIT:
                changes = {
                    "state": "failed", "ended": now(),
                    "reason": f"The worker process ended unexpectedly {attempts + 1} times while it computed this run. "
                    "It may need more memory than the machine has.",
                }  # fmt: skip
            else:
                changes = {
                    "state": "queued",
                    "job": order_run(url, number),
                    "progress": 0.0,
                    "attempts": attempts + 1,
                }
            Run.update(**changes).where(Run.id == number).execute()
            announce("run", run=number, project=project, model=model, state=changes["state"])
            touched.append(number)
    return touched

"""A worker process: takes orders from the queue until it is told to end."""

from __future__ import annotations

import logging
import threading
import time as clock

from movrel.jobs.hold import SUSPENDED
from movrel.jobs.queue import app
from movrel.jobs.recovery import recover, recover_orders
from movrel.jobs.sweeping import recover_points
from movrel.jobs.tasks import tasks
from movrel.workspace.database import connect
from movrel.workspace.retention import tidy
from movrel.workspace.tables import database

#: Seconds between two looks for orphaned work, and between two removals of what is not kept.
RECOVERY_PERIOD, TIDY_PERIOD = 2.0, 3600.0


def run_worker(url: str, queues: list[str]) -> None:
    """Work until SIGINT or SIGTERM; a run in progress is then given back for another worker."""
    logging.getLogger("procrastinate").setLevel(logging.ERROR)
    connect(url, connections=8, durable=False)
    _warm_up()
    ended = threading.Event()
    threading.Thread(target=_keep_recovering, args=(url, ended), daemon=True).start()
    queue = app(url)
    queue.add_tasks_from(tasks, namespace="movrel")
    try:
        queue.run_worker(
            queues=queues, concurrency=1, shutdown_graceful_timeout=1.0, update_heartbeat_interval=1.5,
            stalled_worker_timeout=SUSPENDED, fetch_job_polling_interval=5.0, delete_jobs="never",
            additional_context={"database": url},
        )  # fmt: skip
    finally:
        ended.set()


def _keep_recovering(url: str, ended: threading.Event) -> None:
    tidied = -TIDY_PERIOD
    while not ended.wait(RECOVERY_PERIOD):
        try:
            with database.connection_context():
                recover(url)
                recover_points(url)
                recover_orders()
                if clock.monotonic() - tidied > TIDY_PERIOD:
                    tidied = clock.monotonic()
                    tidy()
        except Exception as fault:
            logging.getLogger(__name__).warning("looking for orphaned runs failed: %s", fault)


def _warm_up() -> None:
    """Import what the first run needs, so that it is as fast as the others."""
    from movrel.session import load

    load(
        text="model Warm Real x(start=1, fixed=true); equation der(x) = if x > 0 then -x else 0; end Warm;"
    ).simulate(stop=1)

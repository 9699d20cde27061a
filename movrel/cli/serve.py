"""Everything of a workspace on one machine: database server, web process, workers.

``python -m movrel.cli.serve`` is what bin/demo and bin/dev start.
"""

from __future__ import annotations

import argparse
import contextlib
import ctypes
import fcntl
import os
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from movrel.cli.account import Account, lesser_account
from movrel.errors import MovrelError
from movrel.workspace.cluster import Cluster
from movrel.workspace.log_file import rotate

ROOT = Path(__file__).resolve().parent.parent.parent
HOST, PORT = "127.0.0.1", 8420
#: A process that ends sooner than this after its start, several times, is not started again.
SHORT_LIFE, LIVES = 5.0, 5
#: Seconds after a start of the database server in which the end of a process counts for nothing.
GRACE = 15.0
#: Seconds in which a web process ends whose supervisor was killed.
LEAVING = 6.0
#: Seconds between two looks at the size of the database server's log.
LOG_PERIOD = 60.0


@dataclass(slots=True)
class Child:
    """A process that is started again when it ends by itself."""

    name: str
    command: list[str]
    process: subprocess.Popen[bytes] | None = None
    started: float = 0.0
    failures: int = 0
    as_root: bool = False  # where root has started the server

    def start(self, environment: dict[str, str], account: Account | None = None) -> None:
        self.started = time.monotonic()
        lesser: dict[str, Any] = {}
        if account is not None and not self.as_root:
            lesser = {"user": account.user, "group": account.group, "extra_groups": []}
            environment = environment | account.environment
        self.process = subprocess.Popen(
            self.command,
            env=environment,
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=_end_with_parent,
            **lesser,
        )


def _end_with_parent() -> None:
    """Ask the kernel to end this process when its parent dies, however it dies."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


def prepare_database(url: str, backups: Path, example: Path | None = None) -> bool:
    """Bring tables and queue up to date, after a backup, and load the example project once; says whether it was new."""
    from movrel.jobs.queue import prepare
    from movrel.workspace.backup import back_up_before
    from movrel.workspace.database import connect, due, migrate
    from movrel.workspace.projects import load_example

    pool = connect(url, connections=2)
    backup = back_up_before(url, due(pool), backups)
    if backup is not None:
        print(
            f"The tables are brought up to date; what was there before is in {backup}.", flush=True
        )
    migrate(pool)
    prepare(url)
    if example is None:
        return False
    with pool.connection_context():
        return load_example(example) is not None


class Service:
    """The processes of one workspace."""

    def __init__(
        self, data: Path, port: int, workers: int, web: list[str] | None = None, folder: Path | None = None,
        database: str | None = None,
    ) -> None:  # fmt: skip
        self.data = data
        self.folder = folder
        #: The database server, unless somebody else keeps one.
        self.cluster = None if database else Cluster(data / "postgres")
        self._url = database or ""
        self.lock: IO[str] | None = None  # held while the data folder is ours
        self.account: Account | None = None
        self.port = port
        self.ended = threading.Event()
        self.environment = dict(os.environ)
        python = sys.executable
        web_command = web or [
            python, "-m", "gunicorn", "--bind", f"{HOST}:{port}", "--worker-class", "movrel.web.web_worker.WebWorker",
            "--workers", "1", "--threads", "64", "--graceful-timeout", "2", "--no-control-socket", "--log-level", "warning",
            "movrel.web.gateway:create_gateway()",
        ]  # fmt: skip
        self.children = [Child("web", web_command)]
        for number in range(workers):
            # The first worker keeps free for what a person waits for.
            queues = "quick" if number == 0 and workers > 1 else "quick,batch"
            self.children.append(
                Child(
                    f"worker {number + 1}", [python, "-m", "movrel", "worker", "--queues", queues]
                )
            )

    def start(self, example: Path | None) -> None:
        """Start everything. Raises :class:`MovrelError` when something cannot be had."""
        again = (self.data / "lock").exists()
        self._take_data_folder()
        # One that was killed left a web process that is about to end.
        _refuse_taken_port(self.port, LEAVING if again else 0.0)
        if self.cluster is not None:
            self.cluster.start()
            self._url = self.cluster.url
        self.environment["MOVREL_DATABASE"] = self._url
        try:
            if prepare_database(self._url, self.data / "backups", example):
                print("Loaded the example project Varrow Quay.", flush=True)
            if self.folder is not None:
                self._follow(self.folder)
            self.account = lesser_account(self.data)
            for child in self.children:
                child.start(self.environment, self.account)
            self._wait_for_web()
        except BaseException:
            self.stop()
            raise

    def _follow(self, folder: Path) -> None:
        """Read the folder, and have a process carry changes between it and the workspace."""
        from movrel.jobs.folder_sync import open_folder
        from movrel.workspace.tables import database

        with database.connection_context():
            project = open_folder(folder)
        command = [
            sys.executable,
            "-m",
            "movrel",
            "follow",
            str(folder),
            "--project",
            str(project.id),
        ]
        self.children.append(Child("folder", command, as_root=True))  # the files are root's then

    def _take_data_folder(self) -> None:
        self.data.mkdir(parents=True, exist_ok=True)
        lock = (self.data / "lock").open("w")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise MovrelError(
                f"another Movrel is running on the data in {self.data}.",
                hint="Stop it first, or choose another folder with --data.",
            ) from None
        self.lock = lock

    def _wait_for_web(self) -> None:
        address = f"http://{HOST}:{self.port}/api/units?unit=m"  # what is answered by the children
        for _ in range(600):
            web = self.children[0].process
            if web is not None and web.poll() is not None:
                raise MovrelError("the web process did not start; its words are above.")
            try:
                with urllib.request.urlopen(address, timeout=60):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.05)
        raise MovrelError("the web process does not answer.")

    def watch(self) -> None:
        """Start again what ends, the database server too, until told to stop."""
        revived = looked = -GRACE
        while not self.ended.wait(0.3):
            if self.cluster is not None and time.monotonic() - looked > LOG_PERIOD:
                rotate(self.cluster.log)
                looked = time.monotonic()
            if self.cluster is not None and not self.cluster.is_running():
                print("The database server ended; it is started again.", flush=True)
                self.cluster.revive()
                revived = time.monotonic()
            for child in self.children:
                if child.process is None or child.process.poll() is None:
                    continue
                # What ends because its database did is not to blame.
                blameless = time.monotonic() - revived < GRACE
                short = time.monotonic() - child.started < SHORT_LIFE and not blameless
                child.failures = child.failures + 1 if short else 0
                if child.failures >= LIVES:
                    raise MovrelError(
                        f"the {child.name} process keeps ending (status {child.process.returncode})."
                    )
                print(
                    f"The {child.name} process ended (status {child.process.returncode}); it is started again.",
                    flush=True,
                )
                child.start(self.environment, self.account)

    def stop(self) -> None:
        """End all processes and the database server."""
        running = [
            c.process for c in self.children if c.process is not None and c.process.poll() is None
        ]
        for process in running:
            process.terminate()
        deadline = time.monotonic() + 8
        for process in running:
            try:
                process.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                process.kill()
            # Each has a session of its own; what it left behind, though it computes for ever, ends with it.
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
        if self.lock is not None:
            if self.cluster is not None:
                self.cluster.stop()
            self.lock.close()
            self.lock = None


def _refuse_taken_port(port: int, seconds: float) -> None:
    """Wait until a port is free. Raises :class:`MovrelError` when it is not within some seconds."""
    deadline = time.monotonic() + seconds
    while True:
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                return probe.bind((HOST, port))
            except OSError:
                if time.monotonic() < deadline:
                    time.sleep(0.1)
                    continue
                raise MovrelError(
                    f"port {port} is taken by another program.",
                    hint="Choose another one: --port NUMBER, or MOVREL_PORT=NUMBER.",
                ) from None


def serve(service: Service, example: Path | None) -> int:
    """Start everything and keep it going until somebody stops it; the exit status."""
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: service.ended.set())
    try:
        service.start(example)
        print(f"Movrel is ready: http://{HOST}:{service.port}/   (Ctrl+C stops it)", flush=True)
        service.watch()
    except MovrelError as fault:
        print(f"Movrel: {fault.sentence()}", file=sys.stderr)
        return 1
    finally:
        if service.lock is not None:
            print("Stopping.", flush=True)
        service.stop()
    return 0


def main() -> int:
    parser = argparse.ArgumentParser(prog="bin/demo", description="Start Movrel on this machine.")
    parser.add_argument(
        "--port",
        type=int,
        default=int(os.environ.get("MOVREL_PORT", PORT)),
        help=f"port of the web page ({PORT})",
    )
    parser.add_argument(
        "--data",
        type=Path,
        default=Path(os.environ.get("MOVREL_DATA", ROOT / ".data")),
        help="folder for the data",
    )
    parser.add_argument(
        "--workers",
        type=int,
        default=max(2, os.cpu_count() or 2),
        help="number of worker processes",
    )
    parser.add_argument(
        "--reload",
        action="store_true",
        help="for developers: start the web process anew when code changes",
    )
    options = parser.parse_args()
    web = None
    if options.reload:
        web = [
            sys.executable,
            "-m",
            "flask",
            "--app",
            "movrel.web.app:create_app",
            "run",
            "--debug",
            "--host",
            HOST,
            "--port",
            str(options.port),
        ]
    service = Service(options.data.resolve(), options.port, options.workers, web)
    return serve(service, ROOT / "examples" / "VarrowQuay")


if __name__ == "__main__":
    sys.exit(main())

"""A server with data of its own, as ``movrel.cli.serve`` starts it, for as long as a measurement takes."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from movrel.workspace.cluster import Cluster, free_port

ROOT = Path(__file__).resolve().parent.parent


@dataclass(frozen=True, slots=True)
class OwnServer:
    """The number of its first process, the port of its page, the folder with its data."""

    pid: int
    port: int
    folder: Path

    def database(self) -> str:
        """The address of its database."""
        place = self.folder / "postgres"
        if (place / "elsewhere").is_file():
            place = Path((place / "elsewhere").read_text().strip())
        return Cluster(place, int((place / "port").read_text())).url


@contextmanager
def own_server(workers: int) -> Iterator[OwnServer]:
    """Start it, wait until it is ready, and stop it in the end."""
    folder = Path(tempfile.mkdtemp(prefix="movrel-benchmark-"))
    folder.chmod(0o755)
    port = free_port()
    with (folder / "log").open("w") as log:
        server = subprocess.Popen(
            [sys.executable, "-m", "movrel.cli.serve", "--port", str(port), "--data", str(folder), "--workers", str(workers)],
            stdout=log, stderr=log, cwd=ROOT,
        )  # fmt: skip
    try:
        while "is ready" not in (folder / "log").read_text():
            if server.poll() is not None:
                raise SystemExit((folder / "log").read_text())
            time.sleep(0.1)
        yield OwnServer(server.pid, port, folder)
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(60)

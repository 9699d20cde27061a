"""The whole of Movrel as bin/demo starts it, with data of its own, for tests to use and to ill-treat."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from movrel.workspace.cluster import Cluster, free_port
from tests.conftest import PATIENCE, ROOT, wait_until


class Server:
    """A server with its data in a folder; can be restarted."""

    def __init__(
        self, folder: Path, workers: int = 2, python: str = sys.executable, **environment: str
    ) -> None:
        folder.chmod(0o755)  # the database server runs as a user of its own
        self.folder, self.workers = folder, workers
        self.python, self.environment = python, environment
        self.port = free_port()
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [
            self.python, "-m", "movrel.cli.serve", "--port", str(self.port), "--data", str(self.folder),
            "--workers", str(self.workers),
        ]  # fmt: skip
        with (self.folder / "server.log").open("ab") as log:
            self.process = subprocess.Popen(
                command, cwd=ROOT, stdout=log, stderr=log, env=os.environ | self.environment
            )
        before = self.log().count("Movrel is ready")
        wait_until(
            lambda: self.log().count("Movrel is ready") > before or not self.runs(),
            90,
            "the server ready",
        )
        assert self.runs(), self.log()

    def runs(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def log(self) -> str:
        return (self.folder / "server.log").read_text(errors="replace")

    def stop(self, number: int = signal.SIGINT) -> None:
        assert self.process is not None
        self.process.send_signal(number)
        self.process.wait(PATIENCE * 30)

    def end(self) -> None:
        """Stop it and remove what it kept."""
        self.stop()
        for folder in {self.database_folder(), self.folder}:
            shutil.rmtree(folder, ignore_errors=True)

    def ask(self, path: str, body: object = None) -> Any:
        """What the API answers; None while the server, or its database, is away."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{self.address}/api{path}", data, {"Content-Type": "application/json"}
        )
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:
                return json.load(answer)
        except urllib.error.HTTPError as refused:
            assert refused.code in (502, 503), refused.read()
        except (OSError, ValueError):
            pass  # nobody there, or gone in the middle of the answer
        return None

    def asked(self, path: str, body: object = None) -> Any:
        """The same, sent again until it is answered, as the page does."""
        return wait_until(lambda: self.ask(path, body), 60, path)

    def database_process(self) -> int:
        """The number of the first process of the database server."""
        return int((self.database_folder() / "data" / "postmaster.pid").read_text().split()[0])

    def database_url(self) -> str:
        """The address of its database."""
        folder = self.database_folder()
        return Cluster(folder, int((folder / "port").read_text())).url

    def database_folder(self) -> Path:
        """Where the database has its data."""
        folder = self.folder / "postgres"
        elsewhere = folder / "elsewhere"
        return Path(elsewhere.read_text().strip()) if elsewhere.is_file() else folder

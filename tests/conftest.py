"""Shared fixtures: a private database server, a workspace on it, workers."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from movrel.workspace.cluster import Cluster

ROOT = Path(__file__).resolve().parent.parent
EXAMPLES = ROOT / "examples"
SUMP = EXAMPLES / "VarrowQuay" / "Sump.mo"


if os.environ.get("MOVREL_FULL"):  # soaks take as long as they take
    os.environ.setdefault("PYTEST_TIMEOUT", "0")

#: Seconds that the tests of each folder took, set-up included.
_seconds: dict[str, float] = {}


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    folder = report.nodeid.split("::")[0].split("/")[1]
    _seconds[folder] = _seconds.get(folder, 0.0) + report.duration


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Say where the time of a long run went."""
    if sum(_seconds.values()) > 60:
        terminalreporter.write_sep("-", "seconds by folder")
        for folder, seconds in sorted(_seconds.items(), key=lambda item: -item[1]):
            terminalreporter.write_line(f"{seconds:8.1f}  {folder}")


#: How much longer than on a quiet machine with two cores a condition may take to come true.
PATIENCE = float(os.environ.get("MOVREL_PATIENCE", "4"))


def wait_until(
    condition: Callable[[], object], seconds: float = 30.0, what: str = "the condition"
) -> object:
    """Ask again and again until something true comes back; fail when ``PATIENCE`` times ``seconds`` are over."""
    deadline = time.monotonic() + PATIENCE * seconds
    pause = threading.Event()
    while time.monotonic() < deadline:
        answer = condition()
        if answer:
            return answer
        pause.wait(0.02)
    raise AssertionError(f"{what} did not come true within {PATIENCE * seconds} s")


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    folder = Path(tempfile.mkdtemp(prefix="movrel-test-"))
    folder.chmod(0o755)
    server = Cluster(folder, fast=True)
    server.start()
    yield server
    server.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def database_url(cluster: Cluster) -> str:
    from movrel.cli.serve import prepare_database

    prepare_database(cluster.url, cluster.folder / "backups")
    return cluster.url


@pytest.fixture
def client(database_url: str) -> Iterator[object]:
    """A client of the web application."""
    from movrel.web.app import create_app

    yield create_app(database_url).test_client()


@pytest.fixture
def project(database_url: str) -> Iterator[int]:
    """A project of its own with the example package."""
    from movrel.workspace import projects
    from movrel.workspace.database import connect
    from movrel.workspace.tables import Project, database

    connect(database_url)
    database.connect()
    Project.update(example=None).execute()
    made = projects.load_example(EXAMPLES / "VarrowQuay")
    assert made is not None
    yield made.id
    database.close()


@pytest.fixture
def start_worker(database_url: str) -> Iterator[Callable[[], subprocess.Popen[bytes]]]:
    """Starts worker processes that end with the test."""
    started: list[subprocess.Popen[bytes]] = []

    def start() -> subprocess.Popen[bytes]:
        environment = os.environ | {"MOVREL_DATABASE": database_url}
        started.append(
            subprocess.Popen([sys.executable, "-m", "movrel", "worker"], env=environment)
        )
        return started[-1]

    yield start
    for process in started:
        if process.poll() is None:
            process.kill()
        process.wait()

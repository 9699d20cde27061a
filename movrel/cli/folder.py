"""``movrel open``: serve the models that lie in a folder; files and screen follow each other."""

from __future__ import annotations

import argparse
import os
import signal
import threading
from pathlib import Path
from typing import Any

from movrel.errors import MovrelError


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Add ``open``, and ``follow``, which it starts."""
    opening = commands.add_parser(
        "open", help="serve the models that lie in a folder; files and screen follow each other"
    )
    opening.add_argument("folder", metavar="FOLDER", type=Path)
    opening.add_argument("--port", type=int, default=None, metavar="N", help="port of the web page")
    opening.add_argument(
        "--workers", type=int, default=max(2, os.cpu_count() or 2), help="worker processes"
    )
    opening.set_defaults(act=open_command)
    following = commands.add_parser("follow")  # without help it is not listed: the program calls it
    following.add_argument("folder", type=Path)
    following.add_argument("--project", type=int, required=True)
    following.set_defaults(act=follow_command)


def open_command(options: argparse.Namespace) -> int:
    """``movrel open``: history and results lie in the hidden folder ``.movrel``."""
    from movrel.cli.serve import PORT, Service, serve
    from movrel.jobs.folder_sync import HIDDEN

    folder = options.folder.resolve()
    if not folder.is_dir():
        raise MovrelError(f"there is no folder '{options.folder}'.", hint="Make it first.")
    data = folder / HIDDEN
    try:
        data.mkdir(exist_ok=True)
        (data / ".gitignore").write_text("*\n", encoding="utf-8")
    except OSError as fault:
        raise MovrelError(f"the folder '{folder}' cannot be written: {fault.strerror}.") from None
    service = Service(data, options.port or PORT, options.workers, folder=folder)
    return serve(service, None)


def follow_command(options: argparse.Namespace) -> int:
    """Carry changes between a folder and its project until told to stop."""
    from movrel.jobs.folder_sync import follow
    from movrel.workspace.database import connect

    url = os.environ["MOVREL_DATABASE"]
    connect(url, connections=4)
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    follow(url, options.project, options.folder, ended)
    return 0

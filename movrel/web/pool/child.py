"""The template that children are copied from, and what a child does: it answers one request after the other.

The template has everything imported and the library read, and never runs a thread; a copy of it is ready at once and
shares its memory.
"""

from __future__ import annotations

import ctypes
import gc
import os
import resource
import signal
import socket
import sys
from multiprocessing.connection import Connection
from pathlib import Path

from movrel.kept_models import program_mark
from movrel.project.snapshot import Snapshot
from movrel.session import load
from movrel.views.shelf import shelf
from movrel.web.app import bare_app
from movrel.web.base_app import attach
from movrel.web.pool.messages import Question, answer

#: A model with which everything is done once, so that copies need not read the library again.
_FIRST = "model First Real x(start=1, fixed=true); equation der(x) = -x; end First;"
_DIES_WITH_PARENT = 1


def main(control: int, url: str, memory: int) -> None:
    """Copy this process for each descriptor that comes through the socket ``control``, until it is closed."""
    _die_with_parent()
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # whoever started it says when it ends
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    app = bare_app()
    load(text=_FIRST).simulate(stop=1)
    program_mark()
    shelf(Snapshot.of({"First.mo": _FIRST}), "First")
    gc.freeze()  # what is there now stays shared
    with socket.socket(fileno=control) as commands:
        commands.sendall(b"ready")
        while True:
            _, descriptors, _, _ = socket.recv_fds(commands, 1, 1)
            if not descriptors:
                return
            copy = os.fork()
            if copy == 0:
                commands.close()
                break
            os.close(descriptors[0])
            commands.sendall(copy.to_bytes(8, "little"))
    _die_with_parent()
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    _limit_memory(memory)
    attach(app, url, connections=4)
    connection = Connection(descriptors[0])
    while True:
        try:
            question = connection.recv()
        except (EOFError, OSError):
            return
        assert isinstance(question, Question)
        try:
            answer(app.wsgi_app, question, connection)
        except (BrokenPipeError, ConnectionResetError):
            return


def _limit_memory(memory: int) -> None:
    """Refuse this process more than so many bytes beyond what it has reserved by now."""
    reserved = int(Path("/proc/self/statm").read_text().split()[0]) * os.sysconf("SC_PAGE_SIZE")
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = reserved + memory
    resource.setrlimit(
        resource.RLIMIT_AS, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard)
    )


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(_DIES_WITH_PARENT, signal.SIGKILL)


if __name__ == "__main__":
    main(int(sys.argv[1]), os.environ["MOVREL_DATABASE"], int(sys.argv[2]))

"""The gateway's side of the template: a process of its own that makes children, started again when it ended."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import threading
from multiprocessing.connection import Connection

from movrel.errors import MovrelError

#: Seconds in which the template has everything imported and read, and in which it makes a child.
READY, COPY = 120.0, 20.0


class Template:
    """Makes children that answer requests on a database; each may take so many bytes of memory beyond the template's."""

    def __init__(self, url: str, memory: int) -> None:
        self._url, self._memory = url, memory
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._control: socket.socket | None = None
        self._ready = False

    def start(self) -> None:
        """Begin to load; :meth:`make` waits until that is done."""
        with self._lock:
            self._start()

    def _start(self) -> None:
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        if self._control is not None:
            self._control.close()
        self._control, theirs = socket.socketpair()
        self._ready = False
        with theirs:
            self._process = subprocess.Popen(
                [
                    sys.executable,
                    "-m",
                    "movrel.web.pool.child",
                    str(theirs.fileno()),
                    str(self._memory),
                ],
                env=os.environ | {"MOVREL_DATABASE": self._url},
                pass_fds=[theirs.fileno()],
            )

    @property
    def pid(self) -> int | None:
        """Its number; None while there is none."""
        return None if self._process is None else self._process.pid

    def make(self) -> tuple[int, Connection]:
        """A new child: its number and the connection to it. Raises :class:`MovrelError` when none can be made."""
        with self._lock:
            for _ in range(2):
                try:
                    return self._make()
                except OSError:
                    self._start()  # the template has ended
        raise MovrelError("the server cannot start a process for this.", hint="Try again later.")

    def _make(self) -> tuple[int, Connection]:
        assert self._control is not None
        if not self._ready:
            self._control.settimeout(READY)
            if self._control.recv(5) != b"ready":
                raise ConnectionResetError
            self._ready = True
        self._control.settimeout(COPY)
        ours, theirs = socket.socketpair()
        with theirs:
            socket.send_fds(self._control, [b"1"], [theirs.fileno()])
            number = self._control.recv(8, socket.MSG_WAITALL)
        if len(number) < 8:
            ours.close()
            raise ConnectionResetError
        return int.from_bytes(number, "little"), Connection(ours.detach())

    def end(self) -> None:
        """End the template, and with it its children."""
        with self._lock:
            if self._process is not None:
                self._process.kill()
                self._process.wait()
                self._process = None

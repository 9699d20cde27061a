"""The web server's process: gunicorn's threads, except that a connection may be left to the application."""

from __future__ import annotations

from concurrent.futures import Future
from typing import Any

from gunicorn.workers.gthread import TConn, ThreadWorker


class WebWorker(ThreadWorker):
    """Where the application detached a connection's socket, the connection is the application's from then on."""

    def finish_request(self, conn: TConn, fs: Future[Any]) -> None:
        """Called when a request is over: whether the connection goes on, or is closed."""
        if conn.sock.fileno() < 0:
            self.nr_conns -= 1
        else:
            super().finish_request(conn, fs)

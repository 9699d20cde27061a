"""Announcements of the database as server-sent events."""

from __future__ import annotations

import logging
import queue
import threading
import time
from collections.abc import Iterator

import psycopg

from movrel.workspace.announce import CHANNEL

KEEP_ALIVE = 12.0


class Switchboard:
    """One listening connection per process, many open streams."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._streams: set[queue.Queue[str]] = set()
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None

    def stream(self) -> Iterator[str]:
        """The text of an event stream; ends when the client goes away."""
        mine: queue.Queue[str] = queue.Queue(maxsize=1000)
        with self._lock:
            self._streams.add(mine)
            if self._thread is None:
                self._thread = threading.Thread(target=self._listen, daemon=True)
                self._thread.start()
        try:
            yield "retry: 1000\nevent: ready\ndata: {}\n\n"
            while True:
                try:
                    yield f"data: {mine.get(timeout=KEEP_ALIVE)}\n\n"
                except queue.Empty:
                    yield ": still here\n\n"
        finally:
            with self._lock:
                self._streams.discard(mine)

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(self._url, autocommit=True) as connection:
                    connection.execute(f"LISTEN {CHANNEL}")
                    self._send('{"kind":"reconnected"}')
                    for notice in connection.notifies():
                        self._send(notice.payload)
            except psycopg.Error as fault:
                logging.getLogger(__name__).warning("listening to the database failed: %s", fault)
                time.sleep(1.0)

    def _send(self, payload: str) -> None:
        with self._lock:
            for stream in self._streams:
                try:
                    stream.put_nowait(payload)
                except queue.Full:
                    continue  # a client that reads nothing will reload when it wakes

"""Announcements of the database as server-sent events: one listening connection and two threads for all streams."""

from __future__ import annotations

import logging
import queue
import socket
import threading
import time
from collections.abc import Iterator

import psycopg

from movrel.workspace.announce import CHANNEL

KEEP_ALIVE = 12.0
_READY = "retry: 1000\nevent: ready\ndata: {}\n\n"
_STILL_HERE = ": still here\n\n"


class Switchboard:
    """Passes on what the database announces, to queues and to sockets."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._streams: set[queue.Queue[str]] = set()
        self._sockets: set[socket.socket] = set()
        self._lock = threading.Lock()
        self._listening = False

    def stream(self) -> Iterator[str]:
        """The text of an event stream; ends when the client goes away. Keeps a thread busy: see :meth:`adopt`."""
        mine: queue.Queue[str] = queue.Queue(maxsize=1000)
        with self._lock:
            self._streams.add(mine)
            self._listen_once()
        try:
            yield _READY
            while True:
                try:
                    yield f"data: {mine.get(timeout=KEEP_ALIVE)}\n\n"
                except queue.Empty:
                    yield _STILL_HERE
        finally:
            with self._lock:
                self._streams.discard(mine)

    def adopt(self, client: socket.socket, head: str) -> None:
        """Send the stream to a socket, after the head of an answer, until its client goes away or falls behind."""
        client.setblocking(False)
        with self._lock:
            self._sockets.add(client)
            self._write([client], head + _READY)
            self._listen_once()

    def _listen_once(self) -> None:
        if not self._listening:
            self._listening = True
            for work in (self._listen, self._keep_alive):
                threading.Thread(target=work, daemon=True).start()

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

    def _keep_alive(self) -> None:
        while True:
            time.sleep(KEEP_ALIVE)
            with self._lock:
                self._write(list(self._sockets), _STILL_HERE)

    def _send(self, payload: str) -> None:
        with self._lock:
            for stream in self._streams:
                try:
                    stream.put_nowait(payload)
                except queue.Full:
                    continue  # a client that reads nothing will reload when it wakes
            self._write(list(self._sockets), f"data: {payload}\n\n")

    def _write(self, clients: list[socket.socket], text: str) -> None:
        """Write to sockets; one that takes not all of it is closed, and its client asks anew when it wakes."""
        content = text.encode()
        for client in clients:
            try:
                whole = client.send(content) == len(content)
            except OSError:
                whole = False
            if not whole:
                self._sockets.discard(client)
                client.close()

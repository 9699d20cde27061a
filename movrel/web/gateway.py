"""The web process: it hands requests to children and streams what they answer; pages, events and health it answers itself.

It never reads a model, so nothing that a model holds can keep it from the others.
"""

from __future__ import annotations

import errno
import os
import re
import select
import socket
from collections import deque
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from wsgiref.types import StartResponse, WSGIEnvironment

from flask import Response

from movrel.errors import MovrelError
from movrel.views.fault_view import Fault
from movrel.web.base_app import BODY_LIMIT, attach, base_app, fault_answer
from movrel.web.pool.limits import Limits
from movrel.web.pool.messages import Head, Question, question_of
from movrel.web.pool.pool import Child, Pool
from movrel.web.wire import answer

#: What the web process answers itself: nothing in it takes long.
NEAR = ("/api/events", "/api/health", "/api/versions")
#: Seconds between two looks after a child that works.
LOOK = 0.25
#: Bytes of an answer that are read before any is sent on, so that a slow client does not keep a child.
AHEAD = 4_000_000

_MODEL = re.compile(r"/api/projects/\d+(/models/[^/]+)?")
_OTHER = re.compile(r"/api/[^/]+(/\d+)?")


class Gateway:
    """The WSGI application that the server runs."""

    def __init__(self, url: str, limits: Limits | None = None) -> None:
        self.pool = Pool(url, limits or Limits.from_environment())
        self.near = base_app()
        attach(self.near, url, connections=16)

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        path = environ.get("PATH_INFO", "")
        client = environ.get("gunicorn.socket")
        if path == "/api/events" and client is not None:
            return self._stream(client, environ, start_response)
        if not path.startswith("/api/") or path in NEAR:
            return self.near(environ, start_response)
        question = question_of(environ, BODY_LIMIT)
        try:
            answer_of_child = _Answer(self.pool, _subject(path), client)
            head = answer_of_child.begin(question)
        except Exceeded as fault:
            # One that ended by itself may come through when it is sent again.
            refused = answer(_sentence(environ, str(fault)), 422 if str(fault) else 503)
        except MovrelError as fault:
            refused = fault_answer(fault)
        else:
            start_response(head.status, head.headers)
            return answer_of_child
        with self.near.request_context(environ):
            return self.near.process_response(refused)(environ, start_response)

    def _stream(
        self, client: socket.socket, environ: WSGIEnvironment, start_response: StartResponse
    ) -> Iterable[bytes]:
        """Leave the connection to the switchboard, so that an open stream keeps no thread."""
        with self.near.request_context(environ):
            refused = self.near.preprocess_request()
            if refused is not None:
                response = self.near.process_response(self.near.make_response(refused))
                return response(environ, start_response)
            begun = Response(content_type="text/event-stream")
            begun.headers.remove("Content-Length")
            begun.headers |= {"Cache-Control": "no-cache", "Connection": "close"}
            headers = self.near.process_response(begun).headers
        lines = "".join(f"{name}: {value}\r\n" for name, value in headers)
        stream = socket.socket(fileno=client.detach())
        self.near.extensions["switchboard"].adopt(stream, f"HTTP/1.1 200 OK\r\n{lines}\r\n")
        raise ConnectionResetError(errno.ECONNRESET, "the connection is the switchboard's")


class Exceeded(Exception):
    """A child passed a limit, which is named, or ended by itself."""


class _Answer:
    """The answer of a child, piece by piece; the child is given back after the last one."""

    def __init__(self, pool: Pool, subject: str, client: socket.socket | None) -> None:
        self._pool, self._subject, self._client = pool, subject, client
        self._child: Child | None = pool.borrow(subject)
        self._gone = False
        self._ahead: deque[bytes] = deque()

    def begin(self, question: Question) -> Head:
        """Ask the child; what is not long is read at once. Raises :class:`Exceeded`."""
        self._send(question)
        assert self._child is not None
        with self._ends_child():
            self._wait()
            head = self._child.connection.recv()
        assert isinstance(head, Head)
        held = 0
        while held < AHEAD and (piece := self._piece()):
            self._ahead.append(piece)
            held += len(piece)
        return head

    def _send(self, question: Question) -> None:
        """Ask the child, or another one where it had ended unnoticed."""
        while self._child is not None:
            try:
                self._child.connection.send(question)
            except OSError:
                self._pool.dismiss(self._child)
                self._child = self._pool.borrow(self._subject)
            else:
                return

    def __iter__(self) -> Iterator[bytes]:
        return self

    def __next__(self) -> bytes:
        piece = self._ahead.popleft() if self._ahead else self._piece()
        if not piece:
            raise StopIteration
        return piece

    def close(self) -> None:
        """To be called at the end, however it came; a child whose answer was not wanted to its end is ended."""
        if self._child is not None:
            self._pool.dismiss(self._child)
            self._child = None

    def _piece(self) -> bytes:
        """The next piece; empty after the last one."""
        if self._child is None:
            return b""
        with self._ends_child():
            self._wait()
            piece = self._child.connection.recv_bytes()
        if not piece:
            self._pool.give_back(self._child)
            self._child = None
        return piece

    @contextmanager
    def _ends_child(self) -> Iterator[None]:
        try:
            yield
        except (EOFError, OSError):
            self.close()
            raise Exceeded("") from None
        except BaseException:
            self.close()
            raise

    def _wait(self) -> None:
        """Return when the child has sent something, looking after it and after the client meanwhile."""
        child = self._child
        assert child is not None
        poll = select.poll()
        poll.register(child.connection.fileno(), select.POLLIN)
        if self._client is not None:
            poll.register(self._client.fileno(), select.POLLIN)
        while True:
            ready = [number for number, _ in poll.poll(1000 * LOOK)]
            if child.connection.fileno() in ready:
                return
            if ready and self._client is not None:
                poll.unregister(self._client.fileno())
                self._gone, self._client = _hung_up(self._client), None
            limit = self._pool.look_after(child, self._gone)
            if limit:
                raise Exceeded(limit)


def _hung_up(client: socket.socket) -> bool:
    """Whether who asked has gone; what can be read otherwise is another request."""
    try:
        return client.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True


def _subject(path: str) -> str:
    """What a request is about: a model, a project, a run."""
    match = _MODEL.match(path) or _OTHER.match(path)
    return match.group() if match else path


def _sentence(environ: WSGIEnvironment, limit: str) -> Fault:
    subject = _subject(environ.get("PATH_INFO", "")).rpartition("/")[2]
    about = f" about '{subject}'" if "/models/" in environ.get("PATH_INFO", "") else ""
    reading = environ.get("REQUEST_METHOD") in ("GET", "HEAD")
    kept = (
        "nothing was changed"
        if reading
        else "load the page again to see whether it was carried out"
    )
    if not limit:
        return Fault(
            f"the process that worked on this request{about} ended; {kept}.", "Try again.", None
        )
    return Fault(
        f"this request{about} took {limit} and was ended; {kept}.",
        "Make the model or the request smaller; whoever runs the server can raise the limit.",
        None,
    )  # fmt: skip


def create_gateway() -> Gateway:
    """The gateway on the database of ``MOVREL_DATABASE``."""
    url = os.environ.get("MOVREL_DATABASE", "")
    if not url:
        raise MovrelError("no database is named.", hint="Set MOVREL_DATABASE.")
    return Gateway(url)

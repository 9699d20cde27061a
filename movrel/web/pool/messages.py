"""A request and its answer as they travel between the gateway and a child."""

from __future__ import annotations

import io
import sys
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from wsgiref.types import WSGIApplication, WSGIEnvironment

#: Keys of a WSGI environment, beside the headers, that a child needs.
_KEYS = (
    "REQUEST_METHOD", "SCRIPT_NAME", "PATH_INFO", "QUERY_STRING", "CONTENT_TYPE", "CONTENT_LENGTH", "SERVER_NAME",
    "SERVER_PORT", "SERVER_PROTOCOL", "REMOTE_ADDR", "RAW_URI", "REQUEST_URI", "wsgi.url_scheme",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Question:
    """What a child is asked: the environment's texts, and the body."""

    environment: dict[str, str]
    body: bytes


@dataclass(frozen=True, slots=True)
class Head:
    """How an answer begins."""

    status: str
    headers: list[tuple[str, str]]


def question_of(environ: WSGIEnvironment, most: int) -> Question:
    """A request with its body; one of more than ``most`` bytes is not read, and is refused by its length."""
    texts = {
        k: v
        for k, v in environ.items()
        if isinstance(v, str) and (k in _KEYS or k.startswith("HTTP_"))
    }
    length = environ.get("CONTENT_LENGTH") or ""
    stream = environ["wsgi.input"]
    if length.isdecimal():
        body = stream.read(int(length)) if int(length) <= most else b""
    elif environ.get("wsgi.input_terminated"):
        body = stream.read(most + 1)
        texts["CONTENT_LENGTH"] = str(len(body))
    else:
        body = b""
    return Question(texts, body)


def answer(application: WSGIApplication, question: Question, connection: Connection) -> None:
    """Have the application answer, and send head, pieces and end through the connection."""
    environ: WSGIEnvironment = {
        **question.environment,
        "wsgi.version": (1, 0), "wsgi.input": io.BytesIO(question.body), "wsgi.errors": sys.stderr,
        "wsgi.multithread": False, "wsgi.multiprocess": True, "wsgi.run_once": False, "wsgi.input_terminated": True,
    }  # fmt: skip
    head = Head("500 Internal Server Error", [])
    sent = False

    def start_response(
        status: str, headers: list[tuple[str, str]], _: object = None, /
    ) -> Callable[[bytes], object]:
        nonlocal head
        head = Head(status, headers)
        return connection.send_bytes

    pieces = application(environ, start_response)
    try:
        for piece in pieces:
            if not sent:
                connection.send(head)
                sent = True
            if piece:
                connection.send_bytes(piece)
        if not sent:
            connection.send(head)
        connection.send_bytes(b"")
    finally:
        close = getattr(pieces, "close", None)
        if close is not None:
            close()

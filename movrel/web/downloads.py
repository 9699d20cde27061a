"""Answers that the browser keeps as files."""

from __future__ import annotations

from collections.abc import Iterable
from io import BytesIO

from flask import Response, send_file


def download(data: str | bytes | Iterable[str], name: str, kind: str) -> Response:
    """A file with a name, whatever letters it has; what comes piece by piece is sent so."""
    whole = data.encode() if isinstance(data, str) else data if isinstance(data, bytes) else b""
    response = send_file(
        BytesIO(whole), mimetype=kind, as_attachment=True, download_name=name, max_age=0
    )
    if not isinstance(data, str | bytes):
        response.response = (piece.encode() for piece in data)
        del response.headers["Content-Length"]
    return response

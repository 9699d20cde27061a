"""Texts that no file, database or screen can hold are refused at the door: NUL, and halves of surrogate pairs."""

from __future__ import annotations

import json
import re
from typing import Any

from flask import Request

from movrel.errors import MovrelError

#: Escapes in JSON that may stand for such a character.
_SUSPECT = re.compile(rb"\\u(0000|[dD][89a-fA-F])")
_BAD = re.compile("[\0\ud800-\udfff]")


def check_texts(request: Request) -> None:
    """Raise :class:`MovrelError` naming the field, or the address, that holds such a character."""
    if _BAD.search(request.path) or _BAD.search(request.query_string.decode("latin-1")):
        raise _fault("the address")
    if "%00" in request.query_string.decode("latin-1"):
        raise _fault("the address")
    if not request.is_json or not _SUSPECT.search(request.get_data(cache=True)):
        return
    try:
        body = json.loads(request.get_data(cache=True))
    except (ValueError, RecursionError):
        return  # whoever reads it says what is wrong
    place = _place(body, "")
    if place is not None:
        raise _fault(f"'{place}'" if place else "the body")


def _fault(place: str) -> MovrelError:
    return MovrelError(
        f"{place} holds a character that is no text (NUL, or half of a surrogate pair).",
        hint="Remove it; it may have come with what was pasted.",
    )


def _place(value: Any, at: str) -> str | None:
    """Where such a character stands; None where none does."""
    if isinstance(value, str):
        return at if _BAD.search(value) else None
    if isinstance(value, dict):
        parts = [(f"{at}.{k}" if at else k, v) for k, v in value.items()]
        if any(_BAD.search(k) for k in value):
            return at
    elif isinstance(value, list):
        parts = [(at, v) for v in value]
    else:
        return None
    return next((place for k, v in parts if (place := _place(v, k)) is not None), None)

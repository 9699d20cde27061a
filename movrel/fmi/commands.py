"""Commands for the program in which a unit runs, as the bytes that ``host/commands.c`` reads, and its answers."""

from __future__ import annotations

import json
import struct
from collections.abc import Callable, Sequence
from typing import Any, cast

from movrel.fmi.places import GroupRow

_GROUPS = {"parameters": 0, "inputs": 1, "outputs": 2, "continuous": 3}


def _text(value: str) -> bytes:
    data = value.encode().replace(b"\0", b" ")
    return struct.pack("<I", len(data)) + data + b"\0"


def _flag(value: bool) -> bytes:
    return struct.pack("<B", value)


def _count(value: int) -> bytes:
    return struct.pack("<I", value)


def _number(value: float) -> bytes:
    return struct.pack("<d", value)


def _optional(value: float | None) -> bytes:
    return struct.pack("<Bd", value is not None, value or 0.0)


def _references(values: Sequence[int]) -> bytes:
    return struct.pack(f"<I{len(values)}I", len(values), *values)


def _numbers(values: Sequence[float]) -> bytes:
    return struct.pack(f"<{len(values)}d", *values)


def _texts(values: Sequence[str]) -> bytes:
    return _count(len(values)) + b"".join(map(_text, values))


_Writer = Callable[[Any], bytes]
_EXPERIMENT: dict[str, _Writer] = {"start": _number, "stop": _optional, "tolerance": _optional}
#: The letter of each command and how its arguments are written, in their order.
_COMMANDS: dict[str, tuple[bytes, dict[str, _Writer]]] = {
    "instantiate": (
        b"I", {"name": _text, "token": _text, "resources": _text, "logging": _flag, "events": _flag},
    ),
    "enter": (b"N", _EXPERIMENT), "start": (b"S", _EXPERIMENT), "exchange": (b"X", {}), "leave": (b"V", {}),
    "event": (b"E", {}), "nominals": (b"M", {}), "outputs": (b"O", {}), "tune": (b"T", {}),
    "slopes": (b"D", {"references": _references, "slopes": _numbers}), "save": (b"K", {"slot": _count}),
    "restore": (b"R", {"slot": _count}), "enter_event": (b"G", {}), "terminate": (b"Q", {}), "free": (b"F", {}),
    "messages": (b"m", {}), "write_texts": (b"W", {"references": _references, "texts": _texts}),
    "categories": (b"C", {"names": _texts}), "texts": (b"U", {"references": _references, "count": _count}),
}  # fmt: skip


def command(name: str, /, **arguments: Any) -> bytes:
    """A command by its name."""
    letter, writers = _COMMANDS[name]
    return letter + b"".join(write(arguments[key]) for key, write in writers.items())


def load_command(
    library: str, version: int, kind: str, at: dict[str, int], states: int, indicators: int,
    groups: dict[str, list[GroupRow]],
) -> bytes:  # fmt: skip
    """The command that loads a unit's library; ``at`` says where in the shared numbers what stands."""
    before, after = around_library(version, kind, at, states, indicators, groups)
    return before + _text(library) + after


def around_library(
    version: int, kind: str, at: dict[str, int], states: int, indicators: int, groups: dict[str, list[GroupRow]]
) -> tuple[bytes, bytes]:  # fmt: skip
    """The same command before and after the place of the library, for whoever knows that later."""
    rows = [
        struct.pack("<B", _GROUPS[name]) + _text(kind) + _references(references) + struct.pack("<II", count, begin)
        for name, group in groups.items()
        for kind, references, count, begin in group
    ]  # fmt: skip
    places = struct.pack("<4I", *(at[name] for name in ("x", "dx", "z", "clock")))
    head = struct.pack("<BB", version, kind == "cs") + places
    return b"L" + head + struct.pack("<II", states, indicators), _count(len(rows)) + b"".join(rows)


def read_answer(content: bytes) -> dict[str, Any]:
    """What a host answers. Bytes of foreign texts that are no UTF-8 are replaced."""
    return cast(dict[str, Any], json.loads(content.decode("utf-8", "replace")))

"""What a run depends on: a mark that changes only when something else is computed."""

from __future__ import annotations

import functools
import hashlib
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from movrel.model.classes import Definition
from movrel.project.semantic_text import ignored_spans, without
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.sized_cache import SizedCache

_NAME = re.compile(r"[A-Za-z_]\w*|'(?:[^'\\]|\\.)*'")
#: What ends a statement or joins a list: where something ignored stood beside it, nothing is left.
_LOOSE = re.compile(r"\s*([;,(){}=])\s*")
_LEFT_OVER = re.compile(r",+(?=[,)}])|(?<=[({]),+|;+(?=;)")


@dataclass(frozen=True, slots=True)
class _Piece:
    """What a class says itself, and the names in it."""

    name: str
    text: str
    names: frozenset[str]


def computed_mark(snapshot: Snapshot, qualified: str) -> str:
    """A short text that stays the same as long as a model computes the same.

    It is made of the model, of the classes of the project that are named in it, in their packages, and so on,
    and of the files beside them that are named. How something is drawn, described in a note, claimed or varied
    in scenarios makes no difference. Raises :class:`movrel.errors.NotFound`.
    """
    definition = definition_of(snapshot, qualified)
    by_name: dict[str, list[Definition]] = {}
    for root in class_tree(snapshot).roots.values():
        if root.source.file in snapshot.revisions:
            for declared in _inside(root):
                by_name.setdefault(declared.name, []).append(declared)
    reached: dict[int, str] = {}
    names: set[str] = set()
    waiting = [definition]
    while waiting:
        each: Definition | None = waiting.pop()
        while each is not None and id(each) not in reached:
            piece = _piece(each)
            reached[id(each)] = f"{each.qualified}:{piece.text}"
            for name in piece.names - names:
                waiting += by_name.get(name, ())
            names |= piece.names
            each = each.parent
    said = sorted(reached.values())
    beside = [
        digest
        for name, digest in (_contents(snapshot.folder) if snapshot.folder else ())
        if any(name in text for text in said)
    ]
    return _short([*said, *beside])


def mark_with(mark: str, changes: dict[str, str], settings: dict[str, Any]) -> str:
    """The mark of a run with changed values and settings."""
    return _short([mark, sorted(changes.items()), sorted(settings.items())])


def _inside(definition: Definition) -> Iterator[Definition]:
    """A class and, where it is a package, those in it."""
    yield definition
    if definition.node.kind == "package":
        for child in definition.children.values():
            yield from _inside(child)


def _piece(definition: Definition) -> _Piece:
    source, node = definition.source, definition.node
    inner = (
        tuple(
            (c.node.start, c.node.end) for c in definition.children.values() if c.source is source
        )
        if node.kind == "package"
        else ()
    )
    text, at = source.text, (source.file, node.name, node.start, node.end, inner)
    # A text is known by its hash here, so that it need not be kept for each class in it.
    return _pieces.get((hash(text), len(text), *at), lambda: _read(text, *at))


_pieces: SizedCache[_Piece] = SizedCache(
    20_000_000, lambda piece: 500 + len(piece.text) + 60 * len(piece.names)
)


def _read(
    text: str, file: str, name: str, start: int, end: int, inner: tuple[tuple[int, int], ...]
) -> _Piece:
    spans: list[tuple[int, int]] = []
    for span in sorted({*ignored_spans(text, file), *inner}, key=lambda s: (s[0], -s[1])):
        if start <= span[0] and span[1] <= end and not (spans and span[0] < spans[-1][1]):
            spans.append(span)
    said = _LOOSE.sub(r"\1", " ".join(without(text, spans, start, end).split()))
    said = _LEFT_OVER.sub("", said)
    return _Piece(name, said, frozenset(_NAME.findall(said)))


@functools.lru_cache(maxsize=64)
def _contents(folder: str) -> tuple[tuple[str, str], ...]:
    """The files of a folder, which never change, by their names, with a digest of what is in them."""
    return tuple(
        (path.name, hashlib.sha256(path.read_bytes()).hexdigest())
        for path in sorted(Path(folder).rglob("*"))
        if path.is_file()
    )


def _short(said: list[Any]) -> str:
    return hashlib.sha256(repr(said).encode()).hexdigest()[:16]

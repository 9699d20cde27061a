"""The part of a text that decides what is computed, without how its models are drawn."""

from __future__ import annotations

import functools
from typing import Any

from movrel.language import syntax as s
from movrel.model.classes import parse_cached

_DRAWN = {"Placement", "Line", "Icon", "Diagram", "Documentation"}


@functools.lru_cache(maxsize=512)
def semantic_text(text: str, file: str) -> str:
    """The text without places, corners, symbols and documentation; its lines keep their numbers."""
    spans: list[tuple[int, int]] = []
    for cls in parse_cached(text, file).tree.classes:
        _collect(cls, spans)
    pieces: list[str] = []
    position = 0
    for start, end in sorted(spans):
        pieces += [text[position:start], "\n" * text.count("\n", start, end)]
        position = end
    pieces.append(text[position:])
    return file + ":" + "".join(pieces)


def _collect(cls: s.ClassDef, spans: list[tuple[int, int]]) -> None:
    _of_annotation(cls.annotation, spans)
    for node in (*cls.elements, *cls.equations):
        if isinstance(node, s.ClassDef):
            _collect(node, spans)
        else:
            comment: Any = getattr(node, "comment", None)
            if isinstance(comment, s.Comment):
                _of_annotation(comment.annotation, spans)


def _of_annotation(annotation: s.Annotation | None, spans: list[tuple[int, int]]) -> None:
    if annotation is None:
        return
    drawn = [a for a in annotation.arguments if isinstance(a, s.Modify) and a.name in _DRAWN]
    if len(drawn) == len(annotation.arguments):
        # Nothing else is said: the whole annotation goes, so that it makes no difference whether it is there.
        spans.append((annotation.start, annotation.end))
    else:
        spans.extend((a.start, a.end) for a in drawn)

"""The part of a text that decides what is computed, without how its models are drawn or what is claimed of them."""

from __future__ import annotations

from typing import Any

from movrel.language import syntax as s
from movrel.language.parse_cache import parse_cached
from movrel.model.annotation import VENDOR
from movrel.sized_cache import SizedCache

_DRAWN = {"Placement", "Line", "Icon", "Diagram", "Documentation"}
#: What the vendor annotation says beside what is computed.
_SAID = {
    "scenarios",
    "claims",
    "recorder",
    "domain",
    "synonyms",
    "timeUnit",
    "script",
    "board",
    "ssp",
}

Span = tuple[int, int]


def semantic_text(text: str, file: str) -> str:
    """The text without places, corners, symbols, documentation, claims and scenarios; its lines keep their numbers."""
    return _semantic.get(
        (text, file), lambda: file + ":" + without(text, sorted(ignored_spans(text, file)))
    )


#: By texts of about the same size.
_semantic: SizedCache[str] = SizedCache(20_000_000, lambda text: 2 * len(text))


def ignored_spans(text: str, file: str) -> frozenset[Span]:
    """The spans of a text, from and up to a character, that make no difference to what is computed."""
    return _ignored.get((text, file), lambda: _ignored_spans(text, file))[1]


def _ignored_spans(text: str, file: str) -> tuple[str, frozenset[Span]]:
    spans: set[Span] = set()
    for cls in parse_cached(text, file).tree.classes:
        _collect(cls, spans)
    return text, frozenset(spans)


_ignored: SizedCache[tuple[str, frozenset[Span]]] = SizedCache(
    20_000_000, lambda known: len(known[0]) + 150 * len(known[1])
)


def without(text: str, spans: list[Span], start: int = 0, end: int | None = None) -> str:
    """A piece of a text without some spans, given in order, of which only their line ends stay."""
    pieces: list[str] = []
    for a, b in spans:
        if a < start:
            continue
        pieces += [text[start:a], "\n" * text.count("\n", a, b)]
        start = b
    pieces.append(text[start:end])
    return "".join(pieces)


def _collect(cls: s.ClassDef, spans: set[Span]) -> None:
    _of_annotation(cls.annotation, spans)
    for node in (*cls.elements, *cls.equations):
        if isinstance(node, s.ClassDef):
            _collect(node, spans)
        else:
            comment: Any = getattr(node, "comment", None)
            if isinstance(comment, s.Comment):
                _of_annotation(comment.annotation, spans)


def _of_annotation(annotation: s.Annotation | None, spans: set[Span]) -> None:
    if annotation is None:
        return
    ignored = [a for a in annotation.arguments if _is_ignored(a)]
    if len(ignored) == len(annotation.arguments):
        # Nothing else is said: the whole annotation goes, so that it makes no difference whether it is there.
        spans.add((annotation.start, annotation.end))
        return
    spans.update((a.start, a.end) for a in ignored)
    for argument in annotation.arguments:
        if argument not in ignored and _is_vendors(argument):
            spans.update((a.start, a.end) for a in _members(argument) if _is_said(a))


def _is_ignored(argument: s.Argument) -> bool:
    if not isinstance(argument, s.Modify):
        return False
    return argument.name in _DRAWN or (
        _is_vendors(argument) and all(map(_is_said, _members(argument)))
    )


def _is_vendors(argument: s.Argument) -> bool:
    return isinstance(argument, s.Modify) and argument.name == VENDOR


def _members(argument: s.Argument) -> tuple[s.Argument, ...]:
    modification = argument.modification if isinstance(argument, s.Modify) else None
    return modification.arguments if modification is not None else ()


def _is_said(argument: s.Argument) -> bool:
    return isinstance(argument, s.Modify) and argument.name in _SAID

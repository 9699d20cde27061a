"""The dotted names in a text, as the lexer sees them: comments and texts in quotes hold none."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from movrel.language.parser import tokens


@dataclass(frozen=True, slots=True)
class NamePart:
    """One name of several that points join, with its span."""

    name: str
    start: int
    end: int


def dotted_names(text: str) -> Iterator[list[NamePart]]:
    """Each name with all its parts, ``Movrel.Signals.Gain`` as three; single names too, in the order of the text."""
    parts: list[NamePart] = []
    joined = False
    for kind, start, end in tokens(text):
        if kind == "IDENT" and (joined or not parts):
            parts.append(NamePart(text[start:end], start, end))
            joined = False
        elif kind == "DOT" and parts and not joined:
            joined = True
        else:
            if parts:
                yield parts
            parts, joined = (
                ([NamePart(text[start:end], start, end)] if kind == "IDENT" else []),
                False,
            )
    if parts:
        yield parts

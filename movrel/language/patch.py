"""Changes of a text that touch nothing else."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Patch:
    """Replace the characters from ``start`` to ``end`` (exclusive) by ``text``."""

    start: int
    end: int
    text: str


def apply(text: str, patches: Sequence[Patch]) -> str:
    """The text with all patches applied; they must not overlap."""
    ordered = sorted(patches, key=lambda p: (p.start, p.end))
    out: list[str] = []
    position = 0
    for patch in ordered:
        if patch.start < position or patch.end < patch.start or patch.end > len(text):
            raise ValueError(f"patch {patch} overlaps another or lies outside the text")
        out += [text[position : patch.start], patch.text]
        position = patch.end
    out.append(text[position:])
    return "".join(out)

"""Moving blocks of text to another depth; lines that begin inside a quoted text or comment stay as they are."""

from __future__ import annotations

import re

_SPANNING = re.compile(r'/\*.*?\*/|"(?:[^"\\]|\\.)*"|//[^\n]*', re.S)


def inside(text: str) -> set[int]:
    """The numbers, from 0, of lines that begin inside a quoted text or a comment."""
    numbers: set[int] = set()
    for match in _SPANNING.finditer(text):
        lines = match.group().count("\n")
        if lines:
            first = text.count("\n", 0, match.start())
            numbers.update(range(first + 1, first + lines + 1))
    return numbers


def indented(text: str, indent: str, first: bool = True) -> str:
    """Every line deeper by ``indent``; the first one only if asked for."""
    fixed = inside(text)
    lines = text.split("\n")
    return "\n".join(
        indent + line if line.strip() and i not in fixed and (first or i) else line
        for i, line in enumerate(lines)
    )


def outdented(text: str, margin: int) -> str:
    """Every line but the first less deep by at most ``margin`` blanks."""
    fixed = inside(text)
    lines = text.split("\n")
    return "\n".join(
        line if i == 0 or i in fixed else line[min(margin, len(line) - len(line.lstrip(" "))) :]
        for i, line in enumerate(lines)
    )

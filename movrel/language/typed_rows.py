"""Rows of a vector or matrix as people write, type and paste them: numbers, units, names and formulae."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from movrel.errors import SyntaxFault
from movrel.language import syntax as s
from movrel.language.parser import parse_expression
from movrel.language.typed_quantities import as_typed, in_si

_OPENING, _CLOSING = "([{", ")]}"


def array_cells(text: str) -> list[list[str]] | None:
    """The texts of the elements of an array that is written out, row by row; None for any other expression."""
    try:
        node = parse_expression(text)
    except SyntaxFault:
        return None

    def written(row: tuple[s.Expression, ...]) -> list[str]:
        return [text[cell.start : cell.end].strip() for cell in row]

    if isinstance(node, s.Matrix):
        return [written(row) for row in node.rows]
    if not isinstance(node, s.Array) or node.indices:
        return None
    inner = [item for item in node.items if isinstance(item, s.Array) and not item.indices]
    if len(inner) == len(node.items) and inner:
        return [written(row.items) for row in inner]
    return [[cell] for cell in written(node.items)]


def typed_rows(text: str, joins: Callable[[str, str], bool]) -> list[list[str]]:
    """The cells of a text, row by row; headings before the first number, and what follows # or //, are left out.

    Cells are parted by tabulators, else by semicolons, else by commas, else by blanks that no operator and no unit
    joins: ``joins(number, word)`` says whether a word is the unit of the number before it.
    """
    stripped = text.strip()
    if stripped[:1] in ("{", "["):
        cells = array_cells(stripped)
        if cells is not None:
            return cells
        # Units are no part of an expression; they stand in remarks while its elements are told apart.
        cells = array_cells(in_si(stripped, remarks=True))
        if cells is not None:
            return [[as_typed(cell) for cell in row] for row in cells]
    rows = []
    for line in text.splitlines():
        bare = re.split(r"#|//", line, maxsplit=1)[0].strip(" \r")
        if bare.strip():
            rows.append(_cells(bare, joins))
    numeric = [any(re.search(r"\d", cell) for cell in row) for row in rows]
    first = numeric.index(True) if True in numeric else 0
    return rows[first:]


def _cells(line: str, joins: Callable[[str, str], bool]) -> list[str]:
    for mark in "\t;,":
        parts = list(parted(line, mark))
        if len(parts) > 1:
            if not parts[-1].strip():
                parts.pop()  # a mark at the end of the line
            return [part.strip() for part in parts]
    cells: list[str] = []
    for word in (w for w in parted(line, " ") if w):
        before = cells[-1] if cells else ""
        joined = before and (
            before[-1] in "+-*/^" or word[0] in "*/^" or word in ("+", "-") or joins(before, word)
        )
        if joined:
            cells[-1] = f"{before} {word}"
        else:
            cells.append(word)
    return cells


def parted(line: str, mark: str) -> Iterator[str]:
    """The parts of a line between marks that stand outside all brackets and double quotes."""
    depth, begin, quoted = 0, 0, False
    for k, letter in enumerate(line):
        if letter == '"':
            quoted = not quoted
        elif not quoted:
            depth += (letter in _OPENING) - (letter in _CLOSING)
            if letter == mark and depth <= 0:
                yield line[begin:k]
                begin = k + 1
    yield line[begin:]

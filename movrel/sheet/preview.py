"""Curves of the table that a part holds, as its symbol shows them."""

from __future__ import annotations

from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.sheet.memo import Memo

#: Points in the square from 0 to 1: to the right the argument, upwards the value.
Curve = list[list[float]]

#: Most curves and most points of each that a symbol can show.
CURVES, POINTS = 6, 200
#: The parameter that holds the table.
TABLE = "table"

#: What each class says of its preview, by full name: its kind and the table that it has by itself.
_classes: Memo[str, tuple[str, list[list[float]] | None]] = Memo()


def preview(tree: ClassTree, kind: Definition, node: s.Component) -> list[Curve]:
    """The curves of a part whose class asks for them: ``curve`` draws values over the first column of its table, ``map``
    values over the first column, one curve for each argument across.

    Empty where the table is no matrix of numbers.
    """
    way, own = _classes.get(kind.qualified) or _classes.keep(kind.qualified, _asked(tree, kind))
    if not way:
        return []
    written = _modified(node)
    table = own if written is None else _numbers(written)
    if table is None or len(table) < 2 or len({len(row) for row in table}) > 1:
        return []
    rows = table[1:] if way == "map" else table
    x = [row[0] for row in rows]
    columns = [[row[k] for row in rows] for k in range(1, len(rows[0]))][:CURVES]
    return _scaled(x, columns) if columns and len(rows) > 1 else []


def _asked(tree: ClassTree, kind: Definition) -> tuple[str, list[list[float]] | None]:
    own = note.members(note.find(kind.node.annotation, "__Movrel"))
    way = str(own.get("preview") or "")
    if not way:
        return "", None
    default = next(
        (e for e in kind.node.elements if isinstance(e, s.Component) and e.name == TABLE), None
    )
    value = default.modification.value if default and default.modification else None
    return way, _numbers(value)


def _modified(node: s.Component) -> s.Given | None:
    """What the modification of a part gives its table."""
    for argument in node.modification.arguments if node.modification else ():
        if isinstance(argument, s.Modify) and argument.name == TABLE and argument.modification:
            return argument.modification.value
    return None


def _numbers(value: s.Given | None) -> list[list[float]] | None:
    """A matrix that is written out in numbers, ``[0, 1; 2, 3]`` or ``{{0, 1}, {2, 3}}``."""
    if isinstance(value, s.Matrix):
        rows = [list(row) for row in value.rows]
    elif isinstance(value, s.Array) and not value.indices:
        if not all(isinstance(row, s.Array) and not row.indices for row in value.items):
            return None
        rows = [list(row.items) for row in value.items if isinstance(row, s.Array)]
    else:
        return None
    numbers = [[_number(entry) for entry in row] for row in rows]
    if any(n is None for row in numbers for n in row):
        return None
    return [[float(n or 0.0) for n in row] for row in numbers]


def _number(entry: s.Expression) -> float | None:
    if isinstance(entry, s.Number):
        return float(entry.text)
    if isinstance(entry, s.Unary) and entry.operator in ("-", "+"):
        inside = _number(entry.operand)
        return None if inside is None else inside * (-1 if entry.operator == "-" else 1)
    return None


def _scaled(x: list[float], columns: list[list[float]]) -> list[Curve]:
    every = max(1, -(-len(x) // POINTS))
    low, high = min(x), max(x)
    least, most = min(map(min, columns)), max(map(max, columns))
    width, height = high - low or 1.0, most - least or 1.0
    return [
        [
            [round((a - low) / width, 4), round((b - least) / height if most > least else 0.5, 4)]
            for a, b in list(zip(x, column, strict=True))[::every]
        ]
        for column in columns
    ]

"""Patches that add and change the named values of a model, and tables of them that are pasted."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence

from movrel.edits.fragment import is_figure
from movrel.errors import EditFault, SyntaxFault, UnitFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.names import check_name, is_name
from movrel.language.parser import Source, parse, parse_expression
from movrel.language.patch import Patch, apply
from movrel.language.tree_search import class_at
from movrel.units import convert, normalise, read_number, read_quantity, si_unit


def set_figure(
    source: Source, cls: s.ClassDef, old: str, name: str, expression: str, unit: str, note: str
) -> list[Patch]:
    """Add a figure (``old`` empty) or change one; another name is carried into everything that uses it.

    A number counts in ``unit`` and is stored in the SI unit of its dimension, with ``unit`` as the one
    in which it is shown; a formula counts in SI units. Raises :class:`EditFault` when the name is none,
    or the expression is neither number nor formula, and :class:`UnitFault` for an unknown unit.
    """
    expression, unit, si = _in_si(name, expression, unit)
    existing = next((n for n in figure_nodes(cls) if n.name == old), None) if old else None
    if old and existing is None:
        raise EditFault(f"'{cls.name}' has no figure '{old}'.")
    line = figure_line(
        name, expression, unit, si, note, "constant" if cls.kind == "package" else "parameter"
    )
    if existing is None:
        check_name(cls, name)
        present = list(figure_nodes(cls))
        if present:
            return edit_class.insert_after(source, present[-1], [line])
        return edit_class.insert_elements(source, cls, [line], first=True)
    patches = edit_class.rename_component(source, cls, old, name) if name != old else []
    modification = existing.modification
    value = modification.value if modification else None
    if value is None:
        at = modification.end if modification else existing.name_span[1]
        patches.append(Patch(at, at, f" = {expression}"))
    elif source.slice(value) != expression:
        inside = (value.start, value.end)
        patches = [p for p in patches if not inside[0] <= p.start < inside[1]] + [
            Patch(*inside, expression)
        ]
    declared = attribute_text(existing, "unit")
    if (unit, si) != (attribute_text(existing, "displayUnit") or declared, declared):
        patches += _with_unit(source, existing, unit, si)
    if note != (existing.comment.text if existing.comment else ""):
        patches += _with_note(source, existing, note)
    return patches


def figure_line(
    name: str, expression: str, unit: str, si: str, note: str, variability: str = "parameter"
) -> str:
    """The declaration of a figure."""
    words = f" {quoted(note)}" if note else ""
    return f"{variability} Real {name}{_units_text(unit, si)} = {expression}{words};"


def _units_text(unit: str, si: str) -> str:
    if not si:
        return ""
    return f'(unit="{si}")' if unit == si else f'(unit="{si}", displayUnit="{unit}")'


def _in_si(name: str, expression: str, unit: str) -> tuple[str, str, str]:
    """The expression as it is stored, the unit in which it is shown, and its SI unit."""
    expression = expression.strip()
    typed = (
        read_quantity(
            expression,
            si_unit(unit) if unit.strip() else "",
            normalise(unit) if unit.strip() else "",
        )
        if _has_unit(expression)
        else None
    )
    if typed is not None:
        unit, expression = typed.unit, f"{typed.value:.15g}"
    elif unit.strip():
        unit = normalise(unit)
        number = read_number(expression)
        if number is not None and si_unit(unit) != unit:
            expression = f"{convert(number, unit, si_unit(unit)):.15g}"
        else:
            expression = _plain_number(expression)
    else:
        expression = _plain_number(expression)
    _check_expression(name, expression)
    unit = unit.strip()
    return expression, unit, si_unit(unit) if unit else ""


def _plain_number(expression: str) -> str:
    """A number as Modelica writes it, where it was typed with commas; anything else as it is."""
    number = read_number(expression)
    return f"{number:.15g}" if number is not None and "," in expression else expression


def _has_unit(expression: str) -> bool:
    """Whether a number is followed by a unit, as in ``0.3 m``."""
    return re.fullmatch(r"[-+]?[\d.,]+(?:[eE][-+]?\d+)?\s+[A-Za-z°%µΩ].*", expression) is not None


def set_many(source: Source, cls: s.ClassDef, rows: list[tuple[str, str, str, str]]) -> str:
    """Add or change several figures at once; gives the new text."""
    text = source.text
    path = _path_of(source, cls)
    for name, expression, unit, note in rows:
        work = parse(text, source.file)
        node = class_at(work.tree, path)
        known = {n.name: n for n in figure_nodes(node)}
        if name in known:
            unit = (
                unit
                or attribute_text(known[name], "displayUnit")
                or attribute_text(known[name], "unit")
            )
            comment = known[name].comment
            note = note or (comment.text if comment else "")
        text = apply(
            text,
            set_figure(work, node, name if name in known else "", name, expression, unit, note),
        )
    return text


def read_table(text: str) -> list[tuple[str, str, str, str]]:
    """Rows of name, expression, unit and note from a spreadsheet's cells (tabs) or a CSV file.

    A first row that is a heading is left out. A decimal comma in a cell of digits becomes a point.
    Raises :class:`EditFault` naming the row that cannot be read.
    """
    text = text.strip("\ufeff\r\n")
    if not text.strip():
        raise EditFault(
            "there is nothing to paste.",
            hint="Copy rows of name, value, unit and note from a spreadsheet.",
        )
    separator = "\t" if "\t" in text else ";" if text.split("\n")[0].count(";") >= 1 else ","
    rows: list[tuple[str, str, str, str]] = []
    for number, cells in enumerate(csv.reader(io.StringIO(text), delimiter=separator), 1):
        cells = [c.strip() for c in cells]
        if not any(cells):
            continue
        if number == 1 and cells[0].lower() in (
            "name",
            "names",
            "figure",
            "quantity",
            "symbol",
            "parameter",
        ):
            continue
        if len(cells) < 2 or not cells[0] or not cells[1]:
            raise EditFault(
                f"row {number} has no name or no value.",
                hint="Each row needs a name and a value, then unit and note.",
            )
        name, expression = cells[0], cells[1]
        try:
            expression = _plain_number(expression)
        except UnitFault as fault:
            raise EditFault(f"row {number}: {fault.message}", hint=fault.hint) from None
        if not is_name(name):
            raise EditFault(
                f"'{name}' in row {number} cannot be a name.",
                hint="Use letters, digits and _, beginning with a letter.",
            )
        try:
            _check_expression(name, expression)
        except EditFault as fault:
            raise EditFault(f"row {number}: {fault.message}", hint=fault.hint) from None
        rows.append(
            (
                name,
                expression,
                cells[2] if len(cells) > 2 else "",
                cells[3] if len(cells) > 3 else "",
            )
        )
    return rows


def figure_nodes(cls: s.ClassDef) -> list[s.Component]:
    """Scalar named values declared in the class itself."""
    return [
        e for e in cls.elements
        if isinstance(e, s.Component) and is_figure(e) and not e.protected and not e.subscripts and not e.type_subscripts
    ]  # fmt: skip


def _check_expression(name: str, expression: str) -> None:
    if not is_name(name):
        raise EditFault(
            f"'{name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    try:
        parse_expression(expression)
    except SyntaxFault:
        raise EditFault(
            f"'{expression}' is neither a number nor a formula.",
            hint="Type for example 0.3 or D^2*pi/4.",
        ) from None


def attribute_text(node: s.Component, name: str) -> str:
    for argument in node.modification.arguments if node.modification else ():
        if (
            isinstance(argument, s.Modify)
            and argument.name == name
            and argument.modification is not None
        ):
            value = argument.modification.value
            return value.value if isinstance(value, s.String) else ""
    return ""


def _with_unit(source: Source, node: s.Component, unit: str, si: str) -> list[Patch]:
    modification = node.modification
    span = modification.arguments_span if modification else None
    if span is None:
        at = node.name_span[1]
        return [Patch(at, at, _units_text(unit, si))]
    assert modification is not None
    others = [
        source.slice(a) for a in modification.arguments
        if not (isinstance(a, s.Modify) and a.name in ("unit", "displayUnit"))
    ]  # fmt: skip
    inside = ", ".join([x for x in [_units_text(unit, si)[1:-1], *others] if x])
    return [Patch(span[0], span[1], f"({inside})" if inside else "")]


def _with_note(source: Source, node: s.Component, note: str) -> list[Patch]:
    comment = node.comment
    end = node.modification.end if node.modification else node.name_span[1]
    if comment is not None and comment.text:
        start = source.text.index('"', max(end, comment.start))
        stop = start + 1
        while source.text[stop] != '"':
            stop += 2 if source.text[stop] == "\\" else 1
        return [Patch(start, stop + 1, quoted(note))]
    return [Patch(end, end, f" {quoted(note)}")] if note else []


def _path_of(source: Source, cls: s.ClassDef) -> list[str]:
    def search(nodes: Sequence[s.ClassDef | s.Element]) -> list[str] | None:
        for node in nodes:
            if isinstance(node, s.ClassDef):
                if node is cls:
                    return [node.name]
                deeper = search(node.elements)
                if deeper is not None:
                    return [node.name, *deeper]
        return None

    return search(list(source.tree.classes)) or []

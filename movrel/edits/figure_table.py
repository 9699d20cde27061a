"""Patches that add and change the named values of a model."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from movrel.edits.formulae import unit_of_formula
from movrel.edits.fragment import is_figure
from movrel.errors import EditFault, SyntaxFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.names import check_name, is_name
from movrel.language.parser import Source, parse_expression
from movrel.language.patch import Patch
from movrel.language.typed_quantities import in_si
from movrel.model.classes import ClassTree, Definition
from movrel.units import convert, normalise, read_number, read_quantity, si_unit


@dataclass(frozen=True, slots=True)
class StoredFigure:
    """A named value as its declaration has it; the expression counts in the SI unit."""

    name: str
    expression: str
    unit: str
    si: str
    note: str


def set_figure(
    source: Source, cls: s.ClassDef, old: str, name: str, expression: str, unit: str, note: str
) -> list[Patch]:
    """Add a figure (``old`` empty) or change one; another name is carried into everything that uses it.

    A number counts in ``unit`` and is stored in the SI unit of its dimension, with ``unit`` as the one
    in which it is shown; a formula counts in SI units. Raises :class:`EditFault` when the name is none,
    or the expression is neither number nor formula, and :class:`UnitFault` for an unknown unit.
    """
    expression, unit, si, _ = in_si_unit(name, expression, unit)
    existing = next((n for n in figure_nodes(cls) if n.name == old), None) if old else None
    if old and existing is None:
        raise EditFault(f"'{cls.name}' has no value '{old}'.")
    line = figure_line(
        name, expression, unit, si, note, "constant" if cls.kind == "package" else "parameter"
    )
    if existing is None:
        check_name(cls, name)
        present = list(figure_nodes(cls))
        if present:
            return edit_class.insert_after(source, present[-1], [line])
        return edit_class.insert_elements(source, cls, [line], first=True)
    row = StoredFigure(name, expression, unit, si, note)
    if name == old:
        return _changed(source, existing, row)
    renamed = edit_class.rename_component(source, cls, old, name)
    changed = _changed(source, existing, row)
    value = existing.modification.value if existing.modification else None
    if value is not None and any(p.start == value.start for p in changed):
        renamed = [p for p in renamed if not value.start <= p.start < value.end]
    return renamed + changed


def _kept(node: s.Component, row: StoredFigure) -> StoredFigure:
    """A row with the unit and the note that its figure has, where it gives none."""
    note = row.note or (node.comment.text if node.comment else "")
    if row.unit:
        return replace(row, note=note)
    si = attribute_text(node, "unit")
    unit = attribute_text(node, "displayUnit") or si
    number = read_number(row.expression)
    expression = row.expression
    if number is not None and unit != si:
        expression = f"{convert(number, unit, si):.15g}"
    return replace(row, expression=expression, unit=unit, si=si, note=note)


def _changed(source: Source, node: s.Component, row: StoredFigure) -> list[Patch]:
    """The patches that give a figure another value, unit and note."""
    patches: list[Patch] = []
    modification = node.modification
    value = modification.value if modification else None
    if value is None:
        at = modification.end if modification else node.name_span[1]
        patches.append(Patch(at, at, f" = {row.expression}"))
    elif source.slice(value) != row.expression:
        patches.append(Patch(value.start, value.end, row.expression))
    declared = attribute_text(node, "unit")
    if (row.unit, row.si) != (attribute_text(node, "displayUnit") or declared, declared):
        patches += _with_unit(source, node, row.unit, row.si)
    if row.note != (node.comment.text if node.comment else ""):
        patches += _with_note(source, node, row.note)
    return patches


def figure_line(
    name: str, expression: str, unit: str, si: str, note: str, variability: str = "parameter"
) -> str:
    """The declaration of a figure."""
    words = f" {quoted(note)}" if note else ""
    return f"{variability} Real {name}{units_text(unit, si)} = {expression}{words};"


def units_text(unit: str, si: str) -> str:
    """The attributes that give a declaration its unit and the one in which it is shown; empty for none."""
    if not si:
        return ""
    return f'(unit="{si}")' if unit == si else f'(unit="{si}", displayUnit="{unit}")'


def in_si_unit(name: str, expression: str, symbol: str) -> tuple[str, str, str, s.Expression]:
    """The expression as it is stored, the unit in which it is shown, its SI unit, and what the expression means.

    Where no unit is given, that of the typed numbers counts. Raises :class:`EditFault` for what is not a name,
    number or formula, :class:`UnitFault` for an unknown unit.
    """
    expression, symbol = expression.strip(), normalise(symbol) if symbol.strip() else ""
    number, typed = read_number(expression), _QUANTITY.fullmatch(expression)
    if typed is not None:
        given = read_quantity(expression, si_unit(symbol or typed["unit"]), symbol)
        assert given is not None
        symbol, expression = given.unit, f"{given.value:.15g}"
    elif number is None:
        symbol = symbol or unit_of_formula(expression)
        expression = in_si(expression, remarks=True)
    elif symbol and si_unit(symbol) != symbol:
        expression = f"{convert(number, symbol, si_unit(symbol)):.15g}"
    else:
        expression = _plain_number(expression)
    node = _checked_expression(name, expression)
    return expression, symbol, si_unit(symbol) if symbol else "", node


def _plain_number(expression: str) -> str:
    """A number as Modelica writes it, where it was typed with commas; anything else as it is."""
    number = read_number(expression)
    return f"{number:.15g}" if number is not None and "," in expression else expression


#: A number that is followed by a unit, as in ``0.3 m``.
_QUANTITY = re.compile(r"[-+]?[\d.,]+(?:[eE][-+]?\d+)?\s*(?P<unit>[A-Za-z°%µΩ][^*+\-]*|1/[a-z]+)")


def set_many(source: Source, cls: s.ClassDef, rows: list[StoredFigure]) -> list[Patch]:
    """Add or change several figures at once; what a row says nothing about stays."""
    present = {n.name: n for n in figure_nodes(cls)}
    variability = "constant" if cls.kind == "package" else "parameter"
    patches: list[Patch] = []
    lines: list[str] = []
    for row in rows:
        node = present.get(row.name)
        if node is not None:
            patches += _changed(source, node, _kept(node, row))
        else:
            lines.append(
                figure_line(row.name, row.expression, row.unit, row.si, row.note, variability)
            )
    if present and lines:
        patches += edit_class.insert_after(source, list(present.values())[-1], lines)
    elif lines:
        patches += edit_class.insert_elements(source, cls, lines, first=True)
    return patches


def figure_nodes(cls: s.ClassDef) -> list[s.Component]:
    """Scalar named values declared in the class itself."""
    return [
        e for e in cls.elements
        if isinstance(e, s.Component) and is_figure(e) and not e.protected and not e.subscripts and not e.type_subscripts
    ]  # fmt: skip


def _checked_expression(name: str, expression: str) -> s.Expression:
    if not is_name(name):
        raise EditFault(
            f"'{name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    if re.fullmatch(r"\d+(?:\.\d+)?(?:[eE][-+]?\d+)?", expression):
        return s.Number(expression)
    try:
        return parse_expression(expression)
    except SyntaxFault:
        raise EditFault(
            f"'{expression}' is neither a number nor a formula.",
            hint="Type for example 0.3 or D^2*pi/4.",
        ) from None


def is_known(tree: ClassTree, definition: Definition, reference: s.Ref) -> bool:
    """Whether a name in a formula means something: a component, a class, an imported or a package's constant."""
    first = reference.parts[0].name
    return (
        first == "time"
        or any(isinstance(e, s.Component) and e.name == first for e in definition.node.elements)
        or tree.lookup(first, definition) is not None
        or _is_constant(tree, definition, reference)
    )


def _is_constant(tree: ClassTree, definition: Definition, reference: s.Ref) -> bool:
    if len(reference.parts) < 2:
        return any(
            reference.parts[0].name in (e.alias, e.path.rpartition(".")[2], *e.names)
            for e in definition.node.elements
            if isinstance(e, s.Import)
        )
    return tree.lookup(".".join(p.name for p in reference.parts[:-1]), definition) is not None


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
        return [Patch(at, at, units_text(unit, si))]
    assert modification is not None
    others = [
        source.slice(a) for a in modification.arguments
        if not (isinstance(a, s.Modify) and a.name in ("unit", "displayUnit"))
    ]  # fmt: skip
    inside = ", ".join([x for x in [units_text(unit, si)[1:-1], *others] if x])
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

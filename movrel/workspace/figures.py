"""The figures of a model: named values and expressions that its parameters draw on."""

from __future__ import annotations

import csv
import io
import re
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault, MovrelError, SyntaxFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.parser import Source, parse, parse_expression
from movrel.language.patch import Patch, apply
from movrel.model.classes import ClassTree, Definition, parse_cached
from movrel.model.flatten import flatten_model
from movrel.model.fragment import declared, free_references, is_figure
from movrel.units import convert, normalise, read_quantity, si_unit

SCALARS = ("Real", "Integer", "Boolean")


@dataclass(slots=True)
class Figure:
    """One row: ``value`` in the declared unit, or ``fault`` in words when it has none."""

    name: str
    expression: str
    #: Unit in which the row is shown, and the SI unit in which its value and its formulae count.
    unit: str
    si: str
    note: str
    value: Any = None
    fault: str = ""
    uses: list[str] = field(default_factory=list)


def figures(tree: ClassTree, definition: Definition) -> list[Figure]:
    """The named values of a class in the order of its text, each worked out as far as it can be."""
    rows: list[Figure] = []
    nodes: dict[str, s.Component] = {}
    source = definition.source
    for node in _nodes(definition.node):
        value = node.modification.value if node.modification else None
        rows.append(_row(tree, definition, node, source.slice(value) if value is not None else ""))
        nodes[node.name] = node
    known = {e.name for e in definition.node.elements if isinstance(e, s.Component)}
    for row in rows:
        modification = nodes[row.name].modification
        value = modification.value if modification else None
        names = list(free_references(value, set())) if value is not None else []
        row.uses = list(dict.fromkeys(r.parts[0].name for r in names if r.parts[0].name in nodes))
        for reference in names:
            first = reference.parts[0].name
            if (
                first not in known
                and first != "time"
                and tree.lookup(first, definition) is None
                and not _constant(tree, definition, reference)
            ):
                row.fault = row.fault or f"'{first}' is not known"
    _mark_cycles({r.name: r for r in rows})
    _mark_dependents({r.name: r for r in rows})
    _work_out(definition, [r for r in rows if not r.fault], nodes)
    return rows


def _row(tree: ClassTree, definition: Definition, node: s.Component, expression: str) -> Figure:
    si = _attribute(node, "unit") or _type_unit(tree, definition, node)
    shown = _attribute(node, "displayUnit") or si
    if shown != si:
        with suppress(ValueError, MovrelError):  # a formula counts in SI units
            expression = f"{convert(float(expression), si, shown):.15g}"
    note = node.comment.text if node.comment else ""
    return Figure(node.name, expression, shown, si, note, fault="" if expression else "it has no value")


def set_figure(source: Source, cls: s.ClassDef, old: str, name: str, expression: str, unit: str, note: str) -> list[Patch]:
    """Add a figure (``old`` empty) or change one; another name is carried into everything that uses it.

    A number counts in ``unit`` and is stored in the SI unit of its dimension, with ``unit`` as the one
    in which it is shown; a formula counts in SI units. Raises :class:`EditFault` when the name is none,
    or the expression is neither number nor formula, and :class:`UnitFault` for an unknown unit.
    """
    expression, unit, si = _in_si(name, expression, unit)
    existing = next((n for n in _nodes(cls) if n.name == old), None) if old else None
    if old and existing is None:
        raise EditFault(f"'{cls.name}' has no figure '{old}'.")
    line = figure_line(name, expression, unit, si, note, "constant" if cls.kind == "package" else "parameter")
    if existing is None:
        edit_class.check_name(cls, name)
        present = list(_nodes(cls))
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
        patches = [p for p in patches if not inside[0] <= p.start < inside[1]] + [Patch(*inside, expression)]
    if (unit, si) != (_attribute(existing, "displayUnit") or _attribute(existing, "unit"), _attribute(existing, "unit")):
        patches += _with_unit(source, existing, unit, si)
    if note != (existing.comment.text if existing.comment else ""):
        patches += _with_note(source, existing, note)
    return patches


def figure_line(name: str, expression: str, unit: str, si: str, note: str, variability: str = "parameter") -> str:
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
        read_quantity(expression, si_unit(unit) if unit.strip() else "", normalise(unit) if unit.strip() else "")
        if _has_unit(expression)
        else None
    )
    if typed is not None:
        unit, expression = typed.unit, f"{typed.value:.15g}"
    elif unit.strip():
        unit = normalise(unit)
        try:
            number = float(expression)
            if si_unit(unit) != unit:
                expression = f"{convert(number, unit, si_unit(unit)):.15g}"
        except ValueError:
            pass
    _check_expression(name, expression)
    unit = unit.strip()
    return expression, unit, si_unit(unit) if unit else ""


def _has_unit(expression: str) -> bool:
    """Whether a number is followed by a unit, as in ``0.3 m``."""
    return re.fullmatch(r"[-+]?[\d.,]+(?:[eE][-+]?\d+)?\s+[A-Za-z°%µΩ].*", expression) is not None


def set_many(source: Source, cls: s.ClassDef, rows: list[tuple[str, str, str, str]]) -> str:
    """Add or change several figures at once; gives the new text."""
    text = source.text
    path = _path_of(source, cls)
    for name, expression, unit, note in rows:
        work = parse(text, source.file)
        node = edit_class.class_at(work.tree, path)
        known = {n.name: n for n in _nodes(node)}
        if name in known:
            unit = unit or _attribute(known[name], "displayUnit") or _attribute(known[name], "unit")
            comment = known[name].comment
            note = note or (comment.text if comment else "")
        text = apply(text, set_figure(work, node, name if name in known else "", name, expression, unit, note))
    return text


def read_table(text: str) -> list[tuple[str, str, str, str]]:
    """Rows of name, expression, unit and note from a spreadsheet's cells (tabs) or a CSV file.

    A first row that is a heading is left out. A decimal comma in a cell of digits becomes a point.
    Raises :class:`EditFault` naming the row that cannot be read.
    """
    text = text.strip("\ufeff\r\n")
    if not text.strip():
        raise EditFault("there is nothing to paste.", hint="Copy rows of name, value, unit and note from a spreadsheet.")
    separator = "\t" if "\t" in text else ";" if text.split("\n")[0].count(";") >= 1 else ","
    rows: list[tuple[str, str, str, str]] = []
    for number, cells in enumerate(csv.reader(io.StringIO(text), delimiter=separator), 1):
        cells = [c.strip() for c in cells]
        if not any(cells):
            continue
        if number == 1 and cells[0].lower() in ("name", "names", "figure", "quantity", "symbol", "parameter"):
            continue
        if len(cells) < 2 or not cells[0] or not cells[1]:
            raise EditFault(
                f"row {number} has no name or no value.", hint="Each row needs a name and a value, then unit and note."
            )
        name, expression = cells[0], cells[1]
        if re.fullmatch(r"[-+]?\d+,\d+([eE][-+]?\d+)?", expression):
            expression = expression.replace(",", ".")
        if not re.fullmatch(r"[A-Za-z_]\w*", name) or name in edit_class.RESERVED:
            raise EditFault(
                f"'{name}' in row {number} cannot be a name.", hint="Use letters, digits and _, beginning with a letter."
            )
        try:
            _check_expression(name, expression)
        except EditFault as fault:
            raise EditFault(f"row {number}: {fault.message}", hint=fault.hint) from None
        rows.append((name, expression, cells[2] if len(cells) > 2 else "", cells[3] if len(cells) > 3 else ""))
    return rows


def as_csv(rows: list[Figure]) -> str:
    """The table for a spreadsheet."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["name", "expression", "unit", "note", "value"])
    writer.writerows([r.name, r.expression, r.unit, r.note, "" if r.value is None else r.value] for r in rows)
    return out.getvalue()


def _nodes(cls: s.ClassDef) -> list[s.Component]:
    """Scalar named values declared in the class itself."""
    return [
        e for e in cls.elements
        if isinstance(e, s.Component) and is_figure(e) and not e.protected and not e.subscripts and not e.type_subscripts
    ]  # fmt: skip


def _check_expression(name: str, expression: str) -> None:
    if not re.fullmatch(r"[A-Za-z_]\w*", name) or name in edit_class.RESERVED:
        raise EditFault(f"'{name}' cannot be a name.", hint="Use letters, digits and _, beginning with a letter.")
    try:
        parse_expression(expression)
    except SyntaxFault:
        raise EditFault(f"'{expression}' is neither a number nor a formula.", hint="Type for example 0.3 or D^2*pi/4.") from None


def _attribute(node: s.Component, name: str) -> str:
    for argument in node.modification.arguments if node.modification else ():
        if isinstance(argument, s.Modify) and argument.name == name and argument.modification is not None:
            value = argument.modification.value
            return value.value if isinstance(value, s.String) else ""
    return ""


def _type_unit(tree: ClassTree, definition: Definition, node: s.Component) -> str:
    kind = tree.lookup(node.type_name, definition)
    while kind is not None and kind.node.base is not None:
        for argument in kind.node.base.arguments:
            if isinstance(argument, s.Modify) and argument.name == "unit" and argument.modification is not None:
                value = argument.modification.value
                return value.value if isinstance(value, s.String) else ""
        bases = tree.bases(kind)
        kind = bases[0] if bases else None
    return ""


def _constant(tree: ClassTree, definition: Definition, reference: s.Ref) -> bool:
    """Whether a dotted name leads to a constant of a package."""
    if len(reference.parts) < 2:
        return any(
            isinstance(e, s.Import) and reference.parts[0].name in (e.alias, e.path.rpartition(".")[2], *e.names)
            for e in definition.node.elements
        )
    package = tree.lookup(".".join(p.name for p in reference.parts[:-1]), definition)
    return package is not None


def _mark_cycles(rows: dict[str, Figure]) -> None:
    for start in rows.values():
        path: list[str] = []

        def walk(name: str, path: list[str], start: Figure = start) -> bool:
            if name == start.name and path:
                start.fault = start.fault or "it depends on itself: " + " → ".join([*path, name])
                return True
            if name in path or name not in rows:
                return False
            return any(walk(n, [*path, name]) for n in rows[name].uses)

        walk(start.name, path)


def _mark_dependents(rows: dict[str, Figure]) -> None:
    changed = True
    while changed:
        changed = False
        for row in rows.values():
            bad = next((n for n in row.uses if rows[n].fault), None)
            if bad is not None and not row.fault:
                row.fault = f"'{bad}' has no value"
                changed = True


def _work_out(definition: Definition, rows: list[Figure], nodes: dict[str, s.Component]) -> None:
    """Values of the sound rows, by flattening a class that holds nothing else in the scope of the model."""
    if not rows:
        return
    remaining = list(rows)
    while remaining:
        lines = "\n".join(f"  {declared(definition.source, nodes[r.name])};" for r in remaining)
        imports = "\n".join(f"  {definition.source.slice(e)};" for e in definition.node.elements if isinstance(e, s.Import))
        try:
            source = parse_cached(f"model Figures\n{imports}\n{lines}\nend Figures;", "figures")
            scope = Definition(source.tree.classes[0], source, definition.parent)
            flat = flatten_model(ClassTree() if definition.parent is None else _tree_of(definition), scope)
            values = parameter_values(flat, {})
        except MovrelError as fault:
            line = fault.where.line - 2 - imports.count("\n") if fault.where and fault.where.file == "figures" else 0
            bad = (
                remaining[line]
                if 0 <= line < len(remaining)
                else next((r for r in remaining if f"'{r.name}'" in fault.message), remaining[-1])
            )
            bad.fault = fault.message.rstrip(".")
            remaining = [r for r in remaining if r is not bad and bad.name not in r.uses]
            continue
        by_name = flat.by_name()
        for row in remaining:
            variable = by_name.get(row.name)
            value = values.get(id(variable)) if variable is not None else None
            row.value = value
            if value is None:
                row.fault = "it has no value"
        return


def _tree_of(definition: Definition) -> ClassTree:
    """A tree in which the packages around a class can be found."""
    tree = ClassTree()
    root = definition
    while root.parent is not None:
        root = root.parent
    tree.roots[root.name] = root
    return tree


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
    def search(nodes: list[Any]) -> list[str] | None:
        for node in nodes:
            if isinstance(node, s.ClassDef):
                if node is cls:
                    return [node.name]
                deeper = search(node.elements)
                if deeper is not None:
                    return [node.name, *deeper]
        return None

    return search(list(source.tree.classes)) or []

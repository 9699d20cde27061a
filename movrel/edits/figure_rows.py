"""The named values of a class, each worked out as far as it can be."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, field
from graphlib import CycleError, TopologicalSorter

from movrel.edits.figure_table import attribute_text, figure_nodes, is_known
from movrel.edits.fragment import free_references
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.language import syntax as s
from movrel.language.typed_quantities import as_typed
from movrel.model.classes import ClassTree, Definition
from movrel.model.flatten import flatten_model
from movrel.units import convert


@dataclass(slots=True)
class FigureRow:
    """One row: ``value`` in the declared unit, or ``fault`` in words when it has none."""

    name: str
    expression: str
    #: Unit in which the row is shown, and the SI unit in which its value and its formulae count.
    unit: str
    si: str
    note: str
    value: float | bool | str | None = None
    fault: str = ""
    uses: list[str] = field(default_factory=list)
    #: Whether the start script works it out.
    scripted: bool = False


def figures(tree: ClassTree, definition: Definition) -> list[FigureRow]:
    """The named values of a class in the order of its text, each worked out as far as it can be."""
    rows: list[FigureRow] = []
    nodes: dict[str, s.Component] = {}
    source = definition.source
    for node in figure_nodes(definition.node):
        value = node.modification.value if node.modification else None
        rows.append(_row(tree, definition, node, source.slice(value) if value is not None else ""))
        nodes[node.name] = node
    for row in rows:
        modification = nodes[row.name].modification
        value = modification.value if modification else None
        names = list(free_references(value, set())) if value is not None else []
        row.uses = list(dict.fromkeys(r.parts[0].name for r in names if r.parts[0].name in nodes))
        for reference in names:
            first = reference.parts[0].name
            if first not in nodes and not is_known(tree, definition, reference):
                row.fault = row.fault or f"'{first}' is not known"
    _mark_cycles({r.name: r for r in rows})
    _mark_dependents({r.name: r for r in rows})
    _work_out(tree, definition, [r for r in rows if not r.fault], nodes)
    return rows


def _row(tree: ClassTree, definition: Definition, node: s.Component, expression: str) -> FigureRow:
    si = attribute_text(node, "unit") or _type_unit(tree, definition, node)
    shown = attribute_text(node, "displayUnit") or si
    if shown != si:
        with suppress(ValueError, MovrelError):  # a formula counts in SI units
            expression = f"{convert(float(expression), si, shown):.15g}"
    note = node.comment.text if node.comment else ""
    return FigureRow(
        node.name,
        as_typed(expression),
        shown,
        si,
        note,
        fault="" if expression else "it has no value",
    )


def _type_unit(tree: ClassTree, definition: Definition, node: s.Component) -> str:
    kind = tree.lookup(node.type_name, definition)
    while kind is not None and kind.node.base is not None:
        for argument in kind.node.base.arguments:
            if (
                isinstance(argument, s.Modify)
                and argument.name == "unit"
                and argument.modification is not None
            ):
                value = argument.modification.value
                return value.value if isinstance(value, s.String) else ""
        bases = tree.bases(kind)
        kind = bases[0] if bases else None
    return ""


def _mark_cycles(rows: dict[str, FigureRow]) -> None:
    sound = {name: [n for n in row.uses if n in rows] for name, row in rows.items()}
    while True:
        try:
            tuple(TopologicalSorter(sound).static_order())
        except CycleError as fault:
            around: list[str] = fault.args[1][:-1][::-1]
            for k, name in enumerate(around):
                rows[name].fault = rows[name].fault or "it depends on itself: " + " → ".join(
                    [*around[k:], *around[:k], name]
                )
                sound[name] = []
            continue
        return


def _mark_dependents(rows: dict[str, FigureRow]) -> None:
    changed = True
    while changed:
        changed = False
        for row in rows.values():
            bad = next((n for n in row.uses if rows[n].fault), None)
            if bad is not None and not row.fault:
                row.fault = f"'{bad}' has no value"
                changed = True


def _work_out(
    tree: ClassTree, definition: Definition, rows: list[FigureRow], nodes: dict[str, s.Component]
) -> None:
    """Values of the sound rows, by flattening a class that holds nothing else in the scope of the model."""
    if not rows:
        return
    imports = [e for e in definition.node.elements if isinstance(e, s.Import)]
    remaining = list(rows)
    while remaining:
        alone = s.ClassDef(
            "Figures", "model", elements=[*imports, *(nodes[r.name] for r in remaining)]
        )
        try:
            scope = Definition(alone, definition.source, definition.parent)
            flat = flatten_model(tree, scope)
            values = parameter_values(flat, {})
        except MovrelError as fault:
            line = fault.where.line if fault.where is not None else 0
            bad = next(
                (r for r in remaining if definition.place(nodes[r.name]).line == line),
                next((r for r in remaining if f"'{r.name}'" in fault.message), remaining[-1]),
            )
            bad.fault = fault.message.rstrip(".")
            remaining = [r for r in remaining if r is not bad and bad.name not in r.uses]
            continue
        by_name = flat.by_name()
        for row in remaining:
            variable = by_name.get(row.name)
            value = values.get(variable) if variable is not None else None
            row.value = (
                float(value) if isinstance(value, int) and not isinstance(value, bool) else value
            )
            if value is None:
                row.fault = "it has no value"
        return

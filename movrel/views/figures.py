"""The table of the named values of a model: values and expressions that its parameters draw on."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, field

from movrel.edits.figure_table import attribute_text, figure_nodes
from movrel.edits.fragment import declared, free_references
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition, parse_cached
from movrel.model.flatten import flatten_model
from movrel.project.snapshot import Snapshot, class_tree, definition_of
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


@dataclass(frozen=True, slots=True)
class FigureTable:
    figures: list[FigureRow]


def figure_table(snapshot: Snapshot, qualified: str) -> FigureTable:
    """The named values of a model. Raises :class:`movrel.errors.NotFound`."""
    return FigureTable(figures(class_tree(snapshot), definition_of(snapshot, qualified)))


def figures(tree: ClassTree, definition: Definition) -> list[FigureRow]:
    """The named values of a class in the order of its text, each worked out as far as it can be."""
    rows: list[FigureRow] = []
    nodes: dict[str, s.Component] = {}
    source = definition.source
    for node in figure_nodes(definition.node):
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


def _row(tree: ClassTree, definition: Definition, node: s.Component, expression: str) -> FigureRow:
    si = attribute_text(node, "unit") or _type_unit(tree, definition, node)
    shown = attribute_text(node, "displayUnit") or si
    if shown != si:
        with suppress(ValueError, MovrelError):  # a formula counts in SI units
            expression = f"{convert(float(expression), si, shown):.15g}"
    note = node.comment.text if node.comment else ""
    return FigureRow(
        node.name, expression, shown, si, note, fault="" if expression else "it has no value"
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


def _constant(tree: ClassTree, definition: Definition, reference: s.Ref) -> bool:
    """Whether a dotted name leads to a constant of a package."""
    if len(reference.parts) < 2:
        return any(
            isinstance(e, s.Import)
            and reference.parts[0].name in (e.alias, e.path.rpartition(".")[2], *e.names)
            for e in definition.node.elements
        )
    package = tree.lookup(".".join(p.name for p in reference.parts[:-1]), definition)
    return package is not None


def _mark_cycles(rows: dict[str, FigureRow]) -> None:
    for start in rows.values():
        path: list[str] = []

        def walk(name: str, path: list[str], start: FigureRow = start) -> bool:
            if name == start.name and path:
                start.fault = start.fault or "it depends on itself: " + " → ".join([*path, name])
                return True
            if name in path or name not in rows:
                return False
            return any(walk(n, [*path, name]) for n in rows[name].uses)

        walk(start.name, path)


def _mark_dependents(rows: dict[str, FigureRow]) -> None:
    changed = True
    while changed:
        changed = False
        for row in rows.values():
            bad = next((n for n in row.uses if rows[n].fault), None)
            if bad is not None and not row.fault:
                row.fault = f"'{bad}' has no value"
                changed = True


def _work_out(definition: Definition, rows: list[FigureRow], nodes: dict[str, s.Component]) -> None:
    """Values of the sound rows, by flattening a class that holds nothing else in the scope of the model."""
    if not rows:
        return
    remaining = list(rows)
    while remaining:
        lines = "\n".join(f"  {declared(definition.source, nodes[r.name])};" for r in remaining)
        imports = "\n".join(
            f"  {definition.source.slice(e)};"
            for e in definition.node.elements
            if isinstance(e, s.Import)
        )
        try:
            source = parse_cached(f"model Figures\n{imports}\n{lines}\nend Figures;", "figures")
            scope = Definition(source.tree.classes[0], source, definition.parent)
            flat = flatten_model(
                ClassTree() if definition.parent is None else _tree_of(definition), scope
            )
            values = parameter_values(flat, {})
        except MovrelError as fault:
            line = (
                fault.where.line - 2 - imports.count("\n")
                if fault.where and fault.where.file == "figures"
                else 0
            )
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
            value = values.get(variable) if variable is not None else None
            row.value = (
                float(value) if isinstance(value, int) and not isinstance(value, bool) else value
            )
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

"""Looking into a text before it is kept: what it declares, what is wrong with it, and how it reads typeset."""

from __future__ import annotations

import functools
from typing import Any

from movrel.equations import typeset
from movrel.equations.balance import balance
from movrel.equations.unit_check import check_units
from movrel.errors import EditFault, MovrelError, SyntaxFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.margins import indented
from movrel.language.parser import parse
from movrel.language.patch import apply
from movrel.model.classes import Definition, parse_cached
from movrel.model.drawing import icon
from movrel.session import LoadedModel
from movrel.workspace import projects
from movrel.workspace.edits import class_node

#: Most faults that are listed at once.
LISTED = 20


def component_class(text: str) -> s.ClassDef:
    """The one class that a text declares. Raises :class:`EditFault` or :class:`SyntaxFault`."""
    source = parse(text if text.rstrip().endswith(";") else text.rstrip() + ";", "component")
    if len(source.tree.classes) != 1 or source.tree.classes[0].form != "long":
        raise EditFault("the text must declare one class.", hint="Write model Name ... end Name;")
    return source.tree.classes[0]


@functools.lru_cache(maxsize=64)
def check_component(taken: projects.Snapshot, qualified: str, text: str, replaces: str = "") -> dict[str, Any]:
    """What a component's text declares and what is wrong with it, as if it were declared in a model.

    ``replaces`` names a class of the model that the text is to take the place of.
    """
    answer: dict[str, Any] = {
        "name": "", "ports": [], "parameters": [], "unknowns": [], "equations": [], "balance": "", "counts": "", "faults": [],
        "warnings": [], "icon": None,
    }  # fmt: skip
    try:
        node = component_class(text)
    except MovrelError as fault:
        answer["faults"] = [_fault(fault)]
        return answer
    answer["name"] = node.name
    try:
        model, definition = _loaded(taken, qualified, text, node.name, replaces)
    except MovrelError as fault:
        answer["faults"] = [_fault(fault)]
        return answer
    tree = model.tree
    drawn = icon(tree, definition)
    answer["icon"] = drawn
    answer["ports"] = [
        {"name": p["name"], "class": p["class"], "domain": p["domain"], "direction": p["direction"]} for p in drawn["ports"]
    ]
    try:
        flat = model.flat
    except MovrelError as fault:
        answer["faults"] = [_fault(fault, text, model, definition)]
        return answer
    for v in flat.variables:
        if v.generated or v.variability == "constant":
            continue
        entry = {"name": v.name, "unit": v.unit, "description": v.description}
        if v.variability == "parameter":
            answer["parameters"].append(entry)
        elif not v.component:
            answer["unknowns"].append(entry)
    answer["equations"] = [
        {"latex": typeset.equation(*(e.original or (e.left, e.right))), "line": _line(e.where, model, definition)}
        for e in flat.equations
        if e.kind not in ("unconnected flow", "binding")
    ]
    ports = {p["name"] for p in drawn["ports"] if not p["direction"]}
    found = balance(flat, ports)
    answer["balance"] = found.words
    answer["counts"] = f"{found.unknowns} unknowns, {found.equations} equations" + (
        f", {found.through_ports} of them through ports" if found.through_ports else ""
    )
    for mismatch in check_units(flat)[:LISTED]:
        line = _line(mismatch.where, model, definition)
        answer["warnings"].append(f"line {line}: {mismatch.text}" if line else mismatch.text)
    return answer


def _loaded(taken: projects.Snapshot, qualified: str, text: str, name: str, replaces: str) -> tuple[LoadedModel, Definition]:
    """The class of the text, compiled alone, in the scope of a model."""
    changed, _ = with_component(taken, qualified, text, replaces)
    tree = projects.class_tree(changed)
    definition = tree.find(f"{qualified}.{name}")
    assert definition is not None
    return LoadedModel(tree, definition), definition


def with_component(taken: projects.Snapshot, qualified: str, text: str, replaces: str = "") -> tuple[projects.Snapshot, str]:
    """The project with a class declared in a model, and the new text of the model's file."""
    definition = projects.definition_of(taken, qualified)
    source = definition.source
    cls = class_node(source.tree, qualified, source.tree.within)
    body = text.strip() if text.strip().endswith(";") else text.strip() + ";"
    name = component_class(text).name
    if replaces:
        old = next((e for e in cls.elements if isinstance(e, s.ClassDef) and e.name == replaces), None)
        if old is None:
            raise EditFault(f"'{cls.name}' has no class '{replaces}' of its own.")
        if name != replaces:
            raise EditFault(f"the class must keep its name '{replaces}'.", hint="Rename it in the view Text.")
        indent = edit_class.indent_at(source, old.start)
        block = indented(body.rstrip(";"), indent, first=False)
        new = apply(source.text, [edit_class.Patch(old.start, old.end, block)])
    else:
        edit_class.check_name(cls, name)
        new = apply(source.text, edit_class.insert_elements(source, cls, [body], first=True))
    parse_cached(new, source.file)
    return taken.changed(source.file, new), new


def _line(where: Any, model: LoadedModel, definition: Definition) -> int:
    """The line within the component's own text."""
    if where is None or where.file != definition.source.file:
        return 0
    return int(where.line) - definition.source.place(definition.node.start).line + 1


def _fault(
    fault: MovrelError, text: str = "", model: LoadedModel | None = None, definition: Definition | None = None
) -> dict[str, Any]:
    where = None
    if fault.where is not None:
        line, column = fault.where.line, fault.where.column
        if model is not None and definition is not None:
            line = _line(fault.where, model, definition)
        elif not isinstance(fault, SyntaxFault) and fault.where.file != "component":
            line = 0
        if line > 0:
            where = {"file": "component", "line": line, "column": column}
    return {"message": fault.message, "hint": fault.hint, "where": where}


def check_text(taken: projects.Snapshot, qualified: str, path: str, text: str) -> list[dict[str, Any]]:
    """Faults and warnings of a model if a file of the project had another text.

    Each has ``severity`` (error or warning), ``message``, ``hint``, ``line`` and ``column``.
    """
    found: list[dict[str, Any]] = []

    def add(severity: str, message: str, hint: str, where: Any) -> None:
        here = where if where is not None and where.file == path else None
        found.append(
            {
                "severity": severity,
                "message": message,
                "hint": hint,
                "line": here.line if here else 0,
                "column": here.column if here else 0,
            }
        )

    try:
        source = parse_cached(text, path)
        class_node(source.tree, qualified, source.tree.within)
        model = projects.loaded_model(taken.changed(path, text), qualified)
        _ = model.flat
        _ = model.ordered
        for mismatch in check_units(model.flat)[:LISTED]:
            add("warning", mismatch.text, "", mismatch.where)
        for warning in model.flat.warnings[:LISTED]:
            add("warning", warning, "", None)
    except MovrelError as fault:
        add("error", fault.message, fault.hint, fault.where)
    return found

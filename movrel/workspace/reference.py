"""A class of the component library, or of a project, looked up: purpose, ports, parameters, equations, source, examples."""

from __future__ import annotations

import functools
from typing import Any

from movrel.equations import typeset
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import components, lineage
from movrel.model.drawing import icon, whole_icon
from movrel.model.flat import Variable
from movrel.model.flatten import RUNNABLE
from movrel.session import LoadedModel
from movrel.workspace import projects
from movrel.workspace.faults import NotFound
from movrel.workspace.models import renamed_text

#: Most equations that a page shows.
LISTED = 40
#: The package of the library that holds the examples.
EXAMPLES = "Movrel.Examples"


def part_page(project: int, qualified: str) -> dict[str, Any]:
    """What there is to know of a class that can be put on a sheet. Raises :class:`NotFound`."""
    tree = projects.class_tree(projects.snapshot(project))
    definition = tree.find(qualified)
    if definition is None or definition.predefined or definition.node.kind == "package":
        raise NotFound(f"there is no part '{qualified}'.", hint="Look for it on the shelf.")
    return described(tree, definition)


def described(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    own = note.members(note.find(definition.node.annotation, "__Movrel"))
    info = note.members(note.find(definition.node.annotation, "Documentation")).get("info")
    equations, parameters, fault = _inside(tree, definition)
    return {
        "class": definition.qualified,
        "name": definition.name,
        "package": definition.parent.node.comment.partition(":")[0] if definition.parent is not None else "",
        "description": definition.node.comment,
        "info": info if isinstance(info, str) else "",
        "source": own.get("source") if isinstance(own.get("source"), str) else "",
        "synonyms": [w for w in own.get("synonyms") or [] if isinstance(w, str)],
        "icon": icon(tree, definition),
        "ports": whole_icon(tree, definition)["ports"],
        "parameters": parameters,
        "equations": equations,
        "fault": fault,
        "examples": [
            {"class": e.qualified, "name": e.name, "description": e.node.comment}
            for e in examples()
            if definition.qualified in used_by(e.qualified)
        ],
    }


def _inside(tree: ClassTree, definition: Definition) -> tuple[list[str], list[dict[str, Any]], str]:
    """Equations typeset, parameters with their defaults, and why there are none."""
    try:
        flat = LoadedModel(tree, definition).flat
    except MovrelError as fault:
        return [], [], fault.sentence()
    shown = [e for e in flat.equations if not e.component and e.kind not in ("unconnected flow", "binding", "connection")]
    equations = [typeset.equation(*(e.original or (e.left, e.right))) for e in shown[:LISTED]]
    try:
        values = parameter_values(flat, {})
    except MovrelError:
        values = {}
    own = [v for v in flat.variables if v.variability == "parameter" and not v.component and not v.protected and not v.generated]
    texts = {e.name: o.source.slice(e.modification.value) for o, e in components(tree, definition)
             if e.modification is not None and e.modification.value is not None}  # fmt: skip
    rows: dict[str, dict[str, Any]] = {}
    for v in own:  # of an array one row stands for all
        rows.setdefault(v.name.partition("[")[0], _parameter(v, values, texts))
    return equations, list(rows.values()), ""


def _parameter(v: Variable, values: dict[int, Any], texts: dict[str, str]) -> dict[str, Any]:
    def limit(e: Any) -> str:
        return f"{e.value:g}" if e is not None and e.op == "const" and isinstance(e.value, int | float) else ""

    value = values.get(id(v))
    name = v.name.partition("[")[0]
    given = texts.get(name, "")
    if v.type == "enumeration" and isinstance(value, int | float) and 1 <= value <= len(v.enumeration):
        given = v.enumeration[int(value) - 1]
    return {
        "name": name, "description": v.description, "unit": v.unit if v.unit != "1" else "", "default": given,
        "minimum": limit(v.minimum), "maximum": limit(v.maximum), "choices": list(v.enumeration), "derived": v.final,
    }  # fmt: skip


# --- examples ---


@functools.cache
def _library() -> ClassTree:
    return ClassTree()


@functools.cache
def examples() -> tuple[Definition, ...]:
    """The example models of the component library, in the order of their packages."""
    root = _library().find(EXAMPLES)
    found: list[Definition] = []
    for package in _library().members(root) if root is not None else []:
        found += [d for d in _library().members(package) if d.node.kind in RUNNABLE]
    return tuple(found)


@functools.cache
def used_by(example: str) -> frozenset[str]:
    """The full names of the library's classes that an example is made of, the inside of its parts included."""
    found: set[str] = set()
    waiting = [_library().find(example)]
    while waiting:
        at = waiting.pop()
        for owner in lineage(_library(), at) if at is not None else []:
            found.add(owner.qualified)
            for element in owner.node.elements:
                kind = _library().lookup(element.type_name, owner) if isinstance(element, s.Component) else None
                if kind is not None and not kind.predefined and kind.qualified not in found:
                    found.add(kind.qualified)
                    waiting.append(kind)
    return frozenset(found)


def open_example(project: int, qualified: str) -> str:
    """Copy an example of the library into a project; gives the name of the new model."""
    definition = next((d for d in examples() if d.qualified == qualified), None)
    if definition is None:
        raise NotFound(f"there is no example '{qualified}'.")
    projects.project(project)
    tree = projects.class_tree(projects.snapshot(project))
    taken = {name.lower() for name in tree.roots} | {f.path.lower().removesuffix(".mo") for f in projects.files(project)}
    name, number = definition.name, 1
    while name.lower() in taken or not edit_class.is_name(name):
        number += 1
        name = f"{definition.name}{number}"
    projects.add_file(project, f"{name}.mo", renamed_text(definition, name), f"example {definition.name}")
    return name

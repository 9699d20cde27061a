"""The shelf: every class that can be put on a sheet, with its symbol and the words it is found by."""

from __future__ import annotations

import functools
from typing import Any

from movrel.model import annotation as note
from movrel.model.classes import LIBRARY_FOLDER, ClassTree, Definition
from movrel.model.drawing import icon
from movrel.model.flatten import RUNNABLE
from movrel.workspace import projects
from movrel.workspace.reference import EXAMPLES


def shelf(project: int, model: str = "") -> list[dict[str, Any]]:
    """Library parts by package, then the project's own models and the assemblies declared in a given one."""
    taken = projects.snapshot(project)
    tree = projects.class_tree(taken)
    own = [_entry(tree, d, "This project") for d in projects.models(taken)]
    open_model = tree.find(model) if model else None
    inner: list[Definition] = []
    at = open_model
    while at is not None and at.node.kind != "package":
        inner += [d for d in at.children.values() if d.node.kind in RUNNABLE and not d.node.partial]
        at = at.parent
    return [*_library(), *own, *(_entry(tree, d, "This model") for d in inner)]


@functools.cache
def _library() -> tuple[dict[str, Any], ...]:
    tree = ClassTree()
    found: list[dict[str, Any]] = []
    for folder in sorted(LIBRARY_FOLDER.iterdir()):
        root = tree.root(folder.name)
        if root is not None:
            _collect(tree, root, found)
    return tuple(found)


def _collect(tree: ClassTree, package: Definition, found: list[dict[str, Any]]) -> None:
    for member in tree.members(package):
        if member.qualified == EXAMPLES:
            continue
        if member.node.kind == "package":
            _collect(tree, member, found)
        elif member.node.kind in RUNNABLE and not member.node.partial:
            found.append(_entry(tree, member, package.node.comment.partition(":")[0] or package.name))


def _entry(tree: ClassTree, definition: Definition, group: str) -> dict[str, Any]:
    words = note.members(note.find(definition.node.annotation, "__Movrel")).get("synonyms")
    return {
        "class": definition.qualified,
        "name": definition.name,
        "group": group,
        "description": definition.node.comment,
        "synonyms": [w for w in words if isinstance(w, str)] if isinstance(words, list) else [],
        "icon": icon(tree, definition),
    }

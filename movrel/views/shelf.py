"""The shelf: every class that can be put on a sheet, with its symbol and the words it is found by."""

from __future__ import annotations

import functools
from dataclasses import dataclass

from movrel.model import annotation as note
from movrel.model.classes import LIBRARY_FOLDER, ClassTree, Definition
from movrel.model.declared import loaded_classes
from movrel.model.flatten import RUNNABLE
from movrel.project.snapshot import Snapshot, class_tree, models
from movrel.sheet.elements import Icon
from movrel.sheet.main_parameter import main_parameter
from movrel.sheet.symbols import icon
from movrel.views.examples import EXAMPLES

#: The group of the ports that a model can have itself, and words by which they are found.
PORTS, PORT_WORDS = "Ports of the model", ["port", "connector", "terminal"]


@dataclass(frozen=True, slots=True)
class ShelfEntry:
    """A class that can be put on a sheet."""

    class_name: str
    name: str
    group: str
    description: str
    synonyms: list[str]
    icon: Icon
    #: The parameter that a value typed with the part's name is for.
    main_parameter: str


@dataclass(frozen=True, slots=True)
class Shelf:
    entries: list[ShelfEntry]


def shelf(snapshot: Snapshot, model: str = "") -> Shelf:
    """Library parts by package, then the project's own models and the assemblies declared in a given one."""
    tree = class_tree(snapshot)
    own = [_entry(tree, d, "This project") for d in models(snapshot)]
    ports = [_entry(tree, d, PORTS) for d in _own_connectors(tree)]
    open_model = tree.find(model) if model else None
    inner: list[Definition] = []
    at = open_model
    while at is not None and at.node.kind != "package":
        inner += [d for d in at.children.values() if d.node.kind in RUNNABLE and not d.node.partial]
        at = at.parent
    return Shelf([*_library(), *ports, *own, *(_entry(tree, d, "This model") for d in inner)])


def _own_connectors(tree: ClassTree) -> list[Definition]:
    """Connectors that the project declares anywhere, by name."""
    connectors = (
        d for d in loaded_classes(tree) if d.node.kind == "connector" and not d.node.partial
    )
    return sorted(connectors, key=lambda d: d.qualified)


@functools.cache
def _library() -> tuple[ShelfEntry, ...]:
    tree = ClassTree()
    entries: list[ShelfEntry] = []
    for folder in sorted(LIBRARY_FOLDER.iterdir()):
        root = tree.root(folder.name)
        if root is not None:
            _collect(tree, root, entries)
    return tuple(sorted(entries, key=lambda e: e.group == PORTS))


def _collect(tree: ClassTree, package: Definition, entries: list[ShelfEntry]) -> None:
    for member in tree.members(package):
        if member.qualified == EXAMPLES:
            continue
        if member.node.kind == "package":
            _collect(tree, member, entries)
        elif member.node.kind in RUNNABLE and not member.node.partial:
            entries.append(
                _entry(tree, member, package.node.comment.partition(":")[0] or package.name)
            )
        elif member.node.kind == "connector":
            entries.append(_entry(tree, member, PORTS))


def _entry(tree: ClassTree, definition: Definition, group: str) -> ShelfEntry:
    words = note.members(note.find(definition.node.annotation, note.VENDOR)).get("synonyms")
    if definition.node.kind == "connector":
        words = [
            *PORT_WORDS,
            *(p for p in definition.node.base_prefixes if p in ("input", "output")),
        ]
    symbol = icon(tree, definition)
    return ShelfEntry(
        class_name=definition.qualified,
        name=definition.name,
        group=group,
        description=definition.node.comment,
        synonyms=[w for w in words if isinstance(w, str)] if isinstance(words, list) else [],
        icon=symbol,
        main_parameter=main_parameter(tree, definition, symbol),
    )

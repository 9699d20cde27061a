"""What a dotted name refers to in the text: the declaration behind it and the class that holds it."""

from __future__ import annotations

from collections.abc import Iterator

from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition


def lineage(tree: ClassTree, definition: Definition) -> list[Definition]:
    """A class after all its bases, each once."""
    classes: dict[Definition, None] = {}
    if not definition.predefined:
        _add_bases(tree, definition, classes, set())
        classes[definition] = None
    return list(classes)


def _add_bases(
    tree: ClassTree, definition: Definition, classes: dict[Definition, None], seen: set[Definition]
) -> None:
    seen.add(definition)
    for base in tree.bases(definition):
        if base not in seen and not base.predefined:
            _add_bases(tree, base, classes, seen)
            classes[base] = None


def components(tree: ClassTree, definition: Definition) -> Iterator[tuple[Definition, s.Component]]:
    """Every component of a class, inherited ones first, with the class that declares it."""
    for owner in lineage(tree, definition):
        for element in owner.node.elements:
            if isinstance(element, s.Component):
                yield owner, element


def loaded_classes(tree: ClassTree) -> Iterator[Definition]:
    """Every class that the loaded texts declare, at whatever depth; the component library is left out."""
    pending = [root for root in tree.roots.values() if root.folder is None]
    while pending:
        at = pending.pop()
        pending += at.children.values()
        yield at


def declaration(
    tree: ClassTree, definition: Definition, names: list[str]
) -> tuple[Definition, s.Component] | None:
    """The declaration that ``a.b.c`` leads to, seen from inside a class, or None."""
    scope: Definition | None = definition
    declared: tuple[Definition, s.Component] | None = None
    for name in names:
        if scope is None:
            return None
        declared = next(((o, c) for o, c in components(tree, scope) if c.name == name), None)
        if declared is None:
            return None
        scope = tree.lookup(declared[1].type_name, declared[0])
    return declared


def class_of(tree: ClassTree, owner: Definition, node: s.Component) -> Definition | None:
    """The class of a component."""
    return tree.lookup(node.type_name, owner)


def reach(name: str, scope: str) -> str:
    """How a class is named inside another: without the path of that one in front."""
    return name[len(scope) + 1 :] if name.startswith(scope + ".") else name


def path_in_file(definition: Definition) -> list[str]:
    """The names of the classes of its file that lead to a class, its own name last."""
    path: list[str] = []
    at: Definition | None = definition
    while at is not None and at.source is definition.source:
        path.insert(0, at.name)
        at = at.parent
    return path

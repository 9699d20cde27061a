"""Finding things in a syntax tree: classes, components, references, texts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields

from movrel.errors import EditFault
from movrel.language import syntax as s


def component(cls: s.ClassDef, name: str) -> s.Component:
    """The component of a name declared in this very class. Raises :class:`EditFault`."""
    for element in cls.elements:
        if isinstance(element, s.Component) and element.name == name:
            return element
    raise EditFault(
        f"'{name}' is not declared in '{cls.name}' itself.", hint="Open the class that declares it."
    )


def class_at(tree: s.StoredFile, path: list[str]) -> s.ClassDef:
    """The class to which a path of names leads, from the top of a file. Raises :class:`EditFault`."""
    nodes: list[s.ClassDef | s.Element] = list(tree.classes)
    innermost: s.ClassDef | None = None
    for name in path:
        innermost = next((n for n in nodes if isinstance(n, s.ClassDef) and n.name == name), None)
        if innermost is None:
            raise EditFault(f"the text no longer holds '{'.'.join(path)}'.")
        nodes = innermost.elements
    assert innermost is not None
    return innermost


def references(node: object, name: str) -> Iterator[s.Ref]:
    """Every reference that begins with a name, in nested parts of the tree too.

    Classes inside that declare the name themselves mean their own.
    """
    if isinstance(node, s.Ref):
        if node.parts[0].name == name and not node.absolute:
            yield node
        for part in node.parts:
            yield from references(part.subscripts, name)
    elif isinstance(node, s.Node):
        for f in fields(node):
            if f.name not in ("start", "end"):
                for child in _inside(getattr(node, f.name), name):
                    yield from references(child, name)
    elif isinstance(node, list | tuple):
        for item in _inside(node, name):
            yield from references(item, name)


def walk_nodes(node: object) -> Iterator[s.Node]:
    """Every node of a part of the tree, itself included."""
    stack: list[object] = [node]
    while stack:
        item = stack.pop()
        if isinstance(item, s.Node):
            yield item
            stack.extend(
                getattr(item, f.name) for f in fields(item) if f.name not in ("start", "end")
            )
        elif isinstance(item, list | tuple):
            stack.extend(item)


def strings(node: object) -> Iterator[s.String]:
    """Every text literal in a part of the tree."""
    if isinstance(node, s.String):
        yield node
    elif isinstance(node, s.Node):
        for f in fields(node):
            if f.name not in ("start", "end"):
                yield from strings(getattr(node, f.name))
    elif isinstance(node, list | tuple):
        for item in node:
            yield from strings(item)


def _inside(value: object, name: str) -> Iterator[object]:
    """What a field holds, without classes to which the name means something of their own."""
    for item in value if isinstance(value, list | tuple) else (value,):
        own = isinstance(item, s.ClassDef) and (
            item.name == name
            or any(
                isinstance(e, s.Component | s.ClassDef) and e.name == name for e in item.elements
            )
        )
        if not own:
            yield item

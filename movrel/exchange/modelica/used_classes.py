"""Which classes a model is made of: everything that its text names, and what that names in turn."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, fields

from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition


@dataclass(slots=True)
class Used:
    """Classes that are used as a whole, and packages of which only constants, imports and bases are.

    ``missing`` are names of types and bases that no class has, each with the classes that use it and a node there.
    """

    whole: dict[Definition, None] = field(default_factory=dict)
    packages: dict[Definition, None] = field(default_factory=dict)
    missing: dict[str, list[tuple[Definition, s.Node]]] = field(default_factory=dict)


def used_classes(tree: ClassTree, *models: Definition) -> Used:
    """The classes that models are made of, their own included."""
    walk = _Walk(tree)
    for model in models:
        walk.need(model)
    while walk.queue:
        definition, nodes = walk.queue.pop()
        for node in nodes:
            walk.look_through(node, definition)
    return walk.used


class _Walk:
    def __init__(self, tree: ClassTree) -> None:
        self.tree = tree
        self.used = Used()
        self.queue: list[tuple[Definition, list[s.Node]]] = []

    def need(self, definition: Definition) -> None:
        """A class is used as a whole: with the outermost one around it that is not a package."""
        around = definition
        while around.parent is not None and around.parent.node.kind != "package":
            around = around.parent
        if definition.predefined or around in self.used.whole:
            return
        self.used.whole[around] = None
        self.used.packages.pop(around, None)
        self.queue.append((around, [around.node]))
        for child in self.tree.members(around) if around.node.kind == "package" else []:
            self.need(child)
        self._need_packages(around.parent)

    def _need_packages(self, package: Definition | None) -> None:
        while package is not None and not package.predefined:
            if package.node.kind != "package":
                self.need(package)
                return
            if package not in self.used.packages and package not in self.used.whole:
                self.used.packages[package] = None
                own: list[s.Node] = [
                    e for e in package.node.elements if not isinstance(e, s.ClassDef)
                ]
                self.queue.append((package, own))
            package = package.parent

    def look_through(self, node: object, scope: Definition) -> None:
        """Take note of every class that a part of the tree names."""
        stack: list[tuple[object, Definition]] = [(node, scope)]
        while stack:
            item, around = stack.pop()
            if isinstance(item, list | tuple):
                stack.extend((part, around) for part in item)
            if not isinstance(item, s.Node):
                continue
            for name in _types(item):
                self._type(name, item, around)
            if isinstance(item, s.Ref):
                self._reference(item, around)
            inner = around
            if isinstance(item, s.ClassDef) and item is not around.node:
                inner = around.children.get(item.name) or around
                if inner.node is not item:
                    inner = around  # a class that is written into a modification
            stack.extend(
                (getattr(item, f.name), inner) for f in fields(item) if f.name not in _TEXTS
            )

    def _type(self, name: str, node: s.Node, scope: Definition) -> None:
        # The base of a short class is looked up around it, as its own name may be the same.
        found = self._path(name, scope)
        if found is None and scope.parent is not None and scope.node.form in ("short", "extends"):
            found = self._path(name, scope.parent)
        if found is None:
            self.used.missing.setdefault(name, []).append((scope, node))
        elif isinstance(node, s.Import) and found.node.kind == "package":
            self._need_packages(found)
        else:
            self.need(found)

    def _reference(self, reference: s.Ref, scope: Definition) -> None:
        names = [part.name for part in reference.parts]
        if not reference.absolute and self.tree.lookup_simple(names[0], scope) is None:
            return
        for count in range(len(names), 0, -1):
            text = ("." if reference.absolute else "") + ".".join(names[:count])
            found = self._path(text, scope)
            if found is not None:
                if found.node.kind == "package":
                    self._need_packages(found)
                else:
                    self.need(found)
                return

    def _path(self, name: str, scope: Definition) -> Definition | None:
        """The class of a dotted name; packages on the way are used, too."""
        found = self.tree.lookup(name, scope)
        if found is not None:
            head, _, _ = name.lstrip(".").partition(".")
            first = self.tree.root(head) if name.startswith(".") else self.tree.lookup(head, scope)
            if first is not None and first is not found and first.node.kind == "package":
                self._need_packages(first)
        return found


_TEXTS = {"start", "end", "name_span", "arguments_span"}


def _types(node: s.Node) -> Iterator[str]:
    """Names of classes that a node holds as plain text."""
    match node:
        case s.Component() | s.Extends() | s.Constraint():
            if node.type_name:
                yield node.type_name
        case s.PartialApplication():
            yield node.function
        case s.Import():
            yield f".{node.path}"
            yield from (f".{node.path}.{name}" for name in node.names)

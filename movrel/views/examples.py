"""The example models of the component library."""

from __future__ import annotations

import functools

from movrel.errors import NotFound
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import lineage
from movrel.model.flatten import RUNNABLE

#: The package of the library that holds the examples.
EXAMPLES = "Movrel.Examples"


@functools.cache
def _library() -> ClassTree:
    return ClassTree()


@functools.cache
def examples() -> tuple[Definition, ...]:
    """The example models of the component library, in the order of their packages."""
    root = _library().find(EXAMPLES)
    models: list[Definition] = []
    for package in _library().members(root) if root is not None else []:
        models += [d for d in _library().members(package) if d.node.kind in RUNNABLE]
    return tuple(models)


@functools.cache
def used_by(example: str) -> frozenset[str]:
    """The full names of the library's classes that an example is made of, the inside of its parts included."""
    used: set[str] = set()
    waiting = [_library().find(example)]
    while waiting:
        at = waiting.pop()
        for owner in lineage(_library(), at) if at is not None else []:
            used.add(owner.qualified)
            for element in owner.node.elements:
                kind = (
                    _library().lookup(element.type_name, owner)
                    if isinstance(element, s.Component)
                    else None
                )
                if kind is not None and not kind.predefined and kind.qualified not in used:
                    used.add(kind.qualified)
                    waiting.append(kind)
    return frozenset(used)


def example(qualified: str) -> Definition:
    """An example by its full name. Raises :class:`NotFound`."""
    definition = next((d for d in examples() if d.qualified == qualified), None)
    if definition is None:
        raise NotFound(f"there is no example '{qualified}'.")
    return definition

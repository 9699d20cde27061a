"""The edit 'give a parameter its default back', and the text of a value as it was written."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch


class Written:
    """The texts of the values that a class gives to the parameters of its parts."""

    def __init__(self, source: Source, cls: s.ClassDef) -> None:
        self._source = source
        self._components = _components(cls)

    def value(self, *path: str) -> str | None:
        """The text of the value of the parameter at a path, or None when the class gives none."""
        for chain in _chains(self._components, path):
            modification = chain[-1].modification
            if modification is not None and modification.value is not None:
                return self._source.slice(modification.value)
        return None


def unset_value(source: Source, cls: s.ClassDef, path: list[str]) -> list[Patch]:
    """Take away what a class says about the parameter of a part at a path, so that its default counts again.

    Raises :class:`EditFault` when the class says nothing about it.
    """
    for chain in _chains(_components(cls), path):
        if len(chain) < 2:
            continue
        # Empty parentheses around what goes are taken along.
        at = len(chain) - 1
        while (
            at > 1
            and len(chain[at - 1].modification.arguments) == 1
            and chain[at - 1].modification.value is None
        ):
            at -= 1
        owner, gone = chain[at - 1], chain[at]
        arguments = list(owner.modification.arguments)
        span = owner.modification.arguments_span
        if len(arguments) == 1:
            return [Patch(span[0], span[1], "")]
        position = next(i for i, a in enumerate(arguments) if a is gone)
        if position + 1 < len(arguments):
            return [Patch(gone.start, arguments[position + 1].start, "")]
        return [Patch(arguments[position - 1].end, gone.end, "")]
    raise EditFault(f"'{'.'.join(path)}' has its default already.")


def _components(cls: s.ClassDef) -> dict[str, list[s.Component]]:
    components: dict[str, list[s.Component]] = {}
    for element in cls.elements:
        if isinstance(element, s.Component):
            components.setdefault(element.name, []).append(element)
    return components


def _chains(components: dict[str, list[s.Component]], path: Sequence[str]) -> Iterator[list[Any]]:
    """From the component down to the modifier at the end of the path."""
    for element in components.get(path[0], ()):
        yield from _down(element, list(path[1:]), [element])


def _down(node: s.Component | s.Modify, path: list[str], chain: list[Any]) -> Iterator[list[Any]]:
    if not path:
        yield chain
        return
    for argument in node.modification.arguments if node.modification else ():
        if isinstance(argument, s.Modify):
            parts = argument.name.split(".")
            if parts == path[: len(parts)]:
                yield from _down(argument, path[len(parts) :], [*chain, argument])

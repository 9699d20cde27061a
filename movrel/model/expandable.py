"""Expandable connectors: members appear when something is connected to them (specification 9.1.3)."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from movrel.language import syntax as s
from movrel.model.environment import Declared, Scope
from movrel.model.expression import Variable
from movrel.model.instance import Instance
from movrel.model.values import flatten


def open_end(reference: s.Ref, scope: Scope) -> tuple[Instance, str] | None:
    """The expandable connector and the name of the member that a reference asks for and that is not there yet."""
    end: Any = scope.instance
    for part in reference.parts:
        if not isinstance(end, Instance):
            return None
        if part.name not in end.declared:
            return (
                (end, part.name)
                if end.is_expandable and part is reference.parts[-1] and not part.subscripts
                else None
            )
        end = end.member(part.name)
        if part.subscripts:
            return None
    return None


def grow(bus: Instance, name: str, like: Any) -> None:
    """Give an expandable connector a member of the kind of something else."""
    path = f"{bus.path}.{name}" if bus.path else name
    first = flatten(like)[0] if isinstance(like, list) and like else like
    prefixes: tuple[str, ...] = ()
    type_name = "Real"
    if isinstance(first, Variable):
        prefixes = ("flow",) if first.flow else ("stream",) if first.stream else ()
        type_name = first.type
    elif isinstance(first, Instance):
        type_name = first.definition.qualified
    node = s.Component(
        name, type_name, prefixes, start=bus.definition.node.start, end=bus.definition.node.end
    )
    bus.declare(name, Declared(node, bus.definition, None))
    bus.members[name] = _clone(like, path, bus)


def _clone(like: Any, path: str, owner: Instance) -> Any:
    if isinstance(like, list):
        return [_clone(item, f"{path}[{i}]", owner) for i, item in enumerate(like, 1)]
    if isinstance(like, Variable):
        owner.model.binding(like)
        made = replace(
            like,
            name=path,
            component=owner.path,
            causality="",
            binding=None,
            start=None,
            fixed=None,
        )
        if made.stream:
            owner.model.streams.declare(made, owner)
        return made
    assert isinstance(like, Instance)
    made_instance = Instance(owner.model, path, like.definition, {}, owner)
    if made_instance.is_expandable:
        for name in like.declared:
            if name not in made_instance.declared:
                grow(made_instance, name, like.member(name))
    return made_instance

"""Modifications: what a declaration or an outer class says about a component (specification 7.2)."""

from __future__ import annotations

from dataclasses import replace
from types import NoneType

from movrel.errors import TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model.classes import Definition
from movrel.model.environment import Environment, Mod, Redeclaration

_LITERAL = (s.Number, s.String, s.Boolean, NoneType)


def merge(outer: Mod | None, inner: Mod | None) -> Mod:
    """The outer modification wins; what it does not say is taken from the inner one."""
    if outer is None:
        return inner or Mod()
    if inner is None:
        return outer
    members = merge_all(outer.members, inner.members)
    value_from = outer if outer.value is not None or outer.removed else inner
    return replace(
        value_from,
        final=outer.final or inner.final,
        members=members,
        redeclaration=outer.redeclaration or inner.redeclaration,
        removed=outer.removed,
        where=value_from.where or outer.where or inner.where,
    )


def merge_all(outer: dict[str, Mod], inner: dict[str, Mod]) -> dict[str, Mod]:
    merged = dict(inner)
    for name, mod in outer.items():
        below = inner.get(name)
        if below is not None and below.final and below.value is not None and mod.value is not None:
            raise TypeFault(
                f"'{name}' is final and cannot be given another value.",
                mod.where,
                "Remove the modification.",
            )
        merged[name] = merge(mod, inner.get(name))
    return merged


def read_arguments(
    arguments: tuple[s.Argument, ...], scope: Environment, definition: Definition
) -> dict[str, Mod]:
    """The modifications written in parentheses, by member name."""
    mods: dict[str, Mod] = {}
    for argument in arguments:
        if isinstance(argument, s.Modify):
            name, _, rest = argument.name.partition(".")
            mod = replace(
                read_modification(argument.modification, scope, definition),
                each=argument.each,
                final=argument.final,
                where=definition.place(argument),
            )
            for part in reversed(rest.split(".") if rest else []):
                mod = Mod(members={part: mod}, each=argument.each, where=mod.where)
        elif isinstance(argument, s.Redeclare):
            name = argument.element.name
            mod = Mod(final=argument.final, where=definition.place(argument))
            mod.redeclaration = Redeclaration(argument.element, scope, definition)
        else:
            raise Unsupported(
                "'break' in an extends clause cannot be computed yet.",
                definition.place(argument),
                "Copy the base class without the unwanted element.",
            )
        mods[name] = merge(mod, mods[name]) if name in mods else mod
    return mods


def read_modification(
    modification: s.Modification | None, scope: Environment, definition: Definition
) -> Mod:
    """The modification of one declaration: its value and its parenthesised arguments.

    One that says the same wherever it is read is read once.
    """
    if modification is None:
        return Mod()
    literal = scope.model.literal_mods
    if id(modification) in literal:
        return literal[id(modification)]
    mod = Mod(members=read_arguments(modification.arguments, scope, definition))
    if isinstance(modification.value, s.BreakValue):
        mod.removed = True
    elif modification.value is not None:
        mod.value, mod.scope, mod.definition = modification.value, scope, definition
    mod.where = definition.place(modification)
    if _is_literal(modification):
        literal[id(modification)] = mod
    return mod


def _is_literal(modification: s.Modification | None) -> bool:
    """Whether all values in a modification are numbers, texts and truths, written out."""
    if modification is None:
        return True
    return isinstance(modification.value, _LITERAL) and all(
        isinstance(a, s.Modify) and _is_literal(a.modification) for a in modification.arguments
    )

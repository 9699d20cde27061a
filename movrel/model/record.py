"""Records as values: what a record constructor makes and what a function's record holds."""

from __future__ import annotations

from collections.abc import Callable

from movrel.model.environment import UNSET, Environment, Named, Record, Value, is_array
from movrel.model.expression import Variable


def fields_of(value: Named, leaf: Callable[[Variable], Value]) -> dict[str, Value] | None:
    """The members of a record value or record component, or None for anything else.

    ``leaf`` says what a variable of a component means as a value.
    """
    if isinstance(value, Record):
        return value.fields
    if isinstance(value, Environment):
        return {name: members_as_values(value.member(name), leaf) for name in value.declared}
    return None


def members_as_values(member: Named, leaf: Callable[[Variable], Value]) -> Value:
    """A component's member with every variable turned into a value; nested components into records."""
    if is_array(member):
        return [members_as_values(item, leaf) for item in member]
    if isinstance(member, Variable):
        return leaf(member)
    if isinstance(member, Environment):
        return Record(member.definition, fields_of(member, leaf) or {})
    return UNSET if member is None else member

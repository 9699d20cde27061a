"""Records as values: what a record constructor makes and what a function's record holds."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from movrel.model.environment import Environment
from movrel.model.expression import Variable


class _Unset:
    """A variable of a function before it is assigned."""

    def __repr__(self) -> str:
        return "unset"


UNSET = _Unset()


class Record:
    """Named values of one record class."""

    __slots__ = ("fields", "name")

    def __init__(self, name: str, fields: dict[str, Any]) -> None:
        self.name = name
        self.fields = fields

    def __repr__(self) -> str:
        return f"<{self.name} {', '.join(self.fields)}>"


def fields_of(value: Any, leaf: Callable[[Variable], Any]) -> dict[str, Any] | None:
    """The members of a record value or record component, or None for anything else.

    ``leaf`` says what a variable of a component means as a value.
    """
    if isinstance(value, Record):
        return value.fields
    if isinstance(value, Environment):
        return {name: members_as_values(value.member(name), leaf) for name in value.declared}
    return None


def members_as_values(member: Any, leaf: Callable[[Variable], Any]) -> Any:
    """A component's member with every variable turned into a value; nested components into records."""
    if isinstance(member, list):
        return [members_as_values(item, leaf) for item in member]
    if isinstance(member, Variable):
        return leaf(member)
    if isinstance(member, Environment):
        return Record(member.definition.name, fields_of(member, leaf) or {})
    return member

"""Arrows of state machines: drawn, changed and taken away."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.target import Edited, Name, Target
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch
from movrel.language.tree_search import component
from movrel.language.typed_quantities import in_si
from movrel.sheet.transitions import call_of


@dataclass(frozen=True, slots=True)
class Arrow:
    """A transition as it is written: the condition and priority as text, and what happens at it."""

    start: Name
    end: Name
    condition: Annotated[str, MaxLen(2000)]
    priority: Annotated[str, MaxLen(20)] = "1"
    #: Whether it is taken in the very tick in which its condition becomes true, and not in the next one.
    immediate: bool = True
    #: Whether the state that it leads to begins anew.
    reset: bool = True

    def clause(self) -> str:
        """The text that says so, what is usual left out."""
        named = [] if self.immediate else ["immediate=false"]
        named += [] if self.reset else ["reset=false"]
        named += [] if self.priority.strip() in ("", "1") else [f"priority={self.priority.strip()}"]
        return f"transition({', '.join([self.start, self.end, in_si(self.condition.strip(), remarks=True), *named])})"

    def check(self, target: Target) -> None:
        """Refuse an arrow that cannot be."""
        for end in (self.start, self.end):
            component(target.cls, end)
        if self.start == self.end:
            raise EditFault(
                "an arrow leads from one state to another.",
                hint="Put what repeats inside the state itself.",
            )
        if not self.condition.strip():
            raise EditFault(
                "an arrow needs a condition.",
                hint="Write when it is taken, such as 'level > 2' or 'ticksInState() > 10'.",
            )
        priority = self.priority.strip()
        if not (priority.isdigit() and int(priority) > 0):
            raise EditFault(
                f"the priority '{self.priority}' is not a whole number from 1 on.",
                hint="1 comes first.",
            )


@dataclass(frozen=True, slots=True)
class DrawArrow(Arrow):
    """Lead from one state of a state machine to another.

    The first arrow also says that the machine begins where it starts.
    """

    do: Literal["draw arrow"] = "draw arrow"

    def apply(self, target: Target) -> Edited:
        self.check(target)
        lines = [self.clause() + ";"]
        calls = ("initialState", "transition")
        if not any(call_of(e) in calls for e in target.cls.equations):
            lines.insert(0, f"initialState({self.start});")
        patches = edit_class.insert_equations(target.source, target.cls, lines)
        return Edited(patches, f"drew an arrow from {self.start} to {self.end}")


@dataclass(frozen=True, slots=True)
class ChangeArrow(Arrow):
    """Write an arrow anew."""

    number: int = field(kw_only=True)
    do: Literal["change arrow"] = "change arrow"

    def apply(self, target: Target) -> Edited:
        call = _transition(target, self.number).call
        self.check(target)
        return Edited(
            [Patch(call.start, call.end, self.clause())],
            f"changed the arrow from {self.start} to {self.end}",
        )


@dataclass(frozen=True, slots=True)
class DeleteArrow:
    """Take an arrow away."""

    number: int
    do: Literal["delete arrow"] = "delete arrow"

    def apply(self, target: Target) -> Edited:
        return Edited(
            [edit_class.delete_equation(target.source, _transition(target, self.number))],
            "deleted an arrow",
        )


def _transition(target: Target, number: int) -> s.CallEquation:
    """The ``number``-th transition of a model."""
    written = [
        e
        for e in target.cls.equations
        if isinstance(e, s.CallEquation) and call_of(e) == "transition"
    ]
    if not 0 <= number < len(written):
        raise EditFault("this arrow is no longer there.", hint="Look at the sheet again.")
    return written[number]


@dataclass(frozen=True, slots=True)
class BeginIn:
    """Have a state machine begin in a state."""

    name: Name
    do: Literal["begin in"] = "begin in"

    def apply(self, target: Target) -> Edited:
        component(target.cls, self.name)
        clause, machine = (
            f"initialState({self.name})",
            _machine(target.source, target.cls, self.name),
        )
        for equation in target.cls.equations:
            if isinstance(equation, s.CallEquation) and call_of(equation) == "initialState":
                call = equation.call
                if target.source.slice(call.arguments[0]).strip() in machine:
                    return Edited([Patch(call.start, call.end, clause)], f"began in {self.name}")
        patches = edit_class.insert_equations(target.source, target.cls, [clause + ";"])
        return Edited(patches, f"began in {self.name}")


def _machine(source: Source, cls: s.ClassDef, name: str) -> set[str]:
    """The states that arrows join, in whatever direction, with one."""
    ends = [
        {source.slice(a).strip() for a in e.call.arguments[:2]}
        for e in cls.equations
        if isinstance(e, s.CallEquation) and call_of(e) == "transition"
    ]
    states, before = {name}, set[str]()
    while states != before:
        before = set(states)
        for pair in ends:
            if pair & states:
                states |= pair
    return states

"""Drawing state machines: arrows between states come, change and go, each as a patch of the text."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch
from movrel.model.transitions import call_of
from movrel.workspace.editing import Target, edit
from movrel.workspace.tables import Revision


@dataclass(frozen=True, slots=True)
class Arrow:
    """A transition as it is written: the condition and priority as text, and what happens at it."""

    start: str
    end: str
    condition: str
    priority: str = "1"
    #: Whether it is taken in the very tick in which its condition becomes true, and not in the next one.
    immediate: bool = True
    #: Whether the state that it leads to begins anew.
    reset: bool = True

    def text(self) -> str:
        """The clause that says so, what is usual left out."""
        named = [] if self.immediate else ["immediate=false"]
        named += [] if self.reset else ["reset=false"]
        named += [] if self.priority.strip() in ("", "1") else [f"priority={self.priority.strip()}"]
        return f"transition({', '.join([self.start, self.end, self.condition.strip(), *named])});"


def draw_arrow(project: int, qualified: str, revision: int, arrow: Arrow) -> Revision:
    """Lead from one state to another; the first arrow also says that the machine begins where it starts."""

    def make(at: Target) -> tuple[list[Patch], str]:
        _check(at, arrow)
        lines = [arrow.text()]
        if not any(call_of(e) in ("initialState", "transition") for e in at.cls.equations):
            lines.insert(0, f"initialState({arrow.start});")
        return edit_class.insert_equations(at.source, at.cls, lines), f"drew an arrow from {arrow.start} to {arrow.end}"

    return edit(project, qualified, revision, make)


def change_arrow(project: int, qualified: str, revision: int, number: int, arrow: Arrow | None) -> Revision:
    """Write the ``number``-th arrow of a model anew, or take it away."""

    def make(at: Target) -> tuple[list[Patch], str]:
        found = [e for e in at.cls.equations if isinstance(e, s.CallEquation) and call_of(e) == "transition"]
        if not 0 <= number < len(found):
            raise EditFault("this arrow is no longer there.", hint="Look at the sheet again.")
        if arrow is None:
            return [edit_class.delete_equation(at.source, found[number])], "deleted an arrow"
        _check(at, arrow)
        call = found[number].call
        return [Patch(call.start, call.end, arrow.text()[:-1])], f"changed the arrow from {arrow.start} to {arrow.end}"

    return edit(project, qualified, revision, make)


def begin_in(project: int, qualified: str, revision: int, name: str) -> Revision:
    """Have the machine that a state belongs to begin in it."""

    def make(at: Target) -> tuple[list[Patch], str]:
        edit_class.component(at.cls, name)
        clause, machine = f"initialState({name})", _machine(at.source, at.cls, name)
        for equation in at.cls.equations:
            if isinstance(equation, s.CallEquation) and call_of(equation) == "initialState":
                call = equation.call
                if at.source.slice(call.arguments[0]).strip() in machine:
                    return [Patch(call.start, call.end, clause)], f"began in {name}"
        return edit_class.insert_equations(at.source, at.cls, [clause + ";"]), f"began in {name}"

    return edit(project, qualified, revision, make)


def _machine(source: Source, cls: s.ClassDef, name: str) -> set[str]:
    """The states that arrows join, in whatever direction, with one."""
    ends = [
        {source.slice(a).strip() for a in e.call.arguments[:2]}
        for e in cls.equations
        if isinstance(e, s.CallEquation) and call_of(e) == "transition"
    ]
    found, before = {name}, set[str]()
    while found != before:
        before = set(found)
        for pair in ends:
            if pair & found:
                found |= pair
    return found


def _check(at: Target, arrow: Arrow) -> None:
    for end in (arrow.start, arrow.end):
        edit_class.component(at.cls, end)
    if arrow.start == arrow.end:
        raise EditFault("an arrow leads from one state to another.", hint="Put what repeats inside the state itself.")
    if not arrow.condition.strip():
        raise EditFault(
            "an arrow needs a condition.", hint="Write when it is taken, such as 'level > 2' or 'ticksInState() > 10'."
        )
    priority = arrow.priority.strip()
    if not (priority.isdigit() and int(priority) > 0):
        raise EditFault(f"the priority '{arrow.priority}' is no whole number from 1 on.", hint="1 comes first.")

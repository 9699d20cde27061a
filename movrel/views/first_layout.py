"""Which curves are shown first for a model that nobody has arranged yet."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from movrel.equations.sorted_model import Sorted
from movrel.model.expression import Variable

#: Strips of a first layout, those where something is claimed, and curves on one.
STRIPS, STRIPS_WITH_CLAIMS, CURVES = 2, 3, 3


def first_layout(system: Sorted, claimed: Iterable[str] = ()) -> list[list[str]]:
    """Strips of variable names, those of one unit together.

    First comes what somebody asked for: what is ``claimed``, the outputs and the named variables of the model itself,
    and what its sensors measure.
    Then the states, and what else their components show; a component whose state comes first in the model comes first
    here. What is protected, or the same quantity under another name, is left out.
    """
    claimed = list(claimed)
    strips: dict[tuple[str, str], list[str]] = {}
    shown: set[Variable] = set()
    aliases = system.reduced.aliases
    for kind, v in _wanted(system, claimed):
        quantity = aliases[v].of if v in aliases else v
        if quantity in shown:
            continue
        shown.add(quantity)
        strips.setdefault((kind, v.display_unit or v.unit), []).append(v.name)
    most = STRIPS_WITH_CLAIMS if claimed else STRIPS
    return [names[:CURVES] for names in list(strips.values())[:most]]


def _wanted(system: Sorted, claimed: Iterable[str]) -> Iterator[tuple[str, Variable]]:
    """Variables in their order, each with what it is shown together with beside its unit."""
    variables = {
        v.name: v
        for v in system.flat.variables
        if v.variability in ("continuous", "discrete") and not v.generated and not v.protected
    }
    for name in claimed:
        if name in variables:
            yield "own", variables[name]
    own = [v for v in variables.values() if not v.component and v.direction != "input"]
    held = set(system.states)
    for v in sorted(own, key=lambda v: (v.causality != "output", v not in held)):
        yield "own", v
    for v in _measured(variables.values()):
        yield "own", v
    states = [v for v in system.states if v.name in variables] or [
        v for v in system.solved if v.name in variables
    ]
    for state in states:
        yield "state", state
        unit = state.display_unit or state.unit
        beside: dict[str, list[Variable]] = {}
        for v in variables.values():
            shown_unit = v.display_unit or v.unit
            if v.component == state.component and v is not state and shown_unit != unit:
                beside.setdefault(shown_unit, []).append(v)
        # Quantities that come in company, such as flows in and out, say more than a lone one.
        for together in sorted(beside.values(), key=len, reverse=True):
            yield from ((state.component, v) for v in together)


def _measured(variables: Iterable[Variable]) -> Iterator[Variable]:
    """What sensors give: signals of parts of the model that have physical ports, and take no signal."""
    parts: dict[str, list[Variable]] = {}
    for v in variables:
        parts.setdefault(v.name.partition(".")[0], []).append(v)
    for inside in parts.values():
        given = [v for v in inside if v.direction == "output" and v.name.count(".") == 1]
        takes = any(v.direction == "input" for v in inside)
        if given and not takes and any(v.flow for v in inside):
            yield from given

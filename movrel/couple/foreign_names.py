"""What the variables of a foreign unit are called inside it."""

from __future__ import annotations

from collections.abc import Mapping

from movrel.couple.partition import UnitPart
from movrel.fmi.archive import OpenUnit
from movrel.fmi.description import UnitDescription, UnitVariable
from movrel.model.expression import Variable
from movrel.model.flat import FlatModel

#: A variable of the unit, and the number of the element meant.
Element = tuple[str, int]


def foreign_names(part: UnitPart, flat: FlatModel, opened: OpenUnit) -> dict[Variable, Element]:
    """The unit's own name of each variable of a foreign part: inputs, what it gives, and continuous states."""
    unit = part.foreign
    assert unit is not None
    names: dict[Variable, Element] = {
        i.value.variable: (i.name, i.offset) for i in unit.inputs if i.value.op == "var"
    }
    for e in flat.equations:
        if e.kind == "unit" and e.left.op == "var" and e.right.op == "unit":
            number, role, index = e.right.value
            if number == part.number and role == "output":
                names[e.left.variable] = unit.outputs[index]
    for state, (v, offset) in zip(unit.states, state_variables(opened), strict=False):
        inner = state.args[0] if state.op == "neg" else state
        if inner.op == "var":
            names[inner.variable] = v.name, offset
    return names


def foreign_feed_through(
    part: UnitPart, names: Mapping[Variable, Element], d: UnitDescription
) -> dict[Variable, set[Variable]]:
    """For each output of a foreign part the inputs on which it depends at the same instant, as the unit says."""
    by_name = d.by_name()
    unknowns = {u.reference: u.dependencies for u in d.outputs}
    reference = {v: by_name[names[v][0]].reference for v in (*part.inputs, *part.outputs)}
    passed: dict[Variable, set[Variable]] = {}
    for port in part.outputs:
        on = unknowns.get(reference[port], {})
        passed[port] = {u for u in part.inputs if on is None or reference[u] in on}
    return passed


def state_variables(opened: OpenUnit) -> list[tuple[UnitVariable, int]]:
    """The continuous states, in the order of the derivatives, each element by itself; none for co-simulation alone."""
    by_reference = opened.description.by_reference()
    places: list[tuple[UnitVariable, int]] = []
    for u in opened.description.derivatives:
        of = by_reference[u.reference].derivative_of
        if of is not None:
            v = by_reference[of]
            places += [(v, k) for k in range(v.count)]
    return places

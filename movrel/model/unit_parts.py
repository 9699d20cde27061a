"""Parts whose equations are foreign code: a class that names a unit in its annotation.

::

    block Fan
      parameter Real inertia(unit = "kg.m2") = 0.2 annotation(__Movrel(variable = "rotor.J"));
      parameter Real communication_step(unit = "s") = 0.01 annotation(__Movrel(step = true));
      Movrel.Interfaces.SignalIn u(unit = "V");
      Movrel.Interfaces.SignalOut speed(unit = "rad/s") annotation(__Movrel(state = 1));
      annotation(__Movrel(unit = Unit(file = "Units/fan.fmu", kind = "me", states = 1, indicators = 0)));
    end Fan;

A declared variable is the unit's variable of the same name, or of the name in its annotation.
"""

from __future__ import annotations

from typing import Any

from movrel.errors import MovrelError, StructureFault
from movrel.model import annotation as note
from movrel.model import expression as x
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition
from movrel.model.environment import Declared
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel, FlatUnit, UnitValue
from movrel.model.instance import Instance
from movrel.model.values import flatten

_KINDS = ("cs", "me")
#: States and event indicators of one unit at most.
LIMIT = 100_000


def unit_annotation(definition: Definition) -> dict[str, Any] | None:
    """What a class says of its unit: ``file``, ``kind``, ``states``, ``indicators``; None for an ordinary class."""
    own = note.find(definition.node.annotation, VENDOR)
    if own is None or own.modification is None:
        return None
    if not any(getattr(a, "name", "") == "unit" for a in own.modification.arguments):
        return None
    given = note.members(own).get("unit")
    return given if isinstance(given, dict) and given.get("is") == "Unit" else None


def variable_annotation(declared: Declared) -> dict[str, Any]:
    """What a declaration says of the variable of the unit that it is: ``variable``, ``state``, ``step``."""
    comment = declared.node.comment
    if comment is None or comment.annotation is None:
        return {}
    return note.members(note.find(comment.annotation, VENDOR))


def add_unit(instance: Instance, flat: FlatModel) -> None:
    """Put the unit of a component, if its class names one, and the equations for what it gives into the flat model."""
    for body in instance.bodies:
        given = unit_annotation(body)
        if given is not None:
            _add(instance, body, given, flat)


def _add(instance: Instance, body: Definition, given: dict[str, Any], flat: FlatModel) -> None:
    where = body.place()
    file, kind = given.get("file"), given.get("kind")
    if not isinstance(file, str) or kind not in _KINDS:
        raise MovrelError(
            f"the annotation of '{body.qualified}' does not say which unit it is.",
            where,
            'Write Unit(file = "Units/name.fmu", kind = "cs") or kind = "me".',
        )
    unit = FlatUnit(
        instance.path, file, kind, where, instance.model.tree.folders, x.const(0.01),
        indicators=_count(given, "indicators", body) if kind == "me" else 0,
    )  # fmt: skip
    number = len(flat.units)
    states: dict[int, Variable] = {}
    for name, member in instance.all_members():
        said = variable_annotation(instance.declared[name])
        of = said["variable"] if isinstance(said.get("variable"), str) else name
        for offset, leaf in enumerate(flatten(member)):
            if not isinstance(leaf, Variable):
                continue
            if leaf.type == "String":
                unit.texts.append(UnitValue(of, offset, x.var(leaf)))
            elif said.get("step") is True:
                unit.step = x.var(leaf)
            elif leaf.variability in ("parameter", "constant"):
                unit.parameters.append(UnitValue(of, offset, x.var(leaf)))
            elif leaf.direction == "input":
                unit.inputs.append(UnitValue(of, offset, x.var(leaf)))
            elif kind == "me" and isinstance(said.get("state"), float):
                states[int(said["state"]) - 1 + offset] = leaf
            else:
                flat.equations.append(_given(leaf, number, "output", len(unit.outputs), unit))
                unit.outputs.append((of, offset))
    if kind == "me":
        _add_states(unit, number, states, _count(given, "states", body), flat)
    flat.units.append(unit)


def _count(given: dict[str, Any], name: str, body: Definition) -> int:
    count = given.get(name, 0.0)
    if not isinstance(count, float) or not 0 <= count <= LIMIT or count != int(count):
        raise MovrelError(
            f"the number of {name} of the unit of '{body.qualified}' is not a whole number.",
            body.place(),
        )
    return int(count)


def _given(variable: Variable, number: int, role: str, index: int, unit: FlatUnit) -> FlatEquation:
    """What the unit determines: the variable is a number that it gives."""
    value = Expr("unit", (), (number, role, index))
    return FlatEquation(x.var(variable), value, unit.where, unit.component, "unit")


def _add_states(
    unit: FlatUnit, number: int, declared: dict[int, Variable], count: int, flat: FlatModel
) -> None:
    """The continuous states, those that are not declared under names of our own, with their rates and start values."""
    beyond = [v for k, v in declared.items() if not 0 <= k < count]
    if beyond:
        raise StructureFault(
            f"'{beyond[0].name}' is said to be a state that the unit, with {count} of them, does not have.",
            beyond[0].where,
        )
    prefix = f"{unit.component}." if unit.component else ""
    for k in range(count):
        v = declared.get(k)
        if v is None:
            v = Variable(f"{prefix}state[{k + 1}]", protected=True, component=unit.component)
            flat.variables.append(v)
        v.state_select = "always"
        unit.states.append(x.var(v))
        rate, start = (Expr("unit", (), (number, role, k)) for role in ("rate", "start"))
        flat.equations.append(
            FlatEquation(Expr("der", (x.var(v),)), rate, unit.where, unit.component, "unit")
        )
        flat.initial_equations.append(
            FlatEquation(x.var(v), start, unit.where, unit.component, "unit")
        )
    for k in range(unit.indicators):
        above = Variable(
            f"{prefix}crossing[{k + 1}]", "Boolean", "discrete", generated=True, component=unit.component,
        )  # fmt: skip
        flat.variables.append(above)
        indicator = Expr("unit", (), (number, "indicator", k))
        positive = Expr(">", (indicator, x.ZERO))
        flat.equations.append(
            FlatEquation(x.var(above), positive, unit.where, unit.component, "unit")
        )

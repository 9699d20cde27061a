"""Attributes and values of scalar variables, read from their modifications."""

from __future__ import annotations

from movrel.errors import MovrelError, Place, TypeFault
from movrel.model.environment import Mod, Model, Scope, Value
from movrel.model.expression import Expr, Variable
from movrel.model.expression import show as x_show
from movrel.model.values import as_scalar

#: What a modification of a scalar may name (4.9 of the specification).
ATTRIBUTES = {
    "quantity", "unit", "displayUnit", "min", "max", "start", "fixed", "nominal", "unbounded", "stateSelect",
}  # fmt: skip


def mod_value(mod: Mod, model: Model, name: str = "") -> Value:
    """The value of a modification, evaluated where it was written, its element selected.

    ``name`` is that of the variable that gets it. Raises :class:`TypeFault` for an array of the wrong size.
    """
    assert mod.value is not None and mod.definition is not None and mod.scope is not None
    if mod.index and mod.whole:
        value = mod.whole[0]
    else:
        value = model.value(mod.value, Scope(mod.scope, mod.definition))
        if mod.index:
            mod.whole.append(value)
    for index, size in mod.index:
        if not isinstance(value, list):
            break  # a scalar given to an array without 'each' is tolerated: it means every element
        if len(value) != size:
            raise TypeFault(
                f"the value{_of(name)} has {len(value)} elements where {size} are needed.",
                mod.where,
            )
        value = value[index]
    return value


def _of(name: str) -> str:
    """The array that a value is for: without the subscript of the element that was asked for."""
    head, bracket, tail = name.rpartition("[")
    array = head + tail.partition("]")[2] if bracket else name
    return f" of '{array}'" if array else ""


def finish(variable: Variable, mod: Mod, model: Model) -> None:
    """Give a variable the attributes and the value that its modification and the settings of the model say."""
    where = mod.where or variable.where
    for name, member in mod.members.items():
        if member.value is None:
            continue
        value = mod_value(member, model, f"{variable.name}.{name}")
        scalar = as_scalar(value, member.where or where)
        if name in ("unit", "displayUnit", "quantity"):
            text = str(scalar.value) if scalar.op == "const" else ""
            setattr(
                variable,
                {"unit": "unit", "displayUnit": "display_unit", "quantity": "quantity"}[name],
                text,
            )
        elif name == "fixed":
            variable.fixed = bool(
                model.structural_value(scalar, f"'fixed' of '{variable.name}'", where)
            )
        elif name == "stateSelect":
            number = int(model.structural_value(scalar, "'stateSelect'", where))
            variable.state_select = ("never", "avoid", "default", "prefer", "always")[number - 1]
        elif name in ("min", "max", "start", "nominal"):
            attribute = {"min": "minimum", "max": "maximum"}.get(name, name)
            setattr(variable, attribute, scalar)
    if mod.value is not None:
        variable.binding = _typed(
            variable, as_scalar(mod_value(mod, model, variable.name), where), where
        )
    setting = model.settings.get(variable.name)
    if setting is not None:
        model.used_settings.add(variable.name)
        if variable.variability != "parameter":
            raise MovrelError(
                f"'{variable.name}' is not a parameter and cannot be set.", variable.where
            )
        if variable.final:
            raise MovrelError(f"'{variable.name}' is final and cannot be set.", variable.where)
        variable.binding = setting


def _typed(variable: Variable, value: Expr, where: Place | None) -> Expr:
    """Refuse a constant of the wrong type."""
    if value.op != "const":
        return value
    given = value.value
    fits = {
        "Real": isinstance(given, int | float) and not isinstance(given, bool),
        "Integer": isinstance(given, int) and not isinstance(given, bool),
        "Boolean": isinstance(given, bool),
        "String": isinstance(given, str),
        "enumeration": isinstance(given, int) and not isinstance(given, bool),
        "Clock": False,
    }[variable.type]
    if not fits:
        hint = {
            "Boolean": "Write true or false.",
            "Integer": "Write a whole number.",
            "Real": "Write a number.",
            "Clock": "Write Clock(0.1) for one that ticks ten times a second.",
        }
        raise TypeFault(
            f"'{variable.name}' is of type {variable.type}; its value {x_show(value)} is not.",
            where,
            hint.get(variable.type, ""),
        )
    return value

"""What is typed into the rows of the ledger: values, start values and laws."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.carried_values import with_carried_values
from movrel.edits.formulae import unit_of_formula
from movrel.edits.laws import laws
from movrel.edits.signal_units import with_signal_unit
from movrel.edits.target import Edited, Name, Target, listed
from movrel.equations.parameters import broken_limit, is_found_at_start, parameter_values
from movrel.errors import EditFault, SyntaxFault, UnitFault
from movrel.language.parse_cache import parse_changed
from movrel.language.parser import parse_expression
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value
from movrel.language.typed_quantities import in_si, typed_numbers
from movrel.language.unset_value import unset_value
from movrel.model.declared import class_of, declaration
from movrel.model.expression import Scalar, Variable
from movrel.project.snapshot import Snapshot, loaded_model
from movrel.project.value_place import START, names_of, variable_of
from movrel.session import LoadedModel
from movrel.unit_words import in_words
from movrel.units import display_value, read_quantity, unit

#: Longest text of a value or law.
LONGEST = 2000


@dataclass(frozen=True, slots=True)
class Parameter:
    """``text`` is what was typed into the row of a parameter or start value.

    A number with any fitting unit, or an expression; for a start value also ``fixed`` or ``guess``, which says
    whether it must hold or only helps. Refused when it is empty, no number, of another dimension, or makes the
    model wrong.
    """

    name: Name
    text: Annotated[str, MaxLen(10_000)]
    do: Literal["parameter"] = "parameter"

    def apply(self, target: Target) -> Edited:
        model = target.loaded
        if any(law == self.name for law, *_ in laws(model.flat, None)):
            return _with_law(target, self.name, self.text)
        if self.name.endswith(START):
            return _with_start(target, variable_of(self.name), self.text)
        return _with_value(target, model, self.name, self.text)


def _with_value(target: Target, model: LoadedModel, name: str, typed: str) -> Edited:
    variable = model.flat.by_name().get(name)
    if variable is None or variable.variability != "parameter":
        raise EditFault(f"the model has no parameter '{name}'.")
    if variable.type == "enumeration" and typed.strip() in variable.enumeration:
        typed = _enumeration_literal(model, name, typed.strip())
    if variable.final:
        raise EditFault(f"'{name}' is computed from other values and cannot be set.")
    as_signal = with_signal_unit(target, variable, typed) if _has_unit(typed) else None
    if as_signal is not None:
        return as_signal
    text, unit = modelica_value(variable, typed)
    before = described(variable, parameter_values(model.flat, {}).get(variable))
    label = name[len(variable.component) + 1 :] if variable.component else name
    owner = f" of {variable.component}" if variable.component else ""
    patches = set_value(
        target.source, target.cls, name.split("."), text, _display_unit(variable, unit)
    )
    after = _judged_number(model, variable, text, _display_unit(variable, unit)) or _judged_model(
        target, patches, name
    )
    words = f"{label}{owner} {before} → {after}"
    if variable.type == "enumeration":
        new, carried = with_carried_values(
            target, model.flat, apply(target.source.text, patches), variable
        )
        if carried:
            return Edited(target.rewritten(new), f"{words}; {listed(carried)} taken over")
    return Edited(patches, words)


def _has_unit(typed: str) -> bool:
    """Whether a unit was typed behind a number."""
    try:
        return any(number.unit for number in typed_numbers(typed))
    except UnitFault:
        return False


def _display_unit(variable: Variable, unit: str | None) -> str | None:
    """The unit in which a value was typed, where it is another than the one that is shown."""
    return unit if unit is not None and unit != (variable.display_unit or variable.unit) else None


def _with_start(target: Target, name: str, typed: str) -> Edited:
    variable = target.loaded.flat.by_name().get(name)
    if variable is None or (
        variable.variability == "parameter" and not is_found_at_start(variable)
    ):
        raise EditFault(f"the model has no state '{name}'.")
    path = names_of(name)
    display = None
    if typed.strip() in ("fixed", "guess"):
        attribute, text = "fixed", "true" if typed.strip() == "fixed" else "false"
        words = f"start value of {name} is {'fixed' if text == 'true' else 'a guess'}"
    else:
        attribute = "start"
        text, unit = modelica_value(variable, typed)
        display = _display_unit(variable, unit)
        words = f"start value of {name} → {typed.strip()}"
    new = apply(target.source.text, set_value(target.source, target.cls, [*path, attribute], text))
    source, cls = target.again(new)
    if display is not None:
        new = apply(new, set_value(source, cls, [*path, "displayUnit"], f'"{display}"'))
    flat = loaded_model(target.snapshot.changed(target.source.file, new), target.qualified).flat
    if flat.by_name().get(name) is None:
        raise EditFault(f"with this value the model has no '{name}' any more.")
    return Edited(target.rewritten(new), words)


def _with_law(target: Target, name: str, typed: str) -> Edited:
    text = typed.strip()
    if not text:
        raise EditFault(
            "the row is empty.", hint="Type a law, or press Escape to keep the old one."
        )
    if len(text) > LONGEST:
        raise EditFault("that is too long for a law.")
    try:
        text = in_si(text, remarks=True)
        parse_expression(text)
    except SyntaxFault:
        raise EditFault(
            f"'{text}' is not an expression.",
            hint="Write 2e-3*reactor.c[1] or the like, several in braces: {…, …}.",
        ) from None
    patches = set_value(target.source, target.cls, name.split("."), text)
    # Names and sizes must fit before anything is stored.
    _ = loaded_model(target.with_patches(patches), target.qualified).flat
    return Edited(patches, f"{name} → {text}")


def _enumeration_literal(model: LoadedModel, name: str, literal: str) -> str:
    """The full name of a value of an enumeration."""
    declared = declaration(model.tree, model.definition, name.split("."))
    kind = class_of(model.tree, *declared) if declared is not None else None
    return f"{kind.qualified}.{literal}" if kind is not None else literal


def modelica_value(variable: Variable, typed: str) -> tuple[str, str | None]:
    """The Modelica text of a typed value in the declared unit, and the unit it was typed in.

    Raises :class:`EditFault` for what is no value of the variable, :class:`UnitFault` for a unit that does not fit.
    """
    typed = typed.strip()
    if not typed:
        raise EditFault(
            "the row is empty.", hint="Type a value, or press Escape to keep the old one."
        )
    if len(typed) > LONGEST:
        raise EditFault("that is too long for a value.")
    if variable.type == "Boolean":
        if typed.lower() not in ("true", "false"):
            raise EditFault(f"'{typed}' is not true or false.", hint="Type true or false.")
        return typed.lower(), None
    if variable.type == "String":
        return '"' + typed.strip('"').replace("\\", "\\\\").replace('"', '\\"') + '"', None
    if variable.type in ("Real", "Integer"):
        quantity = read_quantity(typed, variable.unit, variable.display_unit)
        if quantity is not None:
            if variable.type == "Integer" and quantity.value != int(quantity.value):
                raise EditFault(f"'{typed}' is not a whole number.")
            return _shortest(quantity.value, typed), quantity.unit
    return _formula(variable, typed), None


def _formula(variable: Variable, typed: str) -> str:
    """The Modelica text of a typed formula, in which quantities may stand: ``pi*(14 cm)^2/4``.

    Raises :class:`EditFault` for what is none, :class:`UnitFault` where numbers alone make another dimension.
    """
    text = in_si(typed, remarks=True)
    try:
        parse_expression(text)
    except SyntaxFault:
        raise EditFault(
            f"'{typed}' is neither a number nor an expression.",
            hint="Type a number with a unit, or a formula such as D^2*pi/4.",
        ) from None
    symbol = unit_of_formula(typed)
    if variable.unit and symbol:
        given, declared = unit(symbol), unit(variable.unit)
        if given.dimension != declared.dimension:
            raise UnitFault(
                f"'{typed}' is {given.describe()}, but this row is {declared.describe()}.",
                hint="Look at the units of its numbers.",
            )
    return text


def _shortest(value: float, typed: str) -> str:
    """The shortest text of a number; what was typed is kept when it says the same."""
    first = typed.split()[0] if typed.split() else typed
    try:
        if float(first) == value and first[0] not in "+.":
            return first
    except ValueError:
        pass
    return _number_text(value)


def _number_text(value: float) -> str:
    return (
        str(int(value))
        if math.isfinite(value) and value == int(value) and abs(value) < 1e15
        else repr(value)
    )


def _judged_number(
    model: LoadedModel, variable: Variable, text: str, display_unit: str | None
) -> str:
    """Judge a plain number without building the model anew; gives the value in words, or nothing if that does not do."""
    if variable.structural or variable.type not in ("Real", "Integer"):
        return ""
    try:
        value = float(text)
    except ValueError:
        return ""
    refuse_broken(variable, value, parameter_values(model.flat, {variable.name: value}))
    shown = display_unit or variable.display_unit or variable.unit
    return in_words(float(display_value(value, variable.unit, shown)), shown)


def _judged_model(target: Target, patches: list[Patch], name: str) -> str:
    """Refuse a value that makes the model wrong, before it is stored; gives the new value in words."""
    flat = loaded_model(_parsed(target, patches), target.qualified).flat
    variable = flat.by_name().get(name)
    if variable is None:
        raise EditFault(f"with this value the model has no '{name}' any more.")
    values = parameter_values(flat, {})
    value = values.get(variable)
    if value is not None:
        refuse_broken(variable, value, values)
    return described(variable, value)


def _parsed(target: Target, patches: list[Patch]) -> Snapshot:
    """The project with patches, its text parsed from what changed."""
    text = apply(target.source.text, patches)
    parse_changed(target.source, text, patches)
    return target.snapshot.changed(target.source.file, text)


def described(variable: Variable, value: Scalar | None) -> str:
    """A value of a variable as a sentence has it, in the unit that is shown."""
    if variable.enumeration and isinstance(value, int):
        return variable.enumeration[value - 1]
    if isinstance(value, float | int) and not isinstance(value, bool):
        shown = variable.display_unit or variable.unit
        return in_words(float(display_value(float(value), variable.unit, shown)), shown)
    return in_words(value)


def refuse_broken(variable: Variable, value: Scalar, values: Mapping[Variable, Scalar]) -> None:
    """Raise :class:`EditFault` for a value that is not finite or lies beyond the limits of its variable."""
    if isinstance(value, float) and not math.isfinite(value):
        raise EditFault("the value is not a finite number.")
    broken = broken_limit(variable, dict(values))
    if broken is not None:
        word = "below its minimum" if broken[0] == "minimum" else "above its maximum"
        raise EditFault(
            f"{described(variable, value)} is {word}, {described(variable, broken[1])}."
        )


@dataclass(frozen=True, slots=True)
class Reset:
    """Give a parameter of a part its default back."""

    name: Name
    do: Literal["reset"] = "reset"

    def apply(self, target: Target) -> Edited:
        patches = unset_value(target.source, target.cls, self.name.split("."))
        return Edited(patches, f"reset {self.name} to its default")

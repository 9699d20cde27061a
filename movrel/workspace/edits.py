"""Edits of a model: each is a patch of its text, stored as a revision."""

from __future__ import annotations

import math
from typing import Any

from movrel.equations.parameters import broken_limit, parameter_values
from movrel.errors import EditFault, SyntaxFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.parser import parse_expression
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.model.classes import parse_cached, parse_changed
from movrel.model.declared import class_of, declaration
from movrel.model.flat import Variable
from movrel.session import LoadedModel
from movrel.units import read_quantity
from movrel.workspace import projects
from movrel.workspace.ledger import START, readable, shown_value
from movrel.workspace.tables import Revision


def set_parameter(project_number: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a parameter the value somebody typed: a number with any fitting unit, or an expression.

    Raises :class:`MovrelError` with a sentence for the row when the text is empty, no number, of
    another dimension, or makes the model wrong; then nothing is changed.
    """
    taken = projects.snapshot(project_number)
    model = projects.loaded_model(taken, qualified)
    if name.endswith(START):
        return _set_start(taken, qualified, revision, name[: -len(START)], typed)
    variable = model.flat.by_name().get(name)
    if variable is None or variable.variability != "parameter":
        raise EditFault(f"the model has no parameter '{name}'.")
    if variable.type == "enumeration" and typed.strip() in variable.enumeration:
        typed = _enumeration_literal(model, name, typed.strip())
    if variable.final:
        raise EditFault(f"'{name}' is computed from other values and cannot be set.")
    text, unit = modelica_value(variable, typed)
    definition = projects.definition_of(taken, qualified)
    file, _, _ = projects.file_of(taken, definition)
    before = _described(variable, parameter_values(model.flat, {}).get(id(variable)))
    label = name[len(variable.component) + 1 :] if variable.component else name
    owner = f" of {variable.component}" if variable.component else ""
    display = unit if unit is not None and unit != (variable.display_unit or variable.unit) else None

    def change(source_text: str) -> tuple[str, str]:
        source = parse_cached(source_text, file.path)
        node = class_node(source.tree, qualified, source.tree.within)
        patches = set_value(source, node, name.split("."), text, display)
        new = apply(source_text, patches)
        parse_changed(source, new, patches)
        after = _check_number(model, variable, text, display) or _check(taken, file.path, new, qualified, name)
        return new, f"{label}{owner} {before} → {after}"

    return projects.change_text(file.id, revision, change)


def _set_start(taken: projects.Snapshot, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a state its start value; ``fixed`` or ``guess`` says whether it must hold or only helps."""
    model = projects.loaded_model(taken, qualified)
    variable = model.flat.by_name().get(name)
    if variable is None or variable.variability == "parameter":
        raise EditFault(f"the model has no state '{name}'.")
    definition = projects.definition_of(taken, qualified)
    file, _, _ = projects.file_of(taken, definition)
    path = name.split(".")
    if typed.strip() in ("fixed", "guess"):
        attribute, text, display = "fixed", "true" if typed.strip() == "fixed" else "false", None
        words = f"start value of {name} is {'fixed' if text == 'true' else 'a guess'}"
    else:
        attribute = "start"
        text, unit = modelica_value(variable, typed)
        display = unit if unit is not None and unit != (variable.display_unit or variable.unit) else None
        words = f"start value of {name} → {typed.strip()}"

    def change(source_text: str) -> tuple[str, str]:
        source = parse_cached(source_text, file.path)
        node = class_node(source.tree, qualified, source.tree.within)
        new = apply(source_text, set_value(source, node, [*path, attribute], text))
        parse_changed(source, new)
        if display is not None:
            source = parse_cached(new, file.path)
            node = class_node(source.tree, qualified, source.tree.within)
            new = apply(new, set_value(source, node, [*path, "displayUnit"], f'"{display}"'))
        flat = projects.loaded_model(taken.changed(file.path, new), qualified).flat
        after = flat.by_name().get(name)
        if after is None:
            raise EditFault(f"with this value the model has no '{name}' any more.")
        return new, words

    return projects.change_text(file.id, revision, change)


def _enumeration_literal(model: LoadedModel, name: str, literal: str) -> str:
    """The full name of a value of an enumeration."""
    found = declaration(model.tree, model.definition, name.split("."))
    kind = class_of(model.tree, *found) if found is not None else None
    return f"{kind.qualified}.{literal}" if kind is not None else literal


def class_node(tree: s.StoredFile, qualified: str, within: str | None) -> s.ClassDef:
    """The class of that full name in a file."""
    parts = qualified.split(".")[len(within.split(".")) if within else 0 :]
    return edit_class.class_at(tree, parts)


def modelica_value(variable: Variable, typed: str) -> tuple[str, str | None]:
    """The Modelica text of a typed value in the declared unit, and the unit it was typed in."""
    typed = typed.strip()
    if not typed:
        raise EditFault("the row is empty.", hint="Type a value, or press Escape to keep the old one.")
    if len(typed) > 2000:
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
            return _number(quantity.value, typed), quantity.unit
    try:
        parse_expression(typed)
    except SyntaxFault:
        raise EditFault(
            f"'{typed}' is neither a number nor an expression.", hint="Type a number with a unit, or a formula such as D^2*pi/4."
        ) from None
    return typed, None


def _number(value: float, typed: str) -> str:
    """The shortest text of a number; what was typed is kept when it says the same."""
    first = typed.split()[0] if typed.split() else typed
    try:
        if float(first) == value and first[0] not in "+.":
            return first
    except ValueError:
        pass
    if math.isfinite(value) and value == int(value) and abs(value) < 1e15:
        return str(int(value))
    return repr(value)


def _check_number(model: LoadedModel, variable: Variable, text: str, display: str | None) -> str:
    """Judge a plain number without building the model anew; gives the value in words, or nothing if that does not do."""
    if variable.structural or variable.type not in ("Real", "Integer"):
        return ""
    try:
        value = float(text)
    except ValueError:
        return ""
    values = parameter_values(model.flat, {variable.name: value})
    refuse_broken(variable, value, values)
    shown = display or variable.display_unit or variable.unit
    return readable(float(shown_value(value, variable.unit, shown)), shown)


def _described(variable: Variable, value: Any) -> str:
    if isinstance(value, float | int) and not isinstance(value, bool):
        shown = variable.display_unit or variable.unit
        return readable(float(shown_value(float(value), variable.unit, shown)), shown)
    return readable(value)


def _check(taken: projects.Snapshot, path: str, text: str, qualified: str, name: str) -> str:
    """Refuse a value that makes the model wrong, before it is stored; gives the new value in words."""
    flat = projects.loaded_model(taken.changed(path, text), qualified).flat
    variable = flat.by_name().get(name)
    if variable is None:
        raise EditFault(f"with this value the model has no '{name}' any more.")
    values = parameter_values(flat, {})
    value = values.get(id(variable))
    refuse_broken(variable, value, values)
    return _described(variable, value)


def refuse_broken(variable: Variable, value: Any, values: dict[int, Any]) -> None:
    if isinstance(value, float) and not math.isfinite(value):
        raise EditFault("the value is not a finite number.")
    broken = broken_limit(variable, values)
    if broken is not None:
        word = "below its minimum" if broken[0] == "minimum" else "above its maximum"
        raise EditFault(f"{_described(variable, value)} is {word}, {_described(variable, broken[1])}.")

"""Scenarios: the base model with changes, and what becomes of changes that no longer fit."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from movrel.errors import EditFault, MovrelError
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.model import swap as swapping
from movrel.model.classes import parse_cached, parse_changed
from movrel.model.prepared import BASE, SWAP, Scenario, scenarios_of
from movrel.session import LoadedModel
from movrel.units import read_quantity
from movrel.workspace import projects
from movrel.workspace.edits import class_node
from movrel.workspace.faults import NotFound
from movrel.workspace.ledger import START
from movrel.workspace.model_edits import SETTINGS
from movrel.workspace.structure_edits import fitting_ports


@dataclass(slots=True)
class Applied:
    """A scenario put onto a model: the model to compute and the values to set in it."""

    loaded: LoadedModel
    values: dict[str, float] = field(default_factory=dict)
    options: dict[str, Any] = field(default_factory=dict)
    #: Changes that do not fit the model any more, in words; they are left out.
    left_out: list[str] = field(default_factory=list)


def scenario(taken: projects.Snapshot, qualified: str, name: str) -> Scenario:
    """A scenario of a model by its name; the base has no changes. Raises :class:`NotFound`."""
    if name in ("", BASE):
        return Scenario(BASE, 0)
    for found in scenarios_of(projects.definition_of(taken, qualified)):
        if found.name == name:
            return found
    raise NotFound(f"the model has no scenario '{name}'.", hint="It may have been renamed or deleted.")


def applied(taken: projects.Snapshot, qualified: str, changes: dict[str, str], settings: dict[str, str]) -> Applied:
    """The model with changes: numbers are set for the run, everything else becomes a change of the text.

    So a swapped part or an expression means exactly what it would mean in the model itself.
    """
    base = projects.loaded_model(taken, qualified)
    result = Applied(base)
    by_name = base.by_name
    textual: dict[str, str] = {}
    for path, text in changes.items():
        variable = by_name.get(path)
        number = _number(text)
        plain = variable is not None and variable.variability == "parameter" and variable.type in ("Real", "Integer", "Boolean")
        if plain and number is not None and variable is not None and not variable.structural and not variable.final:
            result.values[path] = number
        else:
            textual[path] = text
    if textual:
        result.loaded = _with_text(taken, qualified, textual, result.left_out)
        for path in [p for p in result.values if p not in result.loaded.by_name]:
            # What took the place of the part has no such parameter.
            del result.values[path]
            result.left_out.append(f"{path} = {changes[path]}: the part that was swapped in has no such parameter")
    for name, text in settings.items():
        try:
            result.options[name] = setting(name, text)
        except MovrelError as fault:
            result.left_out.append(f"{name} {text}: {fault.message}")
    return result


def setting(name: str, text: str) -> Any:
    """A run setting as it is typed."""
    if name not in SETTINGS or name == "step":
        raise EditFault(f"there is no run setting '{name}'.")
    if name == "solver":
        return text.strip()
    quantity = read_quantity(text, SETTINGS[name][1])
    if quantity is None:
        raise EditFault(f"'{text}' is not a number.")
    return quantity.value


def _number(text: str) -> float | None:
    if text.strip() in ("true", "false"):
        return float(text.strip() == "true")
    try:
        return float(text)
    except ValueError:
        return None


def _with_text(taken: projects.Snapshot, qualified: str, changes: dict[str, str], left_out: list[str]) -> LoadedModel:
    """The model of a text in which all changes are made that can be."""
    definition = projects.definition_of(taken, qualified)
    path = definition.source.file
    text = dict(taken.files)[path]
    # Other parts first: then values find their places in what is swapped in.
    for place, value in sorted(changes.items(), key=lambda item: not item[1].startswith(SWAP)):
        try:
            changed = _changed(taken.changed(path, text), qualified, path, text, place, value)
            # What does not flatten is left out alone, not all changes with it.
            _ = projects.loaded_model(taken.changed(path, changed), qualified).flat
            text = changed
        except MovrelError as fault:
            left_out.append(f"{place} = {value}: {fault.message}")
    return projects.loaded_model(taken.changed(path, text), qualified)


def _changed(taken: projects.Snapshot, qualified: str, path: str, text: str, place: str, value: str) -> str:
    source = parse_cached(text, path)
    node = class_node(source.tree, qualified, source.tree.within)
    if not value.startswith(SWAP):
        target = [*place[: -len(START)].split("."), "start"] if place.endswith(START) else place.split(".")
        patches = set_value(source, node, target, value)
    else:
        tree, definition = projects.class_tree(taken), projects.definition_of(taken, qualified)
        new = tree.lookup(value.removeprefix(SWAP).strip(), definition)
        if new is None:
            raise EditFault(f"there is no class '{value.removeprefix(SWAP)}'.")
        plan = swapping.plan(tree, definition, place, new, fitting_ports)
        patches = swapping.swap(tree, definition, place, new, plan.ports, plan)
    changed = apply(text, patches)
    parse_changed(source, changed, patches)
    return changed

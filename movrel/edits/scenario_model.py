"""A scenario put onto its model: the base with changes, and what becomes of changes that no longer fit."""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.edits import swapping
from movrel.edits.target import class_node
from movrel.edits.texts import run_setting
from movrel.errors import EditFault, MovrelError, NotFound
from movrel.language.parse_cache import parse_cached, parse_changed
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.project.snapshot import Snapshot, class_tree, definition_of, loaded_model
from movrel.project.value_place import names_of
from movrel.project.vendor_annotation import BASE, SWAP, Scenario, scenarios_of
from movrel.session import LoadedModel
from movrel.simulate.options import RunSettings


@dataclass(slots=True)
class ScenarioModel:
    """The model to compute, the values to set in it, and the settings of its runs."""

    loaded: LoadedModel
    values: dict[str, float] = field(default_factory=dict)
    options: RunSettings = field(default_factory=RunSettings)
    #: Changes that do not fit the model any more, in words; they are left out.
    left_out: list[str] = field(default_factory=list)


def scenario_of(snapshot: Snapshot, qualified: str, name: str) -> Scenario:
    """A scenario of a model by its name; the base has no changes. Raises :class:`NotFound`."""
    if name in ("", BASE):
        return Scenario(BASE, 0)
    for scenario in scenarios_of(definition_of(snapshot, qualified)):
        if scenario.name == name:
            return scenario
    raise NotFound(
        f"the model has no scenario '{name}'.", hint="It may have been renamed or deleted."
    )


def with_changes(
    snapshot: Snapshot, qualified: str, changes: dict[str, str], settings: dict[str, str]
) -> ScenarioModel:
    """The model with changes: numbers are set for the run, everything else becomes a change of the text.

    So a swapped part or an expression means exactly what it would mean in the model itself.
    """
    base = loaded_model(snapshot, qualified)
    result = ScenarioModel(base)
    textual: dict[str, str] = {}
    for place, text in changes.items():
        variable = base.by_name.get(place)
        number = _number(text)
        plain = (
            variable is not None
            and variable.variability == "parameter"
            and variable.type in ("Real", "Integer", "Boolean")
        )
        if (
            plain
            and number is not None
            and variable is not None
            and not variable.structural
            and not variable.final
        ):
            result.values[place] = number
        else:
            textual[place] = text
    if textual:
        result.loaded = _with_text(snapshot, qualified, textual, result.left_out)
        for place in [p for p in result.values if p not in result.loaded.by_name]:
            # What took the place of the part has no such parameter.
            del result.values[place]
            result.left_out.append(
                f"{place} = {changes[place]}: the part that was swapped in has no such parameter"
            )
    for name, text in settings.items():
        try:
            result.options |= scenario_setting(name, text)
        except MovrelError as fault:
            result.left_out.append(f"{name} {text}: {fault.message}")
    return result


def of_scenario(snapshot: Snapshot, qualified: str, name: str) -> ScenarioModel:
    """A scenario of a model by its name, put onto the model. Raises :class:`NotFound`."""
    scenario = scenario_of(snapshot, qualified, name)
    return with_changes(snapshot, qualified, scenario.changes, scenario.settings)


def scenario_setting(name: str, text: str) -> RunSettings:
    """A run setting of a scenario as it is typed; the step belongs to the model alone."""
    if name == "step":
        raise EditFault(f"there is no run setting '{name}'.")
    return run_setting(name, text)


def _number(text: str) -> float | None:
    if text.strip() in ("true", "false"):
        return float(text.strip() == "true")
    try:
        return float(text)
    except ValueError:
        return None


def _with_text(
    snapshot: Snapshot, qualified: str, changes: dict[str, str], left_out: list[str]
) -> LoadedModel:
    """The model of a text in which all changes are made that can be."""
    path = definition_of(snapshot, qualified).source.file
    # Other parts first: then values find their places in what is swapped in.
    for place, value in sorted(changes.items(), key=lambda item: not item[1].startswith(SWAP)):
        try:
            changed = snapshot.changed(path, _changed(snapshot, qualified, path, place, value))
            # What does not flatten is left out alone, not all changes with it.
            _ = loaded_model(changed, qualified).flat
            snapshot = changed
        except MovrelError as fault:
            left_out.append(f"{place} = {value}: {fault.message}")
    return loaded_model(snapshot, qualified)


def _changed(snapshot: Snapshot, qualified: str, path: str, place: str, value: str) -> str:
    source = parse_cached(snapshot.text(path), path)
    if not value.startswith(SWAP):
        patches = set_value(source, class_node(source.tree, qualified), names_of(place), value)
    else:
        tree, definition = class_tree(snapshot), definition_of(snapshot, qualified)
        new = tree.lookup(value.removeprefix(SWAP).strip(), definition)
        if new is None:
            raise EditFault(f"there is no class '{value.removeprefix(SWAP)}'.")
        planned = swapping.plan(tree, definition, place, new)
        patches = swapping.swapped(tree, definition, place, new, planned.ports, planned)
    changed = apply(source.text, patches)
    parse_changed(source, changed, patches)
    return changed

"""What a scenario makes of the values of a model: those that are other than the base's, computed ones included."""

from __future__ import annotations

from dataclasses import dataclass, replace

from movrel.edits.scenario_model import of_scenario
from movrel.errors import MovrelError
from movrel.project.snapshot import Snapshot, loaded_model
from movrel.session import LoadedModel
from movrel.unit_words import in_words
from movrel.views.ledger import Row, rows


@dataclass(frozen=True, slots=True)
class ScenarioRow:
    """A value of the ledger in a scenario: ``value`` in the declared unit, ``shown`` as it is shown, ``words`` with its unit."""

    name: str
    component: str
    label: str
    value: float | bool | str | None
    shown: float | None
    words: str


@dataclass(frozen=True, slots=True)
class ScenarioValues:
    rows: list[ScenarioRow]
    #: Changes of the scenario that do not fit the model any more, in words.
    left_out: list[str]


def instance_values(
    snapshot: Snapshot, qualified: str, whole: str, instance: str, name: str
) -> ScenarioValues:
    """The rows of a class whose values are others in an instance of it, ``instance``, inside ``whole`` in a scenario.

    Names and components are those of the class. Raises :class:`movrel.errors.NotFound`.
    """
    scenario = of_scenario(snapshot, whole, name)
    before = {row.name: row for row in _rows(loaded_model(snapshot, qualified), {})}
    prefix = instance + "."
    inside = [
        replace(row, name=row.name[len(prefix) :], component=row.component[len(prefix) :])
        for row in _rows(scenario.loaded, scenario.values)
        if row.name.startswith(prefix)
    ]
    return ScenarioValues(_differing(before, inside), scenario.left_out)


def scenario_values(snapshot: Snapshot, qualified: str, name: str) -> ScenarioValues:
    """The rows of a model that differ in a scenario. Raises :class:`movrel.errors.NotFound`."""
    base = loaded_model(snapshot, qualified)
    scenario = of_scenario(snapshot, qualified, name)
    before = {row.name: row for row in _rows(base, {})}
    return ScenarioValues(
        _differing(before, _rows(scenario.loaded, scenario.values)), scenario.left_out
    )


def _differing(before: dict[str, Row], now: list[Row]) -> list[ScenarioRow]:
    return [
        ScenarioRow(row.name, row.component, row.label, row.value, row.shown, _words(row))
        for row in now
        if row.group != "watch"
        and row.name in before
        and (row.value, row.shown) != (before[row.name].value, before[row.name].shown)
    ]


def _rows(loaded: LoadedModel, given: dict[str, float]) -> list[Row]:
    try:
        ordered = loaded.ordered
    except MovrelError:
        ordered = None  # it cannot be run, but its values can be told
    return rows(loaded.flat, None, ordered, given)


def _words(row: Row) -> str:
    shown = row.shown if row.shown is not None else row.value
    return in_words(shown, row.shown_unit) if shown is not None else ""

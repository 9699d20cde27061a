"""The scenarios of a model; they stand in its text."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.scenario_model import scenario_setting, with_changes
from movrel.edits.settable import settable
from movrel.edits.tables import table_text
from movrel.edits.target import Edited, Name, Target
from movrel.edits.values import modelica_value, refuse_broken
from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language import class_annotation
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.language.unset_value import Written, unset_value
from movrel.model.annotation import VENDOR
from movrel.project.snapshot import Snapshot, definition_of, loaded_model
from movrel.project.value_place import START, names_of, variable_of
from movrel.project.vendor_annotation import (
    BASE,
    SWAP,
    Scenario,
    scenarios_of,
    scenarios_text,
)

#: Scenarios of one model at most, and colours that the theme has.
MOST, COLOURS = 100, 7


def _written(target: Target, scenarios: list[Scenario], summary: str) -> Edited:
    text = scenarios_text(scenarios)
    return Edited(
        class_annotation.set_annotation(target.source, target.cls, [VENDOR, "scenarios"], text),
        summary,
    )


def _number_of(scenarios: list[Scenario], name: str) -> int:
    for k, item in enumerate(scenarios):
        if item.name == name:
            return k
    raise EditFault(
        f"the model has no scenario '{name}'.", hint="It may have been renamed or deleted."
    )


def _checked_name(scenarios: list[Scenario], name: str, old: str = "") -> str:
    name = " ".join(name.split())
    if not name:
        raise EditFault("a scenario needs a name.")
    if len(name) > 100:
        raise EditFault("that name is too long.")
    if name != old and (name == BASE or any(item.name == name for item in scenarios)):
        raise EditFault(f"there already is a scenario '{name}'.", hint="Choose another name.")
    return name


def _free_colour(scenarios: list[Scenario]) -> int:
    """The first colour that no scenario has; the base has the first of all."""
    used = {0, *(item.colour for item in scenarios)}
    return next((c for c in range(COLOURS) if c not in used), len(scenarios) % COLOURS)


@dataclass(frozen=True, slots=True)
class AddScenario:
    """A new scenario, empty or a copy of another."""

    name: Name
    like: Name = BASE
    do: Literal["add scenario"] = "add scenario"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        if len(scenarios) >= MOST:
            raise EditFault(f"a model has {MOST} scenarios at most.", hint="Use a sweep for more.")
        new = Scenario(_checked_name(scenarios, self.name), _free_colour(scenarios))
        if self.like not in ("", BASE):
            copied = scenarios[_number_of(scenarios, self.like)]
            new = replace(copied, name=new.name, colour=new.colour)
        return _written(target, [*scenarios, new], f"new scenario '{new.name}'")


@dataclass(frozen=True, slots=True)
class AlterScenario:
    """Give a scenario another name, colour or note."""

    name: Name
    new: Name
    colour: int
    note: Annotated[str, MaxLen(10_000)] = ""
    do: Literal["alter scenario"] = "alter scenario"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        k = _number_of(scenarios, self.name)
        if not 0 <= self.colour < COLOURS:
            raise EditFault("there is no such colour.")
        new = _checked_name(scenarios, self.new, self.name)
        scenarios[k] = replace(scenarios[k], name=new, colour=self.colour, note=self.note.strip())
        words = f"scenario {self.name}" + (
            f" is now called {new}" if new != self.name else " changed"
        )
        return _written(target, scenarios, words)


@dataclass(frozen=True, slots=True)
class DeleteScenario:
    """Take a scenario away; its runs stay."""

    name: Name
    do: Literal["delete scenario"] = "delete scenario"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        del scenarios[_number_of(scenarios, self.name)]
        return _written(target, scenarios, f"deleted the scenario {self.name}")


@dataclass(frozen=True, slots=True)
class ScenarioValue:
    """Change a value in a scenario; with no text it is that of the base again.

    ``text`` is a number with any fitting unit, an expression, or ``redeclare Class`` for a part.
    """

    scenario: Name
    place: Name
    text: Annotated[str, MaxLen(2000)] | None
    do: Literal["scenario value"] = "scenario value"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        k = _number_of(scenarios, self.scenario)
        changes = dict(scenarios[k].changes)
        if self.text is None:
            if self.place not in changes:
                raise EditFault(f"'{self.scenario}' does not change '{self.place}'.")
            del changes[self.place]
            words = f"{self.scenario}: {self.place} as in the base"
        else:
            changes[self.place] = _checked_change(target, self.place, self.text)
            words = f"{self.scenario}: {self.place} → {self.text.strip()}"
        scenarios[k] = replace(scenarios[k], changes=changes)
        return _written(target, scenarios, words)


def _checked_change(target: Target, place: str, typed: str) -> str:
    """The Modelica text of a change, after it was seen to fit the model."""
    typed = typed.strip()
    if not typed.startswith(SWAP):
        model = target.loaded
        variable = model.by_name.get(variable_of(place))
        if variable is None and any(name.startswith(place + "[") for name in model.by_name):
            try:
                typed, _ = table_text(model, place, typed)
            except EditFault as fault:
                raise EditFault(f"{place}: {fault.message}", hint=fault.hint) from None
        elif variable is None:
            raise EditFault(f"the model has no '{place}'.")
        elif variable.variability != "parameter" and not place.endswith(START):
            raise EditFault(
                f"'{place}' is computed and cannot be set.",
                hint="Change a parameter or a start value.",
            )
        elif variable.final:
            raise EditFault(f"'{place}' is computed from other values and cannot be set.")
        else:
            typed, _ = modelica_value(variable, typed)
    tried = with_changes(target.snapshot, target.qualified, {place: typed}, {})
    if tried.left_out:
        raise EditFault(tried.left_out[0])
    if tried.values:
        changed = parameter_values(tried.loaded.flat, tried.values)
        refuse_broken(tried.loaded.by_name[place], tried.values[place], changed)
    return typed


@dataclass(frozen=True, slots=True)
class ScenarioSetting:
    """Give a scenario a run setting of its own; an empty text takes it away."""

    scenario: Name
    name: Name
    text: Annotated[str, MaxLen(200)]
    do: Literal["scenario setting"] = "scenario setting"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        k = _number_of(scenarios, self.scenario)
        kept = {s: t for s, t in scenarios[k].settings.items() if s != self.name}
        if self.text.strip():
            scenario_setting(self.name, self.text)
            kept[self.name] = self.text.strip()
        scenarios[k] = replace(scenarios[k], settings=kept)
        return _written(
            target,
            scenarios,
            f"{self.scenario}: {self.name} {self.text.strip() or 'as in the base'}",
        )


@dataclass(frozen=True, slots=True)
class ScenarioClaim:
    """Have a claim be judged in a scenario or not."""

    scenario: Name
    claim: Annotated[str, MaxLen(2000)]
    off: bool
    do: Literal["scenario claim"] = "scenario claim"

    def apply(self, target: Target) -> Edited:
        scenarios = scenarios_of(target.definition)
        k = _number_of(scenarios, self.scenario)
        kept = [t for t in scenarios[k].off if t != self.claim]
        scenarios[k] = replace(scenarios[k], off=[*kept, self.claim] if self.off else kept)
        return _written(
            target,
            scenarios,
            f"{self.scenario}: '{self.claim}' is {'not ' if self.off else ''}judged",
        )


@dataclass(frozen=True, slots=True)
class PasteScenarios:
    """Take over a table from a spreadsheet: scenarios as columns, places as rows; an empty cell is the base's value.

    The first row names the scenarios; those that are not there come into being.
    """

    text: Annotated[str, MaxLen(1_000_000)]
    do: Literal["paste scenarios"] = "paste scenarios"

    def apply(self, target: Target) -> Edited:
        rows = [line.split("\t") for line in self.text.strip("\n").splitlines() if line.strip()]
        if len(rows) < 2 or len(rows[0]) < 2:
            raise EditFault(
                "that is not a table of scenarios.",
                hint="The first row names scenarios, the first column places.",
            )
        scenarios = scenarios_of(target.definition)
        names = [" ".join(n.split()) for n in rows[0][1:]]
        for name in names:
            if name and name != BASE and not any(item.name == name for item in scenarios):
                scenarios.append(Scenario(_checked_name(scenarios, name), _free_colour(scenarios)))
        for row in rows[1:]:
            place = row[0].strip()
            for name, cell in zip(names, row[1:], strict=False):
                if not name or name == BASE:
                    continue
                k = _number_of(scenarios, name)
                kept = {p: t for p, t in scenarios[k].changes.items() if p != place}
                if cell.strip():
                    kept[place] = _checked_change(target, place, cell)
                scenarios[k] = replace(scenarios[k], changes=kept)
        return _written(target, scenarios, f"scenarios from a table: {len(rows) - 1} rows")


@dataclass(frozen=True, slots=True)
class ScenarioFromRun:
    """A scenario that is what a run was: its changes, and where the base is another one by now, its values."""

    run: int
    name: Name
    do: Literal["scenario from run"] = "scenario from run"

    def apply(self, target: Target) -> Edited:
        run = target.past_run(self.run)
        scenarios = scenarios_of(target.definition)
        flat = target.loaded.flat
        now = parameter_values(flat, {})
        changes = dict(run.changes)
        for v in flat.parameters():
            if (
                v.variability != "parameter"
                or v.final
                or v.name in changes
                or v.name not in run.parameters
            ):
                continue
            if v.binding is None or v.binding.op != "const":
                continue  # it follows from others
            then = run.parameters[v.name]
            if isinstance(then, int | float) and not isinstance(then, bool) and then != now.get(v):
                changes[v.name] = repr(then)
        settings = {k: str(v) for k, v in run.options.items()}
        new = Scenario(
            _checked_name(scenarios, self.name), _free_colour(scenarios), changes, settings
        )
        return _written(
            target, [*scenarios, new], f"new scenario '{self.name}' from run {run.number}"
        )


@dataclass(frozen=True, slots=True)
class KeepChanges:
    """Make a scenario of the values that were changed since a run, and give the base those of then."""

    run: int
    name: Name
    do: Literal["keep changes"] = "keep changes"

    def apply(self, target: Target) -> Edited:
        run = target.past_run(self.run)
        changes = changes_since(target, run.snapshot)
        if not changes:
            raise EditFault(
                f"no value differs from run {run.number}.", hint="Change a value first."
            )
        text, source, cls = target.source.text, target.source, target.cls
        for place, (before, _) in changes.items():
            path = names_of(place)
            text = apply(
                text,
                unset_value(source, cls, path)
                if before is None
                else set_value(source, cls, path, before),
            )
            source, cls = target.again(text)
        scenarios = scenarios_of(target.definition)
        name = _checked_name(scenarios, self.name)
        scenarios.append(
            Scenario(name, _free_colour(scenarios), {p: now for p, (_, now) in changes.items()})
        )
        text = apply(
            text,
            class_annotation.set_annotation(
                source, cls, [VENDOR, "scenarios"], scenarios_text(scenarios)
            ),
        )
        words = f"kept {len(changes)} change{'s' if len(changes) != 1 else ''} as the scenario {self.name}"
        return Edited(target.rewritten(text), words)


def changes_since(target: Target, earlier: Snapshot) -> dict[str, tuple[str | None, str]]:
    """What the text gives now to parameters and start values that it gave otherwise in an earlier snapshot.

    By place: the text then (None for the default) and the text now. Parts that came or went are no such change.
    """
    then = definition_of(earlier, target.qualified)
    before_texts, after_texts = Written(then.source, then.node), Written(target.source, target.cls)
    known = loaded_model(earlier, target.qualified).by_name
    changes: dict[str, tuple[str | None, str]] = {}
    for name, value in settable(target.loaded, after_texts):
        place = name.partition("[")[0]  # a table is given as a whole
        if place in changes or variable_of(name) not in known:
            continue
        before, after = (texts.value(*names_of(place)) for texts in (before_texts, after_texts))
        if before == after:
            continue
        if after is None and place != name:
            continue  # a whole table that is the default again has no text of its own
        changes[place] = before, after if after is not None else value
    return changes

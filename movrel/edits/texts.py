"""Edits of a model as a whole: its text, description, documentation and run settings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal, cast

from annotated_types import MaxLen

from movrel.edits.target import Edited, Name, Target, Text, class_node
from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class
from movrel.language import syntax as s
from movrel.language.parse_cache import parse_changed
from movrel.language.parser import Source
from movrel.language.patch import Patch, apply
from movrel.model.annotation import VENDOR, experiment_of
from movrel.project.snapshot import class_tree
from movrel.project.vendor_annotation import SETTING_UNITS, TIME_UNIT, TIME_UNITS, time_unit_of
from movrel.simulate.options import RunSettings, run_options
from movrel.units import Typed, read_quantity

#: Run settings by their names on the screen: the place in the annotation, and the unit of a number.
SETTINGS = {
    "start": ("StartTime", "s"), "stop": ("StopTime", "s"), "interval": ("Interval", "s"), "tolerance": ("Tolerance", "1"),
    "solver": ("__Movrel.solver", ""), "step": ("__Movrel.step", "s"),
}  # fmt: skip


def run_setting(name: str, typed: str) -> RunSettings:
    """A run setting as it is typed, times in any unit of time. Raises :class:`EditFault` for what is none."""
    if name not in SETTINGS:
        raise EditFault(f"there is no run setting '{name}'.")
    if name == "solver":
        return {"solver": typed.strip()}
    return cast(RunSettings, {name: _quantity(name, typed).value})


def _quantity(name: str, typed: str, shown: str = "") -> Typed:
    quantity = read_quantity(typed, SETTINGS[name][1], shown)
    if quantity is None:
        raise EditFault(
            f"'{typed}' is not a number.", hint="Type a number, with a unit of time if you like."
        )
    return quantity


@dataclass(frozen=True, slots=True)
class Setting:
    """A run setting (start, stop, interval, tolerance, solver or step) as somebody typed it.

    Times are kept in the unit in which they were typed; with that of the stop time all times of the model are shown.
    """

    name: Name
    text: Annotated[str, MaxLen(200)]
    do: Literal["setting"] = "setting"

    def apply(self, target: Target) -> Edited:
        typed, unit = self.text.strip(), ""
        key = SETTING_UNITS.get(self.name, "")
        if key:
            quantity = _quantity(self.name, typed, time_unit_of(target.definition, key))
            typed, unit = f"{quantity.value:.15g}", quantity.unit
        setting = run_setting(self.name, typed)
        run_options(
            replace(experiment_of(target.definition, target.tree), **setting)
        )  # refuses what cannot be run
        (value,) = setting.values()
        text = f'"{value}"' if self.name == "solver" else f"{value:.15g}"
        patches = edit_class.set_experiment(target.source, target.cls, SETTINGS[self.name][0], text)
        words = f"run setting {self.name}: {self.text.strip()}"
        if unit not in TIME_UNITS or unit == (time_unit_of(target.definition, key) or "s"):
            return Edited(patches, words)
        changed = apply(target.source.text, patches)
        source, cls = target.again(changed)
        return Edited(
            target.rewritten(apply(changed, _with_time_unit(source, cls, unit, key))), words
        )


@dataclass(frozen=True, slots=True)
class TimeUnit:
    """The unit in which the times of a model are shown; an empty one for what suits."""

    unit: Annotated[str, MaxLen(10)]
    do: Literal["time unit"] = "time unit"

    def apply(self, target: Target) -> Edited:
        if self.unit and self.unit not in TIME_UNITS:
            raise EditFault(
                f"'{self.unit}' is not a unit of time.", hint=f"Choose {', '.join(TIME_UNITS)}."
            )
        patches = _with_time_unit(target.source, target.cls, self.unit)
        return Edited(patches, f"times in {self.unit or 'the unit that suits'}")


def _with_time_unit(
    source: Source, cls: s.ClassDef, unit: str, key: str = TIME_UNIT
) -> list[Patch]:
    value = class_annotation.quoted(unit) if unit else None
    return class_annotation.set_annotation(source, cls, [VENDOR, key], value)


@dataclass(frozen=True, slots=True)
class ReplaceText:
    """Another text for the file that holds the model; text that does not parse is refused with its place."""

    text: Text
    do: Literal["text"] = "text"

    def apply(self, target: Target) -> Edited:
        source = parse_changed(target.source, self.text)
        class_node(source.tree, target.qualified)
        _ = class_tree(target.snapshot.changed(target.source.file, self.text))
        return Edited(target.rewritten(self.text), "edited the text")


@dataclass(frozen=True, slots=True)
class Describe:
    """Say in one line what a model is."""

    text: Annotated[str, MaxLen(2000)]
    do: Literal["describe"] = "describe"

    def apply(self, target: Target) -> Edited:
        words = " ".join(self.text.split())
        return Edited(
            class_annotation.set_description(target.source, target.cls, words),
            "changed the description",
        )


@dataclass(frozen=True, slots=True)
class Document:
    """Set the documentation of a model: HTML of the kind that the standard's ``info`` holds, or plain text."""

    text: Annotated[str, MaxLen(200_000)]
    do: Literal["document"] = "document"

    def apply(self, target: Target) -> Edited:
        value = class_annotation.quoted(self.text) if self.text.strip() else None
        patches = class_annotation.set_annotation(
            target.source, target.cls, ["Documentation", "info"], value
        )
        return Edited(patches, "changed the documentation")

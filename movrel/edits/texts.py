"""Edits of a model as a whole: its text, description, documentation and run settings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal, cast

from annotated_types import MaxLen

from movrel.edits.target import Edited, Name, Target, Text, class_node
from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class
from movrel.model.annotation import experiment_of
from movrel.model.classes import parse_changed
from movrel.project.snapshot import class_tree
from movrel.simulate.options import RunSettings, run_options
from movrel.units import read_quantity

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
    quantity = read_quantity(typed, SETTINGS[name][1])
    if quantity is None:
        raise EditFault(
            f"'{typed}' is not a number.", hint="Type a number, with a unit of time if you like."
        )
    return cast(RunSettings, {name: quantity.value})


@dataclass(frozen=True, slots=True)
class Setting:
    """A run setting (start, stop, interval, tolerance, solver or step) as somebody typed it."""

    name: Name
    text: Annotated[str, MaxLen(200)]
    do: Literal["setting"] = "setting"

    def apply(self, target: Target) -> Edited:
        setting = run_setting(self.name, self.text)
        run_options(
            replace(experiment_of(target.definition, target.tree), **setting)
        )  # refuses what cannot be run
        (value,) = setting.values()
        text = f'"{value}"' if self.name == "solver" else f"{value:.15g}"
        patches = edit_class.set_experiment(target.source, target.cls, SETTINGS[self.name][0], text)
        return Edited(patches, f"run setting {self.name}: {self.text.strip()}")


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

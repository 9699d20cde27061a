"""Edits of a model as a whole: run settings, text, description, documentation."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class
from movrel.model.annotation import experiment_of
from movrel.model.classes import parse_cached, parse_changed
from movrel.simulate.options import run_options
from movrel.units import read_quantity
from movrel.workspace import projects
from movrel.workspace.editing import edit
from movrel.workspace.edits import class_node
from movrel.workspace.tables import Revision

#: Run settings by their names on the screen: the place in the annotation, and the unit of a number.
SETTINGS = {
    "start": ("StartTime", "s"), "stop": ("StopTime", "s"), "interval": ("Interval", "s"), "tolerance": ("Tolerance", "1"),
    "solver": ("__Movrel.solver", ""), "step": ("__Movrel.step", "s"),
}  # fmt: skip


def set_setting(project: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a run setting another value; times in any unit of time."""
    if name not in SETTINGS:
        raise EditFault(f"there is no run setting '{name}'.")
    place, unit = SETTINGS[name]
    taken = projects.snapshot(project)
    before = experiment_of(projects.definition_of(taken, qualified), projects.class_tree(taken))
    given: Any
    if name == "solver":
        given, value = typed.strip(), f'"{typed.strip()}"'
    else:
        quantity = read_quantity(typed, unit)
        if quantity is None:
            raise EditFault(f"'{typed}' is not a number.", hint="Type a number, with a unit of time if you like.")
        given, value = quantity.value, f"{quantity.value:.15g}"
    changed = replace(before, **{name: given})
    run_options(changed)  # refuses what cannot be run

    return edit(
        project, qualified, revision,
        lambda at: (edit_class.set_experiment(at.source, at.cls, place, value), f"run setting {name}: {typed.strip()}"),
    )  # fmt: skip


def replace_text(project: int, qualified: str, revision: int, text: str, summary: str = "edited the text") -> Revision:
    """Store a new text of the file that holds a model; text that does not parse is refused with its place."""
    taken = projects.snapshot(project)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, qualified))

    def change(old: str) -> tuple[str, str]:
        source = parse_changed(parse_cached(old, file.path), text)
        class_node(source.tree, qualified, source.tree.within)
        _ = projects.class_tree(taken.changed(file.path, text))
        return text, summary

    return projects.change_text(file.id, revision, change)


def describe(project: int, qualified: str, revision: int, description: str) -> Revision:
    """Say in one line what a model is."""
    words = " ".join(description.split())
    return edit(
        project,
        qualified,
        revision,
        lambda at: (class_annotation.set_description(at.source, at.cls, words), "changed the description"),
    )


def document(project: int, qualified: str, revision: int, text: str) -> Revision:
    """Set the documentation of a model: HTML of the kind that the standard's ``info`` holds, or plain text."""
    value = class_annotation.quoted(text) if text.strip() else None
    path = ["Documentation", "info"]
    return edit(
        project, qualified, revision,
        lambda at: (class_annotation.set_annotation(at.source, at.cls, path, value), "changed the documentation"),
    )  # fmt: skip

"""Edits of the named layouts of the recorder; they stand in the text of the model."""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import EditFault, MovrelError
from movrel.language import class_annotation
from movrel.language.patch import Patch
from movrel.model.arrangement import STANDARD, Layout, StripPlan, layouts_of, layouts_text
from movrel.model.prepared import VENDOR
from movrel.units import convert
from movrel.workspace import projects
from movrel.workspace.editing import Target, edit
from movrel.workspace.tables import Revision

#: Layouts of one model at most.
MOST = 40


def keep(project: int, qualified: str, revision: int, name: str, strips: list[StripPlan]) -> Revision:
    """Keep an arrangement under a name, in place of the one that has it.

    The first layout of a model is shown where nobody has arranged another.
    """
    name = " ".join(name.split()) or STANDARD

    def change(at: Target, found: list[Layout]) -> str:
        if not strips:
            raise EditFault("there is no strip to keep.", hint="Put a curve on a strip first.")
        _check(at, strips)
        layout = Layout(name, tuple(strips))
        place = next((k for k, item in enumerate(found) if item.name == name), None)
        if place is not None:
            found[place] = layout
        elif len(found) >= MOST:
            raise EditFault(f"a model has {MOST} layouts at most.", hint="Delete one that is not needed.")
        else:
            found.append(layout)
        return f"kept the layout {name} of {len(strips)} strips"

    return _edit(project, qualified, revision, change)


def delete(project: int, qualified: str, revision: int, name: str) -> Revision:
    """Forget a layout."""

    def change(at: Target, found: list[Layout]) -> str:
        kept = [item for item in found if item.name != name]
        if len(kept) == len(found):
            raise EditFault(f"the model has no layout '{name}'.", hint="It may have been renamed or deleted.")
        found[:] = kept
        return f"deleted the layout {name}"

    return _edit(project, qualified, revision, change)


def _edit(project: int, qualified: str, revision: int, change: Callable[[Target, list[Layout]], str]) -> Revision:
    def make(at: Target) -> tuple[list[Patch], str]:
        found = layouts_of(at.definition)
        words = change(at, found)
        return class_annotation.set_annotation(at.source, at.cls, [VENDOR, "recorder"], layouts_text(found)), words

    return edit(project, qualified, revision, make)


def _check(at: Target, strips: list[StripPlan]) -> None:
    known = projects.loaded_model(at.taken, at.qualified).by_name
    for strip in strips:
        missing = next((name for name in strip.names if name not in known), None)
        if missing is not None:
            raise EditFault(f"the model has no variable '{missing}'.")
        units = list(dict.fromkeys(known[name].unit for name in strip.names))
        for chosen, declared in zip((strip.left, strip.right), units, strict=False):
            try:
                convert(1.0, declared or "1", chosen or declared or "1")
            except MovrelError as fault:
                raise EditFault(f"the strip of {strip.names[0]} cannot be shown in '{chosen}': {fault.message}") from None

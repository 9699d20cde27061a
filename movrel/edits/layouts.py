"""The named layouts of the recorder; they stand in the text of the model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, TypeAlias

from annotated_types import MaxLen

from movrel.edits.target import Edited, Target
from movrel.errors import EditFault, MovrelError
from movrel.language import class_annotation
from movrel.model.annotation import VENDOR
from movrel.sheet.arrangement import STANDARD, Layout, StripPlan, is_look, layouts_of, layouts_text
from movrel.units import convert

#: How names of measured columns begin.
MEASURED = "Data/"
#: Layouts of one model at most.
MOST = 40
LayoutName: TypeAlias = Annotated[str, MaxLen(100)]


@dataclass(frozen=True, slots=True)
class KeepLayout:
    """Keep an arrangement of the recorder with the model, in place of one of that name.

    The first layout of a model is shown where nobody has arranged another.
    """

    strips: Annotated[list[StripPlan], MaxLen(40)]
    name: LayoutName = ""
    do: Literal["keep layout"] = "keep layout"

    def apply(self, target: Target) -> Edited:
        name = " ".join(self.name.split()) or STANDARD
        layouts = layouts_of(target.definition)
        if not self.strips:
            raise EditFault("there is no strip to keep.", hint="Put a curve on a strip first.")
        _check(target, self.strips)
        layout = Layout(name, list(self.strips))
        unread = next(
            (look for s in self.strips for look in s.looks.values() if not is_look(look)), None
        )
        if unread is not None:
            raise EditFault(
                f"'{unread}' is not a colour and a dash.",
                hint="Write for example colour 2, dash 1.",
            )
        place = next((k for k, item in enumerate(layouts) if item.name == name), None)
        if place is not None:
            layouts[place] = layout
        elif len(layouts) >= MOST:
            raise EditFault(
                f"a model has {MOST} layouts at most.", hint="Delete one that is not needed."
            )
        else:
            layouts.append(layout)
        return _written(target, layouts, f"kept the layout {name} of {len(self.strips)} strips")


@dataclass(frozen=True, slots=True)
class DeleteLayout:
    """Forget a layout."""

    name: LayoutName
    do: Literal["delete layout"] = "delete layout"

    def apply(self, target: Target) -> Edited:
        layouts = layouts_of(target.definition)
        kept = [item for item in layouts if item.name != self.name]
        if len(kept) == len(layouts):
            raise EditFault(
                f"the model has no layout '{self.name}'.",
                hint="It may have been renamed or deleted.",
            )
        return _written(target, kept, f"deleted the layout {self.name}")


def _written(target: Target, layouts: list[Layout], summary: str) -> Edited:
    text = layouts_text(layouts)
    return Edited(
        class_annotation.set_annotation(target.source, target.cls, [VENDOR, "recorder"], text),
        summary,
    )


def _check(target: Target, strips: list[StripPlan]) -> None:
    by_name = target.loaded.by_name
    for strip in strips:
        # Columns of measurements stand beside the model, and may come and go.
        own = [name for name in strip.names if not name.startswith(MEASURED)]
        missing = next((name for name in own if name not in by_name), None)
        if missing is not None:
            raise EditFault(f"the model has no variable '{missing}'.")
        units = list(dict.fromkeys(by_name[name].unit for name in own))
        for chosen, declared in zip((strip.left, strip.right), units, strict=False):
            try:
                convert(1.0, declared or "1", chosen or declared or "1")
            except MovrelError as fault:
                raise EditFault(
                    f"the strip of {own[0]} cannot be shown in '{chosen}': {fault.message}"
                ) from None

"""How a model wants its curves arranged: the named layouts of ``__Movrel(recorder=…)``.

The short form ``{{"a", "b"}, {"c"}}`` lists the curves of each strip. The long form names layouts and says what is
shown in another unit or on a logarithmic axis::

    recorder={Layout(name="Levels", strips={Strip(curves={"a", "b"}, units={"cm", ""}, logarithmic=true)})}
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Annotated, Any, TypeAlias

from annotated_types import Len, MaxLen

from movrel.language.class_annotation import quoted
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition

#: What the layout of the short form is called.
STANDARD = "Standard"


#: How a curve is drawn, in words.
Look: TypeAlias = Annotated[str, MaxLen(40)]
_LOOK = re.compile(r"(colour [1-7])?(?:(?<=\d), )?(dash [1-4])?")


@dataclass(frozen=True, slots=True)
class StripPlan:
    """A strip of a layout: its curves, the units of its axes ("" as declared).

    ``looks`` holds, by curve, the colour and dash that somebody chose, counted from 1: ``colour 2, dash 1``.
    """

    names: Annotated[list[Annotated[str, MaxLen(300)]], Len(1, 20)]
    left: Annotated[str, MaxLen(50)]
    right: Annotated[str, MaxLen(50)]
    logarithmic: bool
    looks: dict[Annotated[str, MaxLen(300)], Look] = field(default_factory=dict)

    @staticmethod
    def of(names: list[str]) -> StripPlan:
        """A strip with nothing more to say than its curves."""
        return StripPlan(names, "", "", False)


@dataclass(frozen=True, slots=True)
class Layout:
    """A named arrangement of the recorder."""

    name: str
    strips: list[StripPlan]


def is_look(words: str) -> bool:
    """Whether a colour and a dash can be read from words."""
    return _LOOK.fullmatch(words) is not None


def layouts_of(definition: Definition) -> list[Layout]:
    """The layouts that a model has, the one that is shown first in front; what cannot be read is passed over."""
    given = note.members(note.find(definition.node.annotation, VENDOR)).get("recorder")
    items = given if isinstance(given, list) else []
    named = [
        Layout(item["name"], _strips(item.get("strips")))
        for item in items
        if isinstance(item, dict)
        and item.get("is") == "Layout"
        and isinstance(item.get("name"), str)
    ]
    short = [
        StripPlan.of(_texts(item)) for item in items if isinstance(item, list) and _texts(item)
    ]
    return ([Layout(STANDARD, short)] if short else []) + named


def layouts_text(layouts: list[Layout]) -> str | None:
    """The layouts as they are written: short where there is nothing more to say; None for none."""
    if not layouts:
        return None
    only = layouts[0]
    if (
        len(layouts) == 1
        and only.name == STANDARD
        and all(s == StripPlan.of(s.names) for s in only.strips)
    ):
        return "{" + ", ".join(_list(s.names) for s in only.strips) + "}"
    return "{" + ",\n      ".join(_layout_text(item) for item in layouts) + "}"


def _layout_text(layout: Layout) -> str:
    return f"Layout(name={quoted(layout.name)}, strips={{{', '.join(map(_strip_text, layout.strips))}}})"


def _strip_text(strip: StripPlan) -> str:
    parts = [f"curves={_list(strip.names)}"]
    if strip.left or strip.right:
        parts.append(f"units={_list([strip.left, strip.right])}")
    if strip.logarithmic:
        parts.append("logarithmic=true")
    looks = {name: look for name, look in strip.looks.items() if name in strip.names and look}
    if looks:
        pairs = ", ".join(_list([name, look]) for name, look in looks.items())
        parts.append(f"looks={{{pairs}}}")
    return f"Strip({', '.join(parts)})"


def _strips(given: Any) -> list[StripPlan]:
    strips = []
    for item in given if isinstance(given, list) else []:
        if isinstance(item, dict) and item.get("is") == "Strip" and _texts(item.get("curves")):
            left, right, *_ = (*_texts(item.get("units"), empty=True), "", "")
            strips.append(
                StripPlan(
                    _texts(item["curves"]),
                    left,
                    right,
                    item.get("logarithmic") is True,
                    _looks(item.get("looks")),
                )
            )
    return strips


def _looks(given: Any) -> dict[str, str]:
    pairs = [_texts(item) for item in given] if isinstance(given, list) else []
    return {p[0]: p[1] for p in pairs if len(p) == 2 and is_look(p[1])}


def _texts(given: Any, empty: bool = False) -> list[str]:
    return (
        [t for t in given if isinstance(t, str) and (t or empty)] if isinstance(given, list) else []
    )


def _list(texts: list[str]) -> str:
    return "{" + ", ".join(quoted(t) for t in texts) + "}"

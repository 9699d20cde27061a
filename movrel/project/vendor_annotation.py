"""What a model says about itself in its vendor annotation: its claims and its scenarios."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from movrel.language.class_annotation import quoted
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition

#: The name of the base model where a scenario is asked for.
BASE = "base"
#: What a change says that swaps a part for one of another class.
SWAP = "redeclare "
#: Where a model says in which unit its times are shown, and the units for that.
TIME_UNIT, TIME_UNITS = "timeUnit", ("ns", "us", "ms", "s", "min", "h", "d")

#: By run setting: where a model keeps the unit in which it was typed.
SETTING_UNITS = {"stop": TIME_UNIT, "interval": "intervalUnit", "step": "stepUnit"}


@dataclass(frozen=True, slots=True)
class WrittenClaim:
    """A claim as the model writes it, and its place in the list."""

    number: int
    text: str


@dataclass(frozen=True, slots=True)
class Scenario:
    """Changes against the base model: the text of each value by its place.

    ``changes`` gives the text of values by their place: ``basin.area``, ``basin.level.start``, or the name
    of a part with ``redeclare Class``. ``settings`` are run settings as they are typed; ``off`` the claims
    that are not judged; ``colour`` counts the colours of the theme.
    """

    name: str
    colour: int
    changes: dict[str, str] = field(default_factory=dict)
    settings: dict[str, str] = field(default_factory=dict)
    off: list[str] = field(default_factory=list)
    note: str = ""


def claims_of(definition: Definition) -> list[WrittenClaim]:
    """The claims of ``__Movrel(claims={"max(x) < 1 m", …})``, in their order."""
    given = _vendor(definition).get("claims")
    texts = given if isinstance(given, list) else []
    return [WrittenClaim(k, text) for k, text in enumerate(t for t in texts if isinstance(t, str))]


def scenarios_of(definition: Definition) -> list[Scenario]:
    """The scenarios of ``__Movrel(scenarios={Scenario(name="…", colour=2, changes={{"a.k", "3"}, …}), …})``."""
    given = _vendor(definition).get("scenarios")
    scenarios: list[Scenario] = []
    for item in given if isinstance(given, list) else []:
        if (
            not isinstance(item, dict)
            or item.get("is") != "Scenario"
            or not isinstance(item.get("name"), str)
        ):
            continue
        colour = item.get("colour")
        off = item.get("off")
        scenarios.append(
            Scenario(
                item["name"],
                int(colour) if isinstance(colour, float) else len(scenarios) + 1,
                _pairs(item.get("changes")),
                _pairs(item.get("settings")),
                [t for t in off if isinstance(t, str)] if isinstance(off, list) else [],
                item["note"] if isinstance(item.get("note"), str) else "",
            )
        )
    return scenarios


def time_unit_of(definition: Definition, key: str = TIME_UNIT) -> str:
    """The unit in which the times of a model are shown, ``__Movrel(timeUnit="min")``; empty for what suits.

    ``key`` is one of :data:`SETTING_UNITS` for a run setting that was typed in a unit of its own.
    """
    unit = _vendor(definition).get(key)
    return unit if isinstance(unit, str) and unit in TIME_UNITS else ""


def claims_text(texts: list[str]) -> str | None:
    """The claims as they are written; None for none."""
    return "{" + ", ".join(quoted(t) for t in texts) + "}" if texts else None


def scenarios_text(scenarios: list[Scenario]) -> str | None:
    """The scenarios as they are written, one in a line; None for none."""
    return "{" + ",\n      ".join(_scenario_text(s) for s in scenarios) + "}" if scenarios else None


def _scenario_text(s: Scenario) -> str:
    parts = [f"name={quoted(s.name)}", f"colour={s.colour}"]
    for name, pairs in (("changes", s.changes), ("settings", s.settings)):
        if pairs:
            parts.append(
                f"{name}={{{', '.join(f'{{{quoted(k)}, {quoted(v)}}}' for k, v in pairs.items())}}}"
            )
    if s.off:
        parts.append(f"off={{{', '.join(map(quoted, s.off))}}}")
    if s.note:
        parts.append(f"note={quoted(s.note)}")
    return f"Scenario({', '.join(parts)})"


def _vendor(definition: Definition) -> dict[str, Any]:
    return note.members(note.find(definition.node.annotation, VENDOR))


def _pairs(given: Any) -> dict[str, str]:
    rows = given if isinstance(given, list) else []
    return {
        r[0]: r[1]
        for r in rows
        if isinstance(r, list) and len(r) == 2 and all(isinstance(x, str) for x in r)
    }

"""How the parts of a model are coupled when it is run as a rig: ``__Movrel(rig=Rig(step=0.01, …))``."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from typing import Any, Literal, TypeAlias, get_args

from movrel.language.class_annotation import quoted
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition

#: Whether the units of a step are computed side by side, or each with what those before it gave.
Order: TypeAlias = Literal["parallel", "sequential"]
#: What inputs are during a step: as they were at its beginning; as they will be in its middle if they go on like
#: before; on a straight line, in units that take derivatives of inputs.
Inputs: TypeAlias = Literal["held", "extrapolated", "smoothed"]


@dataclass(frozen=True, slots=True)
class RigSettings:
    """``step`` in s; ``loops`` is how closely signals that depend on each other at one instant must agree, ``error`` what a
    variable step may be off, both relative; 0 for no iteration and for a fixed step; ``pace`` seconds of the
    rig for one of the clock, 0 for as fast as it goes; ``multiples`` of the step by unit."""

    step: float = 0.01
    order: Order = "parallel"
    inputs: Inputs = "held"
    loops: float = 1e-8
    error: float = 0.0
    pace: float = 0.0
    multiples: dict[str, int] = field(default_factory=dict)


def rig_settings(definition: Definition) -> RigSettings | None:
    """How a class is coupled; None for a model that is not a rig."""
    given = note.members(note.find(definition.node.annotation, VENDOR)).get("rig")
    return read_settings(given) if isinstance(given, dict) and given.get("is") == "Rig" else None


def read_settings(given: dict[str, Any]) -> RigSettings:
    """Settings from the values of an annotation; what does not fit is left at its default."""
    numbers = {
        name: float(given[name])
        for name in ("step", "loops", "error", "pace")
        if isinstance(given.get(name), float) and given[name] >= 0.0
    }
    if not numbers.get("step", 1.0) > 0.0:
        del numbers["step"]
    pairs = given.get("multiples")
    multiples = {
        str(pair[0]): int(pair[1])
        for pair in (pairs if isinstance(pairs, list) else [])
        if isinstance(pair, list) and len(pair) == 2 and str(pair[1]).isdecimal() and int(pair[1])
    }
    orders = {o: o for o in get_args(Order)}
    ways = {w: w for w in get_args(Inputs)}
    return RigSettings(
        **numbers,
        order=orders.get(given.get("order"), "parallel"),
        inputs=ways.get(given.get("inputs"), "held"),
        multiples=multiples,
    )


def rig_text(settings: RigSettings) -> str:
    """The settings as they are written; those at their defaults are left out, but for the step."""
    usual = RigSettings()
    parts = [f"step={settings.step:.15g}"]
    for f in fields(RigSettings):
        value = getattr(settings, f.name)
        if f.name in ("step", "multiples") or value == getattr(usual, f.name):
            continue
        parts.append(f"{f.name}={quoted(value) if isinstance(value, str) else f'{value:.15g}'}")
    if settings.multiples:
        pairs = ", ".join(
            f"{{{quoted(k)}, {quoted(str(v))}}}" for k, v in settings.multiples.items()
        )
        parts.append(f"multiples={{{pairs}}}")
    return f"Rig({', '.join(parts)})"

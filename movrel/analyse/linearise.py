"""Linear models of a model, exact from its graph: about an instant of a run, or about a state at rest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from movrel.analyse.balance import Rest, balanced
from movrel.analyse.linear_model import LinearModel
from movrel.analyse.operating_point import Point, at_instant, steady_state
from movrel.analyse.slopes import Slopes
from movrel.errors import RunFault, StructureFault
from movrel.session import LoadedModel
from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: A relation is at its edge when its sides differ by less than this share of them.
EDGE = 1e-9


def linearise(
    model: LoadedModel,
    inputs: Sequence[str],
    outputs: Sequence[str],
    at: float | None = None,
    steady: bool = False,
    set: Mapping[str, float | bool | str] | None = None,
    rest: Rest | None = None,
) -> LinearModel:
    """The linear model from inputs (of the model itself, or parameters) to variables.

    ``at`` is an instant of the model's run in s, its start without one; ``steady`` looks for a steady state instead, and
    ``rest`` for one with given values, from that instant on.
    Raises :class:`MovrelError` for names that there are not, and :class:`RunFault` where no linear model exists.
    """
    settings = dict(set or {})
    point = operating_point(model, settings, at, steady, rest)
    return linear_at(model, point, inputs, outputs, settings)


def operating_point(
    model: LoadedModel,
    settings: Mapping[str, float | bool | str],
    at: float | None = None,
    steady: bool = False,
    rest: Rest | None = None,
) -> Point:
    """The point about which a linear model is wanted. Raises as :func:`linearise` does."""
    if model.ordered.units:
        raise StructureFault(
            "a model with units of others cannot be linearised: their derivatives are not known.",
            hint="Linearise the part around them.",
        )
    if rest is not None and rest.asks:
        return balanced(model, settings, rest, at)
    return steady_state(model, settings) if steady else at_instant(model, at, settings)


def linear_at(
    model: LoadedModel,
    point: Point,
    inputs: Sequence[str],
    outputs: Sequence[str],
    settings: Mapping[str, float | bool | str],
) -> LinearModel:
    """The linear model about a point. Raises :class:`RunFault` where there is none."""
    machine, t, states = point.machine, point.time, point.states
    if machine.system.memory.delays:
        point.notes.append("delays stand still in the linear model.")
    _refuse_edges(machine, t, states)
    slopes = Slopes(model, machine, inputs, outputs, {**settings, **point.parameters(model)})
    slope = slopes.at(t, states)
    names = [v.name for v in machine.system.states]
    at_point = dict(zip(names, states.tolist(), strict=True))
    at_point |= dict(zip(outputs, slope.outputs.tolist(), strict=True))
    at_point |= dict(zip(inputs, slopes.values().tolist(), strict=True))
    at_point |= point.trimmed
    by_name = model.by_name
    units = {x: by_name[x].unit for x in at_point if x in by_name and by_name[x].unit}
    rates = dict(zip(names, slope.rates.tolist(), strict=True))
    return LinearModel(
        names, list(inputs), list(outputs), slope.a, slope.b, slope.c, slope.d, at_point, units, t, point.notes, rates
    )  # fmt: skip


def _refuse_edges(machine: Machine, t: float, states: Array) -> None:
    """Refuse an instant at which a relation is just about to change. Raises :class:`RunFault`."""
    machine.indicators(t, states)
    g, scale = machine.indicators.results[:2]
    edges = [
        slot.text
        for slot, value, size in zip(machine.system.slots, g, scale, strict=False)
        if size > 0 and abs(value) <= EDGE * size
    ]
    if edges:
        raise RunFault(
            f"there is no linear model at {t:g} s: '{edges[0]}' is just about to change.",
            hint="Take an instant a little before or after.",
        )

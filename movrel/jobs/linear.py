"""Linear models: what a worker does with an order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.analyse.balance import Rest, held_values
from movrel.analyse.large_steps import step_response
from movrel.analyse.linear_model import LinearModel, Margins
from movrel.analyse.linearise import linear_at, operating_point
from movrel.analyse.opened_loop import OpenedLoop
from movrel.analyse.operating_point import Point
from movrel.errors import MovrelError
from movrel.session import LoadedModel
from movrel.workspace.analyses import LinearAsked
from movrel.workspace.tables import Analysis

Array = npt.NDArray[np.float64]
Complex = npt.NDArray[np.complex128]

#: Pairs of an input and an output that are drawn.
PAIRS = 16
#: Frequencies of a response, decades beyond poles and zeros, and instants of a step response.
FREQUENCIES, DECADES, STEPS = 200, 1.0, 200
#: States up to which root loci are drawn, their gains, and decades of these about the gain of the loop.
LOCUS_STATES, GAINS, GAIN_DECADES = 60, 160, 2.0


def linear_result(order: Analysis, model: LoadedModel, values: dict[str, float]) -> dict[str, Any]:
    """The linear model that was ordered, with what is read off it."""
    asked = LinearAsked(**order.asked)
    steady = asked.at is None
    rest = Rest(held_values(model, asked.held), tuple(asked.free), tuple(asked.moving))
    loop = OpenedLoop(model, asked.opened) if asked.opened else None
    of = loop.loaded if loop else model
    point = operating_point(of, values, asked.at, steady, rest)
    if loop:
        linear = loop.opened(linear_at(of, point, [loop.disturbance], [loop.source], values))
    else:
        linear = linear_at(of, point, asked.inputs, asked.outputs, values)
    pairs = [(u, y) for u in linear.inputs for y in linear.outputs][:PAIRS]
    drawn = [_pair(linear, u, y) for u, y in pairs]
    if not loop:
        _add_large_steps(of, point, values, asked.amplitudes, drawn)
    name = "".join(c for c in order.model.rpartition(".")[2] if c.isalnum())
    return {
        "model": linear.as_json(),
        "modes": [
            {
                "real": m.pole.real, "imaginary": m.pole.imag, "frequency": m.frequency, "damping": m.damping,
                "time_constant": _finite(m.time_constant), "states": m.states,
            }
            for m in linear.modes()
        ],
        "stable": linear.stable(), "controllable": linear.controllable(), "observable": linear.observable(),
        "pairs": drawn, "component": linear.as_component(f"{name}Linear"), "trimmed": point.trimmed,
    }  # fmt: skip


def _pair(linear: LinearModel, u: str, y: str) -> dict[str, Any]:
    zeros = linear.zeros(u, y)
    w = linear.frequencies(u, y, DECADES, FREQUENCIES)
    h = linear.response(u, y, w)
    stop = 8.0 / (float(w.min()) * 10**DECADES)
    nothing = np.zeros(0)
    t, step = linear.step(u, y, stop, STEPS) if linear.states else (nothing, nothing)
    _, impulse = linear.impulse(u, y, stop, STEPS) if linear.states else (nothing, nothing)
    margins = linear.margins(u, y) if linear.states else None
    num, den = linear.transfer(u, y) if linear.states else (nothing, nothing)
    with np.errstate(divide="ignore"):
        size = 20 * np.log10(np.abs(h))
    return {
        "input": u, "output": y, "gain": _finite(linear.gain(u, y)), "zeros": [[z.real, z.imag] for z in zeros],
        "numerator": num.tolist(), "denominator": den.tolist(), "frequency": w.tolist(),
        "size": np.where(np.isfinite(size), size, -400.0).tolist(), "phase": np.degrees(np.unwrap(np.angle(h))).tolist(),
        "real": h.real.tolist(), "imaginary": h.imag.tolist(), "time": t.tolist(), "step": step.tolist(),
        "impulse": impulse.tolist(), "locus": _locus(linear, u, y, h, margins),
        "margins": None if margins is None else {k: _finite(v) for k, v in asdict(margins).items()},
    }  # fmt: skip


def _locus(
    linear: LinearModel, u: str, y: str, h: Complex, margins: Margins | None
) -> dict[str, Any] | None:
    """Poles of the loop that is closed by a gain and a minus, about the gains at which it does something."""
    sizes = np.abs(h)[np.abs(h) > 0]
    if margins is None or len(linear.states) > LOCUS_STATES or not len(sizes):
        return None
    reach = 10**GAIN_DECADES
    low, high = 1.0 / (reach * float(sizes.max())), reach / float(sizes.max())
    if margins.gain < np.inf:
        high = max(high, 3.0 * margins.gain)
    gains = np.concatenate([[0.0], np.geomspace(low, max(high, 1.0), GAINS)])
    poles = linear.root_locus(u, y, gains)
    good = np.isfinite(poles).all(axis=1)
    return {
        "gains": gains[good].tolist(), "real": poles[good].real.T.tolist(), "imaginary": poles[good].imag.T.tolist(),
    }  # fmt: skip


def _add_large_steps(
    model: LoadedModel,
    point: Point,
    values: Mapping[str, float],
    amplitudes: Mapping[str, float],
    pairs: list[dict[str, Any]],
) -> None:
    """What the model itself makes of steps that were asked for, and how far the linear model is off."""
    for name, amplitude in amplitudes.items():
        own = [p for p in pairs if p["input"] == name and p["time"]]
        longest = max((p["time"][-1] for p in own), default=0.0)
        if not own or not longest:
            continue
        instants = np.linspace(0.0, longest, STEPS)
        try:
            moved = step_response(
                model, point, values, name, amplitude, [p["output"] for p in own], instants
            )
        except MovrelError as fault:
            for p in own:
                p["large"] = {"amplitude": amplitude, "fault": fault.sentence()}
            continue
        for p in own:
            y = np.interp(p["time"], instants, moved.deviations[p["output"]])
            p["large"] = {
                "amplitude": amplitude, "values": y.tolist(), "drift": moved.drift[p["output"]], "fault": "",
            }  # fmt: skip


def _finite(value: float) -> float | None:
    return value if np.isfinite(value) else None

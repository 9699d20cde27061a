"""Settings of PI and PID controllers for a plant known by a step test.

Skogestad, Simple analytic rules for model reduction and PID controller tuning, J. Process Control 13 (2003) 291-309.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from movrel.analyse.step_models import StepModel

#: Where there is hardly any dead time the closed loop is made this share as fast as the plant's largest lag.
CLOSED = 0.1


@dataclass(frozen=True, slots=True)
class ControllerSettings:
    """``u = gain*(e + integral of e/integral_time + derivative_time*der(e))``, times in s; ``closed_time`` is the time
    constant that the closed loop is given. ``derivative_time`` is 0 for PI."""

    controller: str
    gain: float
    integral_time: float
    derivative_time: float
    closed_time: float


def settings_for(model: StepModel) -> ControllerSettings | str:
    """The settings for a plant, or the reason why the rule gives none."""
    if model.gain == 0:
        return "the output does not answer to the input."
    lags, dead = model.lags, model.dead_time
    if model.kind == "integrator":
        if model.intervals["dead_time"][0] <= 0:
            return "its dead time may be 0, and such an integrator bears any gain."
        gain = 1 / (model.gain * 2 * dead)
        return ControllerSettings("PI", gain, 8 * dead, 0.0, dead)
    if not lags:
        return "it oscillates by itself (a damping ratio below 1); the rule is for lags."
    closed = max(dead, CLOSED * lags[0])
    gain = lags[0] / (model.gain * (closed + dead))
    integral = min(lags[0], 4 * (closed + dead))
    if len(lags) == 1:
        return ControllerSettings("PI", gain, integral, 0.0, closed)
    # The rule is for a controller in series; this is the same one with its parts side by side.
    both = 1 + lags[1] / integral
    return ControllerSettings("PID", gain * both, integral * both, lags[1] / both, closed)


def described_model(model: StepModel) -> dict[str, Any]:
    """A model of a step test with its settings, as it is written; ``no_settings`` is the reason where there are none."""
    settings = settings_for(model)
    reason = settings if isinstance(settings, str) else ""
    return {
        "kind": model.kind, "gain": model.gain, "base": model.base, "input_base": model.input_base,
        "time_constant": model.time_constant, "damping": model.damping, "dead_time": model.dead_time,
        "lags": list(model.lags), "intervals": model.intervals, "figures": asdict(model.figures),
        "white": model.figures.white, "notes": model.notes,
        "settings": None if isinstance(settings, str) else asdict(settings), "no_settings": reason,
    }  # fmt: skip

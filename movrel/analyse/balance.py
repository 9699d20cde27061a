"""A state at rest with given values: states and some inputs are found together, by Newton's method."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from movrel.analyse.operating_point import NEWTON, STEADY, Point, at_instant
from movrel.analyse.slopes import Slope, Slopes
from movrel.errors import MovrelError, RunFault, did_you_mean
from movrel.model.expression import Variable
from movrel.session import LoadedModel
from movrel.units import read_quantity

Array = npt.NDArray[np.float64]

#: What a held value may be off by, as a share of its size.
MET = 1e-9


@dataclass(frozen=True, slots=True)
class Rest:
    """What is at rest: ``held`` are variables with the values that they are to have, ``free`` the inputs and parameters that
    may change for it, and ``moving`` states that may go on changing, such as the angle of a shaft that turns."""

    held: Mapping[str, float] = field(default_factory=dict)
    free: tuple[str, ...] = ()
    moving: tuple[str, ...] = ()

    @property
    def asks(self) -> bool:
        """Whether it asks for more than a steady state."""
        return bool(self.held or self.free or self.moving)


def held_values(model: LoadedModel, typed: Mapping[str, str]) -> dict[str, float]:
    """Values as they were typed, in declared units. Raises :class:`MovrelError` for what is no value of that variable."""
    held: dict[str, float] = {}
    for name, text in typed.items():
        variable = model.by_name.get(name)
        quantity = read_quantity(text, variable.unit if variable else "")
        if quantity is None:
            raise MovrelError(
                f"'{name}' is to be '{text}', which is no number.", hint="Give a number."
            )
        held[name] = float(quantity.value)
    return held


def balanced(
    model: LoadedModel,
    settings: Mapping[str, float | bool | str],
    rest: Rest,
    at: float | None = None,
) -> Point:
    """A state at rest, looked for from the run's instant ``at`` in s, its end without one.

    Raises :class:`MovrelError` for names that there are not, and :class:`RunFault` naming what stays off most.
    """
    if len(rest.free) > len(rest.held):
        raise MovrelError(
            f"{len(rest.free)} inputs are to be found for {len(rest.held)} given values.",
            hint="Give as many values as there are inputs to find.",
        )
    point = at_instant(model, model.flat.experiment.stop if at is None else at, settings)
    names = [v.name for v in point.machine.system.states]
    for name in rest.moving:
        if name not in names:
            raise MovrelError(
                f"the model has no state '{name}'.", hint=did_you_mean(name, names, "")
            )
    search = _Search(model, point, settings, rest, names)
    search.go()
    point.notes += [f"{name} may go on changing: nothing depends on it." for name in search.idle]
    point.trimmed.update(zip(rest.free, search.slopes.values().tolist(), strict=True))
    return point


class _Search:
    def __init__(
        self,
        model: LoadedModel,
        point: Point,
        settings: Mapping[str, float | bool | str],
        rest: Rest,
        names: list[str],
    ) -> None:
        self.point, self.rest, self.names = point, rest, names
        self.slopes = Slopes(model, point.machine, rest.free, list(rest.held), settings)
        experiment = model.flat.experiment
        self.span = (experiment.stop - experiment.start) or 1.0
        self.still = np.array([n not in rest.moving for n in names], dtype=bool)
        limits = [self._limits(model.by_name[name]) for name in rest.free]
        self.low, self.high = np.array(limits, dtype=float).reshape(-1, 2).T
        self.idle: list[str] = []
        self.wanted = np.array(list(rest.held.values()), dtype=float)
        self.usual = self.sizes = np.where(point.sizes > 0, point.sizes, 1.0)
        inputs = np.abs(self.slopes.values())
        self.input_sizes = np.where(inputs > 0, inputs, 1.0)

    def off(self, slope: Slope, states: Array) -> Array:
        """What is not at rest and not at its value, each as a share of its size and without dimension."""
        own = np.maximum(np.abs(states), self.usual)
        moved = np.where(self.still, slope.rates * self.span / own, 0.0)
        size = np.maximum(np.abs(self.wanted), np.abs(slope.outputs))
        missed = (slope.outputs - self.wanted) / np.where(size > 0, size, 1.0)
        return np.concatenate([moved / STEADY, missed / MET])

    @staticmethod
    def _limits(v: Variable) -> tuple[float, float]:
        """The least and largest value of an input, as far as they are numbers."""
        low, high = (
            float(e.value) if e is not None and e.op == "const" else unlimited
            for e, unlimited in ((v.minimum, -np.inf), (v.maximum, np.inf))
        )
        return low, high

    def _let_move(self, slope: Slope) -> None:
        """What nothing depends on may move on, such as a volume that was counted."""
        idle = self.still & ~slope.a.any(axis=0) & ~slope.c.any(axis=0)
        if idle.all():
            return
        self.still &= ~idle
        self.idle = [name for name, on in zip(self.names, idle, strict=True) if on]

    def go(self) -> None:
        """Newton's method; the point and the inputs are changed."""
        t, n = self.point.time, len(self.names)
        states, inputs = self.point.states.copy(), self.slopes.values()
        slope = self.slopes.at(t, states)
        self._let_move(slope)
        # A state that was small so far may have far to go.
        self.usual = np.maximum(self.sizes, np.abs(slope.rates) * self.span)
        off = self.off(slope, states)
        met = False
        for _ in range(NEWTON):
            if met:
                break
            met = bool(np.abs(off).max(initial=0.0) <= 1.0)  # one step more, which costs little
            change = self._newton(slope)
            share = 1.0
            while share > 1e-4:
                trial = states + share * change[:n], self._within(inputs, share * change[n:])
                self.slopes.move(trial[1])
                moved = self.slopes.at(t, trial[0])
                now = self.off(moved, trial[0])
                if np.isfinite(now).all() and np.linalg.norm(now) < np.linalg.norm(off):
                    (states, inputs), slope, off = trial, moved, now
                    break
                share *= 0.5
            else:
                break
        self.slopes.move(inputs)
        self.point.states[:] = states
        if np.abs(off).max(initial=0.0) > 1.0 or self.point.machine.contradicted(t, states):
            self._refuse(off)

    def _within(self, inputs: Array, change: Array) -> Array:
        """Changed inputs; one that would leave its limits goes half the way to them."""
        trial = inputs + change
        trial = np.where(trial < self.low, 0.5 * (inputs + np.minimum(self.low, inputs)), trial)
        return np.where(trial > self.high, 0.5 * (inputs + np.maximum(self.high, inputs)), trial)

    def _newton(self, slope: Slope) -> Array:
        """The step of states and inputs; states that move stay where they are."""
        rows = np.where(self.still, 1.0, 0.0)[:, None]
        matrix = np.vstack(
            [
                np.hstack([slope.a * rows, slope.b * rows])
                + np.hstack([np.diag(1.0 - rows[:, 0]), np.zeros_like(slope.b)]),
                np.hstack([slope.c, slope.d]),
            ]
        )
        right = np.concatenate([-slope.rates * rows[:, 0], self.wanted - slope.outputs])
        scale = np.concatenate([self.sizes, self.input_sizes])
        scaled = matrix * scale
        largest = np.abs(scaled).max(axis=1)
        largest[largest == 0] = 1.0
        step = np.linalg.lstsq(scaled / largest[:, None], right / largest, rcond=1e-12)[0]
        return np.asarray(scale * step)

    def _refuse(self, off: Array) -> None:
        worst = int(np.argmax(np.abs(off)))
        if worst < len(self.names):
            raise RunFault(
                f"no state at rest was found: '{self.names[worst]}' goes on changing.",
                hint="Let it move, find another input, or begin at another instant.",
            )
        name = list(self.rest.held)[worst - len(self.names)]
        raise RunFault(
            f"no state at rest was found in which '{name}' is {self.rest.held[name]:g}.",
            hint="Find an input that acts on it, or begin at another instant.",
        )

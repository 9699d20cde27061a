"""Operating points: an instant of a run, or a steady state to which runs lead."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt
import scipy

from movrel.errors import MovrelError, RunFault
from movrel.session import LoadedModel
from movrel.simulate.machine import Machine
from movrel.simulate.run import Run

Array = npt.NDArray[np.float64]

#: Residual of a steady state: what a state changes by in the time of a run, as a share of its size.
STEADY = 1e-7
#: Share of the terms of a rate that is rounding.
ROUNDED = 64 * np.finfo(float).eps
#: Share of the largest slope below which a direction changes nothing.
DRIFTING = 1e-10
#: Newton steps at most, runs of growing length, and by how much each is longer.
NEWTON, LONGER, FACTOR = 40, 4, 4.0


@dataclass(slots=True)
class Point:
    """A machine with the instant and states at which it stands; ``sizes`` are the largest that the states were."""

    machine: Machine
    time: float
    states: Array
    sizes: Array
    notes: list[str]
    #: Values of inputs and parameters that were found, in place of the model's own.
    trimmed: dict[str, float] = field(default_factory=dict)

    def parameters(self, model: LoadedModel) -> dict[str, float]:
        """Those of them that are parameters."""
        by_name = model.by_name
        return {n: v for n, v in self.trimmed.items() if by_name[n].variability == "parameter"}


def at_instant(
    model: LoadedModel, at: float | None, settings: Mapping[str, float | bool | str]
) -> Point:
    """The model as it is at an instant of its run. Raises whatever the run raises."""
    experiment = model.flat.experiment
    start = experiment.start
    span = (experiment.stop - start) or 1.0
    if at is not None and at < start:
        raise MovrelError(f"the run begins at {start:g} s, after {at:g} s.")
    stop = start + 1e-9 * span if at is None or at <= start else at
    run = model.prepare(settings, start=start, stop=stop, interval=stop - start)
    run.go()
    return end_of(run, start if at is None else at)


def end_of(run: Run, t: float) -> Point:
    end = run.ended_at()
    if end is None:
        raise RunFault("the run ended before that instant.")
    machine = run.machine
    states = np.array([end.values[v.name] for v in machine.system.states])
    largest = run.recording.largest
    sizes = np.maximum(largest, np.abs(states)) if len(largest) == len(states) else np.abs(states)
    return Point(machine, t, states, sizes, [])


def steady_state(model: LoadedModel, settings: Mapping[str, float | bool | str]) -> Point:
    """A state in which nothing changes but what moves on steadily, such as the angle of a shaft that turns: Newton's method
    from where runs of growing length end.

    Raises :class:`RunFault` naming the state that goes on changing most.
    """
    experiment = model.flat.experiment
    start = experiment.start
    span = (experiment.stop - start) or 1.0
    stop = start + span
    worst = ""
    for _ in range(LONGER):
        run = model.prepare(settings, start=start, stop=stop, interval=stop - start)
        run.go()
        point = end_of(run, stop)
        worst = _settled(point, span)
        if not worst:
            return point
        stop = start + FACTOR * (stop - start)
    raise RunFault(
        f"no steady state was found: after {(stop - start) / FACTOR:g} s '{worst}' still changes.",
        hint="Let it move, hold what drives it, or linearise at an instant.",
    )


def _settled(point: Point, span: float) -> str:
    """Newton's method for rates of zero, or for steady motion where something else is at rest; the state that changes most
    where it comes to neither, else nothing."""
    machine, t, n = point.machine, point.time, len(point.states)
    if not n:
        return ""
    states = point.states.copy()
    names = [v.name for v in machine.system.states]
    sizes = np.where(point.sizes > 0, point.sizes, 1.0)

    def rates(x: Array) -> Array:
        return np.array(machine.rates(t, x)[:n])

    def slopes(x: Array) -> Array:
        jacobian = machine.jacobian
        assert jacobian is not None
        return _dense(machine, jacobian(t, x), n)

    def off(f: Array, x: Array, slope: Array) -> Array:
        """What each state changes by in the time of a run, but for rounding, as a share of its size."""
        moved = np.maximum(np.abs(f) - ROUNDED * np.abs(slope) @ np.abs(x), 0.0) * span
        own = np.maximum(np.abs(x), point.sizes)
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(moved > 0, moved / own, 0.0)

    def still(f: Array, slope: Array) -> tuple[Array, Array]:
        """The rates without steady motion, and that: a direction in which nothing else depends on where the states are."""
        free = scipy.linalg.null_space(slope * sizes / sizes[:, None], rcond=DRIFTING)
        drift = sizes * (free @ (free.T @ (f / sizes)))
        return f - drift, drift

    f, slope = rates(states), slopes(states)
    rest, drift = still(f, slope)
    worst = names[int(np.argmax(off(rest, states, slope)))]
    for _ in range(NEWTON):
        if off(rest, states, slope).max() <= STEADY:
            break
        scaled = slope * sizes / sizes[:, None]
        change = sizes * np.linalg.lstsq(scaled, -rest / sizes, rcond=1e-12)[0]
        share = 1.0
        while share > 1e-4:
            trial = states + share * change
            moved = rates(trial)
            if np.isfinite(moved).all():
                steeper = slopes(trial)
                now, drifting = still(moved, steeper)
                if np.linalg.norm(now / sizes) < np.linalg.norm(rest / sizes):
                    states, slope, rest, drift = trial, steeper, now, drifting
                    break
            share *= 0.5
        else:
            break
    if off(rest, states, slope).max() > STEADY or machine.contradicted(t, states):
        return worst
    going = off(drift, states, slope) > STEADY
    if going.all():
        return names[int(np.argmax(off(drift, states, slope)))]
    if going.any():
        moving = [name for name, on in zip(names, going, strict=True) if on]
        more = f" and {len(moving) - 3} more" if len(moving) > 3 else ""
        verb = "go" if len(moving) > 1 else "goes"
        point.notes.append(f"{', '.join(moving[:3])}{more} {verb} on changing, at a steady rate.")
    point.states[:] = states
    return ""


def _dense(machine: Machine, entries: Array, n: int) -> Array:
    """The Jacobian of the rates as a matrix, from its entries column by column."""
    pattern = machine.system.jacobian.sparsity_out(0)
    matrix = np.zeros((n, n))
    rows, columns = pattern.row(), pattern.get_col()
    matrix[rows, columns] = np.asarray(entries).reshape(-1)[: len(rows)]
    return matrix

"""States between the steps of a method that has no interpolation of its own, and just before a crossing."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from movrel.simulate.dense import interpolate
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import Steps

Array = npt.NDArray[np.float64]


def between_steps(
    machine: Machine, steps: Steps, before: Callable[[], Array], error: Array | None
) -> Callable[[Array], Array]:
    """States at instants within steps, from the steps and the rates at them, shape ``(instants, states)``.

    ``before`` gives the last states on the near side of a crossing; ``error`` is what the states may be off, shape
    ``(states,)``, None for a method with fixed steps.
    """
    times, states = np.asarray(steps.times), np.asarray(steps.states)
    rates = np.array(steps.rates() if callable(steps.rates) else steps.rates)
    if not np.isfinite(rates[-1]).all():
        # The last step lies past a crossing, where the old branch may have no value.
        near = before()
        rates[-1] = machine.derivatives(times[-1], near)[: len(near)]
    noise = None
    if error is not None:
        noise = machine.noise_of_rates(times, states, steps.implicit, error)
    return lambda instants: interpolate(times, states, rates, instants, noise)


def side_before(machine: Machine, t: float, states: Array, earlier: Array) -> Array:
    """The states just before a crossing; ``earlier`` are those of the step before, of another length where there was none.

    A crossing is found a rounding error late; where the old branch has no value there, such as
    the root of a level that reached zero, the state is taken a hair earlier.
    """
    if len(earlier) != len(states):
        return states
    for back in (0.0, 1e-12, 1e-9, 1e-6, 1e-3):
        candidate: Array = states + back * (earlier - states)
        if np.isfinite(machine.values(t, candidate)[: machine.solved_count]).all():
            return candidate
    return states

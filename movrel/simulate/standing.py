"""Where a run stands: an instant up to which everything is stored, and the state from which another run can go on there."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from movrel.model.expression import Variable
from movrel.simulate.machine import Machine
from movrel.simulate.trajectory import FinalState

Array = npt.NDArray[np.float64]


def state_at(
    machine: Machine, order: Sequence[Variable], t: float, states: Array
) -> Callable[[], FinalState]:
    """The values of variables and the relations that hold at an instant; put together when they are asked for."""
    values, memory = machine.everything(t, states), machine.m.copy()

    def state() -> FinalState:
        names = {v.name: float(values[machine.position[v]]) for v in order}
        held = {s.text: float(memory[i]) for i, s in enumerate(machine.system.slots)}
        return FinalState(t, names, held)

    return state


class Standing:
    """The last instant up to which everything of a run is stored, as long as the run is not beyond it."""

    def __init__(self) -> None:
        self._at: tuple[float, Array] | None = None
        self._wanted = False  # by somebody who asked within a step

    def note(self, t: float, states: Array) -> None:
        """Everything up to here is stored."""
        self._at = t, states

    def wanted(self, t: float) -> bool:
        """Whether somebody wants to know where the run stands, and it can be said at this instant."""
        if self._at is not None and self._at[0] != t:
            self._at = None
        return self._wanted and self._at is not None

    def state(self, machine: Machine, order: Sequence[Variable]) -> FinalState | None:
        """The state there; None where another run cannot go on: within a step, at an event, for units and delays, which have
        a past, and on a surface along which the model slides. Asking changes nothing in what follows."""
        self._wanted = self._at is None
        system = machine.system
        if self._at is None or system.ordered.units or system.memory.delays:
            return None
        if system.origin is not None or system.takes_smallest:
            return None
        guesses, place = machine.guesses.copy(), machine.branch.place()
        # Exactly on a relation a method that begins there does not watch it at first.
        clear = machine.indicators(*self._at)[machine.rooted].all()
        state = state_at(machine, order, *self._at)() if clear else None
        machine.guesses[:] = guesses
        machine.branch.note(*place)
        return state

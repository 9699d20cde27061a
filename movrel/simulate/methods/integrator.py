"""What a run asks of a method of integration, and what it gets."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt

from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: Steps between two calls of ``block``.
BLOCK_STEPS = 200


class StepFailure(Exception):
    """The solver gave up at a time with a state, for a reason in plain words."""

    def __init__(self, reason: str, time: float, state: Array) -> None:
        super().__init__(reason)
        self.reason, self.time, self.state = reason, time, state


@dataclass(slots=True)
class Steps:
    """The solver's own steps, each with state, derivative and implicit unknowns, to interpolate between."""

    times: Any = field(default_factory=list)
    states: Any = field(default_factory=list)
    rates: Any = field(default_factory=list)  # or a function that works them out
    implicit: list[Array] = field(default_factory=list)
    #: States at instants within the steps, shape ``(instants, states)``, where the solver itself knows them.
    between: Callable[[Array], Array] | None = None

    def add(self, machine: Machine, t: float, state: Array, rate: Array) -> None:
        """Take note of a step that was accepted; its derivatives were evaluated last.

        Raises :class:`BranchEnded` where the solution of a loop came to an end within it.
        """
        if machine.nonlinear:
            machine.accept()
            self.implicit.append(machine.guesses.copy())
        self.times.append(t)
        self.states.append(state)
        self.rates.append(rate)

    def take_back(self) -> None:
        """Undo the last step."""
        for items in (self.times, self.states, self.rates, self.implicit):
            if items:
                del items[-1]

    def forget_all_but(self, count: int) -> None:
        for items in (self.times, self.states, self.rates, self.implicit):
            del items[:-count]

    def implicit_at(self, instants: Array) -> Array | None:
        """The implicit unknowns between steps, for a guess; shape ``(len(instants), unknowns)``."""
        if not self.implicit:
            return None
        known = np.array(self.implicit)
        return np.column_stack([np.interp(instants, self.times, column) for column in known.T])


class Integrator(Protocol):
    """Integrates one machine between events; a restart needs no new set-up."""

    @property
    def evaluations(self) -> int:
        """Evaluations of the right-hand side so far."""

    @property
    def jacobian_evaluations(self) -> int: ...

    @property
    def steps(self) -> int: ...

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool], quiet: bool = False
    ) -> tuple[float, Array, list[tuple[int, int]]]:  # fmt: skip
        """Integrate to ``until`` or to the first crossing.

        ``block(steps, new)`` is called now and then, and at the end, with the steps taken, the last ``new`` of
        which it has not seen; when it returns true, integration ends early. Returns the time and state reached (those
        before a step that ``block`` took back) and the numbers of the root functions that crossed zero, with their
        directions. After a ``quiet`` event nothing changed that the rates depend on: a method with a past may go on
        with it. Raises :class:`StepFailure`, and :class:`movrel.simulate.branch.BranchEnded` where loops have no solution
        beyond.
        """


def block_steps(machine: Machine) -> int:
    """Steps between two calls of ``block``: what is remembered for a delay is needed at once, and units are told
    of every step. Where a choice of states wears out, the block ends."""
    if machine.history is not None or machine.live:
        return 1
    return BLOCK_STEPS

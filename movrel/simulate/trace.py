"""What a run went through: its own steps between events, and the rounds of every event.

From it the slopes of the run by its parameters can be worked out afterwards.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from movrel.equations.system import System
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import Steps

Array = npt.NDArray[np.float64]

#: Instants that stand for one step whose method knows all states within.
WITHIN = 8
#: Numbers in the steps of a run that are kept.
MOST_NUMBERS = 4_000_000


@dataclass(slots=True)
class Stretch:
    """Steps between two events: instants ``(k,)``, states ``(k, states)``, the event memory that was held, and where the
    search for implicit unknowns began, with their sizes."""

    memory: Array
    guesses: Array
    times: Array
    states: Array


@dataclass(slots=True)
class Round:
    """One round of an event: memory and guesses when discrete variables and states were worked out anew, and the states
    then."""

    memory: Array
    guesses: Array
    states: Array


@dataclass(slots=True)
class Jump:
    """An event: how it began, which relations brought it, its rounds, and how it ended."""

    time: float
    slots: list[int]
    begin: Round
    rounds: list[Round] = field(default_factory=list)
    end: Round | None = None


class Trace:
    """The stretches and jumps of one run, in their order."""

    def __init__(self) -> None:
        self.pieces: list[Stretch | Jump] = []
        #: Systems that ran: more than one where the run went over to another form of the model, whose states are others.
        self.systems: list[System] = []
        #: Whether all of the run is here: it is forgotten once it is too long.
        self.whole = True
        self._numbers = 0

    def steps(self, machine: Machine, times: Array, states: Array, steps: Steps) -> None:
        """Further steps; the first is where the run stood."""
        self._note(machine.system)
        self._numbers += states.size
        if self._numbers > MOST_NUMBERS:
            self.whole = False
            self.pieces.clear()
            return
        if steps.between is not None:
            parts = [np.linspace(a, b, WITHIN + 1)[:-1] for a, b in itertools.pairwise(times)]
            inner = np.concatenate(parts)
            times = np.append(inner, times[-1])
            states = np.vstack([steps.between(inner), states[-1:]])
        last = self.pieces[-1] if self.pieces else None
        if isinstance(last, Stretch):
            later = times > last.times[-1]
            last.times = np.concatenate([last.times, times[later]])
            last.states = np.vstack([last.states, states[later]])
        else:
            # What the solver gives may be its own memory.
            self.pieces.append(
                Stretch(machine.m.copy(), machine.w.copy(), times.copy(), states.copy())
            )

    def begin(self, t: float, states: Array, machine: Machine, slots: list[int]) -> None:
        """An event begins."""
        self._note(machine.system)
        self.pieces.append(Jump(t, slots, _at(machine, states)))

    def round(self, machine: Machine, states: Array) -> None:
        """Discrete variables and states are worked out anew."""
        if self.pieces and isinstance(last := self.pieces[-1], Jump):
            last.rounds.append(_at(machine, states))

    def end(self, machine: Machine, states: Array) -> None:
        """The event is over."""
        if self.pieces and isinstance(last := self.pieces[-1], Jump):
            last.end = _at(machine, states)

    def _note(self, system: System) -> None:
        if system not in self.systems:
            self.systems.append(system)


def _at(machine: Machine, states: Array) -> Round:
    return Round(machine.m.copy(), machine.w.copy(), states.copy())

"""From a switch that turns over without end to motion along its surface, and back."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from movrel.equations.sliding import outcome
from movrel.equations.sorted_model import Switch
from movrel.equations.system import System
from movrel.model import expression as x
from movrel.simulate.buffered import Buffered
from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: Distance in tolerances at which a switch that jumps between events may be what holds a solver up.
NEAR = 1000.0


class Slides:
    """Finds the machine that goes on; ``other`` gives the one of a system with its states, from the one that runs."""

    def __init__(
        self, other: Callable[[System, float, Array], tuple[Machine, Array]], say: Callable[[str], None]
    ) -> None:  # fmt: skip
        self._other, self._say = other, say
        self._spoken: set[str] = set()

    def held(
        self, machine: Machine, slot: int, upper: bool, t: float, states: Array
    ) -> tuple[Machine, Array] | None:
        """Go over to the surface of a relation that chatters, if the model can stay there."""
        relation = machine.system.slots[slot]
        if relation.kind != "relation":
            return None
        return self._entered(machine, Switch(relation.expression, relation.text), upper, t, states)

    def unheld(
        self, machine: Machine, t: float, states: Array, tolerances: Array
    ) -> tuple[Machine, Array] | None:
        """Go over to the surface of something that jumps between events, the nearest on which the model can stay.

        Only surfaces are looked at that lie within a few of the states' ``tolerances``.
        """
        for switch in self.near(machine, t, states, tolerances):
            entered = self._entered(machine, switch, True, t, states)
            if entered is not None:
                return entered
        return None

    def near(self, machine: Machine, t: float, states: Array, tolerances: Array) -> list[Switch]:
        """What jumps between events within a few of the states' ``tolerances``, the nearest first."""
        switches = machine.system.switches
        if not switches:
            return []
        here, moves = self._reach(machine, t, states, tolerances)
        reach = np.abs(moves).sum(axis=0)
        with np.errstate(over="ignore"):  # what does not move is as far away as can be
            distances = np.abs(here) / np.maximum(reach, np.finfo(float).tiny)
        return [switches[k] for k in np.argsort(distances) if distances[k] <= NEAR]

    @staticmethod
    def _reach(machine: Machine, t: float, states: Array, tolerances: Array) -> tuple[Array, Array]:
        """The surfaces of what jumps between events, and by how much the tolerance of each state moves them; shapes
        ``(surfaces,)`` and ``(states, surfaces)``."""
        count = len(machine.system.switches)
        surfaces = Buffered(machine.system.surfaces, machine.p, machine.m, machine.w)
        here = surfaces(t, states)[:count].copy()
        moves = np.zeros((len(states), count))
        for i, tolerance in enumerate(tolerances):
            moved = states.copy()
            moved[i] += tolerance
            moves[i] = surfaces(t, moved)[:count] - here
        return here, moves

    def _entered(
        self, machine: Machine, switch: Switch, upper: bool, t: float, states: Array
    ) -> tuple[Machine, Array] | None:
        system = machine.system.sliding(switch, upper)
        if system is None:
            return None
        other, there = self._other(system, t, states)
        values = other.everything(t, there)
        share = values[other.position[system.ordered.slides[-1].share]]
        if not (0 < share < 1 and np.isfinite(values).all()):
            return None
        if switch.text not in self._spoken:
            self._spoken.add(switch.text)
            self._say(
                f"from {t:g} s on, '{switch.text}' would switch without end, as both sides lead back to it: "
                f"the run moves along {x.show(switch.surface)} = 0 instead, as long as they do."
            )
        return other, there

    def left(
        self, machine: Machine, t: float, states: Array, tolerances: Callable[[Machine, Array], Array]
    ) -> tuple[Machine, Array, dict[int, float]] | None:  # fmt: skip
        """Leave the surfaces where one no longer holds: the machine that goes on, its states, and what its relations hold."""
        slides = machine.system.ordered.slides
        if not slides:
            return None
        values = machine.everything(t, states)
        if not any(values[machine.position[s.end]] > 0.5 for s in slides):
            return None
        sides = [(s.switch, bool(values[machine.position[s.share]] > 0.5)) for s in slides]
        origin = machine.system
        while origin.origin is not None:
            origin = origin.origin
        other, there = self._other(origin, t, states)
        outcomes: dict[int, float] = {}
        for number, slot in enumerate(origin.slots):
            for switch, upper in sides:
                above = outcome(switch, slot.expression, upper) if slot.kind == "relation" else None
                if above is not None:
                    outcomes[number] = float(above)
        other.m[list(outcomes)] = list(outcomes.values())
        return other, self._beside(other, sides, t, there, tolerances(other, there)), outcomes

    def _beside(
        self, machine: Machine, sides: list[tuple[Switch, bool]], t: float, states: Array, tolerances: Array
    ) -> Array:  # fmt: skip
        """The states off the surfaces of what jumps between events, by a tolerance: on them neither side counts."""
        for k, known in enumerate(machine.system.switches):
            for switch, upper in sides:
                above = outcome(switch, known.surface, upper)
                if above is None:
                    continue
                moves = self._reach(machine, t, states, tolerances)[1][:, k]
                i = int(np.argmax(np.abs(moves)))
                states = states.copy()
                states[i] += tolerances[i] * (1.0 if above == (moves[i] > 0) else -1.0)
        return states

"""The master of a rig: initialization, communication steps, what is exchanged between them, and what is recorded.

Fixed steps, side by side (Jacobi) or one after the other (Gauss and Seidel), with inputs held or extrapolated: Kübler
and Schiehlen, Two methods of simulator coupling, Mathematical and Computer Modelling of Dynamical Systems 6 (2000).
Variable steps by comparing one step with two of half its size: Schierz, Arnold and Clauß, Co-simulation with
communication step size control in an FMI compatible master algorithm, Modelica Conference 2012.
"""

from __future__ import annotations

import math
import time as clock
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import scipy

from movrel.couple.members import Member
from movrel.couple.network import Network
from movrel.couple.partition import Partition
from movrel.couple.power import PowerMeter
from movrel.errors import RunFault
from movrel.model.expression import Variable
from movrel.project.rig_settings import RigSettings
from movrel.simulate.instants import rounding
from movrel.simulate.trajectory import Event, Statistics

Array = npt.NDArray[np.float64]

#: Rounds in which signals that depend on each other at one instant are exchanged before they are solved together.
ROUNDS = 30
#: How closely they must agree at the start, as a share of the largest that each signal was.
AGREEMENT = 1e-10
#: Bounds of the change of a variable step, its safety, and the smallest step as a share of the rig's own.
SHRINK, GROW, SAFETY, SMALLEST = 0.2, 2.0, 0.9, 1e-6


@dataclass(slots=True)
class Control:
    """What somebody may want of a run while it goes on.

    ``poll`` is called between steps with the time reached; it may block, and raises
    :class:`movrel.errors.RunCancelled` to end the run.
    """

    poll: Callable[[float], None] = lambda t: None


class Master:
    """One run of loaded units from ``start`` to ``stop``; ``store`` gets each instant that is kept, ``given`` holds the
    values of the rig's own inputs."""

    def __init__(
        self,
        rig: Partition,
        members: Sequence[Member],
        settings: RigSettings,
        start: float,
        stop: float,
        tolerance: float,
        store: Callable[[float], None],
        control: Control,
        given: Mapping[Variable, float] | None = None,
    ) -> None:
        self.rig, self.settings = rig, settings
        self.members = list(members)
        self.network = Network(rig, members, given)
        self.start, self.stop, self.tolerance = start, stop, tolerance
        self.store, self.control = store, control
        self.time = start
        self.statistics = Statistics()
        self.events: list[Event] = []
        self.notes: list[str] = []
        #: The units that ended the run.
        self.ended = ""
        #: How far the run was behind the clock at most, in s.
        self.behind = 0.0
        self.power = PowerMeter(rig, self.network)
        self._slopes = np.zeros(len(self.network.outputs))
        self._before: tuple[float, Array] | None = None
        self._multiples = [settings.multiples.get(m.name, 1) for m in self.members]
        self.network.kept_rows = {
            k: members[k].row() for k, many in enumerate(self._multiples) if many > 1
        }
        self._needs_slopes = settings.inputs != "held" or settings.error > 0
        self._all_go_back = (
            all(m.restores for m in members) and max(self._multiples, default=1) == 1
        )
        #: How far each unit is.
        self._reached = [start] * len(self.members)
        self._largest = np.zeros(len(self.network.outputs))

    # --- the start ---

    def initialise(self) -> None:
        """The units' initialization, repeated until all signals agree. Raises :class:`RunFault`."""
        for k, m in enumerate(self.members):
            m.enter(self.start, self.stop, self.tolerance)
            self.network.collect(k)
        everything = list(range(len(self.members)))
        for group in self.network.order:
            self._settle(group, AGREEMENT, "the start")
        self._settle(everything, AGREEMENT, "the start", again=True)
        for k, m in enumerate(self.members):
            m.leave()
            self.network.collect(k)
        self._propagate()
        for loop in self.network.loops:
            names = " → ".join(self.members[k].name for k in [*loop, loop[0]])
            how = (
                "solved"
                if self.settings.loops > 0
                else "not solved: each has what it was given last"
            )
            self.notes.append(f"signals depend on each other at the same instant: {names}; {how}.")

    def _exchange(self, group: Sequence[int]) -> None:
        for k in group:
            if self._reached[k] > self.time + rounding(self.time, self.settings.step):
                continue  # it takes several steps at once and is ahead; what it gives is seen when they are over
            self.members[k].give(self.network.inputs_of(k))
            self.members[k].look()
            self.network.collect(k)

    def _settle(
        self, group: Sequence[int], agreement: float, when: str, again: bool = False
    ) -> None:
        """Exchange signals within a group until they agree; where that does not come to rest, solve for them."""
        network = self.network
        spans = [network.spans[k] for k in group]
        at = np.array([i for span in spans for i in range(span.start, span.stop)], int)
        if len(group) == 1 and list(group) not in network.loops:
            self._exchange(group)
            return
        largest = np.abs(network.outputs[at])
        for _ in range(ROUNDS):
            before = network.outputs[at].copy()
            self._exchange(group)
            now = network.outputs[at]
            if not np.isfinite(now).all():
                break
            largest = np.fmax(largest, np.abs(now))
            if (np.abs(now - before) <= agreement * largest).all():
                return
        if again:
            return  # what feeds through was settled before, group by group
        scale = np.where(largest > 0, largest, 1.0)

        def off(guess: Array) -> Array:
            network.outputs[at] = guess * scale
            self._exchange(group)
            return (network.outputs[at] - guess * scale) / scale

        begin = np.where(np.isfinite(network.outputs[at]), network.outputs[at], 0.0) / scale
        solution = scipy.optimize.root(off, begin, method="hybr", options={"xtol": agreement})
        residual = off(solution.x)
        if not np.isfinite(residual).all() or np.abs(residual).max() > math.sqrt(agreement):
            names = ", ".join(self.members[k].name for k in group)
            raise RunFault(
                f"signals between {names} depend on each other at {when} and do not settle.",
                hint="Put something with storage, or a delay, between them.",
            )

    def _propagate(self) -> None:
        """Work out what feeds through units at the present instant, loops included."""
        for group, loops in self.network.at_points:
            if loops and self.settings.loops > 0:
                self._settle(group, self.settings.loops, f"{self.time:g} s")
            else:
                self._exchange(group)

    # --- the run ---

    def run(self) -> None:
        """All communication steps. Raises :class:`RunFault`, and what ``control`` raises."""
        self.store(self.start)
        began = clock.perf_counter()
        variable = self._variable_step()
        width, count = self.settings.step, 0
        while self.time < self.stop and not self.ended:
            self.control.poll(self.time)
            t = self.time
            if variable:
                width = self._controlled(t, width)
            else:
                count += 1
                target = self._clipped(self.start + count * self.settings.step)
                self._step(t, target, count)
            self.statistics.steps += 1
            self._propagate()
            self._note_slopes()
            self.store(self.time)
            self._keep_pace(began)

    def _clipped(self, target: float) -> float:
        near = 1e-9 * self.settings.step
        return self.stop if target >= self.stop - near else target

    def _variable_step(self) -> bool:
        if self.settings.error <= 0:
            return False
        fixed = [m.name for m in self.members if not m.restores]
        if fixed:
            self.notes.append(
                f"the step stays fixed: {', '.join(fixed)} cannot go back to an earlier state."
            )
            return False
        if any(n > 1 for n in self._multiples):
            self.notes.append("the step stays fixed, as units take multiples of it.")
            return False
        return True

    def _step(self, t: float, target: float, count: int) -> None:
        """All units from one communication point to the next; each event on the way is a point of its own where all can
        go back."""
        while (event := self._to_event(t, target, count)) is not None:
            t = event

    def _to_event(self, t: float, target: float, count: int) -> float | None:
        """All units to ``target``, or to the first event before it, whose instant is returned."""
        network = self.network
        due = [k for k in range(len(self.members)) if self._begins(k, count)]
        may_return = self._all_go_back and any(m.may_return for m in self.members)
        begun = network.outputs.copy()
        if may_return:
            for m in self.members:
                m.save(0)
        reached = self._advance(t, target, due, count)
        early = min(reached.values(), default=target)
        if may_return and t < early < target - rounding(target, abs(t)) and not self.ended:
            self._back(0, begun, t)
            self._advance(t, early, due, count)
            self._note_power(begun, early - t)
            self.time = early
            names = ", ".join(self.members[k].name for k, r in reached.items() if r <= early)
            self.events.append(Event(early, f"event of {names}"))
            self.statistics.time_events += 1
            self._propagate()
            self._before = None
            self._slopes[:] = 0.0
            self.store(early)
            return early
        self._note_power(begun, target - t)
        self.time = target
        return None

    def _note_power(self, begun: Array, width: float) -> None:
        if self.power.pairs:
            self.power.note(begun, [m.inputs_now() for m in self.members], width)

    def _begins(self, k: int, count: int) -> bool:
        """Whether a unit computes in this step; one that takes several at once does so with the first of them."""
        return self._multiples[k] == 1 or (count - 1) % self._multiples[k] == 0

    def _advance(self, t: float, target: float, due: list[int], count: int) -> dict[int, float]:
        """The step of each unit that is due; gives how far each came. What it gives is seen when its step is over."""
        order = [k for group in self.network.order for k in group if k in due]
        in_turn = self.settings.order == "sequential"
        reached = (self._in_turn if in_turn else self._side_by_side)(t, target, order)
        for k, end in reached.items():
            self._reached[k] = end
        for k, many in enumerate(self._multiples):
            # A unit that takes several steps at once is seen when the last of them is over.
            if many == 1 or count % many == 0 or target >= self.stop:
                self.network.collect(k)
        return reached

    def _side_by_side(self, t: float, target: float, order: list[int]) -> dict[int, float]:
        """Every unit has what all gave at the beginning of the step, or what that will be in its middle."""
        smoothed = self.settings.inputs == "smoothed"
        ahead = None if self.settings.inputs == "held" else 0.5 * (target - t) * self._slopes
        given = self.network.all_inputs(ahead)
        for k in order:
            m = self.members[k]
            m.give(self.network.inputs_of(k) if smoothed and m.takes_slopes else given[k])
        return {k: self._unit_step(k, t, self._end_of(k, t, target)) for k in order}

    def _in_turn(self, t: float, target: float, order: list[int]) -> dict[int, float]:
        """Every unit has what those before it gave at the end of the step; units without states follow at once."""
        network, held = self.network, self.settings.inputs == "held"
        begun = network.outputs.copy()
        #: The outputs that a unit sees: of those that are done the newest, or the mean over the step.
        seen = begun if held else begun + 0.5 * (target - t) * self._slopes
        reached: dict[int, float] = {}
        followers = [k for k in order if not self.members[k].stateful]
        for k in order:
            if k in followers:
                continue
            network.outputs[:] = seen
            self._exchange([f for f in followers if self.members[f].inputs])
            self.members[k].give(network.inputs_of(k))
            reached[k] = self._unit_step(k, t, self._end_of(k, t, target))
            if self._multiples[k] == 1:
                span = network.spans[k]
                now = self.members[k].outputs_now()
                seen[span] = now if held else 0.5 * (begun[span] + now)
        network.outputs[:] = begun
        for k in [*reached, *followers]:
            if k in followers:
                self.members[k].give(network.inputs_of(k))
                reached[k] = self._unit_step(k, t, self._end_of(k, t, target))
            if self._multiples[k] == 1:
                network.collect(k)
        return reached

    def _end_of(self, k: int, t: float, target: float) -> float:
        many = self._multiples[k]
        return target if many == 1 else self._clipped(t + many * self.settings.step)

    def _unit_step(self, k: int, t: float, target: float) -> float:
        """One unit to ``target``, or to an event that it returned at when everybody can go back to that."""
        m, at = self.members[k], t
        smoothed = self.settings.inputs == "smoothed"
        slopes = self.network.slopes_of(k, self._slopes) if smoothed else None
        near = target - rounding(target, abs(t))
        while at < near:
            end, ended = m.step(at, target - at, slopes)
            if ended:
                self.ended = self.ended or f"the unit '{m.name}' ended the run at {end:g} s."
                return end
            if not end > at:
                raise RunFault(
                    f"the unit '{m.name}' did not advance from {at:g} s.",
                    hint="It refused the step; try another communication step.",
                    component=m.name,
                )
            if end < near:
                if m.may_return and self._all_go_back:
                    return end
                self.events.append(Event(end, f"event of {m.name}"))
                self.statistics.time_events += 1
                m.may_return = True
            at = end
        return target

    def _note_slopes(self) -> None:
        if not self._needs_slopes:
            return
        now = self.network.outputs
        if self._before is not None and self.time > self._before[0]:
            self._slopes = (now - self._before[1]) / (self.time - self._before[0])
        self._before = self.time, now.copy()
        np.fmax(self._largest, np.abs(now), out=self._largest)

    # --- a step with an error estimate ---

    def _controlled(self, t: float, width: float) -> float:
        """One step whose error stays within bounds; gives the width to try next."""
        network = self.network
        order = 2.0 if self.settings.inputs != "held" else 1.0
        while True:
            width = min(width, self.stop - t)
            target = self._clipped(t + width)
            begun, slopes, before = network.outputs.copy(), self._slopes.copy(), self._before
            energies = self.power.totals.copy()
            for m in self.members:
                m.save(1)
            self._whole(t, target)
            coarse = network.outputs.copy()
            self._back(1, begun, t)
            self.power.totals[:] = energies
            middle = 0.5 * (t + target)
            self._whole(t, middle)
            self.time = middle
            self._note_slopes()
            self._whole(middle, target)
            fine = network.outputs.copy()
            # Signals near zero are judged by the largest that they were.
            sizes = np.fmax(np.fmax(self._largest, np.abs(fine)), np.finfo(float).tiny)
            error = np.abs(fine - coarse) / (2.0**order - 1.0)
            share = float((error / sizes).max(initial=0.0)) / self.settings.error
            factor = SAFETY * (1.0 / max(share, 1e-10)) ** (1.0 / (order + 1.0))
            following = width * min(max(factor, SHRINK), GROW)
            if share <= 1.0 or width <= SMALLEST * self.settings.step:
                self.time = target
                return following
            self._back(1, begun, t)
            self._slopes, self._before = slopes, before
            self.power.totals[:] = energies
            self.statistics.rejected_steps += 1
            width = following

    def _whole(self, t: float, target: float) -> None:
        begun = self.network.outputs.copy()
        self._advance(t, target, list(range(len(self.members))), 1)
        self._note_power(begun, target - t)
        self.time = target
        self._propagate()

    def _back(self, slot: int, outputs: Array, t: float) -> None:
        """Everybody as at ``t``, when states were kept under that number."""
        self.time = t
        for k, m in enumerate(self.members):
            m.restore(slot)
            self._reached[k] = t
            self.network.collect(k)
        self.network.outputs[:] = outputs

    # --- the clock on the wall ---

    def _keep_pace(self, began: float) -> None:
        if self.settings.pace <= 0:
            return
        due = began + (self.time - self.start) / self.settings.pace
        wait = due - clock.perf_counter()
        if wait > 0:
            clock.sleep(wait)
        else:
            self.behind = max(self.behind, -wait)

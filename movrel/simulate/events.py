"""Event iteration and events whose time is known in advance (specification appendix B)."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from movrel.errors import RunFault, StructureFault
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import Reinit
from movrel.simulate.columns import Columns
from movrel.simulate.discrete_values import DiscreteValues
from movrel.simulate.instants import rounding
from movrel.simulate.machine import ROUNDED_OFF, SMALLEST, Machine
from movrel.simulate.relation_iteration import (
    ITERATION_LIMIT,
    SMALL_CONTRADICTION,
    RelationIteration,
)
from movrel.simulate.time_table import TimeTable
from movrel.simulate.trace import Trace

Array = npt.NDArray[np.float64]

#: Rounds in which a relation takes the side to which it crossed, whatever follows.
INSISTING = 20
#: Relations that are settled one by one.
FEW_SLOTS = 8


@dataclass(slots=True)
class Outcome:
    """What an event changed: the states after it, why it happened, whether the run ends."""

    states: Array
    causes: list[str] = field(default_factory=list)
    ended: str | None = None


class EventHandler:
    """Handles the events of one machine; ``say`` turns a message expression into text at an instant."""

    def __init__(
        self, machine: Machine, parameters: dict[Variable, Scalar], span: float, say: Callable[[x.Expr, float, Array], str],
        warn: Callable[[str], None],
    ) -> None:  # fmt: skip
        system = machine.system
        memory = system.memory
        self.machine = machine
        self.span = span
        self._say, self._warn = say, warn
        self.floor = np.array([s.kind == "floor" for s in system.slots], dtype=bool)
        self.inclusive = np.array([s.inclusive for s in system.slots], dtype=bool)
        self.count = len(system.slots)
        self._rounding = self._no_rounding = np.full(self.count, SMALLEST)
        #: How large what each slot compares was in the rounds of an event so far.
        self._largest = np.zeros(self.count)
        self._relation, self._floors = ~self.floor, self.floor.nonzero()[0]
        self._is_floor, self._is_inclusive = self.floor.tolist(), self.inclusive.tolist()
        self.pre = slice(memory.pre_at, memory.sample_at)
        self.samples = slice(memory.sample_at, memory.delay_at)
        self._discrete = DiscreteValues(machine)
        self.pre_from = self._discrete.places
        self.has_continuous_pre = any(v.variability == "continuous" for v in system.ordered.pre.of)
        self.timed = np.nonzero(system.straight)[0]
        self._curved = np.nonzero(system.curved)[0].tolist()
        self._table: TimeTable | None = None
        #: Until when changes that time alone brings are looked for.
        self.stop = math.inf
        self._no_state = np.zeros(machine.state_count)
        self._timed_floor = self.floor[self.timed]
        self._coming: list[tuple[float, int, float]] = []
        self.reinit_at = np.array(
            [machine.position[r.state.variable] for r in self._reinits()], dtype=int
        )
        self.has_actions = system.actions.size1_out(0) > 0
        self._sampling = [
            (float(x.evaluate(e.args[0], parameters)), float(x.evaluate(e.args[1], parameters)))
            for e in memory.samples
        ]
        self._sample_texts = [x.show(e) for e in memory.samples]
        for e, (_, interval) in zip(memory.samples, self._sampling, strict=True):
            if not interval > 0:
                raise StructureFault(
                    f"the interval of '{x.show(e)}' is {interval:g} s.",
                    hint="Give a positive interval.",
                )
        self.next_sample = [0] * len(self._sampling)
        #: Instants at which something that jumped in the past comes out of a delay.
        self.echoes: list[float] = []

    def _reinits(self) -> list[Reinit]:
        system = self.machine.system
        states = set(system.states)
        for r in system.ordered.reinits:
            if r.state.op != "var" or r.state.value not in states:
                raise StructureFault(
                    f"reinit sets '{x.show(r.state)}', which is not a state of the sorted system.", r.where,
                    "Reinit a variable whose derivative is solved for, or give it stateSelect=StateSelect.always.",
                )  # fmt: skip
        return system.ordered.reinits

    # --- times known in advance ---

    def rounding(self, t: float) -> float:
        """Times closer than this are the same instant."""
        return rounding(t, self.span)

    def begin_sampling(self, t: float) -> None:
        """Set every sampling to its first instant not before ``t``."""
        for i, (first, interval) in enumerate(self._sampling):
            self.next_sample[i] = max(0, math.ceil((t - first - self.rounding(t)) / interval))

    def _sample_time(self, i: int) -> float:
        first, interval = self._sampling[i]
        return first + self.next_sample[i] * interval

    def _timed(self, t: float) -> list[tuple[float, int, float]]:
        """(instant, slot, value it takes) of each slot that time alone will change."""
        instants: list[tuple[float, int, float]] = []
        if not len(self.timed):
            return instants
        lines = self.machine.timed_lines(t, self._no_state)
        g, rate = lines[: len(self.timed)], lines[len(self.timed) :]
        held = self.machine.m[self.timed]
        moving = (rate != 0) & np.isfinite(g) & np.isfinite(rate)
        comes = moving & (self._timed_floor | ((held != 0) != (rate > 0)))
        for i, gi, ri, mi in zip(
            self.timed[comes].tolist(),
            g[comes].tolist(),
            rate[comes].tolist(),
            held[comes].tolist(),
            strict=True,
        ):
            if self._is_floor[i]:
                distance = (1.0 - gi) / ri if ri > 0 else -gi / ri
                instants.append((t + max(distance, 0.0), i, mi + (1 if ri > 0 else -1)))
            else:
                instants.append((t + max(-gi / ri, 0.0), i, float(ri > 0)))
        return instants

    def _foreseen(self, t: float) -> list[tuple[float, int, float]]:
        """The same of relations on time that are no straight lines, from a table that is made once."""
        if not self._curved:
            return []
        if self._table is None:
            machine = self.machine
            columns: Columns = machine.system.once(
                "curved columns", lambda: Columns(machine.system.curved_lines)
            )

            def g(times: Array) -> Array:
                n = len(times)
                states, memory = np.zeros((machine.state_count, n)), np.zeros((len(machine.m), n))
                return columns(times, states, machine.p, memory, machine.w)

            self._table = TimeTable(g, t, self.stop, self.inclusive[self._curved])
        behind = self._table.sides(t + self.rounding(t))
        held = [self.machine.m[slot] for slot in self._curved]
        # What was zero at the start, or changed with the event that is over.
        now = [
            (t, slot, float(side))
            for slot, side, h in zip(self._curved, behind, held, strict=True)
            if h != float(side)
        ]
        return now + [
            (instant, self._curved[k], float(above))
            for instant, k, above in self._table.after(t + self.rounding(t), self.rounding(t))
            if self.machine.m[self._curved[k]] != float(above)
        ]

    def next_time(self, t: float) -> float:
        """The next instant known in advance, infinite if there is none."""
        self._coming = self._timed(t) + self._foreseen(t)
        instants = [instant for instant, _, _ in self._coming]
        instants += [self._sample_time(i) for i in range(len(self._sampling))]
        if self.machine.units is not None and self.machine.units.next_time > t:
            instants.append(self.machine.units.next_time)
        instants += [echo for echo in self.echoes if echo > t + self.rounding(t)]
        if not instants:
            return math.inf
        # Events that differ by rounding are one; the latest of them has them all behind it.
        first = min(instants)
        return max(instant for instant in instants if instant <= first + self.rounding(first))

    def due(self, t: float) -> tuple[dict[int, float], list[int]]:
        """Slots that time changes now, and samplings that are due; the latter are counted on."""
        limit = t + self.rounding(t)
        sampled = [i for i in range(len(self._sampling)) if self._sample_time(i) <= limit]
        for i in sampled:
            self.next_sample[i] += 1
        # What was foreseen still holds: nothing that it depends on changes before the next event.
        return {i: value for instant, i, value in self._coming if instant <= limit}, sampled

    def echo_due(self, t: float) -> bool:
        """Whether a jump comes out of a delay now, or a unit knew that it has an event now."""
        if not self.echoes and not self.machine.live:
            return False
        limit = t + self.rounding(t)
        due = any(echo <= limit for echo in self.echoes)
        due |= self.machine.units is not None and self.machine.units.next_time <= limit
        self.echoes = [echo for echo in self.echoes if echo > limit]
        return due

    # --- iteration ---

    def settle(
        self,
        t: float,
        states: Array,
        forced: dict[int, float],
        sampled: list[int],
        terminal: bool = False,
        trace: Trace | None = None,
    ) -> Outcome:
        """Iterate until relations and discrete variables agree with what follows from them.

        ``forced`` slots take the side to which they just crossed, as their g is zero but for rounding.
        Raises :class:`RunFault` when that never ends or an assertion does not hold.
        """
        machine = self.machine
        m = machine.m
        before = m.copy()
        outcome = Outcome(states)
        machine.begin_segment(t, states)
        if self.has_continuous_pre:
            self._remember(t, states)
        if machine.live and machine.units is not None:
            machine.units.begin_event(t, states, t + self.rounding(t))
        first = machine.indicators(t, states)[: self.count].copy()
        for i, value in forced.items():
            m[i] = value
        for i in sampled:
            m[self.samples.start + i] = 1.0
        m[machine.system.memory.terminal_at] = float(terminal)
        if machine.units is not None:
            machine.units.step(t, sampled)
        self._iterate(t, outcome, forced, first, trace)
        outcome.causes = self._causes(before, sampled, forced)
        if sampled or terminal:
            m[self.samples] = 0.0
            m[machine.system.memory.terminal_at] = 0.0
            self._iterate(t, outcome, {}, first, trace)
        machine.update_guesses(t, outcome.states)
        if machine.units is not None:
            machine.units.hold(t, outcome.states, sampled)
            outcome.ended = outcome.ended or machine.units.ended
        self.echoes += machine.end_event(t, outcome.states)
        if trace is not None:
            trace.end(machine, outcome.states)
        return outcome

    def _remember(self, t: float, states: Array) -> None:
        self.machine.m[self.pre] = self.machine.everything(t, states)[self.pre_from]

    def _iterate(
        self,
        t: float,
        outcome: Outcome,
        forced: dict[int, float],
        first: Array,
        trace: Trace | None,
    ) -> None:
        machine = self.machine
        slack = 1e-9
        settled = False
        self._largest = np.zeros(self.count)
        for number in range(ITERATION_LIMIT):
            if number == INSISTING:
                # What crossed leads back to itself: at zero, either side may be taken.
                forced, slack = {}, math.inf
            self._settle_relations(t, outcome.states, forced, first, slack)
            if number < INSISTING:
                g = machine.indicators.result[: self.count]
                self._largest = np.fmax(self._largest, np.where(np.isfinite(g), np.abs(g), 0.0))
            if machine.live and machine.units is not None:
                outcome.states, moved = machine.units.settle(t, outcome.states)
                if moved:
                    slack = 0.0
                    continue
            if not len(self.pre_from) and not self.has_actions:
                return
            settled = True
            if trace is not None:
                trace.round(machine, outcome.states)
            changed = self._act(t, outcome) if self.has_actions else outcome.states
            values = machine.values(t, outcome.states)
            now = self._discrete.now(changed, values)
            before = machine.m[self.pre].copy()
            if np.isnan(now).any():
                return
            same = self._discrete.stay(now, before, values)
            machine.m[self.pre] = now
            if same and changed is outcome.states:
                return
            if changed is not outcome.states:
                slack = 0.0  # a reinit takes a relation off the point at which it crossed
            outcome.states = changed
        if not settled:
            raise RunFault(
                f"the units do not settle at {t:g} s: {', '.join(machine.units.asked) or 'they ask for event after event'}."
                if machine.units is not None
                else f"the model does not settle at {t:g} s.",
                hint="An event of a unit causes another one at once.",
            )
        moving = [
            v for v, a, b in zip(machine.system.ordered.pre.of, now, before, strict=True) if a != b
        ]
        raise RunFault(
            f"the discrete variables do not settle at {t:g} s"
            + (f": '{moving[0].name}' changes again and again." if moving else "."),
            hint="An event causes itself; use pre(...) or a condition that becomes false.",
            component=moving[0].component if moving else "",
        )

    def _act(self, t: float, outcome: Outcome) -> Array:
        """States after the reinits of this round; also judges event assertions and ends the run."""
        system = self.machine.system
        acts = self.machine.actions(t, outcome.states)
        n, ends = len(self.reinit_at), len(system.ordered.terminations)
        states = outcome.states
        for k in np.nonzero(acts[:n])[0]:
            if states is outcome.states:
                states = states.copy()
            states[self.reinit_at[k]] = acts[n + k]
        for k in np.nonzero(acts[2 * n : 2 * n + ends])[0]:
            if outcome.ended is None:
                outcome.ended = self._say(system.ordered.terminations[k].message, t, outcome.states)
        for a, holds in zip(system.event_assertions, acts[2 * n + ends :], strict=False):
            if holds < 0.5:
                owner = f"{a.component}: " if a.component else ""
                text = f"{owner}{self._say(a.message, t, outcome.states)} (at an event at {t:g} s)."
                if a.level == "error":
                    raise RunFault(text, a.where, component=a.component)
                self._warn(text)
        return states

    def _settle_relations(
        self, t: float, states: Array, forced: dict[int, float], first: Array, slack: float
    ) -> None:
        n = self.count
        if not n:
            return
        machine = self.machine
        self._rounding = self._no_rounding
        if math.isinf(slack):
            self._rounding = np.maximum(
                machine.rounding_of_slots(), SMALL_CONTRADICTION * self._largest
            )
        if n <= FEW_SLOTS:
            self._settle_few(t, states, forced, first, slack)
            return
        which = np.array(list(forced), dtype=int)
        values = np.array(list(forced.values()))
        iteration = RelationIteration(machine.sizes_of_slots())
        present = machine.m[:n]
        with np.errstate(invalid="ignore"):
            reach = np.abs(first)
            while iteration.go_on(present):
                machine.indicators(t, states)
                g, scale = machine.indicators.results
                still = np.abs(g - first) <= slack * (reach + scale)
                truth = (g > 0) | (self.inclusive & (g == 0))
                held = np.where(
                    self._relation
                    & ((np.abs(g) > ROUNDED_OFF * scale + self._rounding) | ~still)
                    & np.isfinite(g),
                    truth,
                    present,
                )
                if len(self._floors):
                    held[self._floors] = self._rounded(
                        present[self._floors], g[self._floors], scale[self._floors]
                    )
                if len(which):
                    kept = still[which]
                    held[which[kept]] = values[kept]
                    jumping = which[self.floor[which]]
                    first[jumping] = reach[jumping] = (
                        math.nan
                    )  # its g jumps with the new value; then g decides
                different = (held != present).nonzero()[0]
                if not len(different):
                    return
                iteration.note(present, g, different)
                chosen = different[:1] if iteration.one_by_one else different
                present[chosen] = held[chosen]
        self._give_up(t, iteration, different.tolist())

    @staticmethod
    def _rounded(held: Array, g: Array, scale: Array) -> Array:
        """The values of roundings whose argument, less the held value, is ``g``."""
        outside = ((g < -1e-12 * (1.0 + scale)) | (g >= 1.0)) & np.isfinite(g)
        return np.where(outside, np.floor(held + g), held)

    def _settle_few(
        self, t: float, states: Array, forced: dict[int, float], first: Array, slack: float
    ) -> None:
        """The same as above, slot by slot: faster where there are few."""
        machine, m = self.machine, self.machine.m
        changing: list[int] = []
        iteration = RelationIteration(machine.sizes_of_slots())
        while iteration.go_on(m[: self.count]):
            machine.indicators(t, states)
            g, scale = (result.tolist() for result in machine.indicators.results)
            changes: list[tuple[int, float]] = []
            for i in range(self.count):
                value, held, was = g[i], m[i], float(first[i])
                still = abs(value - was) <= slack * (abs(was) + scale[i])
                if i in forced and still:
                    new = forced[i]
                elif self._is_floor[i]:
                    outside = value < -1e-12 * (1.0 + scale[i]) or value >= 1.0
                    new = math.floor(held + value) if outside and math.isfinite(value) else held
                elif math.isfinite(value) and (
                    abs(value) > ROUNDED_OFF * scale[i] + self._rounding[i] or not still
                ):
                    new = float(value >= 0 if self._is_inclusive[i] else value > 0)
                else:
                    new = held
                if new != held:
                    changes.append((i, new))
            for i in forced:
                if self._is_floor[i]:
                    first[i] = math.nan  # its g jumps with the new value; then g decides
            if not changes:
                return
            iteration.note(m[: self.count], g, [i for i, _ in changes])
            for i, new in changes[:1] if iteration.one_by_one else changes:
                m[i] = new
            changing = [i for i, _ in changes]
        self._give_up(t, iteration, changing)

    def _give_up(self, t: float, iteration: RelationIteration, changing: list[int]) -> None:
        settled = iteration.good_enough
        if settled is not None:
            self.machine.m[: self.count] = settled
            return
        slots = self.machine.system.slots
        name = slots[changing[0] if changing else 0].text
        raise RunFault(
            f"the relations do not settle at {t:g} s: '{name}' switches itself on and off.",
            hint="A relation's outcome reverses what it depends on; add hysteresis or a small delay.",
        )

    def _causes(self, before: Array, sampled: list[int], forced: dict[int, float]) -> list[str]:
        machine = self.machine
        causes = [
            s.text
            for i, s in enumerate(machine.system.slots)
            if machine.m[i] != before[i] or i in forced
        ]
        communication = machine.units.samplings() if machine.units is not None else set()
        causes += [self._sample_texts[i] for i in sampled if i not in communication]
        causes += machine.units.asked if machine.units is not None else []
        return list(dict.fromkeys(causes))

"""A system with its functions bound to the memory of one run."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property

import numpy as np
import numpy.typing as npt

from movrel.equations.sizes import CANCELLED, Sizes
from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.errors import StructureFault
from movrel.model.expression import Variable
from movrel.simulate.branch import Branch, BranchEnded, Solved
from movrel.simulate.buffered import Buffered
from movrel.simulate.columns import Columns
from movrel.simulate.coupling import Coupling
from movrel.simulate.history import History
from movrel.simulate.loops import NEARLY_SINGULAR, ROUNDED_OFF, Loops

Array = npt.NDArray[np.float64]


#: Steps of a block at which the Jacobian is looked at, to see how exact rates are, and steps for each of these looks.
LOOKS, FEW = 4, 10
#: What added to a bound lets zero keep below it.
SMALLEST = float(np.finfo(float).tiny)
#: Growth of the largest implicit unknown at an event that looks like a singular block.
SUSPICIOUS = 1e6
#: First guess of an unknown that only this choice of states has: the share of a side of a surface.
NEW_UNKNOWN = 0.5
#: Delays up to which also what comes out of two of them is met.
PAIRED = 10
#: How often sizes of what relations compare are noted one after the other, and then every how many times.
OFTEN = 30


class Machine:
    """Functions of one choice of states, with parameters ``p``, event memory ``m`` and guesses ``w``.

    ``guesses`` is the first part of ``w``; behind it stand the sizes by which equations are solved.
    """

    def __init__(self, system: System, p: Array, order: list[Variable] | None = None) -> None:
        self.system = system
        self.p = p
        self.m = np.zeros(system.memory.homotopy_at + 1)
        self.m[-1] = 1.0
        n = len(system.implicit)
        self.w = np.zeros(3 * n)
        self.guesses = self.w[:n]
        self.sizes = Sizes(self.w[n : 2 * n], self.w[2 * n :])
        self.state_count, self.solved_count = len(system.states), len(system.solved)
        self.derivatives = Buffered(system.derivatives, p, self.m, self.w)
        self.values = Buffered(system.values, p, self.m, self.w)
        self.indicators = Buffered(system.indicators, p, self.m, self.w)
        self.phases = Buffered(system.phases, p, self.m, self.w)
        self.kinks = Buffered(system.kinks, p, self.m, self.w)
        self.timed_lines = Buffered(system.timed_lines, p, self.m, self.w)
        self.actions = Buffered(system.actions, p, self.m, self.w)
        self.constraints = Buffered(system.constraints, p, self.m, self.w)
        self.units: Coupling | None = None
        #: Whether the memory changes between events, as units for model exchange are asked.
        self.live = False
        self.history: History | None = None
        if system.memory.delays:
            self._begin_history()
        self.value_columns: Columns = system.once("value columns", lambda: Columns(system.values))
        self.assertion_columns: Columns = system.once(
            "assertion columns", lambda: Columns(system.assertion_values)
        )
        self.rooted = np.nonzero(~system.timed)[0]
        self.floors = np.array([system.slots[i].kind == "floor" for i in self.rooted], dtype=bool)
        self._any_floor = bool(self.floors.any())
        inclusive = np.array([system.slots[i].inclusive for i in self.rooted], dtype=bool)
        self._true_at_zero = self.floors | inclusive
        #: Whether relations whose operands are exactly zero count as on the held side: not where the method looks at them
        #: itself, as after the first step from an event.
        self.watches_zero = True
        #: Whether the last event left implicit unknowns that look like those of a singular block.
        self.may_be_singular = False
        #: Size up to which the g of a watched relation is mere rounding: a share of the largest that it compared so far.
        self._rounded_off = np.zeros(len(self.rooted))
        self._scales, self._sizes_noted = np.zeros(len(self.rooted)), 0
        #: Size beyond which those cross that were mere rounding, or on the side that is not held, when they were looked at
        #: last; 0 for the others.
        self._rests = np.zeros(len(self.rooted))
        self.any_rests = False
        #: The same for the upper end of what a rounding holds; ``_rests`` is for its lower end.
        self._upper_rests = np.zeros(len(self.rooted))
        self.position: dict[Variable, int] = system.once(
            "positions", lambda: {v: i for i, v in enumerate([*system.states, *system.solved])}
        )
        self.implicit_at = np.array(
            [self.position[v] - self.state_count for v in system.implicit], dtype=int
        )
        self.nonlinear = any(b.kind == "nonlinear" for b in system.blocks)
        self.loops = Loops(system, p, self.m, self.guesses, self.sizes)
        self.branch = Branch(self.guesses, self.sizes, self.state_count, self.loops.newton_step)
        self._rates_solved = Solved(
            self.derivatives, lambda: self.derivatives.results[1][:n], 2, self._close
        )
        self._values_solved = Solved(
            self.values, lambda: self.values.result[self.implicit_at], 1, self._close
        )
        self.dynamic = bool(system.ordered.reduction.dynamic)
        self._wear = system.ordered.reduction.wear(system.ordered.selection)
        #: Where each column of the result table stands among this machine's states and values.
        self.column_order = (
            None if order is None else np.array([self.position[v] for v in order], dtype=int)
        )

    @cached_property
    def jacobian(self) -> Buffered | None:
        """The derivatives of the rates by the states, made when first asked for; None without states."""
        if not self.system.states:
            return None
        return Buffered(self.system.jacobian, self.p, self.m, self.w, strict=False)

    def rates(self, t: float, states: Array) -> Array:
        """Derivatives of the states, ``(states,)``; the array is overwritten by the next call."""
        if not self.nonlinear:
            return self.derivatives(t, states)[: self.state_count]
        return self.branch.evaluate(self._rates_solved, t, states)[: self.state_count]

    def rates_if_solved(self, t: float, states: Array) -> Array:
        """The same, but not-a-number where loops have no solution, so that a method tries a shorter step.

        Raises :class:`BranchEnded` where a shorter one would not help.
        """
        rates = self.rates(t, states)
        if self.nonlinear and self.unsolved:
            here = self.branch.place()
            if self.branch.stands_at_end(self._rates_solved) and self.turning(*here) is not None:
                raise BranchEnded(*here)
            return np.full(self.state_count, math.nan)
        return rates

    def row(self, t: float, states: Array, guess: Array | None) -> Array:
        """Values of the solved unknowns, ``(solved,)``, with implicit ones near a guess or on the branch of the last."""
        values = self.branch.evaluate(self._values_solved, t, states, guess)[: self.solved_count]
        self.guesses[:] = values[self.implicit_at]
        self.branch.note(t, states)
        return values

    @property
    def unsolved(self) -> bool:
        """Whether the implicit equations were not solved in the last evaluation of the derivatives."""
        return self.nonlinear and not self._rates_solved.good(
            float(self.derivatives.t[0]), self.derivatives.x[: self.state_count]
        )

    def solved(self, t: float, states: Array) -> bool:
        """Whether the implicit equations were solved in the last evaluation of the values, which was at this instant."""
        return self._values_solved.good(t, states)

    def _close(self, t: float, states: Array, solution: Array) -> bool:
        kept = self.guesses.copy()
        self.guesses[:] = solution
        step = self.loops.newton_step(t, states)
        self.guesses[:] = kept
        size = np.maximum(self.sizes.largest, np.abs(solution))
        return bool((np.abs(step) <= CANCELLED * size).all())

    def accept(self) -> None:
        """Guess from the solution at the state whose derivatives were evaluated last: it was accepted.

        Raises :class:`BranchEnded` where that solution does not go on from the one before.
        """
        if self.nonlinear and not self.unsolved:
            n = len(self.guesses)
            t, states = float(self.derivatives.t[0]), self.derivatives.x[: self.state_count].copy()
            self.branch.refuse_end(self._rates_solved, t, states)
            self.guesses[:] = self.derivatives.results[1][:n]
            self.branch.note(t, states)
            self.sizes.note(self.guesses, self.derivatives.results[3][:n])

    def begin_sizes(self, t: float, states: Array, nominal: Callable[[Variable], float]) -> None:
        """Find out how large the implicit unknowns and their equations are, at the start of a run.

        ``nominal`` gives the declared size of an unknown, 0 where there is none.
        """
        if len(self.guesses):
            self.branch.note(t, states)
            _, terms, slopes = self.loops.judged(t, states, self.guesses)
            declared = np.array([nominal(v) for v in self.system.implicit])
            self.sizes.begin(declared, self.guesses, terms, slopes)

    def end_of_branch(self) -> BranchEnded | None:
        """Where the solution of a loop comes to an end on the way to the instant whose rates were asked last; None where
        it does not."""
        if self.nonlinear:
            t, states = float(self.derivatives.t[0]), self.derivatives.x[: self.state_count].copy()
            try:
                self.branch.refuse_end(self._rates_solved, t, states)
            except BranchEnded as end:
                return end
        return None

    def turning(self, t: float, states: Array, singular: float = NEARLY_SINGULAR) -> Block | None:
        """The nonlinear block whose solution turns round near an instant; see :meth:`Loops.turning`."""
        if not self.nonlinear:
            return None
        self.rates(t, states)
        solution = self._rates_solved.unknowns().copy()
        if self.unsolved or not np.isfinite(solution).all():
            solution = self.guesses.copy()
        return self.loops.turning(t, states, solution, singular)

    def noise_of_rates(
        self, times: Array, states: Array, implicit: list[Array], error: Array
    ) -> Array | None:
        """How wrong the rates at some steps may be because the states are, shape ``(states,)``; None if unknown.

        ``states`` has shape ``(k, states)``; ``implicit`` holds the implicit unknowns at each step, if there are any;
        ``error``, shape ``(states,)``, says how wrong the states are.
        """
        if self.live or self.system.fills or self.jacobian is None:
            return None
        rows, columns = self.system.once("places of the Jacobian", self._places_of_jacobian)
        noise = np.zeros(self.state_count)
        last, guesses = len(times) - 1, self.guesses.copy()
        for k in np.linspace(last, 0, max(1, min(LOOKS, last // FEW))).astype(int):
            if implicit:
                self.guesses[:] = implicit[k]
            entries = np.abs(self.jacobian(times[k], states[k])[: len(rows)])
            now = np.bincount(rows, np.nan_to_num(entries) * error[columns], self.state_count)
            np.fmax(noise, now, out=noise)
        self.guesses[:] = guesses
        return noise

    def _places_of_jacobian(self) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
        pattern = self.system.jacobian.sparsity_out(0)
        return np.array(pattern.row(), np.int64), np.array(pattern.get_col(), np.int64)

    # --- delays ---

    def _begin_history(self) -> None:
        memory = self.system.memory
        self._delayed = Buffered(self.system.delayed, self.p, self.m, self.w)
        count = len(memory.delays)
        self.delay_rows = slice(memory.delay_at, memory.delay_at + count)
        times = self._delayed(0.0, np.zeros(self.state_count))[2 * count : 3 * count].copy()
        if not (times > 0).all():
            raise StructureFault(
                f"a delay time is {times.min():g} s.", hint="Give a positive delay time."
            )
        self.history = History(times)
        for bound in (self.derivatives, self.values, self.indicators, self.actions, self._delayed):
            bound.before = self.fill

    def fill(self, t: float, states: Array) -> None:
        """Put the delayed values of an instant, and what live units give at it, into the memory."""
        if self.history is not None:
            self.m[self.delay_rows] = self.history.at(t)
        if self.live:
            assert self.units is not None
            self.units.fill(t, states)

    def felt(self) -> npt.NDArray[np.int64]:
        """Where the memory holds what rates or root functions depend on between events."""

        def places() -> npt.NDArray[np.int64]:
            parts = [
                self.system.derivatives.jac_sparsity(0, 3),
                self.system.indicators.jac_sparsity(0, 3),
            ]
            return np.unique(np.concatenate([np.array(p.get_col(), dtype=np.int64) for p in parts]))

        return self.system.once("felt memory", places)

    # --- units ---

    def couple(self, units: Coupling) -> None:
        """Have units give their numbers from now on; live ones are asked before every evaluation."""
        self.units = units
        self.live = units.live
        inputs = Buffered(self.system.unit_inputs, self.p, self.m, self.w)
        units.bind(self.system, self.m, inputs, self.position)
        if units.live:
            for bound in (self.derivatives, self.values, self.indicators, self.actions):
                bound.before = self.fill
            if self.history is not None:
                self._delayed.before = self.fill

    def start_history(self, t: float, states: Array) -> None:
        """Before the start every delayed expression was what it is at the start."""
        if self.history is None:
            return
        count = len(self.history.delays)
        for _ in range(count + 1):  # a delayed expression may hold another one
            past = self._delayed(t, states)[:count].copy()
            self.history.set_past(t, past)

    def breaks(self, t: float) -> list[float]:
        """Instants at which the beginning at ``t`` comes out of delays, by way of one or two: the past ends there with a
        kink, over which nothing is interpolated (Bellen and Zennaro, Numerical Methods for Delay Differential
        Equations, 2003, 2.2)."""
        if self.history is None:
            return []
        first = [float(d) for d in self.history.delays]
        second = [a + b for a in first for b in first] if len(first) <= PAIRED else []
        return sorted({t + d for d in (*first, *second)})

    def remember(self, t: float, states: Array) -> None:
        """Take note of the delayed expressions at an accepted step."""
        if self.history is not None:
            past = self._delayed(t, states)
            count = len(self.history.delays)
            by_others = past[3 * count : 3 * count + count * count].reshape(count, count)
            rates = past[count : 2 * count] + by_others @ self.history.rates_at(t)
            self.history.add(t, past[:count], rates)

    def begin_segment(self, t: float, states: Array) -> None:
        """An event begins: from here on delayed values are those after any jump."""
        if self.history is not None:
            count = len(self.history.delays)
            self._before_event = self._delayed(t, states)[:count].copy()
            self.history.begin_segment(t)

    def end_event(self, t: float, states: Array) -> list[float]:
        """An event is over; the instants at which its jumps will come out of the delays."""
        if self.history is None:
            return []
        self.remember(t, states)
        count = len(self.history.delays)
        after = self._delayed(t, states)[:count]
        return [
            t + float(d)
            for d, a, b in zip(self.history.delays, self._before_event, after, strict=True)
            if a != b
        ]

    def everything(self, t: float, states: Array) -> Array:
        """States and values together, shape ``(states + solved,)``."""
        return np.concatenate([states, self.values(t, states)[: self.solved_count]])

    def update_guesses(self, t: float, states: Array) -> None:
        """Take the present solution of implicit blocks as the guess for the next."""
        if len(self.implicit_at):
            solved = self.values(t, states)[self.implicit_at]
            largest = float(np.abs(self.guesses).max())
            self.may_be_singular = not float(np.abs(solved).max()) <= SUSPICIOUS * (
                largest or math.inf
            )
            good = np.isfinite(solved)
            self.guesses[good] = solved[good]
            self.branch.note(t, states)
            if self.nonlinear:
                self.sizes.renew(*self.loops.judged(t, states, self.guesses)[1:])

    def worn_out(self, t: float, states: Array) -> bool:
        """Whether the choice of states is no longer good."""
        return self.dynamic and self._wear(self.matrices(t, states))

    def matrices(self, t: float, states: Array) -> list[Array]:
        """The matrices of the constraint blocks."""
        entries = self.constraints(t, states)
        made, position = [], 0
        for block in self.system.ordered.reduction.constraints:
            rows, columns = len(block.equations), len(block.columns)
            made.append(entries[position : position + rows * columns].reshape(rows, columns).copy())
            position += rows * columns
        return made

    def crossings(self, t: float, states: Array, out: Array) -> None:
        """Root functions: for a relation g; for a rounding both g and g - 1.

        Where a relation's g was no more than rounding when it was looked at last, it counts as being on the held side until
        it is more: what is zero by the equations does not cross. So does a g that is exactly zero while that is what is held,
        as within a dead band: a solver does not watch what is zero.
        """
        g = self.indicators(t, states)[self.rooted]
        above = g - 1.0
        if self.any_rests:
            if (unclear := np.abs(g) < self._rests).any():
                held = (self.m[self.rooted] != 0) | self.floors
                g = np.where(unclear, np.where(held, self._rests, -self._rests), g)
            above = np.where(np.abs(above) < self._upper_rests, -self._upper_rests, above)
        if self.watches_zero and not g.all():
            held = (self.m[self.rooted] != 0) | self.floors
            side = np.where(held, SMALLEST, -SMALLEST)
            g = np.where(g == 0, np.where(held == self._true_at_zero, side, -side), g)
        out[0::2] = g
        out[1::2] = np.where(self.floors, above, 1.0)

    def note_scales(self, t: float, states: Array) -> None:
        """Take note of how large what relations compare is at an accepted step or after an event."""
        if len(self.rooted):
            self.indicators(t, states)
            g, scale = (result[self.rooted] for result in self.indicators.results)
            own = np.where(self.floors | ~np.isfinite(scale), 0.0, ROUNDED_OFF * scale)
            np.maximum(self._rounded_off, own, out=self._rounded_off)
            size = np.where(self.floors, np.inf, np.abs(g))
            small = size < self._rounded_off
            wrong = np.isfinite(size) & ((g > 0) != (self.m[self.rooted] != 0))
            self._rests = np.where(small | wrong, np.maximum(self._rounded_off, 2 * size), 0.0)
            if self._any_floor:
                self._note_ends_of_roundings(g, scale)
            self.any_rests = bool(self._rests.any() or self._upper_rests.any())

    def _note_ends_of_roundings(self, g: Array, scale: Array) -> None:
        """A rounding rests at an end of what it holds, where its argument is no more than rounding away from it."""
        rounded = np.where(self.floors & np.isfinite(scale), ROUNDED_OFF * (1.0 + scale), 0.0)
        for ends, beyond in ((self._rests, -g), (self._upper_rests, g - 1.0)):
            near = self.floors & (beyond > -rounded)
            ends[self.floors] = np.where(near, np.maximum(rounded, 2 * np.abs(beyond)), 0.0)[
                self.floors
            ]

    def rounding_of_slots(self) -> Array:
        """Size up to which the g of each slot is mere rounding, as far as that is known."""
        sizes = np.zeros(len(self.system.slots))
        sizes[self.rooted] = self._rounded_off
        return sizes

    def note_sizes(self, t: float, states: Array) -> None:
        """Take note of how large what relations compare is between events; at them it is zero. Not always, in the long run."""
        self._sizes_noted += 1
        if len(self.rooted) and (self._sizes_noted < OFTEN or not self._sizes_noted % OFTEN):
            self.indicators(t, states)
            scale = self.indicators.results[1][self.rooted]
            np.fmax(self._scales, scale, out=self._scales, where=np.isfinite(scale))

    def sizes_of_slots(self) -> Array:
        """How large what each slot compares has been so far, as far as that is known."""
        sizes = np.zeros(len(self.system.slots))
        sizes[self.rooted] = self._scales
        return sizes

    def blur(self, watched: int, share: float) -> None:
        """From now on take a share of what a watched relation compares, as it was looked at last, for mere rounding."""
        scale = self.indicators.results[1][self.rooted[watched]]
        if np.isfinite(scale) and not self.floors[watched]:
            self._rounded_off[watched] = max(self._rounded_off[watched], share * scale)

    def contradicted(self, t: float, states: Array) -> bool:
        """Whether a held relation, but for those that time alone changes, is contradicted."""
        return bool(self._contradicting(t, states).any())

    def _contradicting(self, t: float, states: Array) -> npt.NDArray[np.bool_]:
        """For each slot that is watched whether the held outcome is contradicted, beyond rounding."""
        self.indicators(t, states)
        g, scale, held = (a[self.rooted] for a in (*self.indicators.results, self.m))
        small = np.maximum(ROUNDED_OFF * scale, self._rests) + SMALLEST
        wrong = (np.abs(g) > small) & ((g > 0) != (held != 0))
        if self._any_floor:
            wrong = np.where(self.floors, (g >= 1.0 + small) | (g < -small), wrong)
        return wrong

    def overlooked(self, t: float, states: Array) -> list[tuple[int, int]]:
        """Crossings that the held relations contradict, as a solver would report them."""
        wrong = self._contradicting(t, states).nonzero()[0].tolist()
        g = self.indicators.result
        crossings: list[tuple[int, int]] = []
        for k in wrong:
            value = g[self.rooted[k]]
            above = bool(self.floors[k] and value >= 1.0)
            crossings.append((2 * k + above, 1 if value > 0 else -1))
        return crossings

    def forced(self, fired: list[tuple[int, int]]) -> dict[int, float]:
        """The value that each slot takes because its root function crossed zero in a direction."""
        forced: dict[int, float] = {}
        for number, direction in fired:
            i = int(self.rooted[number // 2])
            if self.system.slots[i].kind == "floor":
                forced[i] = self.m[i] + (1 if number % 2 else -1)
            else:
                forced[i] = float(direction > 0)
        return forced

    def take_over(self, other: Machine, t: float, states: Array) -> Array:
        """The states of this machine where another one stands, its memory and guesses included."""
        values = other.everything(t, states)
        own = {(s.kind, s.inclusive, s.text): i for i, s in enumerate(self.system.slots)}
        for i, slot in enumerate(other.system.slots):
            at = own.get((slot.kind, slot.inclusive, slot.text))
            if at is not None:
                self.m[at] = other.m[i]
        self.m[self.system.memory.pre_at :] = other.m[other.system.memory.pre_at :]
        last = dict(zip(other.system.implicit, other.guesses.tolist(), strict=True))
        for k, v in enumerate(self.system.implicit):
            value = values[other.position[v]] if v in other.position else math.nan
            self.guesses[k] = value if math.isfinite(value) else last.get(v, NEW_UNKNOWN)
        own_states = np.array([values[other.position[v]] for v in self.system.states], dtype=float)
        self.branch.note(t, own_states)
        return own_states

    def held_literally(self, g: Array) -> Array:
        """What each slot holds when g is taken at its word, as at the start of a run."""
        held = np.zeros(len(self.system.slots))
        for i, slot in enumerate(self.system.slots):
            if slot.kind == "floor":
                held[i] = math.floor(g[i] + self.m[i]) if math.isfinite(g[i]) else 0.0
            else:
                held[i] = float(g[i] >= 0 if slot.inclusive else g[i] > 0)
        return held

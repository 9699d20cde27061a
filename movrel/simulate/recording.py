"""Storing the rows of a run: algebraic values worked out, checked and handed on in batches."""

from __future__ import annotations

import math
import time as clock
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.equations.sizes import SOLVED
from movrel.equations.system import System
from movrel.errors import RunFault
from movrel.model import expression as x
from movrel.simulate.explanation import Explanation, shortened
from movrel.simulate.limits import Limits
from movrel.simulate.machine import Machine
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]

#: Instants for which algebraic values are computed together.
BATCH = 2000
#: Seconds until what was computed is passed on, and later the same as a share of the run's time.
FIRST_PIECE, LATER_PIECES = 0.5, 0.05


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a run is: the time reached and the size of the solver's newest steps in s, and how many events there were."""

    time: float
    step: float
    events: int


@dataclass(slots=True)
class Listener:
    """Callbacks of a run; all are called from the run's own thread.

    ``progress`` is told how far the run is, ``chunk`` gets the stored rows ``(time, table)`` since the last
    call, ``stopped`` says whether somebody wants the run to end.
    """

    progress: Callable[[Progress], None] = lambda reached: None
    chunk: Callable[[Array, Array], None] = lambda t, table: None
    stopped: Callable[[], bool] = lambda: False
    #: Seconds of wall time between calls of ``progress`` and ``stopped``.
    period: float = 0.1
    #: Whether rows are kept for the trajectory after ``chunk`` was given them.
    keep: bool = True
    #: Whether anybody wants the chunks.
    listens: bool = True


class Recording:
    """The rows of one run in the order of the result table."""

    def __init__(
        self, machine: Machine, options: RunOptions, listener: Listener, explanation: Explanation
    ) -> None:
        self.machine = machine
        self.options = options
        self.listener = listener
        self.explanation = explanation
        self.messages: list[str] = []
        self.times: list[Array] = []
        self.tables: list[Array] = []
        self.stored_until = -math.inf
        self.kept_until = options.start
        self._warned: set[int] = set()
        self._limits_of: dict[System, Limits] = {}
        #: The largest absolute value of each state of the run's first system.
        self.largest = np.zeros(machine.state_count)
        self._unsent = 0
        self._pending: list[tuple[Array, Array, Array]] = []
        self._pending_count = 0
        self._position = 0
        #: When the run began and when rows were last passed on because of the time.
        self._begun = self._passed_on = clock.perf_counter()

    def grid_points(self, until: float) -> Iterator[Array]:
        """The points of the output grid up to ``until`` that are not stored yet, a block at a time."""
        options = self.options
        self._position = max(self._position, 1)  # the first point is stored with the start
        while self._position < options.points:
            count = min(4096, options.points - self._position)
            numbers = np.arange(self._position, self._position + count)
            instants: Array = np.asarray(
                options.start + numbers * options.interval, dtype=np.float64
            )
            if (
                self._position + count == options.points
                and abs(instants[-1] - options.stop) <= 1e-9 * options.interval
            ):
                instants[-1] = options.stop
            block = instants[instants <= until]
            if not len(block):
                return
            self._position += len(block)
            yield block

    def skip(self, until: float) -> None:
        """Take the output grid up to an instant as stored."""
        for _ in self.grid_points(until):
            self.stored_until = until

    @property
    def next_point(self) -> float:
        """The next point of the output grid, infinite after the last."""
        options, position = self.options, max(self._position, 1)
        if position >= options.points:
            return math.inf
        at = options.start + position * options.interval
        return min(at, options.stop) if position == options.points - 1 else at

    def store(self, times: Array, rows: Array, guesses: Array | None = None) -> None:
        """Take note of states; what follows from them is worked out for many instants together.

        ``guesses`` are rows of implicit unknowns near the solution; without them the present ones serve.
        """
        if not len(times):
            return
        rows = rows.reshape(len(times), -1)
        self.stored_until = float(times[-1])
        machine = self.machine
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        if machine.history is not None:
            memory[machine.delay_rows] = np.array([machine.history.at(t) for t in times]).T
        if machine.live:
            rows_of_units = slice(machine.system.memory.unit_at, machine.system.memory.terminal_at)
            for k, t in enumerate(times):
                machine.fill(t, rows[k])
                memory[rows_of_units, k] = machine.m[rows_of_units]
        if machine.nonlinear:
            self._keep_checked(
                times, rows, np.hstack([rows, self._implicit_rows(times, rows, guesses)]), memory
            )
            return
        self._pending.append((times, rows, memory))
        self._pending_count += len(times)
        if self._pending_count >= BATCH:
            self.work_off()

    def work_off(self) -> None:
        """Compute and check everything else for the noted states."""
        if not self._pending:
            return
        times = np.concatenate([part[0] for part in self._pending])
        rows = np.concatenate([part[1] for part in self._pending])
        memory = np.concatenate([part[2] for part in self._pending], axis=1)
        self._pending.clear()
        self._pending_count = 0
        machine = self.machine
        table = machine.value_columns.table(
            times, rows.T, machine.p, memory, machine.w, machine.state_count
        )
        table[:, : machine.state_count] = rows
        self._keep_checked(times, rows, table, memory)

    def _keep_checked(self, times: Array, rows: Array, table: Array, memory: Array) -> None:
        finite = np.isfinite(table)
        bad = len(times) if finite.all() else int(np.argmin(finite.all(axis=1)))
        failed = self._check_assertions(times[:bad], rows[:bad], table[:bad], memory[:, :bad])
        keep = bad if failed is None else failed[0] + 1
        self.messages += self._limits().broken(times[:keep], table[:keep])
        self._keep(times[:keep], table[:keep])
        if failed is not None:
            raise failed[1]
        if bad < len(times):
            system = self.machine.system
            values = list(zip([*system.states, *system.solved], table[bad], strict=True))
            self.explanation.refuse_not_finite(times[bad], values, f"at {times[bad]:g} s")

    def _limits(self) -> Limits:
        """The limits of the present machine's variables."""
        system = self.machine.system
        if system not in self._limits_of:
            self._limits_of[system] = Limits(
                system, self.explanation.parameters, self.machine.position, self.options.tolerance
            )
        return self._limits_of[system]

    def _implicit_rows(self, times: Array, rows: Array, guesses: Array | None) -> Array:
        """Values row by row, each from its own guess; the solver's guesses stay as they are."""
        machine = self.machine
        kept, at = machine.guesses.copy(), machine.branch.place()
        out = np.empty((len(times), machine.solved_count))
        for k, t in enumerate(times):
            out[k] = machine.row(t, rows[k], None if guesses is None else guesses[k])
            if not machine.solved(t, rows[k]):
                self._refuse_unsolved(t, rows[k], out[k])
        machine.guesses[:] = kept
        machine.branch.note(*at)
        return out

    def _refuse_unsolved(self, t: float, state: Array, y: Array) -> None:
        machine = self.machine
        if not np.isfinite(y).all():
            return
        residual, share = machine.loops.share_of_residuals(t, state, y[machine.implicit_at])
        if (share > SOLVED).any():
            k = int(np.argmax(share))
            unknown = machine.system.implicit[k]
            (block,) = [b for b in machine.system.blocks if unknown in b.implicit]
            equation = block.residuals[block.implicit.index(unknown)]
            names = ", ".join(v.name for v in block.implicit)
            raise RunFault(
                f"no solution was found at {t:g} s for '{shortened(f'{x.show(equation.left)} = {x.show(equation.right)}')}' "
                f"(off by {residual[k]:.3g}; unknowns {names}).", equation.where, "Give start values near the solution.",
                unknown.component,
            )  # fmt: skip

    def _keep(self, times: Array, table: Array) -> None:
        if len(times):
            if self.machine.column_order is not None:
                table = table[:, self.machine.column_order]
            self.times.append(times)
            self.tables.append(table)
            np.fmax(
                self.largest, np.abs(table[:, : len(self.largest)]).max(axis=0), out=self.largest
            )
            self.kept_until = float(times[-1])
            self._unsent += 1
            if self._unsent >= 64 or len(times) >= 500:
                self.flush()

    def hand_on(self) -> None:
        """Work out what was noted, and pass it on if that was long ago."""
        self.work_off()
        now = clock.perf_counter()
        if now - self._passed_on > max(FIRST_PIECE, LATER_PIECES * (now - self._begun)):
            self._passed_on = now
            self.flush()

    def flush(self) -> None:
        count = self._unsent
        if not self.listener.listens:
            self._unsent = 0
        elif count:
            self.listener.chunk(
                np.concatenate(self.times[-count:]), np.concatenate(self.tables[-count:])
            )
            self._unsent = 0
            if not self.listener.keep:
                self.times.clear()
                self.tables.clear()

    def unsent(self) -> list[tuple[Array, Array]]:
        """Stored rows that the listener has not been given, after a run that ended early."""
        count, self._unsent = self._unsent, 0
        return list(zip(self.times[-count:], self.tables[-count:], strict=True)) if count else []

    def _check_assertions(
        self, times: Array, rows: Array, table: Array, memory: Array
    ) -> tuple[int, RunFault] | None:
        machine = self.machine
        assertions = machine.system.assertions
        if not assertions or not len(times):
            return None
        held = machine.assertion_columns(times, rows.T, machine.p, memory, machine.w).T
        earliest: tuple[int, RunFault] | None = None
        for i, assertion in enumerate(assertions):
            broken = np.nonzero(held[i] < 0.5)[0]
            if not len(broken) or (earliest is not None and broken[0] >= earliest[0]):
                continue
            t = times[broken[0]]
            owner = f"{assertion.component}: " if assertion.component else ""
            message = self.explanation.say(assertion.message, t, table[broken[0]])
            text = f"{owner}{message} (at {t:g} s; '{x.show(assertion.condition)}' does not hold)"
            if assertion.level == "error":
                earliest = (
                    int(broken[0]),
                    RunFault(text + ".", assertion.where, component=assertion.component),
                )
            elif i not in self._warned:
                self._warned.add(i)
                self.messages.append(text + ".")
        return earliest


def table_of(recording: Recording, width: int) -> tuple[Array, Array]:
    """All kept rows: times of shape ``(n,)`` and the table of shape ``(n, width)``."""
    if len(recording.times) == 1:
        return recording.times[0], recording.tables[0]
    time = np.concatenate(recording.times) if recording.times else np.zeros(0)
    table = np.concatenate(recording.tables) if recording.tables else np.zeros((0, width))
    return time, table

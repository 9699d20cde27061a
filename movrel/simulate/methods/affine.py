"""Short pieces of a run in which the rates are affine in the states, summed as their Taylor series.

Between two switchings of a converter nothing but currents and voltages moves, and they move linearly:
x' = f0 + A (x - x0) with a constant matrix A. The coefficients of the solution follow from each other
by one product with A; the step is taken from the size of the last two (Jorba and Zou, Experimental
Mathematics 14, 2005). A restart then costs a few products instead of a climb from order one. Where the
series would need many steps, as for a stiff piece, the general solver does the work.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.sparse_jacobian import sparse_jacobian
from movrel.equations.system import SPARSE_FROM, System
from movrel.simulate.machine import Machine
from movrel.simulate.methods.cvode import CvodeIntegrator
from movrel.simulate.methods.integrator import Steps
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]

#: Terms of a series beyond the constant one.
TERMS = 16
#: Size of the terms that are left out, as a share of the values.
OMITTED = 1e-14
#: Steps of the series within one piece; a piece that needs more is left to the general solver.
FEW_STEPS = 6
#: A piece is short up to this share of the run.
SHORT = 0.02
#: Choices of relations whose matrices are kept.
KNOWN = 1000
#: Looks at the relations within the longest step of a series; fewer where the piece is nearly straight.
LOOKS = 4

_POWERS = np.arange(TERMS + 1)
_NOWHERE = np.zeros(0)


def is_affine(machine: Machine) -> bool:
    """Whether the rates of a machine are affine in its states as long as the relations hold, and do not
    depend on time otherwise."""
    if (
        machine.nonlinear
        or machine.dynamic
        or machine.history is not None
        or machine.live
        or machine.system.swings.size1_out(0)
        or machine.system.phases.size1_out(0)
        or not 0 < machine.state_count <= SPARSE_FROM
    ):
        return False
    return _decisive(machine.system) is not None


def _decisive(system: System) -> npt.NDArray[np.int64] | None:
    """Where the event memory holds what decides about the matrix of an affine system; None if it is not affine."""

    def deciding() -> npt.NDArray[np.int64] | None:
        form = system.open_form
        t, states, _, m, solved = given = [ca.SX.sym(f"i{k}", form.size1_in(k)) for k in range(5)]
        rows = form(*given)
        matrix = sparse_jacobian(rows, ca.vertcat(states, solved)).nz[:]
        if ca.depends_on(rows, t) or ca.depends_on(matrix, ca.vertcat(t, states, solved)):
            return None
        return np.unique(np.array(ca.jacobian_sparsity(matrix, m).get_col(), dtype=np.int64))

    answer: npt.NDArray[np.int64] | None = system.once(
        "what decides about an affine system", deciding
    )
    return answer


class AffineIntegrator(CvodeIntegrator):
    """CVODE, with short pieces done by their series."""

    def __init__(
        self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]
    ) -> None:
        super().__init__(machine, options, nominal, look)
        self._short = SHORT * (options.stop - options.start)
        self._longest = options.step or np.inf
        self._floor = options.tolerance * nominal
        pattern = machine.system.jacobian.sparsity_out(0)
        self._rows, self._columns = np.array(pattern.row(), int), np.array(pattern.get_col(), int)
        self._decisive = _decisive(machine.system)
        self._known: dict[bytes, Array] = {}

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool], quiet: bool = False
    ) -> tuple[float, Array, list[tuple[int, int]]]:  # fmt: skip
        """See :class:`movrel.simulate.methods.integrator.Integrator`."""
        while until - t <= self._short:
            coefficients, reach = self._series(t, state)
            step = min(reach, self._longest)
            if not step * FEW_STEPS >= until - t:
                break
            end = until if t + step >= until * (1 - 1e-15) else t + step
            looks = max(2, math.ceil(LOOKS * (end - t) / reach))
            reached, new, fired = self._watched(t, end, looks, coefficients)
            self.steps += 1

            def within(at: Array, t: float = t, coefficients: Array = coefficients) -> Array:
                return _sum(coefficients, at - t)

            block(Steps(np.array([t, reached]), np.array([state, new]), between=within), 1)
            if fired or reached >= until:
                return reached, new, fired
            t, state = reached, new
        return super().advance(t, state, until, block, quiet)

    def _series(self, t: float, state: Array) -> tuple[Array, float]:
        """Coefficients of the states in the time from ``t``, shape ``(states, TERMS + 1)``, and how far they serve."""
        machine, n = self._machine, self._n
        self.evaluations += 1
        if not self.evaluations & 255:
            self._look(t)
        rate = machine.derivatives(t, state)[:n]
        coefficients = np.concatenate([state, self._growth(t, state) @ rate]).reshape(TERMS + 1, n)
        size = np.abs(state) + self._floor
        last = np.abs(coefficients[-2:]) / size
        largest = last.max(axis=1)
        if not np.isfinite(largest).all():
            return coefficients.T, 0.0
        step = min(
            (OMITTED / largest[i]) ** (1.0 / (TERMS - 1 + i)) if largest[i] > 0 else np.inf
            for i in (0, 1)
        )
        return coefficients.T, step

    def _growth(self, t: float, state: Array) -> Array:
        """What the rates make of the coefficients, A^(k-1)/k! for each term, shape ``(TERMS*states, states)``.

        The Jacobian A depends on nothing but some of the event memory.
        """
        machine, n = self._machine, self._n
        key = machine.m[self._decisive].tobytes()
        growth = self._known.get(key)
        if growth is None:
            assert machine.jacobian is not None
            self.jacobian_evaluations += 1
            matrix = np.zeros((n, n))
            matrix[self._rows, self._columns] = machine.jacobian(t, state)[: len(self._rows)]
            power, powers = np.eye(n), []
            with np.errstate(all="ignore"):  # of a stiff piece, which is left to the general solver
                for k in range(1, TERMS + 1):
                    power = power / k
                    powers.append(power)
                    power = matrix @ power
            if len(self._known) >= KNOWN:
                self._known.clear()
            growth = self._known[key] = np.concatenate(powers)
        return growth

    def _watched(
        self, t: float, end: float, looks: int, coefficients: Array
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """The end of a step, or the first crossing within it."""
        machine = self._machine
        at: Array = np.asarray(t + (end - t) / looks * np.arange(looks + 1), dtype=np.float64)
        at[-1] = end
        states = _sum(coefficients, at - t)
        if not len(machine.rooted):
            return end, states[-1], []
        operands = np.empty((looks + 1, len(machine.rooted)))
        operands[0] = machine.indicators(t, states[0])[machine.rooted]
        for k in range(1, looks + 1):
            contradicted = machine.contradicted(float(at[k]), states[k])
            operands[k] = machine.indicators.result[machine.rooted]
            turning = self._turning(operands[max(k - 2, 0) : k + 1])
            for instant in (at[max(k - 2, 0)] + (at[1] - at[0]) * turning).tolist():
                state = _sum(coefficients, np.array([instant - t]))[0]
                if machine.contradicted(instant, state):
                    return self._located(t, float(at[max(k - 2, 0)]), instant, state, coefficients)
            if contradicted:
                return self._located(t, float(at[k - 1]), float(at[k]), states[k], coefficients)
        return end, states[-1], []

    def _turning(self, operands: Array) -> Array:
        """Where parabolas through the operands of relations at three instants, shape ``(3, relations)``, turn round on
        the other side of zero: sorted, in intervals from the first."""
        if len(operands) < 3:
            return _NOWHERE
        first, middle, last = operands
        with np.errstate(all="ignore"):  # of what is not finite
            bend, slope = (last - 2 * middle + first) / 2, (last - first) / 2
            turns = (np.abs(slope) < 2 * np.abs(bend)).nonzero()[0]
            if not len(turns):
                return _NOWHERE
            place = -slope[turns] / (2 * bend[turns])
            there = middle[turns] + slope[turns] * place / 2
        held = self._machine.m[self._machine.rooted[turns]] != 0
        beyond = np.where(
            self._machine.floors[turns], (there < 0) | (there >= 1), (there > 0) != held
        )
        return np.sort(1 + place[beyond])

    def _located(
        self, start: float, low: float, high: float, state: Array, coefficients: Array
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """The first instant at which the relations are contradicted, by halving."""
        tolerance = 4e-15 * max(abs(high), high - start)
        while high - low > tolerance:
            middle = 0.5 * (low + high)
            if not low < middle < high:
                break
            trial = _sum(coefficients, np.array([middle - start]))[0]
            if self._machine.contradicted(middle, trial):
                high, state = middle, trial
            else:
                low = middle
        return high, state, self._machine.overlooked(high, state)


def _sum(coefficients: Array, s: Array) -> Array:
    """The states at instants ``s`` after the start of a step, shape ``(len(s), states)``."""
    powers: Any = s[:, None] ** _POWERS
    return np.asarray(powers @ coefficients.T)

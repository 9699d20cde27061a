"""One-step methods and the DAE form, with events found between the ends of each step.

Runge-Kutta 4(5) (Dormand and Prince) and Radau IIA come from SciPy; the fixed-step methods are those
of Hairer and Wanner, Solving Ordinary Differential Equations II, IV.
"""

from __future__ import annotations

import warnings
from abc import ABC, abstractmethod
from collections.abc import Callable
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt
from scipy.integrate import RK45, Radau
from scipy.sparse import csc_matrix, eye
from scipy.sparse.linalg import splu

from movrel.simulate.integrator import SPARSE_FROM, Integrator, StepFailure, Steps, block_steps
from movrel.simulate.machine import Machine
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]


def make_stepping(machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]) -> Integrator:
    """The integrator for a solver that is not CVODE's."""
    if options.solver == "dae":
        from movrel.simulate.dae import DaeIntegrator

        return DaeIntegrator(machine, options, nominal, look)
    methods: dict[str, type[Method]] = {
        "rk45": RungeKutta45, "radau": RadauMethod, "euler": Euler, "rk4": RungeKutta4, "implicit-euler": ImplicitEuler,
        "trapezoidal": Trapezoidal,
    }  # fmt: skip
    return SteppingIntegrator(machine, methods[options.solver](RightSide(machine, look), options, nominal), look)


class RightSide:
    """The right-hand side and its Jacobian, counted."""

    def __init__(self, machine: Machine, look: Callable[[float], None]) -> None:
        self._machine = machine
        self._look = look
        self.n = machine.state_count
        self.evaluations = self.jacobian_evaluations = 0
        pattern = machine.system.jacobian.sparsity_out(0) if machine.state_count else None
        self._rows = np.array(pattern.row() if pattern else [], int)
        self._columns = np.array(pattern.get_col() if pattern else [], int)
        self.sparse = self.n > SPARSE_FROM

    def __call__(self, t: float, y: Array) -> Array:
        self.evaluations += 1
        if not self.evaluations & 255:
            self._look(t)
        found = self._machine.derivatives(t, y)[: self.n].copy()
        if self._machine.nonlinear and self._machine.unsolved:
            found[:] = np.nan  # the method then tries a shorter step
        return found

    def jacobian(self, t: float, y: Array) -> Any:
        assert self._machine.jacobian is not None
        self.jacobian_evaluations += 1
        values = self._machine.jacobian(t, y)[: len(self._rows)]
        if self.sparse:
            return csc_matrix((values.copy(), (self._rows, self._columns)), shape=(self.n, self.n))
        dense = np.zeros((self.n, self.n))
        dense[self._rows, self._columns] = values
        return dense


#: A step: where it ended, and a function that gives the state at any instant within.
Step = tuple[float, Array, Callable[[float], Array]]


class Method(Protocol):
    """A one-step method."""

    f: RightSide

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None: ...

    def restart(self, t: float, y: Array, until: float) -> None:
        """Begin at a state from which the past is of no use."""

    def step(self, until: float) -> Step:
        """One step, not beyond ``until``. Raises :class:`StepFailure`."""


class _FromScipy(ABC):
    """A variable-step method of SciPy."""

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None:
        self.f = f
        self._settings: dict[str, Any] = {
            "rtol": max(options.tolerance, 2.3e-14), "atol": options.tolerance * nominal, "max_step": options.step or np.inf,
        }  # fmt: skip

    @abstractmethod
    def _make(self, t: float, y: Array, until: float) -> Any:
        """The method of SciPy, started at ``t``."""

    def restart(self, t: float, y: Array, until: float) -> None:
        self._solver = self._make(t, y, until)

    def step(self, until: float) -> Step:
        solver = self._solver
        with np.errstate(all="ignore"), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            try:
                message = solver.step()
            except (ValueError, np.linalg.LinAlgError, RuntimeError):
                message = "not finite"
        if solver.status == "failed" or message == "not finite":
            raise StepFailure("the step had to be made too small to keep the tolerance.", float(solver.t), solver.y)
        return float(solver.t), solver.y.copy(), solver.dense_output()


class RungeKutta45(_FromScipy):
    """Dormand and Prince's embedded pair of orders 4 and 5."""

    def _make(self, t: float, y: Array, until: float) -> Any:
        return RK45(self.f, t, y, until, **self._settings)


class RadauMethod(_FromScipy):
    """Radau IIA of order 5 with the exact Jacobian."""

    def _make(self, t: float, y: Array, until: float) -> Any:
        return Radau(self.f, t, y, until, jac=self.f.jacobian, **self._settings)


class _Fixed(ABC):
    """A fixed-step method; the steps are counted from the last restart."""

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None:
        self.f = f
        self._h = options.step or options.interval
        self._tolerance = max(1e-3 * options.tolerance, 1e-13) * nominal

    def restart(self, t: float, y: Array, until: float) -> None:
        self._t, self._y, self._rate = t, y, self.f(t, y)

    def step(self, until: float) -> Step:
        t, y, rate = self._t, self._y, self._rate
        h = self._h if t + self._h < until - 1e-9 * self._h else until - t
        new = self._advance(t, y, rate, h)
        end = until if h != self._h else t + h
        if not np.isfinite(new).all():
            raise StepFailure("the values are no longer finite; the fixed step may be too long.", t, y)
        new_rate = self.f(end, new)
        self._t, self._y, self._rate = end, new, new_rate

        def within(at: float) -> Array:
            s = (at - t) / h
            return (
                (1 + 2 * s) * (1 - s) ** 2 * y + s * (1 - s) ** 2 * h * rate
                + s**2 * (3 - 2 * s) * new - s**2 * (1 - s) * h * new_rate
            )  # fmt: skip

        return end, new, within

    @abstractmethod
    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        """The values of the states one step ``h`` later."""

    def _implicit(self, t: float, y: Array, known: Array, h: float, weight: float) -> Array:
        """Solve z = known + weight*h*f(t + h, z) by Newton's method with the exact Jacobian."""
        z = y + h * self._rate
        for _ in range(25):
            residual = z - known - weight * h * self.f(t + h, z)
            matrix = self.f.jacobian(t + h, z)
            if self.f.sparse:
                change = splu((eye(self.f.n, format="csc") - weight * h * matrix).tocsc()).solve(-residual)
            else:
                change = np.linalg.solve(np.eye(self.f.n) - weight * h * matrix, -residual)
            z = z + change
            if not np.isfinite(z).all():
                break
            if (np.abs(change) <= self._tolerance * np.maximum(1.0, np.abs(z))).all():
                return z
        raise StepFailure("the implicit step equations could not be solved; take a shorter step.", t, y)


class Euler(_Fixed):
    """y + h f(t, y)."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        return y + h * rate


class RungeKutta4(_Fixed):
    """The classical method of order 4."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        k2 = self.f(t + h / 2, y + h / 2 * rate)
        k3 = self.f(t + h / 2, y + h / 2 * k2)
        k4 = self.f(t + h, y + h * k3)
        return y + h / 6 * (rate + 2 * k2 + 2 * k3 + k4)


class ImplicitEuler(_Fixed):
    """z = y + h f(t + h, z)."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        return self._implicit(t, y, y, h, 1.0)


class Trapezoidal(_Fixed):
    """z = y + h/2 (f(t, y) + f(t + h, z))."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        return self._implicit(t, y, y + h / 2 * rate, h, 0.5)


class SteppingIntegrator:
    """Steps of a one-step method between events; a crossing is found by halving the step it lies in."""

    def __init__(self, machine: Machine, method: Method, look: Callable[[float], None]) -> None:
        self._machine = machine
        self._method = method
        self._look = look
        self._g = np.zeros(2 * len(machine.rooted))
        self._block_steps = block_steps(machine)
        self.steps = 0

    @property
    def evaluations(self) -> int:
        return self._method.f.evaluations

    @property
    def jacobian_evaluations(self) -> int:
        return self._method.f.jacobian_evaluations

    def _signs(self, t: float, y: Array) -> Array:
        self._machine.crossings(t, y, self._g)
        return np.sign(self._g)

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool]
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """See :class:`movrel.simulate.integrator.Integrator`."""
        machine, f = self._machine, self._method.f
        steps = Steps()
        steps.add(machine, t, state, f(t, state))
        self._method.restart(t, state, until)
        signs = self._signs(t, state) if len(self._g) else self._g
        new = 0
        while True:
            try:
                reached, y, within = self._method.step(until)
            except StepFailure:
                if new:
                    block(steps, new)
                raise
            self.steps += 1
            fired: list[tuple[int, int]] = []
            if len(self._g):
                after = self._signs(reached, y)
                if ((after != signs) & (signs != 0)).any():
                    reached, y, after = self._located(t, reached, y, within, signs)
                    changed = (after != signs) & (signs != 0)
                    fired = [(int(i), int(after[i] or -signs[i])) for i in np.nonzero(changed)[0]]
                elif (signs == 0).any() and (fired := machine.overlooked(reached, y)):
                    reached, y = self._first_contradiction(t, reached, y, within)
                    fired, after = machine.overlooked(reached, y), self._signs(reached, y)
                signs = after
            steps.add(machine, reached, y, f(reached, y))
            new += 1
            if fired or reached >= until:
                block(steps, new)
                return reached, y, fired
            if new >= self._block_steps:
                if block(steps, new):
                    return reached, y, []
                steps.forget_all_but(3)
                new = 0
            t = reached
            if not self.steps & 63:
                self._look(reached)

    def _first_contradiction(self, t: float, end: float, y: Array, within: Callable[[float], Array]) -> tuple[float, Array]:
        """The earliest instant in a step at which a relation that began at zero is on its other side."""
        low, high, at_high = t, end, y
        while high - low > 1e-12 * max(abs(end), end - t):
            middle = 0.5 * (low + high)
            trial = within(middle)
            if self._machine.overlooked(middle, trial):
                high, at_high = middle, trial
            else:
                low = middle
        return high, at_high

    def _located(
        self, t: float, end: float, y: Array, within: Callable[[float], Array], signs: Array
    ) -> tuple[float, Array, Array]:
        """The earliest crossing in a step: the first instant at which a sign has changed."""
        low, high, at_high = t, end, y
        tolerance = 4e-15 * max(abs(t), abs(end), end - t)
        while high - low > tolerance:
            middle = 0.5 * (low + high)
            if not low < middle < high:
                break
            trial = within(middle)
            after = self._signs(middle, trial)
            if ((after != signs) & (signs != 0)).any():
                high, at_high = middle, trial
            else:
                low = middle
        return high, at_high, self._signs(high, at_high)

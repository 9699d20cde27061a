"""The differential-algebraic form with SUNDIALS' IDA (Hindmarsh et al., ACM TOMS 31, 2005).

The unknowns of implicit blocks are integrated along with the states, so loops are solved together
with the step equations and not inside each evaluation.
"""

from __future__ import annotations

import warnings
from collections.abc import Callable
from functools import partial

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.sparse_jacobian import sparse_jacobian
from movrel.equations.symbolic import Compiled
from movrel.simulate.buffered import Buffered
from movrel.simulate.machine import Machine
from movrel.simulate.methods.sundials import SundialsIntegrator
from movrel.simulate.options import RunOptions
from movrel.sundials import IDA

Array = npt.NDArray[np.float64]

#: Power of the tolerance that unknowns of nonlinear loops must keep, as a share of their size: enough for Newton's method
#: to stay on its branch. They follow from the states, which are tested strictly.
LENIENCE = 0.5
#: The same of linear loops, as a multiple of the tolerance. Testing them would make steps tiny where a derivative is
#: among them.
LINEAR_LENIENCE = 1e6


def _matrix(open_form: Compiled, n: int) -> tuple[Compiled, Compiled]:
    """The derivatives of the residuals by states and implicit unknowns, and where they are not zero.

    The diagonal of the first ``n`` rows is always there: dF/dx' contributes to it.
    """
    inputs = [ca.SX.sym(f"i{k}", open_form.size1_in(k)) for k in range(5)]
    derivative = sparse_jacobian(open_form(*inputs), ca.vertcat(inputs[1], inputs[4]))
    size, diagonal = derivative.shape[0], list(range(n))
    pattern = derivative.sparsity() + ca.Sparsity.triplet(size, size, diagonal, diagonal)
    return ca.Function("matrix", inputs, [ca.project(derivative, pattern)]), pattern


class DaeIntegrator(SundialsIntegrator):
    """IDA on ``[dx/dt - f(t, x, s); r(t, x, s)] = 0`` with the exact Jacobian."""

    def __init__(
        self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]
    ) -> None:
        super().__init__(machine, options, nominal, look)
        n, extra = self._n, len(machine.guesses)
        self._extra = extra
        open_form = machine.system.open_form
        # The open form takes the implicit unknowns in the place of the guesses.
        self._s = np.zeros(extra)
        residual = Buffered(open_form, machine.p, machine.m, self._s)
        matrix, pattern = machine.system.once(
            "matrix of the open form", partial(_matrix, open_form, n)
        )
        values = Buffered(matrix, machine.p, machine.m, self._s)
        if machine.history is not None:
            residual.before = values.before = machine.fill
        rows, columns = np.array(pattern.row(), int), np.array(pattern.get_col(), int)
        diagonal = np.nonzero((rows == columns) & (rows < n))[0]
        self.structure = structure = self._structure(rows, columns, n + extra)

        def residuals(t: float, y: Array, yp: Array, out: Array) -> None:
            self._count(t)
            y = structure.natural(y)
            self._s[:] = y[n:]
            off = residual(t, y[:n])[: n + extra]
            off[:n] -= structure.natural(yp)[:n]
            out[:] = structure.ordered(off)

        def jacobian_values(
            t: float, y: Array, yp: Array, res: Array, cj: float, out: Array
        ) -> None:
            self.jacobian_evaluations += 1
            y = structure.natural(y)
            self._s[:] = y[n:]
            entries = values(t, y[:n])[: len(rows)].copy()
            entries[diagonal] -= cj
            structure.fill(out, entries)

        def root_functions(t: float, y: Array, yp: Array, out: Array) -> None:
            y = structure.natural(y)
            machine.guesses[:] = y[n:]
            machine.crossings(t, y[:n], out)
            self._watch_turns.note(t, out)

        self._watch(root_functions)
        self._keywords |= {
            "atol": structure.ordered(
                np.concatenate([options.tolerance * nominal, self._loop_tolerances(options)])
            ),
            "jacfn": jacobian_values,
        }
        if extra:
            algebraic = np.arange(n, n + extra)
            at = algebraic if structure.place is None else structure.place[algebraic]
            self._keywords["algebraic_idx"] = at.tolist()
        with warnings.catch_warnings():
            # It warns that the pattern serves the exact Jacobian only, which is what is meant.
            warnings.simplefilter("ignore", UserWarning)
            self._solver = IDA(residuals, **self._keywords)

    def _loop_tolerances(self, options: RunOptions) -> Array:
        sizes = self._machine.sizes.unknowns
        linear = np.array(
            [b.kind == "linear" for b in self._machine.system.blocks for _ in b.implicit],
            dtype=bool,
        )
        return np.where(
            linear,
            LINEAR_LENIENCE * options.tolerance * np.maximum(sizes, 1.0),
            np.maximum(options.tolerance**LENIENCE * sizes, self._machine.sizes.rounding),
        )

    def _restart(self, t: float, state: Array) -> None:
        machine, n = self._machine, self._n
        machine.update_guesses(t, state)
        slopes = np.concatenate([machine.derivatives(t, state)[:n], np.zeros(self._extra)])
        ordered = self.structure.ordered
        self._solver.init_step(
            t, ordered(np.concatenate([state, machine.guesses])), ordered(slopes)
        )

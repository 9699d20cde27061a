"""A CasADi expression graph evaluated for many instants at once.

CasADi evaluates one instant at a time; for output at thousands of instants the graph's instructions
are walked once instead, each applied to whole columns by NumPy.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.simulate.buffered import Buffered

Array = npt.NDArray[np.float64]

_UNARY: dict[int, Callable[[Any], Any]] = {
    ca.OP_ASSIGN: lambda a: a, ca.OP_NEG: np.negative, ca.OP_EXP: np.exp, ca.OP_LOG: np.log, ca.OP_SQRT: np.sqrt,
    ca.OP_SQ: np.square, ca.OP_TWICE: lambda a: a + a, ca.OP_SIN: np.sin, ca.OP_COS: np.cos, ca.OP_TAN: np.tan,
    ca.OP_ASIN: np.arcsin, ca.OP_ACOS: np.arccos, ca.OP_ATAN: np.arctan, ca.OP_FLOOR: np.floor, ca.OP_CEIL: np.ceil,
    ca.OP_FABS: np.abs, ca.OP_SIGN: np.sign, ca.OP_SINH: np.sinh, ca.OP_COSH: np.cosh, ca.OP_TANH: np.tanh,
    ca.OP_INV: np.reciprocal, ca.OP_NOT: lambda a: np.equal(a, 0).astype(float),
}  # fmt: skip


def _number(function: Callable[[Any, Any], Any]) -> Callable[[Any, Any], Any]:
    return lambda a, b: np.asarray(function(a, b)).astype(float)


_BINARY: dict[int, Callable[[Any, Any], Any]] = {
    ca.OP_ADD: np.add, ca.OP_SUB: np.subtract, ca.OP_MUL: np.multiply, ca.OP_DIV: np.divide, ca.OP_POW: np.power,
    ca.OP_CONSTPOW: np.power, ca.OP_FMIN: np.fmin, ca.OP_FMAX: np.fmax, ca.OP_ATAN2: np.arctan2, ca.OP_FMOD: np.fmod,
    ca.OP_LT: _number(np.less), ca.OP_LE: _number(np.less_equal), ca.OP_EQ: _number(np.equal), ca.OP_NE: _number(np.not_equal),
    ca.OP_AND: _number(np.logical_and), ca.OP_OR: _number(np.logical_or),
    ca.OP_IF_ELSE_ZERO: lambda a, b: np.where(np.not_equal(a, 0), b, 0.0),
}  # fmt: skip


class Columns:
    """``function(t, x, p, m, w) -> y`` for columns of instants; ``p`` and ``w`` are the same for all."""

    def __init__(self, function: Any) -> None:
        self._function = function
        self._rows = function.size1_out(0)
        self._program = self._decode() if function.class_name() == "SXFunction" else None

    def _decode(self) -> list[tuple[str, Any, int, tuple[int, ...]]] | None:
        function = self._function
        program: list[tuple[str, Any, int, tuple[int, ...]]] = []
        for k in range(function.n_instructions()):
            op = function.instruction_id(k)
            if op == ca.OP_INPUT:
                program.append(
                    (
                        "input",
                        None,
                        function.instruction_output(k)[0],
                        tuple(function.instruction_input(k)),
                    )
                )
            elif op == ca.OP_OUTPUT:
                if function.instruction_output(k)[0] > 0:
                    continue  # only the first result is wanted
                program.append(
                    (
                        "output",
                        None,
                        function.instruction_output(k)[1],
                        (function.instruction_input(k)[0],),
                    )
                )
            elif op == ca.OP_CONST:
                program.append(
                    (
                        "constant",
                        function.instruction_constant(k),
                        function.instruction_output(k)[0],
                        (),
                    )
                )
            else:
                inputs = tuple(function.instruction_input(k))
                action = _UNARY.get(op) if len(inputs) == 1 else _BINARY.get(op)
                if action is None:
                    return None  # an operation without a counterpart
                program.append(("apply", action, function.instruction_output(k)[0], inputs))
        return program

    def __call__(self, t: Array, x: Array, p: Array, m: Array, w: Array) -> Array:
        """``t`` has shape ``(n,)``, ``x`` ``(states, n)``, ``m`` ``(slots, n)``; the result ``(n, rows)``."""
        return self.table(t, x, p, m, w, 0)

    def table(self, t: Array, x: Array, p: Array, m: Array, w: Array, leading: int) -> Array:
        """The same with room for ``leading`` columns in front, in the memory order that is filled fastest."""
        n = len(t)
        if self._one_by_one(n):
            whole = np.empty((n, leading + self._rows))
            self._loop(t, x, p, m, w, whole[:, leading:])
            return whole
        turned = np.zeros((leading + self._rows, n))
        self._together(t, x, p, m, w, turned[leading:])
        return turned.T

    def _one_by_one(self, n: int) -> bool:
        """Whether CasADi's own machine is faster: always with blocks to solve, and for few instants of a long program."""
        if self._program is None:
            return True
        size = len(self._program)
        return n * (2.5 + 0.0015 * size) < size * (1.0 + 0.0007 * n)

    def _loop(self, t: Array, x: Array, p: Array, m: Array, w: Array, out: Array) -> None:
        memory = np.zeros(self._function.size1_in(3))
        bound = Buffered(self._function, np.ascontiguousarray(p), memory, np.ascontiguousarray(w))
        rows, states = self._rows, np.ascontiguousarray(x.T)
        fixed = m.shape[1] == 0 or not (m[:, :1] != m).any()
        if fixed and m.shape[1]:
            memory[:] = m[:, 0]
        for k in range(len(t)):
            if not fixed:
                memory[:] = m[:, k]
            out[k] = bound(t[k], states[k])[:rows]

    def _together(self, t: Array, x: Array, p: Array, m: Array, w: Array, out: Array) -> None:
        assert self._program is not None
        given = (t.reshape(1, -1), x, p, m, w)
        work: dict[int, Any] = {}
        with np.errstate(all="ignore"):
            for kind, action, target, inputs in self._program:
                if kind == "apply":
                    work[target] = (
                        action(work[inputs[0]])
                        if len(inputs) == 1
                        else action(work[inputs[0]], work[inputs[1]])
                    )
                elif kind == "input":
                    work[target] = given[inputs[0]][inputs[1]]
                elif kind == "constant":
                    work[target] = action
                else:
                    out[target] = work[inputs[0]]

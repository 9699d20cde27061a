"""Failures of a run in sentences: which variable, which equation, which values."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from movrel.equations.sorting import Block
from movrel.equations.start_solver import NoStart
from movrel.equations.system import System
from movrel.errors import RunFault
from movrel.model import expression as x
from movrel.model.expression import TIME_VARIABLE, Scalar, Variable

Array = npt.NDArray[np.float64]


#: Letters of an equation that a sentence shows.
SHOWN = 160


def shortened(equation: str) -> str:
    """An equation as far as a sentence can hold it."""
    return equation if len(equation) <= SHOWN else f"{equation[:SHOWN].rstrip()}…"


class Explanation:
    """Knows a system and the values of its parameters."""

    def __init__(self, system: System, parameters: dict[Variable, Scalar]) -> None:
        self.system = system
        self.parameters = parameters

    def say(self, message: x.Expr, t: float, row: Array) -> str:
        """The text of a message, with the values of a row of states and solved unknowns put in."""
        values = dict(self.parameters)
        values[TIME_VARIABLE] = t
        for v, value in zip([*self.system.states, *self.system.solved], row, strict=False):
            values[v] = (
                bool(value)
                if v.type == "Boolean"
                else int(value)
                if v.type == "Integer"
                else float(value)
            )
        try:
            return str(x.evaluate(message, values))
        except (ArithmeticError, ValueError, KeyError, TypeError):
            return x.show(message)

    def no_start(self, fault: NoStart) -> RunFault:
        block = fault.block
        shown = [shortened(f"{x.show(e.left)} = {x.show(e.right)}") for e in block.equations[:4]]
        listed = "; ".join(f"'{equation}'" for equation in shown)
        names = ", ".join(v.name for v in block.unknowns[:6])
        what = "the equations are singular" if block.kind == "linear" else "no solution was found"
        return RunFault(
            f"{what} at the start for {listed} (unknowns {names}).",
            block.equations[0].where,
            "Give start values near the solution, or check whether there is one.",
            block.unknowns[0].component,
        )

    def gave_up(self, t: float, states: Array, dx: Array, reason: str) -> RunFault:
        """The fault of a solver that found no further step: what changes fastest there, relative to its size.

        ``states`` and ``dx``, shape ``(n,)``, are the last good states and their rates.
        """
        fastest = int(np.argmax(np.abs(dx) / np.maximum(np.abs(states), 1e-3)))
        return RunFault(
            f"the solver could not go on at {t:g} s: {reason} '{self.system.states[fastest].name}' changes fastest there "
            f"({dx[fastest]:.4g} per second at {states[fastest]:.4g}).",
            hint="Look for a division by something near zero, or take a larger tolerance.",
            component=self.system.states[fastest].component,
        )

    def turned(self, t: float, block: Block) -> RunFault:
        """The fault of a solver that came to the end of a branch of solutions."""
        shown = [shortened(f"{x.show(e.left)} = {x.show(e.right)}") for e in block.equations[:4]]
        listed = "; ".join(f"'{equation}'" for equation in shown)
        names = ", ".join(v.name for v in block.unknowns[:6])
        return RunFault(
            f"the solver could not go on at {t:g} s: beyond it there is no solution of {listed} for {names} that goes on "
            "from the one before.",
            block.equations[0].where,
            "Check the range for which that is meant, or put something with storage into the loop.",
            block.unknowns[0].component,
        )

    def refuse_not_finite(self, t: float, values: list[tuple[Variable, float]], when: str) -> None:
        """Name the first variable in solving order that is not finite, with its equation and values.

        An evaluation that found a singular block has no values at all: what can be worked out on the way there is.
        """
        given = {k: float(n) for k, n in self.parameters.items() if not isinstance(n, str)}
        numbers: dict[Variable, Scalar] = {**given, **dict(values), TIME_VARIABLE: t}
        for block in (*self.system.initial_blocks, *self.system.blocks):
            for v in block.unknowns:
                value = numbers.get(v)
                if value is None or math.isfinite(float(value)):
                    continue
                if block.solution is not None:
                    value = _value_of(block.solution, numbers)
                    if value is not None and math.isfinite(value):
                        numbers[v] = value
                        continue
                e = block.equations[0]
                needed = [u for u in x.variables(e.left) + x.variables(e.right) if u is not v]
                shown = ", ".join(
                    f"{u.name} = {numbers[u]:g}" for u in dict.fromkeys(needed) if u in numbers
                )
                zero = _divisor_at_zero(block.solution, numbers) if block.solution else None
                raise RunFault(
                    f"'{v.name}' is not a finite number {when}: it follows from '{x.show(e.left)} = {x.show(e.right)}'"
                    + (f" with {shown}." if shown else "."),
                    e.where,
                    f"'{shortened(x.show(zero))}' is 0, and it is divided by that."
                    if zero is not None
                    else "Guard the division, root or logarithm in it.",
                    v.component,
                )


def _value_of(e: x.Expr, values: dict[Variable, Scalar]) -> float | None:
    """The value of an expression: not a number where it has none, None where something in it is not known."""
    try:
        return float(x.evaluate(e, values))
    except (ArithmeticError, ValueError):
        return math.nan
    except (KeyError, TypeError):
        return None


def _divisor_at_zero(e: x.Expr, values: dict[Variable, Scalar]) -> x.Expr | None:
    """The first divisor in an expression that is zero."""
    divisors = (n.args[1] for n in x.walk(e) if n.op == "/")
    return next((d for d in divisors if _value_of(d, values) == 0), None)

"""Derivatives among equations that tick, integrated from tick to tick (specification 16.8.2, table 16.3).

With ``h`` the interval and ``f`` the derivative: explicit Euler ``x = previous(x) + h*previous(f)``, implicit Euler
``x = previous(x) + h*f``, implicit trapezoid with the mean of both. The explicit methods of second and fourth order
evaluate copies of the equations in between, with inputs in the middle of their values at the two ticks.
"""

from __future__ import annotations

from fractions import Fraction

from movrel.errors import StructureFault
from movrel.model import expression as x
from movrel.model.clock_calls import CROSSINGS
from movrel.model.expression import TIME, Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.model.partition import Partition

_INTERVAL = Expr("interval")


def discretise(partition: Partition, flat: FlatModel) -> None:
    """Replace the derivatives of a partition by unknowns and equations of its method."""
    slopes: dict[Variable, Variable] = {}

    def slope(node: Expr) -> Expr | None:
        if node.op != "der":
            return None
        e = node.args[0]
        if e.op != "var":
            raise StructureFault(
                f"'der({x.show(e)})' ticks.", hint="Give the expression a name and derive that."
            )
        v = e.variable
        if v not in slopes:
            slopes[v] = _new(partition, flat, f"der({v.name}) at ticks", v)
        return x.var(slopes[v])

    for e in partition.equations:
        e.original = e.original or (e.left, e.right)
        e.left, e.right = x.transform(e.left, slope), x.transform(e.right, slope)
    if not slopes:
        return
    steps = _Steps(partition, flat, slopes).steps()
    for v, step in steps.items():
        start = v.start if v.start is not None else x.ZERO
        value = x.conditional(Expr("firstTick"), start, x.add(_before(v), step))
        partition.equations.append(FlatEquation(x.var(v), value, v.where, v.component, "clock"))


def _new(partition: Partition, flat: FlatModel, name: str, like: Variable) -> Variable:
    variable = Variable(
        name, "Real", "discrete", component=like.component, where=like.where, generated=True
    )
    flat.variables.append(variable)
    partition.variables.append(variable)
    return variable


def _before(v: Variable) -> Expr:
    return Expr("previous", (x.var(v),))


class _Steps:
    """By how much each state grows from one tick to the next."""

    def __init__(
        self, partition: Partition, flat: FlatModel, slopes: dict[Variable, Variable]
    ) -> None:
        self.partition = partition
        self.flat = flat
        self.slopes = slopes
        self._equations, self._unknowns = list(partition.equations), list(partition.unknowns)
        self._inputs: dict[Expr, Variable] = {}
        self._stages = 0

    def steps(self) -> dict[Variable, Expr]:
        """The growth of each state by the method of the partition."""
        method = self.partition.method
        first = {v: _before(k) for v, k in self.slopes.items()}
        now = {v: x.var(k) for v, k in self.slopes.items()}
        if method == "ExplicitEuler":
            return self._weighted([(1, first)])
        if method == "ImplicitEuler":
            return self._weighted([(1, now)])
        if method == "ImplicitTrapezoid":
            return self._weighted([(1, first), (1, now)])
        half = Fraction(1, 2)
        second = self._stage(first, half, half)
        if method == "ExplicitMidPoint2":
            return self._weighted([(1, second)])
        third = self._stage(second, half, half)
        fourth = self._stage(third, Fraction(1), Fraction(1))
        return self._weighted([(1, first), (2, second), (2, third), (1, fourth)])

    def _weighted(self, parts: list[tuple[int, dict[Variable, Expr]]]) -> dict[Variable, Expr]:
        whole = sum(weight for weight, _ in parts)
        return {
            v: x.multiply(
                x.divide(_INTERVAL, x.const(whole)),
                x.total([x.multiply(x.const(weight), part[v]) for weight, part in parts]),
            )
            for v in self.slopes
        }

    def _stage(
        self, slopes: dict[Variable, Expr], length: Fraction, at: Fraction
    ) -> dict[Variable, Expr]:
        """The derivatives after a share of the step along given ones."""
        self._stages += 1
        copies: dict[Variable, Expr] = {}
        for v in self._unknowns:
            if v in self.slopes:
                share = x.multiply(x.const(float(length)), x.multiply(_INTERVAL, slopes[v]))
                copies[v] = x.add(_before(v), share)
            else:
                copies[v] = x.var(
                    _new(self.partition, self.flat, f"stage {self._stages} of {v.name}", v)
                )
        for e in self._equations:
            left, right = self._copied(e.left, copies, at), self._copied(e.right, copies, at)
            self.partition.equations.append(
                FlatEquation(left, right, e.where, e.component, "clock")
            )
        return {v: copies[k] for v, k in self.slopes.items()}

    def _copied(self, e: Expr, copies: dict[Variable, Expr], at: Fraction) -> Expr:
        if e.op == "previous":
            return e
        if e.op in CROSSINGS:
            return self._input(e, at)
        if e.op == "var":
            if e.variable is TIME.variable:
                return x.subtract(TIME, x.multiply(x.const(float(1 - at)), _INTERVAL))
            return copies.get(e.variable, e)
        return x.rebuild(e, tuple(self._copied(a, copies, at) for a in e.args)) if e.args else e

    def _input(self, e: Expr, at: Fraction) -> Expr:
        if at == 1:
            return e
        variable = self._inputs.get(e)
        if variable is None:
            like = next(iter(self.slopes))
            name = f"input {len(self._inputs) + 1} at ticks"
            variable = self._inputs[e] = _new(self.partition, self.flat, name, like)
            self.partition.equations.append(
                FlatEquation(x.var(variable), e, like.where, like.component, "clock")
            )
        return x.divide(x.add(_before(variable), x.var(variable)), x.const(2))

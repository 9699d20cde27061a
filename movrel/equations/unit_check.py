"""Units carried through equations: what is declared is checked, what is not is inferred.

Both sides of an equation, of a sum and of a comparison must have the same unit; products multiply
units; functions such as sin want plain numbers. A written number fits any unit, except that small
whole numbers and simple fractions in a product are taken for plain factors.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

from movrel.errors import Place, UnitFault
from movrel.model import expression as x
from movrel.model.expression import TIME_VARIABLE, Expr, Variable
from movrel.model.flat import FlatModel
from movrel.units import dimension_words, unit

#: Rounds of inference, and warnings that are given at most.
ROUNDS, WARNING_LIMIT = 8, 20
_PLAIN_ARGUMENT = {
    "sin",
    "cos",
    "tan",
    "asin",
    "acos",
    "atan",
    "sinh",
    "cosh",
    "tanh",
    "exp",
    "log",
    "log10",
}
_SAME = {"+", "-", "min", "max", "mod", "rem"} | x.RELATIONS
_KEPT = {
    "neg",
    "abs",
    "noevent",
    "smooth",
    "pre",
    "previous",
    "homotopy",
    "delay",
    "floor",
    "ceil",
    "integer",
}
_TRUTHS = {"and", "or", "not", "initial", "terminal", "sample", "fires"}
KELVIN = 273.15
_FACTORS = {0.5, 0.25, 1.5, 0.75, 0.125}


@dataclass(frozen=True, slots=True)
class Measure:
    """A dimension with the factor to SI; ``offset`` marks units such as degC."""

    dimension: tuple[Fraction, ...]
    factor: float
    offset: bool = False

    def fits(self, other: Measure) -> bool:
        return (
            self.dimension == other.dimension
            and math.isclose(self.factor, other.factor, rel_tol=1e-9)
            and self.offset == other.offset
        )


PLAIN = Measure(unit("1").dimension, 1.0)


@dataclass(frozen=True, slots=True)
class UnitMismatch:
    """Two things with different units that stand where they should agree."""

    text: str
    where: Place | None

    def sentence(self) -> str:
        return f"{self.where}: {self.text}" if self.where else self.text


class _Clash(Exception):
    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.text = text


def check_units(flat: FlatModel) -> list[UnitMismatch]:
    """All mismatches of a flat model, at most twenty; unknown unit strings are among them."""
    return _Check(flat).run()


class _Check:
    def __init__(self, flat: FlatModel) -> None:
        self.flat = flat
        self.known: dict[Variable, Measure] = {TIME_VARIABLE: Measure(unit("s").dimension, 1.0)}
        self.inferred: dict[Variable, Variable] = {}
        self.mismatches: list[UnitMismatch] = []

    def run(self) -> list[UnitMismatch]:
        for v in self.flat.variables:
            if v.type in ("Real", "Integer") and v.unit:
                try:
                    u = unit(v.unit)
                except UnitFault as fault:
                    self.mismatches.append(
                        UnitMismatch(f"the unit of '{v.name}': {fault.message}", v.where)
                    )
                    continue
                self.known[v] = Measure(u.dimension, u.factor, u.offset != 0.0)
        pairs = [
            (e.left, side, e.where, e.as_written())
            for e in self.flat.equations
            for side in _branches(e.left, e.right)
        ]
        pairs += [(e.left, e.right, e.where, e.as_written()) for e in self.flat.initial_equations]
        pairs += [
            (x.var(v), b, v.where, f"{v.name} = {x.show(b)}")
            for v in self.flat.variables
            for b in (v.binding, v.start)
            if b is not None and v.type == "Real"
        ]
        for _ in range(ROUNDS):
            before = len(self.known)
            for left, right, _, _ in pairs:
                self._infer(left, right)
            if len(self.known) == before:
                break
        for left, right, where, text in pairs:
            if len(self.mismatches) >= WARNING_LIMIT:
                break
            try:
                a, b = self._measure(left), self._measure(right)
            except _Clash as clash:
                self.mismatches.append(
                    UnitMismatch(f"units do not agree in '{text}': {clash.text}.", where)
                )
                continue
            if a is not None and b is not None and not a.fits(b):
                self.mismatches.append(
                    UnitMismatch(
                        f"units do not agree in '{text}': {self._both(left, a, right, b)}.", where
                    )
                )
        return self.mismatches

    def _both(self, left: Expr, a: Measure, right: Expr, b: Measure) -> str:
        return f"'{x.show(left)}' is {self._words(left, a)}, '{x.show(right)}' is {self._words(right, b)}"

    def _words(self, e: Expr, m: Measure) -> str:
        words = dimension_words(m.dimension)
        if e.op == "var" and e.variable.unit:
            return f"{words} ({e.variable.unit})"
        scale = "" if math.isclose(m.factor, 1.0, rel_tol=1e-9) else f" times {m.factor:.6g}"
        return words + scale

    # --- from the leaves up ---

    def _measure(self, e: Expr) -> Measure | None:
        """The unit of an expression, None where it is open. Raises :class:`_Clash`."""
        done: dict[Expr, Measure | None] = {}
        for node in x.post_order(e):
            done[node] = self._one(node, done)
        return done[e]

    def _one(self, e: Expr, done: dict[Expr, Measure | None]) -> Measure | None:
        op, a = e.op, e.args
        if op == "var":
            return self.known.get(e.value)
        if op == "const" or op in _TRUTHS:
            return None
        if op in _SAME:
            measure = self._agree(a[0], a[1], done)
            return None if op in x.RELATIONS else measure
        if op == "if":
            return self._agree(a[1], a[2], done)
        if op in _KEPT:
            return done[a[0]]
        if op == "der":
            inner = done[a[0]]
            return None if inner is None else _product(inner, Measure(unit("s").dimension, 1.0), -1)
        if op in ("*", "/"):
            p, q = self._factor(a[0], done), self._factor(a[1], done)
            return None if p is None or q is None else _product(p, q, 1 if op == "*" else -1)
        if op == "^":
            return self._power(a, done)
        if op == "sqrt":
            inner = done[a[0]]
            return None if inner is None else _raised(inner, Fraction(1, 2))
        if op in _PLAIN_ARGUMENT:
            inner = done[a[0]]
            if inner is not None and not inner.fits(PLAIN) and not _only_time(a[0]):
                raise _Clash(
                    f"{op} needs a plain number, '{x.show(a[0])}' is {self._words(a[0], inner)}"
                )
            return PLAIN
        if op == "atan2":
            self._agree(a[0], a[1], done)
            return PLAIN
        return PLAIN if op == "sign" else None

    def _agree(self, a: Expr, b: Expr, done: dict[Expr, Measure | None]) -> Measure | None:
        p, q = done[a], done[b]
        if p is None and a.is_const(KELVIN):
            a, b, p, q = b, a, q, p
        if (
            p is not None
            and q is None
            and b.is_const(KELVIN)
            and p.dimension == unit("K").dimension
        ):
            return Measure(p.dimension, p.factor, not p.offset)  # the usual way between degC and K
        if p is not None and q is not None and not p.fits(q):
            raise _Clash(self._both(a, p, b, q))
        return p if p is not None else q

    def _factor(self, e: Expr, done: dict[Expr, Measure | None]) -> Measure | None:
        if e.op == "const" and isinstance(e.value, int | float) and not isinstance(e.value, bool):
            number = abs(float(e.value))
            return PLAIN if (number.is_integer() and number <= 12) or number in _FACTORS else None
        measure = done[e]
        return None if measure is not None and measure.offset else measure

    def _power(self, a: tuple[Expr, ...], done: dict[Expr, Measure | None]) -> Measure | None:
        base = done[a[0]]
        if base is None or base.fits(PLAIN):
            return base
        if a[1].op == "const" and isinstance(a[1].value, int | float):
            return _raised(base, Fraction(a[1].value).limit_denominator(1000))
        return None

    # --- from an equation down ---

    def _infer(self, left: Expr, right: Expr) -> None:
        try:
            a, b = self._measure(left), self._measure(right)
        except _Clash:
            return
        if a is None and b is not None:
            self._push(left, b)
        elif b is None and a is not None:
            self._push(right, a)

    def _push(self, e: Expr, wanted: Measure) -> None:
        """Give the unknown parts of an expression the units that make it fit."""
        op, a = e.op, e.args
        if op == "var":
            if e.variable.type == "Real" and not e.variable.unit:
                self.known.setdefault(e.value, wanted)
            return
        if op in ("+", "-", "min", "max", *_KEPT):
            for part in a[:1] if op in ("delay", "homotopy") else a:
                if self._quiet(part) is None:
                    self._push(part, wanted)
        elif op == "if":
            for part in a[1:]:
                if self._quiet(part) is None:
                    self._push(part, wanted)
        elif op == "der":
            self._push(a[0], _product(wanted, Measure(unit("s").dimension, 1.0), 1))
        elif op in ("*", "/") and not wanted.offset:
            p, q = self._quiet_factor(a[0]), self._quiet_factor(a[1])
            if p is None and q is not None:
                self._push(a[0], _product(wanted, q, -1 if op == "*" else 1))
            elif q is None and p is not None:
                self._push(a[1], _product(wanted, p, -1) if op == "*" else _product(p, wanted, -1))

    def _quiet(self, e: Expr) -> Measure | None:
        try:
            return self._measure(e)
        except _Clash:
            return PLAIN

    def _quiet_factor(self, e: Expr) -> Measure | None:
        return self._factor(e, {}) if e.op == "const" else self._quiet(e)


def _branches(left: Expr, right: Expr) -> list[Expr]:
    """The right side; of an if-equation with other unknowns in every branch, each residual by itself."""
    if not left.is_const(0) or right.op != "if":
        return [right]
    return [part for branch in right.args[1:] for part in _branches(left, branch)]


def _only_time(e: Expr) -> bool:
    """Whether time is the only quantity: sin(time) is short for sin(time/(1 s))."""
    return all(v is TIME_VARIABLE for v in x.variables(e))


def _product(a: Measure, b: Measure, sign: int) -> Measure:
    dimension = tuple(p + sign * q for p, q in zip(a.dimension, b.dimension, strict=True))
    return Measure(dimension, a.factor * b.factor**sign)


def _raised(a: Measure, power: Fraction) -> Measure:
    return Measure(tuple(p * power for p in a.dimension), a.factor ** float(power))

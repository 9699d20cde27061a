"""Claims (:mod:`.claim_text`) judged by a run when it is over.

A relation between curves must hold at every instant.
"""

from __future__ import annotations

import contextlib
from dataclasses import dataclass
from typing import Protocol

import numpy as np
import numpy.typing as npt

from movrel.analyse import quantity as q
from movrel.analyse.claim_text import (
    CONSTANTS,
    NEAR,
    QUANTITY,
    RELATIONS,
    Claim,
    ClaimFault,
    name_of,
    number_and_unit,
)
from movrel.analyse.measures import MEASURES, Measure, NotMeasurable, change_instant, window
from movrel.analyse.quantity import PLAIN, SECOND, Quantity
from movrel.errors import MovrelError, UnitFault, did_you_mean
from movrel.language import syntax as s
from movrel.units import Dimension, normalise, unit

Array = npt.NDArray[np.float64]


#: What >= and <= may miss, and == be off, as a share of the largest value of what is compared: rounding is no failure.
ROUNDING = 1e-9


class Curves(Protocol):
    """A run as claims see it."""

    @property
    def time(self) -> Array:
        """All stored instants, shape ``(n,)``."""

    def quantity(self, name: str) -> Quantity | None:
        """A variable or parameter: a curve of shape ``(n,)`` or a number in SI units; None when there is none."""

    def names(self) -> list[str]:
        """All names, to suggest the one that was meant."""

    def event_times(self) -> Array:
        """The instants of events, in their order."""


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether a claim holds: None when it cannot be judged, for the ``reason`` given.

    ``value`` and ``limit`` are what was compared, ``margin`` by how much it holds (negative: fails), all in
    ``unit``; ``instant`` is where a claim about curves is closest to failing, or fails most.
    """

    holds: bool | None
    value: float | None = None
    limit: float | None = None
    margin: float | None = None
    unit: str = ""
    instant: float | None = None
    reason: str = ""


def judge(claim: Claim, run: Curves) -> Verdict:
    """Judge a claim by a run. Units that do not fit and names that are not there are reasons, not errors."""
    if not len(run.time):
        return Verdict(None, reason="the run has stored nothing")
    try:
        return _Judge(run).truth(claim.node)
    except (NotMeasurable, ClaimFault, UnitFault) as fault:
        reason = fault.message if isinstance(fault, MovrelError) else str(fault)
        return Verdict(None, reason=reason.rstrip("."))


def value_of(expression: Claim, run: Curves) -> tuple[float, str]:
    """The value of an expression of measures and its unit. Raises :class:`ClaimFault` when it has none."""
    try:
        judged = _Judge(run).value(expression.node)
    except NotMeasurable as fault:
        raise ClaimFault(f"{fault}.") from None
    if judged.varies:
        raise ClaimFault(
            f"'{expression.text}' is a curve, not a number.",
            hint="Put a measure around it, such as max(…).",
        )
    value, symbol = judged.in_unit(float(judged.value))
    if not np.isfinite(value):
        raise ClaimFault(f"'{expression.text}' is not a finite number.")
    return value, symbol


def check(claim: Claim, run: Curves) -> None:
    """Refuse a claim whose names or units cannot be right, given any run of the model or a stand-in for one."""
    with contextlib.suppress(NotMeasurable):
        _Judge(run).truth(claim.node)


class _Judge:
    def __init__(self, run: Curves) -> None:
        self.run = run

    # --- truths ---

    def truth(self, node: s.Given | None) -> Verdict:
        match node:
            case s.Tuple(items=(only,)):
                return self.truth(only)
            case s.Binary(operator="and" | "or"):
                a, b = self.truth(node.left), self.truth(node.right)
                return _joined(a, b, node.operator == "and")
            case s.Unary(operator="not"):
                a = self.truth(node.operand)
                margin = None if a.margin is None else -a.margin
                return Verdict(
                    None if a.holds is None else not a.holds,
                    a.value,
                    a.limit,
                    margin,
                    a.unit,
                    a.instant,
                    a.reason,
                )
            case s.Binary() if node.operator in RELATIONS:
                return self._relation(node.operator, self.value(node.left), self.value(node.right))
            case s.Call() if node.name == NEAR:
                return self._near(*(self.value(a) for a in node.arguments))
            case s.Boolean():
                return Verdict(node.value)
            case _:
                value = self.value(node)
                return self._always(
                    np.where(np.asarray(value.value) > 0.5, 1.0, -1.0), value, Quantity(1.0, PLAIN)
                )

    def _relation(self, operator: str, a: Quantity, b: Quantity) -> Verdict:
        q.common(a, b, "a comparison")
        if operator in ("<", "<="):
            margins = np.asarray(b.value - a.value, dtype=float)
        elif operator in (">", ">="):
            margins = np.asarray(a.value - b.value, dtype=float)
        else:
            room = ROUNDING * np.maximum(np.abs(a.value), np.abs(b.value))
            margins = np.asarray(room - np.abs(a.value - b.value), dtype=float)
            margins = margins if operator == "==" else -margins
        room = ROUNDING * max(_size(a), _size(b)) if operator in ("<=", ">=") else 0.0
        return self._always(margins, a, b, operator in ("<", ">", "<>"), room)

    def _near(self, a: Quantity, b: Quantity, room: Quantity) -> Verdict:
        q.common(a, b, "a comparison")
        if room.relative:
            allowed = np.abs(room.value * np.asarray(b.value))
        else:
            q.common(b, room, "a tolerance")
            allowed = np.abs(room.value)
        return self._always(np.asarray(allowed - np.abs(a.value - b.value), dtype=float), a, b)

    def _always(
        self, margins: Array, a: Quantity, b: Quantity, strict: bool = False, room: float = 0.0
    ) -> Verdict:
        """The verdict where the margin is smallest; it may be below zero by the ``room`` of rounding."""
        margins = np.atleast_1d(margins)
        if not np.isfinite(margins).all():
            raise NotMeasurable("it is not a finite number")
        worst = int(np.argmin(margins))
        margin = float(margins[worst])
        both = Quantity(
            0.0, a.dimension if a.dimension is not None else b.dimension, b.shown or a.shown
        )
        left, right = (float(np.atleast_1d(x.value)[worst if x.varies else 0]) for x in (a, b))
        value, symbol = both.in_unit(left)
        return Verdict(
            margin > 0 if strict else margin >= -room, value, both.in_unit(right)[0], both.difference_in_unit(margin), symbol,
            float(self.run.time[worst]) if a.varies or b.varies else None,
        )  # fmt: skip

    # --- values ---

    def value(self, node: s.Given | None) -> Quantity:
        match node:
            case s.Number():
                return Quantity(float(node.text))
            case s.Boolean():
                return Quantity(float(node.value), PLAIN)
            case s.Ref():
                return self._named(name_of(node))
            case s.Tuple(items=(only,)):
                return self.value(only)
            case s.Unary(operator="-" | "+" | ".-" | ".+"):
                operand = self.value(node.operand)
                sign = -1 if "-" in node.operator else 1
                return Quantity(
                    sign * operand.value, operand.dimension, operand.shown, operand.relative
                )
            case s.Binary():
                return self._binary(node)
            case s.IfExpression():
                for condition, then in node.branches:
                    if self.truth(condition).holds:
                        return self.value(then)
                return self.value(node.otherwise)
            case s.Call():
                return self._call(node)
        raise ClaimFault("this kind of expression has no place in a claim.")

    def _named(self, name: str) -> Quantity:
        if name == "time":
            return Quantity(self.run.time, SECOND, "s")
        quantity = self.run.quantity(name)
        if quantity is not None:
            return quantity
        if name in CONSTANTS:
            return Quantity(CONSTANTS[name], PLAIN if name != "g_n" else unit("m/s2").dimension)
        raise ClaimFault(
            f"there is no '{name}' in the model.", hint=did_you_mean(name, self.run.names())
        )

    def _binary(self, node: s.Binary) -> Quantity:
        operator = node.operator.lstrip(".")
        if operator in (*RELATIONS, "and", "or"):
            raise ClaimFault("a comparison stands where a value is needed.")
        a, b = self.value(node.left), self.value(node.right)
        if operator in "+-":
            return q.add(a, b, 1 if operator == "+" else -1)
        return {"*": q.multiply, "/": q.divide, "^": q.power}[operator](a, b)

    def _call(self, node: s.Call) -> Quantity:
        name = node.name.removesuffix("_") if node.name in ("final_", "initial_") else node.name
        if name == QUANTITY:
            number, symbol = number_and_unit(node)
            u = unit(normalise(symbol))
            return Quantity(
                float(number) * u.factor + u.offset,
                u.dimension,
                "" if symbol == "%" else normalise(symbol),
                symbol == "%",
            )
        if name in ("min", "max") and len(node.arguments) == 2:
            a, b = (self.value(x) for x in node.arguments)
            together = (
                np.minimum(a.value, b.value) if name == "min" else np.maximum(a.value, b.value)
            )
            plain = (
                together if isinstance(together, np.ndarray) and together.ndim else float(together)
            )
            return Quantity(plain, q.common(a, b, name), a.shown or b.shown)
        if name in MEASURES:
            return self._measure(MEASURES[name], node)
        if (
            len(node.arguments) == 1
            and (applied := q.apply(name, self.value(node.arguments[0]))) is not None
        ):
            return applied
        known = [*MEASURES, *q.PLAIN_FUNCTIONS, *q.KEEPING_FUNCTIONS, "sqrt", "sign"]
        hint = did_you_mean(name, known, f"The measures are {', '.join(MEASURES)}.")
        raise ClaimFault(f"there is no measure '{name}'.", hint=hint)

    def _measure(self, measure: Measure, node: s.Call) -> Quantity:
        if not node.arguments:
            raise ClaimFault(f"{measure.name} needs a curve.", hint=f"Write {measure.name}(name).")
        curve = self.value(node.arguments[0])
        values = np.broadcast_to(np.asarray(curve.value, dtype=float), self.run.time.shape)
        if len(node.arguments) - 1 > len(measure.arguments):
            raise ClaimFault(f"{measure.name} takes {len(measure.arguments) + 1} values at most.")
        further = [
            self._argument(measure, kind, self.value(a), curve)
            for (_, kind), a in zip(measure.arguments, node.arguments[1:], strict=False)
        ]
        if measure.name in ("at", "crossing") and not further:
            raise ClaimFault(
                f"{measure.name} needs {measure.arguments[0][0]}.",
                hint=f"Write {measure.name}(x, …).",
            )
        bounds = {
            n.name: self._argument(measure, "time", self.value(n.value), curve) for n in node.named
        }
        unknown = [n for n in bounds if n not in ("from", "to")]
        if unknown:
            raise ClaimFault(
                f"{measure.name} knows no '{unknown[0]}'.",
                hint="A part of the run is given by from=… and to=….",
            )
        t, y = window(
            self.run.time, np.ascontiguousarray(values), bounds.get("from"), bounds.get("to")
        )
        if not np.isfinite(y).all():
            raise NotMeasurable("it is not a finite number at all times")
        if measure.of_step and "from" not in bounds:
            t, y = window(t, y, change_instant(t, y, self.run.event_times()), None)
        result = measure.compute(t, y, *further)
        size = float(np.abs(values).max()) if measure.power == 1 and not measure.seconds else 0.0
        return Quantity(result, _dimension_of(measure, curve), _unit_of(measure, curve), size=size)

    @staticmethod
    def _argument(measure: Measure, kind: str, given: Quantity, curve: Quantity) -> float | int:
        if given.varies:
            raise ClaimFault(f"{measure.name} needs a number there, not a curve.")
        if kind == "time":
            q.common(given, Quantity(0.0, SECOND), f"{measure.name} wants a time")
        elif kind == "value":
            q.common(given, curve, f"{measure.name} wants a value of the curve")
        elif given.dimension not in (None, PLAIN):
            raise UnitFault(f"{measure.name} wants a plain number and gets {given.words}.")
        return int(given.value) if kind == "number" else float(given.value)


def _size(of: Quantity) -> float:
    """The largest absolute value of a number or curve, and of the curve that a number was read from."""
    return max(float(np.abs(of.value).max()), of.size)


def _dimension_of(measure: Measure, curve: Quantity) -> Dimension | None:
    if curve.dimension is None and measure.power:
        return None if not measure.seconds else PLAIN
    own = curve.dimension or PLAIN
    return tuple(measure.power * d + measure.seconds * t for d, t in zip(own, SECOND, strict=True))


def _unit_of(measure: Measure, curve: Quantity) -> str:
    if measure.power and not measure.seconds:
        # A difference of temperatures has no zero of its own.
        scaled = measure.name == "peak_to_peak" and curve.shown and unit(curve.shown).offset
        return "K" if scaled else curve.shown
    if not measure.power:
        return {1: "s", -1: "Hz"}.get(measure.seconds, "1")
    return ""


def _joined(a: Verdict, b: Verdict, both: bool) -> Verdict:
    """Two verdicts as one; the one that decides gives the numbers."""
    known = [v for v in (a, b) if v.holds is not None]
    deciding = [v for v in known if v.holds is not both]
    if deciding:
        return min(deciding, key=lambda v: v.margin if v.margin is not None else 0.0)
    if len(known) < 2:
        return next(v for v in (a, b) if v.holds is None)
    return min((a, b), key=lambda v: v.margin if v.margin is not None else np.inf)

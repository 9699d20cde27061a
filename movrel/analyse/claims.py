"""Claims: sentences about a run that are judged when it is over.

A claim is an expression of the language with three additions: numbers may carry a unit (``1.2 m``, ``95 %``),
``a ≈ b ± c`` says that two values differ by c at most (``a ~= b +- c`` on a plain keyboard; c in per cent is
a share of b), and measures such as ``max(basin.level)`` stand where a function may (:mod:`.measures`). A
relation between curves must hold at every instant.
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt

from movrel.analyse import quantity as q
from movrel.analyse.measures import MEASURES, Measure, NotMeasurable, window
from movrel.analyse.quantity import PLAIN, SECOND, Quantity
from movrel.errors import MovrelError, SyntaxFault, UnitFault, did_you_mean
from movrel.language import syntax as s
from movrel.language.parser import parse_expression
from movrel.units import normalise, suggest, unit

Array = npt.NDArray[np.float64]

_NUMBER = re.compile(r"(?<![\w.\]])\d+(?:\.\d*)?(?:[eE][-+]?\d+)?")
_UNIT = re.compile(
    r"\s*(1/)?[A-Za-z%°µμΩ][A-Za-z0-9%°µμΩ²³·.]*(?:/(?:\([^()]*\)|[A-Za-z][A-Za-z0-9²³·.]*))*"
)
_RESERVED = re.compile(r"(?<![\w.])(final|initial)\s*\(")
_WORDS = {"and", "or", "not", "if", "then", "else", "elseif", "true", "false"}
_QUANTITY, _NEAR = "quantity_", "near_"
_RELATIONS = ("<", "<=", ">", ">=", "==", "<>")
CONSTANTS = {"pi": np.pi, "e": np.e, "g_n": 9.80665}


class ClaimFault(MovrelError):
    """A claim that cannot be read, or names what there is not."""


class Curves(Protocol):
    """A run as claims see it."""

    @property
    def time(self) -> Array:
        """All stored instants, shape ``(n,)``."""

    def quantity(self, name: str) -> Quantity | None:
        """A variable or parameter: a curve of shape ``(n,)`` or a number in SI units; None when there is none."""

    def names(self) -> list[str]:
        """All names, to suggest the one that was meant."""


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


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim that was read; :func:`read` makes it."""

    text: str
    node: Any = field(repr=False)

    @property
    def names(self) -> list[str]:
        """The variables and parameters that it is about."""
        return list(
            dict.fromkeys(name for name, _, _ in _references(self.node) if name not in CONSTANTS)
        )


# --- reading ---


def read(text: str) -> Claim:
    """Read a claim. Raises :class:`ClaimFault` with what is not understood."""
    if not text.strip():
        raise ClaimFault(
            "the claim is empty.", hint="Write what must hold, such as max(basin.level) < 1.2 m."
        )
    plain = _without_units(_without_near(text))
    try:
        node = parse_expression(plain)
    except SyntaxFault as fault:
        message = fault.message.replace(_QUANTITY, "").replace(_NEAR, "")
        raise ClaimFault(
            f"'{text}' is not understood: {message}", hint="Write such as max(basin.level) < 1.2 m."
        ) from None
    if not _says_something(node):
        raise ClaimFault(
            f"'{text}' compares nothing.", hint="Say what it must be: < 1.2 m, or ≈ 3 s ± 2 %."
        )
    return Claim(text.strip(), node)


def read_expression(text: str) -> Claim:
    """Read an expression of measures that has a value instead of a truth, for sweeps."""
    if not text.strip():
        raise ClaimFault("the expression is empty.", hint="Write such as max(basin.level).")
    try:
        return Claim(text.strip(), parse_expression(_without_units(text)))
    except SyntaxFault as fault:
        raise ClaimFault(
            f"'{text}' is not understood: {fault.message.replace(_QUANTITY, '')}"
        ) from None


def _without_near(text: str) -> str:
    """``a ≈ b ± c`` as a call, within each part that 'and' and 'or' join."""
    text = text.replace("~=", "≈").replace("+-", "±").replace("+/-", "±")
    if "≈" not in text and "±" not in text:
        return text
    pieces = re.split(r"(\band\b|\bor\b)", text)
    return "".join(_near_call(piece) if k % 2 == 0 else piece for k, piece in enumerate(pieces))


def _near_call(piece: str) -> str:
    if "≈" not in piece and "±" not in piece:
        return piece
    parts = re.fullmatch(r"(\s*)([^≈±]+)≈([^≈±]+)±([^≈±]+)", piece)
    if parts is None:
        raise ClaimFault(
            f"'{piece.strip()}' needs both signs.",
            hint="Write a ≈ b ± c, such as period(x) ≈ 3 s ± 2 %.",
        )
    return f"{parts[1]}{_NEAR}({parts[2].strip()}, {parts[3].strip()}, {parts[4].strip()})"


def _without_units(text: str) -> str:
    """Numbers with units as calls; measures named like words of the language get an underscore."""
    text = _RESERVED.sub(r"\1_(", text)
    out, position = "", 0
    for number in _NUMBER.finditer(text):
        if number.start() < position:
            continue
        out += text[position : number.start()]
        symbol, end = _unit_at(text, number.end())
        out += f'{_QUANTITY}({number.group()}, "{symbol}")' if symbol else number.group()
        position = end
    return out + text[position:]


def _unit_at(text: str, start: int) -> tuple[str, int]:
    """The longest unit after a number, and where it ends; empty when none follows."""
    match = _UNIT.match(text, start)
    if match is None:
        return "", start
    symbol = match.group().strip()
    word = re.match(r"[A-Za-z]*", symbol)
    if word is not None and word.group() in _WORDS:
        return "", start
    tries = symbol
    while True:
        try:
            unit(normalise(tries))
        except UnitFault:
            if "/" not in tries[2:]:
                raise ClaimFault(f"'{symbol}' is not a known unit.", hint=suggest(symbol)) from None
            tries = tries.rpartition("/")[0]
            continue
        return tries, match.end() - (len(symbol) - len(tries))


def _says_something(node: Any) -> bool:
    match node:
        case s.Binary(operator="and" | "or"):
            return _says_something(node.left) and _says_something(node.right)
        case s.Unary(operator="not"):
            return _says_something(node.operand)
        case s.Tuple(items=(only,)):
            return _says_something(only)
        case s.Binary():
            return node.operator in _RELATIONS
        case s.Call():
            return node.name == _NEAR
        case s.Ref() | s.Boolean():
            return True  # a Boolean variable that must be true
    return False


def _references(node: Any) -> Iterator[tuple[str, int, int]]:
    """The name, start and end of every reference in an expression, but for the names of functions."""
    match node:
        case s.Ref():
            yield _name_of(node), node.start, node.end
        case s.Call():
            for argument in (*node.arguments, *(n.value for n in node.named)):
                yield from _references(argument)
        case s.Binary():
            yield from _references(node.left)
            yield from _references(node.right)
        case s.Unary():
            yield from _references(node.operand)
        case s.Tuple():
            for item in node.items:
                yield from _references(item)
        case s.IfExpression():
            for condition, value in node.branches:
                yield from _references(condition)
                yield from _references(value)
            yield from _references(node.otherwise)


def _name_of(node: s.Ref) -> str:
    parts = []
    for part in node.parts:
        inside = ",".join(_subscript(i) for i in part.subscripts)
        parts.append(f"{part.name}[{inside}]" if inside else part.name)
    return ".".join(parts)


def _subscript(node: Any) -> str:
    if isinstance(node, s.Number):
        return node.text
    raise ClaimFault("an index must be a number here.", hint="Write such as tank.T[3].")


def renamed(text: str, old: str, new: str) -> str:
    """A claim in which a part or variable has another name: ``old`` and what begins with ``old.`` or ``old[``."""
    pattern = rf"(?<![\w.]){re.escape(old)}(?![\w(])"
    return re.sub(pattern, lambda _: new, text)


# --- judging ---


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

    def truth(self, node: Any) -> Verdict:
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
            case s.Binary() if node.operator in _RELATIONS:
                return self._relation(node.operator, self.value(node.left), self.value(node.right))
            case s.Call() if node.name == _NEAR:
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
            room = 1e-9 * np.maximum(np.abs(a.value), np.abs(b.value))
            margins = np.asarray(room - np.abs(a.value - b.value), dtype=float)
            margins = margins if operator == "==" else -margins
        return self._always(margins, a, b, strict=operator in ("<", ">", "<>"))

    def _near(self, a: Quantity, b: Quantity, room: Quantity) -> Verdict:
        q.common(a, b, "a comparison")
        if room.relative:
            allowed = np.abs(room.value * np.asarray(b.value))
        else:
            q.common(b, room, "a tolerance")
            allowed = np.abs(room.value)
        return self._always(np.asarray(allowed - np.abs(a.value - b.value), dtype=float), a, b)

    def _always(self, margins: Any, a: Quantity, b: Quantity, strict: bool = False) -> Verdict:
        """The verdict where the margin is smallest."""
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
            margin > 0 if strict else margin >= 0, value, both.in_unit(right)[0], both.difference_in_unit(margin), symbol,
            float(self.run.time[worst]) if a.varies or b.varies else None,
        )  # fmt: skip

    # --- values ---

    def value(self, node: Any) -> Quantity:
        match node:
            case s.Number():
                return Quantity(float(node.text))
            case s.Boolean():
                return Quantity(float(node.value), PLAIN)
            case s.Ref():
                return self._named(_name_of(node))
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
        if operator in (*_RELATIONS, "and", "or"):
            raise ClaimFault("a comparison stands where a value is needed.")
        a, b = self.value(node.left), self.value(node.right)
        if operator in "+-":
            return q.add(a, b, 1 if operator == "+" else -1)
        return {"*": q.multiply, "/": q.divide, "^": q.power}[operator](a, b)

    def _call(self, node: s.Call) -> Quantity:
        name = node.name.removesuffix("_") if node.name in ("final_", "initial_") else node.name
        if name == _QUANTITY:
            number, symbol = _number_and_unit(node)
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
        result = measure.compute(t, y, *further)
        return Quantity(result, _dimension_of(measure, curve), _unit_of(measure, curve))

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


def _dimension_of(measure: Measure, curve: Quantity) -> Any:
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


def _number_and_unit(node: s.Call) -> tuple[str, str]:
    """What a number with a unit was rewritten to."""
    match node.arguments:
        case (s.Number(text=number), s.String(value=symbol)):
            return number, symbol
    raise ClaimFault(f"'{node.name.strip('_')}' is no measure.")

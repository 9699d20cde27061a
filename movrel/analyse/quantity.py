"""Numbers and curves with units, in SI, and what may be done with them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.errors import UnitFault
from movrel.units import Dimension, dimension_words, unit

Array = npt.NDArray[np.float64]

PLAIN: Dimension = unit("1").dimension
SECOND: Dimension = unit("s").dimension


@dataclass(frozen=True, slots=True)
class Quantity:
    """A number or, over the instants of a run, a curve, in SI units.

    ``dimension`` is None for a written number without a unit, which fits any. ``shown`` is the unit in
    which people want to see it, empty when nobody said. ``relative`` marks what was written in per cent;
    ``size`` is the largest absolute value of the curve that a number was read from, 0 for others.
    """

    value: Any
    dimension: Dimension | None = None
    shown: str = ""
    relative: bool = False
    size: float = 0.0

    @property
    def varies(self) -> bool:
        return isinstance(self.value, np.ndarray)

    @property
    def words(self) -> str:
        return dimension_words(self.dimension) if self.dimension is not None else "a plain number"

    def in_unit(self, value: float) -> tuple[float, str]:
        """A number of this dimension in the shown unit, and that unit."""
        symbol = self.shown or _base_unit(self.dimension)
        u = unit(symbol)
        return (value - u.offset) / u.factor, symbol

    def difference_in_unit(self, value: float) -> float:
        """A difference of two such numbers in the shown unit: without the offset of a temperature scale."""
        return value / unit(self.shown or _base_unit(self.dimension)).factor


def _base_unit(dimension: Dimension | None) -> str:
    """The SI unit of a dimension."""
    if dimension is None or not any(dimension):
        return "1"
    symbols = ("N", "Pa", "J", "W", "V", "Ohm", "F", "C", "H", "Hz", "T", "Wb")
    for symbol in (
        "m",
        "kg",
        "s",
        "A",
        "K",
        "mol",
        "m2",
        "m3",
        "m/s",
        "m/s2",
        "m3/s",
        "kg/s",
        *symbols,
    ):
        if unit(symbol).dimension == dimension:
            return "1/s" if symbol == "Hz" else symbol
    bases = ("m", "kg", "s", "A", "K", "mol", "cd")
    above = [f"{b}{'' if e == 1 else e}" for b, e in zip(bases, dimension, strict=True) if e > 0]
    below = [f"{b}{'' if e == -1 else -e}" for b, e in zip(bases, dimension, strict=True) if e < 0]
    return (".".join(above) or "1") + (
        f"/({'.'.join(below)})" if len(below) > 1 else f"/{below[0]}" if below else ""
    )


def common(a: Quantity, b: Quantity, what: str) -> Dimension | None:
    """The dimension of two quantities that must agree. Raises :class:`UnitFault` naming both."""
    if a.dimension is None or b.dimension is None:
        return b.dimension if a.dimension is None else a.dimension
    if a.dimension != b.dimension:
        raise UnitFault(f"{what}: {a.words} and {b.words} do not fit together.")
    return a.dimension


def _shown(a: Quantity, b: Quantity) -> str:
    return a.shown or b.shown


def add(a: Quantity, b: Quantity, sign: int) -> Quantity:
    word = "a sum" if sign > 0 else "a difference"
    return Quantity(a.value + sign * b.value, common(a, b, word), _shown(a, b))


def multiply(a: Quantity, b: Quantity) -> Quantity:
    return Quantity(a.value * b.value, _product(a, b, 1), _kept(a, b) or _kept(b, a))


def divide(a: Quantity, b: Quantity) -> Quantity:
    with np.errstate(all="ignore"):
        value = np.divide(a.value, b.value)
    return Quantity(
        value if isinstance(value, np.ndarray) and value.ndim else float(value),
        _product(a, b, -1),
        _kept(a, b),
    )


def _kept(a: Quantity, b: Quantity) -> str:
    """The unit of what is multiplied by a mere number; not one with a zero of its own."""
    plain = b.dimension is None or b.dimension == PLAIN
    return a.shown if plain and a.shown and not unit(a.shown).offset else ""


def _product(a: Quantity, b: Quantity, sign: int) -> Dimension | None:
    if a.dimension is None and b.dimension is None:
        return None
    return tuple(
        p + sign * q for p, q in zip(a.dimension or PLAIN, b.dimension or PLAIN, strict=True)
    )


def power(a: Quantity, b: Quantity) -> Quantity:
    if b.dimension not in (None, PLAIN):
        raise UnitFault(f"an exponent is {b.words}, not a plain number.")
    with np.errstate(all="ignore"):  # what is not finite is refused by whoever measures it
        value = np.power(np.asarray(a.value, float), b.value)
    value = value if value.ndim else float(value)
    if a.dimension is None or a.dimension == PLAIN:
        return Quantity(value, a.dimension)
    if b.varies:
        raise UnitFault(f"{a.words} cannot be raised to a power that varies.")
    exponent = Fraction(float(b.value)).limit_denominator(12)
    return Quantity(value, tuple(d * exponent for d in a.dimension))


#: Functions of plain numbers, and those that keep the unit of what they get.
PLAIN_FUNCTIONS: dict[str, Callable[[Any], Any]] = {
    "sin": np.sin, "cos": np.cos, "tan": np.tan, "asin": np.arcsin, "acos": np.arccos, "atan": np.arctan, "exp": np.exp,
    "log": np.log, "log10": np.log10, "sinh": np.sinh, "cosh": np.cosh, "tanh": np.tanh,
}  # fmt: skip
KEEPING_FUNCTIONS: dict[str, Callable[[Any], Any]] = {
    "abs": np.abs,
    "floor": np.floor,
    "ceil": np.ceil,
}


def apply(name: str, a: Quantity) -> Quantity | None:
    """A function of one quantity; None when there is no such function."""
    with np.errstate(all="ignore"):
        if name in PLAIN_FUNCTIONS:
            if a.dimension not in (None, PLAIN):
                raise UnitFault(f"{name} wants a plain number and gets {a.words}.")
            return Quantity(_plain(PLAIN_FUNCTIONS[name](a.value)), PLAIN)
        if name in KEEPING_FUNCTIONS:
            return replace(a, value=_plain(KEEPING_FUNCTIONS[name](a.value)), relative=False)
        if name == "sqrt":
            half = None if a.dimension is None else tuple(d / 2 for d in a.dimension)
            return Quantity(_plain(np.sqrt(a.value)), half)
        if name == "sign":
            return Quantity(_plain(np.sign(a.value)), PLAIN)
    return None


def _plain(value: Any) -> Any:
    return value if isinstance(value, np.ndarray) and value.ndim else float(value)

"""Units: Modelica unit strings, what people type, dimensions and conversion.

Conversion factors come from pint; this module only knows which symbols exist and how they combine
(Modelica Language Specification 3.6, chapter 19). They are kept in a table, as pint is slow to begin.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from movrel.errors import UnitFault
from movrel.unit_sizes import BASE, as_json, from_pint, kept

#: Symbols that take SI prefixes, with pint's names.
_PREFIXED = {
    "m": "meter", "g": "gram", "s": "second", "A": "ampere", "K": "kelvin", "mol": "mole", "cd": "candela",
    "rad": "radian", "sr": "steradian", "Hz": "hertz", "N": "newton", "Pa": "pascal", "J": "joule", "W": "watt",
    "C": "coulomb", "V": "volt", "F": "farad", "Ohm": "ohm", "S": "siemens", "Wb": "weber", "T": "tesla",
    "H": "henry", "lm": "lumen", "lx": "lux", "l": "liter", "L": "liter", "eV": "electron_volt", "bar": "bar",
    "t": "metric_ton", "VA": "volt_ampere", "var": "volt_ampere",
}  # fmt: skip
#: Symbols that stand alone.
_PLAIN = {
    "min": "minute", "h": "hour", "d": "day", "deg": "degree", "rev": "turn", "degC": "degree_Celsius",
    "degF": "degree_Fahrenheit", "atm": "standard_atmosphere", "psi": "pound_force_per_square_inch", "in": "inch",
    "ft": "foot", "kgf": "kilogram_force", "hp": "horsepower", "mmHg": "millimeter_Hg",
}  # fmt: skip
_PREFIXES = {
    "q": -30, "r": -27, "y": -24, "z": -21, "a": -18, "f": -15, "p": -12, "n": -9, "u": -6, "m": -3, "c": -2, "d": -1,
    "da": 1, "h": 2, "k": 3, "M": 6, "G": 9, "T": 12, "P": 15, "E": 18, "Z": 21, "Y": 24, "R": 27, "Q": 30,
}  # fmt: skip
#: Ways of writing that people use, and the symbol that is meant.
_SPELLINGS = {
    "rpm": "rev/min", "sec": "s", "hr": "h", "ohm": "Ohm", "Ω": "Ohm", "°C": "degC", "°F": "degF",
    "°": "deg", "%": "0.01", "litre": "l", "liter": "l", "lpm": "l/min", "km/h": "km/h", "U/min": "rev/min",
    "krpm": "1000.rev/min", "kohm": "kOhm", "Mohm": "MOhm",
    # Products without a dot between their factors, as datasheets print them.
    "Nm": "N.m", "mNm": "mN.m", "uNm": "uN.m", "kNm": "kN.m", "MNm": "MN.m", "Ncm": "N.cm", "Nmm": "N.mm", "Nms": "N.m.s",
    "mNms": "mN.m.s", "Ns": "N.s", "kNs": "kN.s", "gcm": "g.cm", "gmm": "g.mm", "kgm": "kg.m", "kgcm": "kg.cm",
    "kgmm": "kg.mm", "Wh": "W.h", "kWh": "kW.h", "MWh": "MW.h", "Ah": "A.h", "mAh": "mA.h", "Ws": "W.s", "kWs": "kW.s",
    "Vs": "V.s", "mVs": "mV.s", "As": "A.s",
}  # fmt: skip
_WORDS = {
    "m": "a length", "kg": "a mass", "s": "a time", "A": "an electric current", "K": "a temperature",
    "mol": "an amount of substance", "m2": "an area", "m3": "a volume", "m/s": "a velocity", "m/s2": "an acceleration",
    "m3/s": "a volume flow", "kg/s": "a mass flow", "kg/m3": "a density", "N": "a force", "Pa": "a pressure",
    "J": "an energy or torque", "W": "a power", "V": "a voltage", "Ohm": "a resistance", "F": "a capacitance",
    "H": "an inductance", "C": "a charge", "1/s": "a frequency or angular velocity", "kg.m2": "a moment of inertia",
    "W/K": "a heat conductance",
    "J/K": "a heat capacity", "J/(kg.K)": "a specific heat capacity", "N/m": "a stiffness", "Pa.s": "a viscosity",
    "W/(m2.K)": "a heat transfer coefficient", "W/(m.K)": "a heat conductivity", "1/s2": "an angular acceleration",
    "mol/m3": "a concentration", "N.s/m": "a damping", "T": "a flux density", "Wb": "a magnetic flux",
}  # fmt: skip

Dimension = tuple[Fraction, ...]
_NONE: Dimension = tuple(Fraction(0) for _ in BASE)


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit: ``value in SI = value * factor + offset``."""

    symbol: str
    dimension: Dimension
    factor: float
    offset: float = 0.0

    def describe(self) -> str:
        """The dimension in words, with the unit: 'a length (m)'."""
        words = dimension_words(self.dimension)
        return f"{words} ({self.symbol})" if self.symbol not in ("", "1") else words


def pint_names() -> list[str]:
    """Pint's names of all units that symbols stand for."""
    return sorted({*_PLAIN.values(), *_PREFIXED.values()})


@cache
def _symbol(name: str) -> tuple[Dimension, float, float] | None:
    """Dimension, factor and offset of one symbol with its prefix."""
    prefix, pint_name = "", _PLAIN.get(name) or _PREFIXED.get(name)
    if pint_name is None:
        for length in (2, 1):
            if name[:length] in _PREFIXES and name[length:] in _PREFIXED:
                prefix, pint_name = name[:length], _PREFIXED[name[length:]]
                break
    if pint_name is None:
        return None
    dimension, size, zero = kept()[pint_name]
    return dimension, _clean(size * 10.0 ** _PREFIXES.get(prefix, 0)), zero


def prefix_of(power: int) -> str:
    """The SI prefix of a power of ten, such as ``k`` of 3; nothing for 0."""
    return next((p for p, exponent in _PREFIXES.items() if exponent == power), "")


def _clean(factor: float) -> float:
    """Remove the rounding of products of powers of ten."""
    rounded = float(f"{factor:.15g}")
    return rounded if math.isclose(rounded, factor, rel_tol=4e-16) else factor


_TOKEN = re.compile(
    r"\s*(?:(?P<number>\d+(?:\.\d+)?)|(?P<name>[A-Za-z]+)|(?P<sign>[-+])|(?P<mark>[./()*]))"
)


class _Reader:
    """Recursive descent over a unit expression."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.tokens: list[str] = []
        position = 0
        while position < len(text):
            match = _TOKEN.match(text, position)
            if match is None or match.end() == position:
                raise UnitFault(f"'{text}' is not a unit: '{text[position:]}' is not understood.")
            self.tokens.append(match.group().strip())
            position = match.end()
        self.position = 0

    def peek(self) -> str:
        return self.tokens[self.position] if self.position < len(self.tokens) else ""

    def take(self) -> str:
        token = self.peek()
        self.position += 1
        return token

    def whole(self) -> tuple[Dimension, float, float]:
        result = self.product()
        while self.peek() == "/":
            self.take()
            below = self.factor()
            while self.peek() in (".", "*") and "(" not in self.text:
                self.take()
                below = _combine(below, self.factor(), 1)
            result = _combine(result, below, -1)
            if self.peek() in (".", "*"):
                self.take()
                result = _combine(result, self.product(), 1)
        if self.peek():
            raise UnitFault(f"'{self.text}' is not a unit: '{self.peek()}' is not expected there.")
        return result

    def product(self) -> tuple[Dimension, float, float]:
        result = self.factor()
        while self.peek() in (".", "*"):
            self.take()
            result = _combine(result, self.factor(), 1)
        return result

    def factor(self) -> tuple[Dimension, float, float]:
        token = self.take()
        if token == "(":
            result = self.inside()
        elif token[:1].isdigit():
            return _NONE, float(token), 0.0
        else:
            symbol = _symbol(token) if token.isalpha() else None
            if symbol is None:
                raise UnitFault(f"'{token or self.text}' is not a known unit.", hint=suggest(token))
            result = symbol
        exponent = self.exponent()
        if exponent == 1:
            return result
        dimension, factor, offset = result
        if offset:
            raise UnitFault(
                f"'{self.text}': a temperature scale with its own zero takes no exponent."
            )
        return tuple(d * exponent for d in dimension), factor ** float(exponent), 0.0

    def inside(self) -> tuple[Dimension, float, float]:
        result = self.product()
        while self.peek() == "/":
            self.take()
            result = _combine(result, self.factor(), -1)
        if self.take() != ")":
            raise UnitFault(f"'{self.text}' is not a unit: a bracket is not closed.")
        return result

    def exponent(self) -> Fraction:
        sign = 1
        if (
            self.peek() in ("-", "+")
            and self.position + 1 < len(self.tokens)
            and self.tokens[self.position + 1].isdigit()
        ):
            sign = -1 if self.take() == "-" else 1
        if self.peek().isdigit():
            return Fraction(sign * int(self.take()))
        return Fraction(1)


def _combine(
    a: tuple[Dimension, float, float], b: tuple[Dimension, float, float], sign: int
) -> tuple[Dimension, float, float]:
    dimension = tuple(p + sign * q for p, q in zip(a[0], b[0], strict=True))
    return dimension, a[1] * b[1] if sign > 0 else a[1] / b[1], 0.0


def normalise(text: str) -> str:
    """A unit as people type it, in the characters of the standard."""
    text = text.strip()
    if text in _SPELLINGS:
        return _SPELLINGS[text]
    for typed, meant in (
        ("²", "2"),
        ("³", "3"),
        ("·", "."),
        ("×", "."),
        ("µ", "u"),
        ("μ", "u"),
        ("°C", "degC"),
        ("°", "deg"),
        ("Ω", "Ohm"),
    ):
        text = text.replace(typed, meant)
    text = re.sub(r"(?<=[A-Za-z0-9)])\s+(?=[A-Za-z(])", ".", text.replace("^", ""))
    text = re.sub(r"/([A-Za-z]+\d)([A-Za-z]+\d?)(?![\w.])", r"/(\1.\2)", text)
    text = re.sub(r"(?<=[A-Za-z]\d)(?=[A-Za-z(])", ".", text)
    return re.sub(r"(/?)([A-Za-z]+)", _in_full, text)


def _in_full(match: re.Match[str]) -> str:
    """A spelling written out; below a stroke in brackets, where it has a stroke of its own."""
    text = _SPELLINGS.get(match[2], match[2])
    return f"{match[1]}({text})" if match[1] and "/" in text else match[1] + text


@cache
def unit(text: str) -> Unit:
    """The unit of a Modelica unit string, or of what somebody typed.

    Raises :class:`UnitFault` naming the part that is not understood.
    """
    if text.strip() in ("", "1"):
        return Unit(text.strip() or "1", _NONE, 1.0)
    dimension, factor, offset = _Reader(normalise(text)).whole()
    return Unit(text.strip(), dimension, _clean(factor), offset)


def suggest(name: str, declared: str = "") -> str:
    """A near miss among the known symbols; among those of the dimension of a declared unit, where there is one."""
    from difflib import get_close_matches

    symbols = [
        *_PREFIXED,
        *_PLAIN,
        *_SPELLINGS,
        *(p + s for p in ("k", "M", "m", "c", "u", "G") for s in _PREFIXED),
    ]
    usual = "Use SI symbols such as m, kg, s, N.m, l/s, degC."
    if declared not in ("", "1"):
        dimension = unit(declared).dimension
        symbols = [declared, *(s for s in symbols if unit(s).dimension == dimension)]
        usual = f"Give it in {pretty(declared)}, or in a unit that converts to it."
    close = get_close_matches(name, symbols, 3, 0.5)
    return f"Did you mean {' or '.join(repr(c) for c in close)}?" if close else usual


@cache
def dimension_words(dimension: Dimension) -> str:
    """'a length', 'a volume flow', or a product of base units."""
    if dimension == _NONE:
        return "a plain number"
    for symbol, words in _WORDS.items():
        if unit(symbol).dimension == dimension:
            return words
    bases = ("m", "kg", "s", "A", "K", "mol", "cd")
    powers = sorted(
        zip(bases, dimension, strict=True), key=lambda item: (item[0] != "kg", item[1] < 0)
    )
    parts = [f"{b}{'' if e == 1 else e}" for b, e in powers if e]
    return "a quantity in " + ".".join(parts)


def convert(value: float, source: str, target: str) -> float:
    """Convert a number between units. Raises :class:`UnitFault` when the dimensions differ."""
    if source == target:
        return value
    a, b = unit(source), unit(target)
    if a.dimension != b.dimension:
        raise UnitFault(f"{a.describe()} does not fit {b.describe()}.")
    return clean_value((value * a.factor + a.offset - b.offset) / b.factor)


def clean_value(value: float) -> float:
    """Fifteen significant digits, so that 30 cm is 0.3 m and not 0.30000000000000004 m."""
    return float(f"{value:.15g}")


def display_value(value: float, unit: str, display_unit: str) -> float:
    """A value in the unit in which it is shown; unchanged when the units do not fit each other."""
    try:
        return convert(value, unit, display_unit) if unit and display_unit != unit else value
    except UnitFault:
        return value


def display_scale(unit: str, display_unit: str) -> tuple[float, float]:
    """Factor and offset from the declared to the shown unit: ``shown = value * factor + offset``."""
    offset = display_value(0.0, unit, display_unit)
    return display_value(1.0, unit, display_unit) - offset, offset


#: SI units of symbols that are not SI units with a prefix: name and exponent.
_SI = {
    "g": ("kg", 1), "t": ("kg", 1), "l": ("m", 3), "L": ("m", 3), "eV": ("J", 1), "bar": ("Pa", 1), "VA": ("W", 1),
    "var": ("W", 1), "min": ("s", 1), "h": ("s", 1), "d": ("s", 1), "deg": ("rad", 1), "rev": ("rad", 1),
    "degC": ("K", 1), "degF": ("K", 1), "atm": ("Pa", 1), "psi": ("Pa", 1), "in": ("m", 1), "ft": ("m", 1),
    "kgf": ("N", 1), "hp": ("W", 1), "mmHg": ("Pa", 1),
}  # fmt: skip


def si_unit(text: str) -> str:
    """The SI unit of the same dimension, built alike: ``l/min`` gives ``m3/s``, ``mN.m`` gives ``N.m``.

    Raises :class:`UnitFault` naming the part that is not understood.
    """
    given = unit(text)
    if given.dimension == _NONE and not re.search(r"rad|deg|rev|rpm|°", text):
        return "1"

    def replaced(match: re.Match[str]) -> str:
        name, exponent = match[1], int(match[2] or 1)
        if name not in _PLAIN and name not in _PREFIXED:
            length = next(n for n in (2, 1) if name[:n] in _PREFIXES and name[n:] in _PREFIXED)
            name = name[length:]
        base, power = _SI.get(name, (name, 1))
        return base + (str(power * exponent) if power * exponent != 1 else "")

    return re.sub(
        r"([A-Za-z]+)([-+]?\d+)?",
        replaced,
        re.sub(r"(?<![A-Za-z\d.])\d+\.\d+", "1", normalise(text)),
    )


def pretty(symbol: str) -> str:
    """A unit as an engineer writes it: ``kg.m2`` as kg·m², ``1`` as nothing."""
    if symbol in ("", "1"):
        return ""
    text = re.sub(
        r"(?<=[A-Za-z])([23])(?!\d)", lambda match: {"2": "²", "3": "³"}[match[1]], symbol
    )
    text = re.sub(r"\bu(?=[A-Za-z])", "µ", text)
    for plain, sign in ((".", "·"), ("degC", "°C"), ("degF", "°F"), ("Ohm", "Ω")):
        text = text.replace(plain, sign)
    return text


@dataclass(frozen=True, slots=True)
class Typed:
    """What somebody typed into a row: a number in the declared unit and the unit it was typed in."""

    value: float
    unit: str


_QUANTITY = re.compile(
    r"^\s*(?P<number>[-+]?[\d.,]*\d[\d.,]*(?:[eE][-+]?\d+)?)\s*(?P<unit>.*?)\s*$"
)
_WRITTEN = re.compile(r"(?P<sign>[-+]?)(?P<digits>[\d.,]*\d[\d.,]*)(?P<power>(?:[eE][-+]?\d+)?)")


def read_number(text: str) -> float | None:
    """A number as people type it, with a decimal point or a decimal comma; None if it is no such thing.

    ``1.200,5`` and ``1,200.5`` are both 1200.5, ``0,5`` is 0.5. Raises :class:`UnitFault` with both readings for what
    can be read in two ways, such as ``1,200``, and for a number beyond what can be computed with.
    """
    written = _WRITTEN.fullmatch(text.strip())
    if written is None:
        return None
    digits = written["digits"]
    commas, points = digits.count(","), digits.count(".")
    if commas and points:
        decimal = max(",", ".", key=digits.rfind)
        whole, fraction = digits.rsplit(decimal, 1)
        grouped = _ungrouped(whole, "." if decimal == "," else ",")
        digits = f"{grouped}.{fraction}" if grouped and decimal not in whole else ""
    elif commas == 1:
        whole, fraction = digits.split(",")
        if len(fraction) == 3 and re.fullmatch(r"[1-9]\d{0,2}", whole):
            decimal, thousands = (
                f"{written['sign']}{d}{written['power']}"
                for d in (f"{whole}.{fraction}", whole + fraction)
            )
            raise UnitFault(
                f"'{text.strip()}' can be read as {float(decimal):.15g} or as {float(thousands):.15g}.",
                hint=f"Type {float(decimal):.15g} or {float(thousands):.15g}.",
            )
        digits = f"{whole}.{fraction}"
    elif commas or points > 1:
        digits = _ungrouped(digits, "," if commas else ".")
    if not digits:
        return None
    number = float(f"{written['sign']}{digits}{written['power']}")
    if not math.isfinite(number):
        raise UnitFault(f"'{text.strip()}' is too large a number.")
    return number


def _ungrouped(digits: str, separator: str) -> str:
    """Digits in groups of three without what separates these; nothing where the groups are others."""
    groups = re.fullmatch(rf"[1-9]\d{{0,2}}(?:{re.escape(separator)}\d{{3}})+", digits)
    return digits.replace(separator, "") if groups else ""


#: What is no unit but goes on as a formula: an operator or digit at once, or a further number.
_FORMULA = re.compile(r"^[-+*/^()\d]|[-+*/·]\s*\d")
#: A unit that begins with its divisor: ``1/min``.
_PER = re.compile(r"1/[A-Za-z%°µμΩ][\w°µμΩ²³·]*")


def read_quantity(text: str, declared: str, shown: str = "") -> Typed | None:
    """A number with an optional unit, converted to the declared unit; None if it is no such thing.

    Without a unit the one that is shown is meant. Raises :class:`UnitFault` for an unknown unit or a
    dimension that does not fit, naming both.
    """
    match = _QUANTITY.match(text)
    if match is None or (_FORMULA.search(match["unit"]) and not _PER.fullmatch(match["unit"])):
        return None
    number = read_number(match["number"])
    given = match["unit"]
    if number is None:
        return None
    if not given:
        given = shown or declared
        return Typed(convert(number, given, declared), given)
    given = _with_prefix_alone(given, declared)
    try:
        a, b = unit(given), unit(declared)
    except UnitFault as fault:
        raise UnitFault(fault.message, hint=suggest(given, declared)) from None
    if not declared and a.dimension != _NONE:
        raise UnitFault(
            f"'{given}' is {a.describe()}, but this row is a plain number.",
            hint="Leave the unit out.",
        )
    if a.dimension != b.dimension:
        raise UnitFault(
            f"'{given}' is {dimension_words(a.dimension)}, but this row is {b.describe()}.",
            hint=f"Give a value in {declared or 'no unit'} or a unit that converts to it.",
        )
    return Typed(convert(number, given, declared or "1"), "1" if given == "%" else normalise(given))


def _with_prefix_alone(given: str, declared: str) -> str:
    """A prefix that stands for a unit, as in ``10k`` for a resistance: with the unit that belongs to it.

    What is a unit of the dimension by itself, such as ``5m`` of a length, stays that.
    """
    prefix = "u" if given in ("µ", "μ") else given
    first = re.match(r"[A-Za-z]+(?!\d)", declared)
    base = "g" if first and first.group() == "kg" else first.group() if first else ""
    if len(prefix) != 1 or prefix not in "pnumkMGT" or base not in _PREFIXED:
        return given
    alone = _symbol(prefix)
    if alone and alone[0] == unit(declared).dimension:
        return given
    return f"{prefix}{base}{declared.removeprefix(first.group() if first else '')}"


if __name__ == "__main__":
    print(as_json(from_pint(pint_names())), end="")

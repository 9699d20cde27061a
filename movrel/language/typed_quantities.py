"""Numbers with units inside what people type: claims, and formulae of values."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from movrel.errors import UnitFault
from movrel.units import convert, normalise, si_unit, suggest, unit

_NUMBER = re.compile(r"(?<![\w.\]])\d+(?:\.\d*)?(?:[eE][-+]?\d+)?")
_FACTOR = r"[A-Za-z%°µμΩ](?:[A-Za-z0-9%°µμΩ²³·.]|\^[-+]?\d)*"
_UNIT = re.compile(rf"\s*(1/)?{_FACTOR}(?:/(?:\([^()]*\)|{_FACTOR}))*")
_WORDS = {"and", "or", "not", "if", "then", "else", "elseif", "true", "false"}
#: The ratio of circumference and diameter as the component library names it.
PI = "Movrel.Units.pi"


@dataclass(frozen=True, slots=True)
class TypedNumber:
    """A number in a text, from and up to a character, with the unit behind it; empty for none."""

    start: int
    end: int
    number: str
    unit: str


def typed_numbers(text: str) -> Iterator[TypedNumber]:
    """The numbers of a text, each with the longest unit that follows. Raises :class:`UnitFault` for an unknown one."""
    position = 0
    for number in _NUMBER.finditer(text):
        if number.start() >= position:
            symbol, position = _unit_at(text, number.end())
            yield TypedNumber(number.start(), position, number.group(), symbol)


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
            if "/" not in tries.removeprefix("1/"):
                raise UnitFault(f"'{symbol}' is not a known unit.", hint=suggest(symbol)) from None
            tries = tries.rpartition("/")[0]
            continue
        return tries, match.end() - (len(symbol) - len(tries))


def in_si(text: str, remarks: bool = False) -> str:
    """A typed formula as Modelica has it: quantities as numbers in SI units, powers with ^, signs of the trade spelt out.

    ``pi*(14 cm)^2/4`` gives ``Movrel.Units.pi*(0.14)^2/4``, ``2.4 l/area`` gives ``0.0024/area``; with ``remarks``
    what was typed stays beside each number in a comment, ``(0.14 /*14 cm*/)``, for :func:`as_typed`.
    Raises :class:`UnitFault` for an unknown unit.
    """
    out, position = "", 0
    for typed in typed_numbers(text):
        if not typed.unit:
            continue
        symbol = normalise(typed.unit)
        out += _spelt_out(text[position : typed.start])
        number = f"{convert(float(typed.number), symbol, si_unit(symbol)):.15g}"
        if remarks:
            # In parentheses, so that the comment stands inside the expression whatever is cut out of it.
            number += f" /*{text[typed.start : typed.end].strip()}*/"
            inside = out.endswith("(") and text[typed.end :].lstrip().startswith(")")
            number = number if inside else f"({number})"
        out += number
        position = typed.end
    return out + _spelt_out(text[position:])


def as_typed(text: str) -> str:
    """A formula as it is shown where it was typed: with the quantities of its remarks, and the short name of pi."""
    return _REMARK.sub(_remarked, text).replace(PI, "pi")


_REMARK = re.compile(r"\((\d[\d.]*(?:e[-+]?\d+)?) /\*([^*]*)\*/\)(?=\s*(.?))")


def _remarked(match: re.Match[str]) -> str:
    """A remark in the place of its number, as long as both say the same; in parentheses where its unit would go on."""
    number, typed, following = match.groups()
    try:
        same = in_si(typed) == number
    except UnitFault:
        same = False
    return (
        f"({typed if same else number})"
        if following in tuple("/^·.(")
        else typed
        if same
        else number
    )


#: Signs that formulae are written with elsewhere, and how the language has them.
_SIGNS = {"−": "-", "·": "*", "×": "*", "**": "^", "π": "pi"}


def _spelt_out(piece: str) -> str:
    for sign, meant in _SIGNS.items():
        piece = piece.replace(sign, meant)
    return re.sub(r"(?<![\w.])pi(?![\w(])", PI, piece)

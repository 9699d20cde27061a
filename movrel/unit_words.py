"""Numbers with their units as sentences and symbols have them: few digits, a prefix that suits."""

from __future__ import annotations

import math
import re
from typing import Any

from movrel.units import clean_value, prefix_of, pretty

#: Units that people use with a prefix, and the powers of ten, from and to, of those that they use.
_SUITED = {
    "F": (-12, 0), "H": (-9, 0), "Ohm": (-6, 9), "S": (-9, 3), "V": (-9, 6), "A": (-12, 6), "C": (-12, 0), "W": (-9, 9),
    "VA": (0, 9), "J": (-9, 9), "N": (-6, 9), "Pa": (-3, 9), "Hz": (-3, 9), "s": (-12, 0), "m": (-9, 3), "T": (-9, 0),
    "Wb": (-9, 0),
}  # fmt: skip


def suited(value: float, unit: str) -> tuple[float, str]:
    """A number with a prefix before its unit where that makes it shorter: 1e-4 F as 100 uF, 2e6 N.m/rad as 2 MN.m/rad."""
    first = re.match(r"[A-Za-z]+(?=[./]|$)", unit)
    size = abs(value)
    if (
        first is None
        or first.group() not in _SUITED
        or not 0 < size < math.inf
        or 0.01 <= size < 1e4
    ):
        return value, unit
    low, high = _SUITED[first.group()]
    power = min(max(math.floor(math.log10(size * (1 + 1e-12)) / 3) * 3, low), high)
    scaled = clean_value(value / 10.0**power)
    if power == 0 or len(_five_digits(scaled)) >= len(_five_digits(value)):
        return value, unit
    return scaled, f"{prefix_of(power)}{unit}"


def in_words(value: Any, unit: str = "") -> str:
    """A value for a sentence: at most five significant digits, with its unit, which takes a prefix that suits."""
    if isinstance(value, float):
        value, unit = suited(value, unit)
    text = (
        _five_digits(value)
        if isinstance(value, float)
        else str(value).lower()
        if isinstance(value, bool)
        else str(value)
    )
    return f"{text} {pretty(unit)}".strip()


def _five_digits(value: float) -> str:
    """Five significant digits; powers of ten only for what would be long without."""
    text = f"{value:.5g}"
    return f"{float(text):.0f}" if text.endswith("e+05") else text

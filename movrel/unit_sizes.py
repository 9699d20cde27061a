"""Dimension, size and zero of the units that symbols stand for, from pint.

They are kept in ``unit_sizes.json``, as pint takes a third of a second to begin; written anew by
``python -m movrel.units > movrel/unit_sizes.json``.
"""

from __future__ import annotations

import json
from fractions import Fraction
from functools import cache
from pathlib import Path

#: Dimensions of the SI's base quantities by pint's names, in the order of an entry's exponents.
BASE: tuple[str, ...] = ("[length]", "[mass]", "[time]", "[current]", "[temperature]", "[substance]", "[luminosity]")  # fmt: skip
#: Exponents as fractions, size in SI units, and the value in SI units of zero.
Entry = tuple[tuple[Fraction, ...], float, float]


@cache
def kept() -> dict[str, Entry]:
    """The table by pint's names of units."""
    raw = json.loads(Path(__file__).with_suffix(".json").read_text(encoding="utf-8"))
    return {
        name: (tuple(Fraction(e) for e in exponents), size, zero)
        for name, (exponents, size, zero) in raw.items()
    }


def as_json(entries: dict[str, Entry]) -> str:
    """The text of the table."""
    raw = {
        name: [[str(e) for e in exponents], *sizes] for name, (exponents, *sizes) in entries.items()
    }
    return json.dumps(raw, indent=0, sort_keys=True) + "\n"


def from_pint(names: list[str]) -> dict[str, Entry]:
    """The same of given names as pint has it."""
    import pint

    registry = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
    entries: dict[str, Entry] = {}
    for name in names:
        unit = registry.Unit(name)
        exponents = {
            k: Fraction(v).limit_denominator(100) for k, v in dict(unit.dimensionality).items()
        }
        zero = float(registry.Quantity(0.0, unit).to_base_units().magnitude)
        one = float(registry.Quantity(1.0, unit).to_base_units().magnitude)
        entries[name] = tuple(exponents.get(b, Fraction(0)) for b in BASE), one - zero, zero
    return entries

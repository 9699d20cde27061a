"""Numbers with units inside typed formulae."""

from __future__ import annotations

import pytest

from movrel.errors import UnitFault
from movrel.language.typed_quantities import as_typed, in_si


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        ("2 * 320 mN.m", "2 * 0.32"), ("2.4 l/area", "0.0024/area"), ("3*x + 5 °C", "3*x + 278.15"), ("d**2·h", "d^2*h"),
        ("9.81 m/s^2*h", "9.81*h"), ("1/(2 ms)", "1/(0.002)"), ("L/R", "L/R"), ("1e3*2 mm²", "1e3*2e-06"),
        ("320 mN·m×k", "0.32*k"), ("if x > 2 then 3 else 4", "if x > 2 then 3 else 4"), ("x2 - a[3]*2", "x2 - a[3]*2"),
    ],
)  # fmt: skip
def test_quantities_become_numbers_in_si(typed: str, meant: str) -> None:
    assert in_si(typed) == meant


def test_pi_has_its_short_name_where_it_is_typed() -> None:
    assert in_si("pi*(14 cm)^2/4 + spiral") == "Movrel.Units.pi*(0.14)^2/4 + spiral"
    assert as_typed(in_si("2*pi*r")) == "2*pi*r"


def test_unknown_units_are_named() -> None:
    with pytest.raises(UnitFault, match="'furlong' is not a known unit"):
        in_si("2*3 furlong")

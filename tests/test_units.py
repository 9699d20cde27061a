"""Units: reading, converting, explaining."""

from __future__ import annotations

import re

import pytest

from movrel import unit_sizes
from movrel.errors import UnitFault
from movrel.unit_words import in_words
from movrel.units import convert, pint_names, pretty, read_number, read_quantity, unit


@pytest.mark.parametrize(
    ("value", "source", "target", "expected"),
    [
        (30, "cm", "m", 0.3), (40, "l/s", "m3/s", 0.04), (20, "degC", "K", 293.15), (68, "degF", "degC", 20),
        (3000, "rev/min", "rad/s", 314.159265358979), (1, "bar", "Pa", 1e5), (90, "km/h", "m/s", 25), (310, "mN.m", "N.m", 0.31),
        (1, "kW.h", "J", 3.6e6), (180, "deg", "rad", 3.14159265358979), (5, "mm2", "m2", 5e-6), (1, "kg.m2/s2", "J", 1),
        (1, "N.m/(rad/s)", "N.m.s", 1), (2, "m.s-2", "m/s2", 2), (1, "uF", "F", 1e-6), (0, "degC", "degF", 32), (1, "1/min", "1/s", 1 / 60),
    ],
)  # fmt: skip
def test_conversion(value: float, source: str, target: str, expected: float) -> None:
    assert convert(value, source, target) == pytest.approx(expected, rel=1e-12)


@pytest.mark.parametrize(
    ("typed", "declared", "shown", "value", "shown_after"),
    [
        ("30 cm", "m", "", 0.3, "cm"), ("0.3", "m", "", 0.3, "m"), ("30", "m", "cm", 0.3, "cm"), ("4200 rpm", "rad/s", "", 439.822971502571, "rev/min"),
        ("20 °C", "K", "", 293.15, "degC"), ("144 m³/h", "m3/s", "", 0.04, "m3/h"), ("9,81 m/s^2", "m/s2", "", 9.81, "m/s2"),
        ("50 %", "1", "", 0.5, "1"), ("1e-3", "", "", 0.001, ""), ("3 N m", "N.m", "", 3, "N.m"), ("-5 kPa", "Pa", "", -5000, "kPa"),
        # As datasheets print them.
        ("320 mNm", "N.m", "", 0.32, "mN.m"), ("12.3 gcm²", "kg.m2", "", 1.23e-6, "g.cm2"), ("25 mNm/A", "N.m/A", "", 0.025, "mN.m/A"),
        ("1 V/rpm", "V.s/rad", "", 9.54929658551372, "V/(rev/min)"), ("4 W/m²K", "W/(m2.K)", "", 4, "W/(m2.K)"),
        ("3 m3/min", "m3/s", "", 0.05, "m3/min"), ("2 Ah", "C", "", 7200, "A.h"),
        # A prefix alone.
        ("10k", "Ohm", "", 1e4, "kOhm"), ("2.2k", "Ohm", "", 2200, "kOhm"), ("4.7u", "F", "", 4.7e-6, "uF"), ("5m", "H", "", 5e-3, "mH"),
        ("5m", "m", "", 5, "m"), ("3k", "N.m/rad", "", 3000, "kN.m/rad"), ("2k", "kg", "", 2, "kg"),
    ],
)  # fmt: skip
def test_what_people_type(
    typed: str, declared: str, shown: str, value: float, shown_after: str
) -> None:
    quantity = read_quantity(typed, declared, shown)
    assert quantity is not None
    assert quantity.value == pytest.approx(value, rel=1e-14)
    assert quantity.unit == shown_after


@pytest.mark.parametrize(
    ("typed", "declared", "meant"),
    [("3 kOm", "Ohm", "'kOhm'"), ("3 kOm", "m", "'km'"), ("2 Nmn", "N.m", "'Nm"), ("4 furlongs", "m", "in m, or"), ("5 bax", "Pa", "'bar'")],
)  # fmt: skip
def test_only_units_of_the_dimension_are_suggested(typed: str, declared: str, meant: str) -> None:
    with pytest.raises(UnitFault) as fault:
        read_quantity(typed, declared)
    assert meant in str(fault.value.hint)
    for suggested in re.findall(r"'([^']+)'", str(fault.value.hint)):
        assert unit(suggested).dimension == unit(declared).dimension


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("0,5", 0.5), (",5", 0.5), ("1,5", 1.5), ("1,25", 1.25), ("0,125", 0.125), ("-3,5e2", -350), ("1.200,5", 1200.5),
        ("1,200.5", 1200.5), ("1,200,300", 1200300), ("1.200.300", 1200300), ("1,200,300.25", 1200300.25), ("1.200", 1.2),
        ("1234,567", 1234.567), ("+2", 2), ("5.", 5),
    ],
)  # fmt: skip
def test_numbers_with_points_and_commas_that_are_clear(typed: str, value: float) -> None:
    assert read_number(typed) == value
    quantity = read_quantity(f"{typed} mm", "m")
    assert quantity is not None and quantity.value == pytest.approx(value / 1000, rel=1e-14)


@pytest.mark.parametrize(
    ("typed", "one", "other"),
    [("1,200", "1.2", "1200"), ("-12,345", "-12.345", "-12345"), ("1,200e3", "1200", "1200000")],
)
def test_a_number_that_can_be_read_in_two_ways_is_refused_with_both(
    typed: str, one: str, other: str
) -> None:
    for read in (lambda: read_number(typed), lambda: read_quantity(f"{typed} mm", "m")):
        with pytest.raises(UnitFault, match=f"can be read as {one} or as {other}") as fault:
            read()
        assert one in fault.value.hint and other in fault.value.hint


@pytest.mark.parametrize(
    "text", ["1,2.5", "1.2.3", "1,2,3", "12,34.5", "1..2", ",", "1,200.500,3", "a", ""]
)
def test_what_is_no_number(text: str) -> None:
    assert read_number(text) is None


@pytest.mark.parametrize("text", ["D^2*pi/4", "2*3", "a", "1 + 2", "sin(1)", ""])
def test_expressions_are_no_quantities(text: str) -> None:
    assert read_quantity(text, "m") is None


@pytest.mark.parametrize(
    ("typed", "declared", "words"),
    [
        ("30 kg", "m", ["'kg' is a mass", "a length (m)"]), ("5 foo", "m", ["'foo' is not a known unit"]),
        ("3 m", "", ["plain number"]), ("1 bar", "m3/s", ["a pressure", "a volume flow"]),
    ],
)  # fmt: skip
def test_a_wrong_unit_names_both_dimensions(typed: str, declared: str, words: list[str]) -> None:
    with pytest.raises(UnitFault) as fault:
        read_quantity(typed, declared)
    for word in words:
        assert word in fault.value.sentence()


@pytest.mark.parametrize("text", ["m/", "(m", "m)", "kg..m", "5x", "m/s/", "degC2", "/s"])
def test_broken_units_are_refused(text: str) -> None:
    with pytest.raises(UnitFault):
        unit(text)


def test_units_are_written_as_engineers_do() -> None:
    assert [pretty(u) for u in ("kg.m2", "m3/s", "1", "degC", "uOhm", "W/(m2.K)")] == [
        "kg·m²",
        "m³/s",
        "",
        "°C",
        "µΩ",
        "W/(m²·K)",
    ]


def test_the_table_of_sizes_is_what_pint_says() -> None:
    """Rewritten by python -m movrel.units when symbols are added."""
    assert unit_sizes.kept() == unit_sizes.from_pint(pint_names())


@pytest.mark.parametrize(
    ("value", "symbol", "words"),
    [
        (1e-4, "F", "100 µF"), (1e5, "Ohm", "100 kΩ"), (5e-5, "s", "50 µs"), (2e6, "N.m/rad", "2 MN·m/rad"), (-0.004, "m", "-4 mm"),
        (12345.0, "N", "12345 N"), (50000.0, "kg", "50000 kg"), (0.001, "m3/s", "0.001 m³/s"), (20000.0, "mm", "20000 mm"), (0.0, "F", "0 F"),
    ],
)  # fmt: skip
def test_a_prefix_is_chosen_where_it_is_shorter(value: float, symbol: str, words: str) -> None:
    assert in_words(value, symbol) == words

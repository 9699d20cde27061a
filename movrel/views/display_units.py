"""The units in which people read a quantity, by the unit in which it is computed."""

from __future__ import annotations

from movrel.units import normalise, unit

#: Units of one kind stand together; the kind of a quantity is told by its own unit first, then by its dimension.
_KINDS: tuple[tuple[str, ...], ...] = (
    ("m", "um", "mm", "cm", "km"),
    ("m2", "mm2", "cm2"),
    ("m3", "ml", "l"),
    ("s", "us", "ms", "min", "h", "d"),
    ("m/s", "mm/s", "km/h"),
    ("kg", "g", "t"),
    ("kg/s", "g/s", "kg/min", "kg/h", "t/h"),
    ("m3/s", "ml/s", "l/s", "l/min", "m3/h"),
    ("kg/m3", "g/l", "kg/l"),
    ("N", "mN", "kN", "MN"),
    ("N.m", "mN.m", "kN.m"),
    ("Pa", "mbar", "kPa", "bar", "MPa"),
    ("J", "kJ", "MJ", "W.h", "kW.h"),
    ("W", "mW", "kW", "MW"),
    ("K", "degC", "degF"),
    ("rad", "mrad", "deg", "rev"),
    ("rad/s", "deg/s", "rev/s", "rev/min"),
    ("rad/s2", "deg/s2"),
    ("Hz", "kHz", "MHz"),
    ("1/s", "1/min", "1/h"),
    ("A", "uA", "mA", "kA"),
    ("V", "uV", "mV", "kV"),
    ("Ohm", "mOhm", "kOhm", "MOhm"),
    ("F", "pF", "nF", "uF", "mF"),
    ("H", "uH", "mH"),
    ("C", "mC", "A.h"),
    ("mol", "mmol", "kmol"),
    ("mol/m3", "mol/l", "mmol/l"),
    ("mol/s", "mol/h", "kmol/h"),
    ("J/kg", "kJ/kg"),
    ("J/(kg.K)", "kJ/(kg.K)"),
    ("1", "0.01"),
)


def fitting_units(declared: str) -> list[str]:
    """Units in which a quantity of this unit can be shown, its own first.

    Raises :class:`movrel.errors.UnitFault` naming the part of it that is not understood.
    """
    own = normalise(declared or "1")
    dimension = unit(own).dimension
    kind = next((k for k in _KINDS if own in k), None) or next(
        (k for k in _KINDS if unit(k[0]).dimension == dimension), ()
    )
    return [own, *(u for u in kind if u != own)]

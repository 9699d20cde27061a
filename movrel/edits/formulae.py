"""The unit of a typed formula."""

from __future__ import annotations

import re
from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from movrel.analyse.claim_text import read_expression
from movrel.analyse.claims import value_of
from movrel.analyse.quantity import Quantity
from movrel.errors import MovrelError
from movrel.language.typed_quantities import typed_numbers


class _Known:
    """A run of known quantities alone, in which formulae are worked out."""

    time = np.zeros(1)

    def __init__(self, known: Mapping[str, Quantity]) -> None:
        self._known = known

    def quantity(self, name: str) -> Quantity | None:
        return self._known.get(name)

    def names(self) -> list[str]:
        return list(self._known)

    def event_times(self) -> npt.NDArray[np.float64]:
        return np.array([])


def unit_of_formula(typed: str, known: Mapping[str, Quantity] | None = None) -> str:
    """The SI unit that the quantities of a formula make; empty where it has none, or uses other names than ``known``.

    ``pi*(14 cm)^2/4`` gives ``m2``. Raises :class:`movrel.errors.UnitFault` for an unknown unit.
    """
    if not known and not any(number.unit for number in typed_numbers(typed)):
        return ""
    try:
        _, symbol = value_of(read_expression(typed.replace("**", "^")), _Known(known or {}))
    except MovrelError:
        return ""
    return "" if symbol == "1" else symbol


def unit_by_names(typed: str, units: Mapping[str, Quantity | None]) -> str:
    """The SI unit of a formula of named values, each with its quantity, None for one without a unit.

    Empty where a name has no unit, or a number such as 9.81 may stand for a quantity.
    """
    used = {name for name in re.findall(r"(?<![\w.])[A-Za-z_]\w*", typed) if name in units}
    quantities = {name: quantity for name in used if (quantity := units[name]) is not None}
    plain = [n.number for n in typed_numbers(typed) if not n.unit]
    if not used or len(quantities) < len(used) or not all(float(n).is_integer() for n in plain):
        return ""
    return unit_of_formula(typed, quantities)

"""The unit of a typed formula."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.analyse.claim_text import read_expression
from movrel.analyse.claims import value_of
from movrel.errors import MovrelError
from movrel.language.typed_quantities import typed_numbers


class _NoNames:
    """A run without variables, in which formulae of numbers alone are worked out."""

    time = np.zeros(1)

    def quantity(self, name: str) -> None:
        return None

    def names(self) -> list[str]:
        return []

    def event_times(self) -> npt.NDArray[np.float64]:
        return np.array([])


def unit_of_formula(typed: str) -> str:
    """The SI unit that the quantities of a formula make; empty where it has none, or uses names.

    ``pi*(14 cm)^2/4`` gives ``m2``. Raises :class:`movrel.errors.UnitFault` for an unknown unit.
    """
    if not any(number.unit for number in typed_numbers(typed)):
        return ""
    try:
        _, symbol = value_of(read_expression(typed.replace("**", "^")), _NoNames())
    except MovrelError:
        return ""
    return symbol

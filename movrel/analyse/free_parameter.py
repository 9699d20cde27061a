"""What a fit may change: a parameter with its range and scale."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

import numpy as np

from movrel.errors import MovrelError

Scale: TypeAlias = Literal["linear", "log"]


@dataclass(frozen=True, slots=True)
class Free:
    """A parameter to find: a name of the model, ``name.start`` for the start of a state, or ``offset(column)`` for that of a
    sensor. ``each`` finds a value of its own for every experiment."""

    name: str
    low: float
    start: float
    high: float
    scale: Scale = "linear"
    each: bool = False

    def check(self) -> None:
        """Raises :class:`MovrelError` for bounds that do not go together."""
        if not self.low < self.high or not self.low <= self.start <= self.high:
            raise MovrelError(
                f"'{self.name}' begins at {self.start:g}, between {self.low:g} and {self.high:g}: that is no range.",
                hint="Give low, start and high in this order.",
            )
        if self.scale == "log" and self.low <= 0:
            raise MovrelError(f"the logarithmic range of '{self.name}' must be above zero.")

    def inner(self, value: float) -> float:
        return float(np.log(value)) if self.scale == "log" else value

    def outer(self, value: float) -> float:
        return float(np.exp(value)) if self.scale == "log" else value

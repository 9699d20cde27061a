"""Equations that tick together."""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.errors import Place
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation


@dataclass(eq=False, slots=True)
class Partition:
    """Equations that tick together, with the variables that do.

    ``clock`` is that of a clocked when clause or a state machine; ``written`` equations hold their tick already.
    ``method`` says how derivatives are integrated from tick to tick.
    """

    equations: list[FlatEquation]
    where: Place | None = None
    clock: Expr | None = None
    written: bool = False
    method: str = ""
    variables: list[Variable] = field(default_factory=list)

    @property
    def unknowns(self) -> list[Variable]:
        """What the equations determine."""
        return [v for v in self.variables if v.causality != "input"]

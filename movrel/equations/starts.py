"""Start values of variables after alias removal: what a removed variable said holds for the one that stays."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from movrel.model import expression as x
from movrel.model.expression import Expr, Variable


class Start(NamedTuple):
    """A start value (None where none is given) and whether it must hold."""

    value: Expr | None
    fixed: bool | None


@dataclass(slots=True)
class Starts:
    """The start of each variable: its own, or one that it took over. The variables themselves are never altered."""

    inherited: dict[Variable, Start] = field(default_factory=dict)

    def of(self, v: Variable) -> Start:
        """The start that counts for a variable."""
        own = self.inherited.get(v)
        return own if own is not None else Start(v.start, v.fixed)

    def inherit(self, kept: Variable, removed: Variable, sign: int) -> None:
        """Have the start of a removed variable hold for the one that stays, ``sign`` times."""
        stays, goes = self.of(kept), self.of(removed)
        value, fixed = stays
        if goes.value is not None and (value is None or (goes.fixed and not fixed)):
            value = goes.value if sign > 0 else x.negate(goes.value)
        if goes.fixed and not fixed:
            fixed = True
        if Start(value, fixed) != stays:
            self.inherited[kept] = Start(value, fixed)

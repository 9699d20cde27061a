"""What holds of a variable after alias removal: its own start value and attributes, joined with those of the variables
that it stands for."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import NamedTuple

from movrel.errors import StructureFault
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable

#: How much a wish for a state counts where two variables are one.
_STRENGTH = {"default": 0, "avoid": 1, "prefer": 2, "never": 3, "always": 4}
#: Difference, as a share of the larger number, that two fixed start values may have.
SAME = 1e-9


class Start(NamedTuple):
    """A start value (None where none is given) and whether it must hold."""

    value: Expr | None
    fixed: bool | None


class Attributes(NamedTuple):
    """Other attributes as expressions, None where not given."""

    nominal: Expr | None
    minimum: Expr | None
    maximum: Expr | None
    state_select: str


class Said(NamedTuple):
    """A fixed start value where it was written: what stands in for ``variable`` starts at ``sign`` times its start."""

    variable: Variable
    sign: int
    value: Expr


class Meeting(NamedTuple):
    """Two fixed start values of one quantity; the second is None where an equation gives the value ``other``."""

    one: Said
    two: Said | None
    sign: int
    other: Expr


@dataclass(slots=True)
class Starts:
    """The start and the attributes that count for each variable. The variables themselves are never altered."""

    inherited: dict[Variable, Start] = field(default_factory=dict)
    joined: dict[Variable, Attributes] = field(default_factory=dict)
    meetings: list[Meeting] = field(default_factory=list)
    _said: dict[Variable, Said] = field(default_factory=dict)

    def of(self, v: Variable) -> Start:
        """The start that counts for a variable."""
        own = self.inherited.get(v)
        return own if own is not None else Start(v.start, v.fixed)

    def attributes(self, v: Variable) -> Attributes:
        """The other attributes that count for a variable."""
        own = self.joined.get(v)
        if own is not None:
            return own
        return Attributes(v.nominal, v.minimum, v.maximum, v.state_select)

    def inherit(self, kept: Variable, removed: Variable, sign: int) -> None:
        """Have what a removed variable said hold for the one that stays, ``sign`` times."""
        stays, goes = self.of(kept), self.of(removed)
        value, fixed = stays
        if stays.fixed and goes.fixed:
            self.meetings.append(
                Meeting(self._said_of(kept), self._said_of(removed), sign, goes.value or x.ZERO)
            )
        if goes.value is not None and (value is None or (goes.fixed and not fixed)):
            value = goes.value if sign > 0 else x.negate(goes.value)
            said = self._said_of(removed)
            self._said[kept] = Said(said.variable, said.sign * sign, value)
        if goes.fixed and not fixed:
            fixed = True
        if Start(value, fixed) != stays:
            self.inherited[kept] = Start(value, fixed)
        own, other = self.attributes(kept), self.attributes(removed)
        low, high = other.minimum, other.maximum
        if sign < 0:
            low, high = (None if e is None else x.negate(e) for e in (high, low))
        both = Attributes(
            own.nominal if own.nominal is not None else other.nominal,
            _narrower("max", own.minimum, low),
            _narrower("min", own.maximum, high),
            max(own.state_select, other.state_select, key=lambda name: _STRENGTH[name]),
        )
        if both != own:
            self.joined[kept] = both

    def fix(self, v: Variable, number: float) -> None:
        """Take note that an equation gives a variable's value for good."""
        if self.of(v).fixed and self.of(v).value is not None:
            self.meetings.append(Meeting(self._said_of(v), None, 1, x.const(number)))

    def _said_of(self, v: Variable) -> Said:
        return self._said.get(v) or Said(v, 1, self.of(v).value or x.ZERO)

    def refuse_contradictions(self, values: dict[Variable, Scalar]) -> None:
        """Raise :class:`StructureFault` where fixed start values of one quantity differ, with both lines."""
        for one, two, sign, other in self.meetings:
            try:
                a, b = float(x.evaluate(one.value, values)), sign * float(x.evaluate(other, values))
            except (ArithmeticError, ValueError, KeyError, TypeError):
                continue
            if math.isclose(a, b, rel_tol=SAME) or math.isnan(a - b):
                continue
            name, where = one.variable.name, one.variable.where
            if two is None:
                raise StructureFault(
                    f"'{name}' is to start at {one.sign * a:g}, and an equation says that it is {one.sign * b:g}.",
                    where,
                    "Give the start value that the equation gives, or take fixed = true away.",
                )
            place = f" ({two.variable.where})" if two.variable.where is not None else ""
            minus = "-" if sign * one.sign * two.sign < 0 else ""
            raise StructureFault(
                f"'{name}' is to start at {one.sign * a:g}, and '{two.variable.name}'{place} at "
                f"{two.sign * sign * b:g}, both fixed; the model has '{name} = {minus}{two.variable.name}'.",
                where,
                "Give both the same start value, or take fixed = true away from one.",
            )


def _narrower(choose: str, own: Expr | None, other: Expr | None) -> Expr | None:
    """The limit that leaves less room."""
    if own is None or other is None:
        return own if other is None else other
    return own if own == other else x.call(choose, own, other)

"""A model sorted for solving, before any function is made."""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.equations.alias import Reduced
from movrel.equations.index_reduction import Reduction
from movrel.equations.modes import PreVariables
from movrel.equations.parameters import numeric_parameters
from movrel.equations.sorting import Block
from movrel.equations.state_choice import Selection
from movrel.model.expression import Expr, Variable
from movrel.model.flat import Assertion, FlatEquation, FlatModel, FlatUnit, Reinit, Termination
from movrel.model.traits import TERMINAL


@dataclass(frozen=True, slots=True)
class Switch:
    """Something that jumps where ``surface`` changes its sign; ``text`` names it to a person."""

    surface: Expr
    text: str


@dataclass(frozen=True, slots=True)
class Slide:
    """Motion along the surface of a switch: the share of its upper side, and whether that left the range from 0 to 1."""

    switch: Switch
    share: Variable
    end: Variable


@dataclass(frozen=True, slots=True)
class Surplus:
    """A fixed start value of a variable that other equations of the start, ``others`` in words, determine already."""

    start: FlatEquation
    others: str


@dataclass(slots=True)
class Sorted:
    """The equations in solving order, before any function is made."""

    flat: FlatModel
    reduced: Reduced
    reduction: Reduction
    selection: Selection
    pre: PreVariables
    states: list[Variable]
    blocks: list[Block]
    initial_blocks: list[Block]
    equations: list[FlatEquation]
    assertions: list[Assertion]
    reinits: list[Reinit]
    terminations: list[Termination]
    solved_parameters: list[Variable]
    notes: list[str]
    units: list[FlatUnit] = field(default_factory=list)
    slides: list[Slide] = field(default_factory=list)
    #: Fixed start values that the start does without, and that must agree with it.
    surplus: list[Surplus] = field(default_factory=list)

    @property
    def solved(self) -> list[Variable]:
        """The unknowns in the order of the vector of values."""
        return [v for block in self.blocks for v in block.unknowns]

    def asks_for_the_end(self) -> bool:
        """Whether something happens at the end of a run alone (``terminal()``)."""
        sides = [side for e in self.equations for side in (e.left, e.right)]
        sides += [*(r.active for r in self.reinits), *(a.condition for a in self.assertions)]
        return any(e.traits & TERMINAL for e in sides)

    @property
    def parameters(self) -> list[Variable]:
        return numeric_parameters(self.flat)

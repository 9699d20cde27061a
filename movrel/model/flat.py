"""The flat model: scalar variables and equations, each knowing where it came from."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, TypeAlias

from movrel.errors import Place
from movrel.model.expression import Expr, Variable, show

#: Where an equation comes from.
EquationKind: TypeAlias = Literal[
    "equation", "algorithm", "binding", "clock", "connection", "initial equation", "reinit at the start", "sample", "start value",
    "state machine", "stream connection", "unconnected flow", "value before the start", "when", "when condition",
]  # fmt: skip


@dataclass(eq=False, slots=True)
class FlatEquation:
    """``left = right`` with its origin: a place in the text and the component it belongs to."""

    left: Expr
    right: Expr
    where: Place | None
    component: str = ""
    kind: EquationKind = "equation"
    #: Whether it is the time derivative of an equation of the model.
    differentiated: bool = False
    #: Both sides as they were before known values were put in.
    original: tuple[Expr, Expr] | None = None

    @property
    def origin(self) -> str:
        """Where it comes from, in words."""
        return f"{self.kind}, differentiated" if self.differentiated else self.kind

    def as_written(self) -> str:
        """The equation as it came from the text."""
        left, right = self.original or (self.left, self.right)
        return f"{show(left)} = {show(right)}"

    def __repr__(self) -> str:
        return f"{show(self.left)} = {show(self.right)}"


@dataclass(eq=False, slots=True)
class Assertion:
    """A condition that must hold; ``at_events`` ones are judged during event iteration only."""

    condition: Expr
    message: Expr
    level: str
    where: Place | None
    component: str = ""
    at_events: bool = False


@dataclass(eq=False, slots=True)
class Reinit:
    """A state takes a new value at the events at which ``active`` is true."""

    active: Expr
    state: Expr
    value: Expr
    where: Place | None
    component: str = ""


@dataclass(eq=False, slots=True)
class Termination:
    """The run ends, successfully, at the event at which ``active`` is true."""

    active: Expr
    message: Expr
    where: Place | None


@dataclass(slots=True)
class Experiment:
    """Run settings of a model, from its ``experiment`` annotation; times in seconds."""

    start: float = 0.0
    stop: float = 1.0
    interval: float | None = None
    tolerance: float = 1e-6
    solver: str | None = None
    step: float | None = None


@dataclass(slots=True)
class FlatModel:
    name: str
    variables: list[Variable] = field(default_factory=list)
    equations: list[FlatEquation] = field(default_factory=list)
    initial_equations: list[FlatEquation] = field(default_factory=list)
    assertions: list[Assertion] = field(default_factory=list)
    reinits: list[Reinit] = field(default_factory=list)
    terminations: list[Termination] = field(default_factory=list)
    experiment: Experiment = field(default_factory=Experiment)
    warnings: list[str] = field(default_factory=list)

    def by_name(self) -> dict[str, Variable]:
        return {v.name: v for v in self.variables}

    def parameters(self) -> list[Variable]:
        return [v for v in self.variables if v.variability in ("parameter", "constant")]

    def unknowns(self) -> list[Variable]:
        return [
            v
            for v in self.variables
            if v.variability in ("continuous", "discrete") and v.causality != "input"
        ]

"""The flat model: scalar variables and equations, each knowing where it came from."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal, TypeAlias

from movrel.errors import Place
from movrel.model.expression import Expr, Scalar, Variable, evaluate, show

#: Where an equation comes from.
EquationKind: TypeAlias = Literal[
    "equation", "algorithm", "binding", "clock", "connection", "initial equation", "reinit at the start", "sample", "sliding",
    "start value", "state machine", "stream connection", "unconnected flow", "unit", "value before the start", "when",
    "when condition",
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
class UnitValue:
    """One number that a unit is given: of the variable ``name``, at ``offset`` among its elements."""

    name: str
    offset: int
    value: Expr


@dataclass(slots=True)
class FlatUnit:
    """A part that computes by foreign code: a unit of the Functional Mock-up Interface.

    What it gives stands in equations as ``Expr("unit", value=(number, role, index))`` with a role of ``output``,
    ``rate``, ``start`` or ``indicator``. ``states`` are the variables that its continuous states are in the model,
    for model exchange; ``step`` is the communication step for co-simulation in s.
    """

    component: str
    file: str
    kind: Literal["cs", "me"]
    where: Place | None
    folders: list[Path]
    step: Expr
    parameters: list[UnitValue] = field(default_factory=list)
    texts: list[UnitValue] = field(default_factory=list)
    inputs: list[UnitValue] = field(default_factory=list)
    outputs: list[tuple[str, int]] = field(default_factory=list)
    states: list[Expr] = field(default_factory=list)
    indicators: int = 0

    def text_values(self, parameters: dict[Variable, Scalar]) -> dict[str, list[str]]:
        """The values of its texts by the name of the variable, arrays element by element."""
        values: dict[str, list[str]] = {}
        for text in self.texts:
            values.setdefault(text.name, []).append(str(evaluate(text.value, parameters)))
        return values

    def counts(self) -> list[tuple[str, int]]:
        """How many numbers it gives, by role."""
        n = len(self.states)
        return [
            ("output", len(self.outputs)),
            ("rate", n),
            ("start", n),
            ("indicator", self.indicators),
        ]


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
    units: list[FlatUnit] = field(default_factory=list)
    experiment: Experiment = field(default_factory=Experiment)
    warnings: list[str] = field(default_factory=list)
    #: Whether values were read from files beside the model.
    reads_files: bool = False

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

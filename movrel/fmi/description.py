"""What a unit says of itself: the model description of FMI 2 and 3 as plain data."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, TypeAlias

#: Type of a variable; FMI 3 knows more widths of numbers, which ``width`` of a variable names.
Kind: TypeAlias = Literal["Real", "Integer", "Boolean", "Enumeration", "String", "Binary", "Clock"]
Causality: TypeAlias = Literal[
    "parameter", "calculatedParameter", "structuralParameter", "input", "output", "local", "independent",
]  # fmt: skip
Variability: TypeAlias = Literal["constant", "fixed", "tunable", "discrete", "continuous"]
Initial: TypeAlias = Literal["exact", "approx", "calculated"]
#: How an unknown depends on a known: by a constant factor, one that is fixed, and so on.
DependencyKind: TypeAlias = Literal["constant", "fixed", "tunable", "discrete", "dependent"]
#: What a unit offers; both may be in one.
Interface: TypeAlias = Literal["me", "cs"]


@dataclass(slots=True)
class UnitVariable:
    """One variable; ``sizes`` of an array, whose values (``start``) come row by row."""

    name: str
    reference: int
    kind: Kind
    causality: Causality = "local"
    variability: Variability = "continuous"
    initial: Initial | None = None
    start: list[float] | list[str] | None = None
    sizes: tuple[int, ...] = ()
    width: str = ""  # FMI 3: Float32, Int8, ...
    unit: str = ""
    display_unit: str = ""
    quantity: str = ""
    description: str = ""
    minimum: float | None = None
    maximum: float | None = None
    nominal: float | None = None
    enumeration: tuple[str, ...] = ()
    declared_type: str = ""
    derivative_of: int | None = None  # reference of the state whose derivative this is

    @property
    def count(self) -> int:
        """Number of its values."""
        product = 1
        for size in self.sizes:
            product *= size
        return product


@dataclass(slots=True)
class Unknown:
    """An unknown of the model structure; ``dependencies`` None: on all knowns."""

    reference: int
    dependencies: dict[int, DependencyKind] | None = None


@dataclass(slots=True)
class BaseUnit:
    """A unit in base units of the SI: ``base value = factor * value + offset``; powers by base unit."""

    name: str
    powers: dict[str, int] = field(default_factory=dict)
    factor: float = 1.0
    offset: float = 0.0
    #: Units to show values in: ``shown = factor * value + offset``.
    displays: dict[str, tuple[float, float]] = field(default_factory=dict)


@dataclass(slots=True)
class Experiment:
    """The default experiment; times in seconds."""

    start: float | None = None
    stop: float | None = None
    tolerance: float | None = None
    step: float | None = None


@dataclass(slots=True)
class Terminal:
    """A connector of the model: its variables by the name of each member; ``flows`` are those that sum up."""

    name: str
    kind: str
    members: dict[str, str]
    flows: frozenset[str] = frozenset()


@dataclass(slots=True)
class UnitDescription:
    """A unit as its description says; ``version`` 2 or 3."""

    version: int
    name: str
    token: str  # guid or instantiation token
    interfaces: tuple[Interface, ...]
    identifiers: dict[Interface, str]
    variables: list[UnitVariable]
    description: str = ""
    author: str = ""
    tool: str = ""
    made: str = ""
    event_indicators: int = 0
    #: References of the variables that are event indicators (FMI 3).
    indicators: list[int] = field(default_factory=list)
    outputs: list[Unknown] = field(default_factory=list)
    derivatives: list[Unknown] = field(default_factory=list)
    initial_unknowns: list[Unknown] = field(default_factory=list)
    units: list[BaseUnit] = field(default_factory=list)
    experiment: Experiment = field(default_factory=Experiment)
    flags: dict[Interface, dict[str, str]] = field(default_factory=dict)
    log_categories: dict[str, str] = field(default_factory=dict)
    sources: dict[Interface, list[str]] = field(default_factory=dict)
    terminals: list[Terminal] = field(default_factory=list)
    #: Why the terminals cannot be read.
    terminals_fault: str = ""

    def grave_categories(self) -> list[str]:
        """The categories of messages that tell of what goes wrong; without steps and events, which are many."""
        grave = ("warning", "error", "fatal", "discard", "pending")
        return [name for name in self.log_categories if any(w in name.lower() for w in grave)]

    def by_name(self) -> dict[str, UnitVariable]:
        return {v.name: v for v in self.variables}

    def by_reference(self) -> dict[int, UnitVariable]:
        """The variables by reference, of several with one reference the first.

        In FMI 2 each type counts references for itself; here real ones come first, as all states are.
        """
        found: dict[int, UnitVariable] = {}
        for v in sorted(self.variables, key=lambda v: v.kind != "Real"):
            found.setdefault(v.reference, v)
        return found

"""A system structure as plain data; names of the standard, clauses of SSP 1.0."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, TypeAlias

#: Direction of a connector as the standard names it (5.3.1).
ConnectorKind: TypeAlias = Literal[
    "input", "output", "inout", "parameter", "calculatedParameter", "structuralParameter",
]  # fmt: skip
KINDS: tuple[ConnectorKind, ...] = (
    "input", "output", "inout", "parameter", "calculatedParameter", "structuralParameter",
)  # fmt: skip
#: What a unit is run as.
Implementation: TypeAlias = Literal["any", "ModelExchange", "CoSimulation", "ScheduledExecution"]


@dataclass(slots=True)
class SspConnector:
    name: str
    kind: ConnectorKind
    type: str = "Real"
    unit: str = ""
    description: str = ""
    #: On the border of its element, from 0 to 1 each.
    place: tuple[float, float] | None = None
    size: int = 1


@dataclass(slots=True)
class SspValue:
    """A value of a parameter set: a number, truth value or text, in ``unit``."""

    name: str
    type: str
    value: str
    unit: str = ""


@dataclass(slots=True)
class SspMapping:
    """A parameter of a set for one of the element, ``target = factor * source + offset``."""

    source: str
    target: str
    factor: float = 1.0
    offset: float = 0.0
    suppress: bool = False


@dataclass(slots=True)
class SspBinding:
    """A parameter set for an element; without a mapping names go by themselves, with the prefix before them."""

    name: str
    values: list[SspValue]
    prefix: str = ""
    mapping: list[SspMapping] | None = None


@dataclass(slots=True)
class SspConnection:
    """A signal; elements are named within their system, "" is the system itself."""

    start: tuple[str, str]
    end: tuple[str, str]
    factor: float = 1.0
    offset: float = 0.0
    suppress: bool = False
    points: list[tuple[float, float]] = field(default_factory=list)
    #: A mapping of truth values or whole numbers, which is not carried out.
    mapped: str = ""


@dataclass(slots=True)
class SspNote:
    text: str
    extent: tuple[float, float, float, float]


@dataclass(slots=True)
class SspElement:
    """A component, or a reference to a signal dictionary."""

    name: str
    source: str = ""
    type: str = "application/x-fmu-sharedlibrary"
    implementation: Implementation = "any"
    description: str = ""
    connectors: list[SspConnector] = field(default_factory=list)
    bindings: list[SspBinding] = field(default_factory=list)
    extent: tuple[float, float, float, float] | None = None
    #: Elements ``Annotation`` of whatever maker, byte for byte.
    annotations: list[bytes] = field(default_factory=list)
    #: The dictionary that it refers to.
    dictionary: str = ""


@dataclass(slots=True)
class SspSystem(SspElement):
    elements: list[SspElement] = field(default_factory=list)
    connections: list[SspConnection] = field(default_factory=list)
    #: Signals of each dictionary, with type and unit.
    dictionaries: dict[str, list[SspConnector]] = field(default_factory=dict)
    notes: list[SspNote] = field(default_factory=list)
    canvas: tuple[float, float, float, float] | None = None


@dataclass(slots=True)
class SspUnit:
    """A unit of measurement in base units of the SI: ``base value = factor * value + offset``."""

    name: str
    powers: dict[str, int] = field(default_factory=dict)
    factor: float = 1.0
    offset: float = 0.0


@dataclass(slots=True)
class SystemStructure:
    """What ``SystemStructure.ssd`` says."""

    name: str
    system: SspSystem
    version: str = "1.0"
    description: str = ""
    author: str = ""
    tool: str = ""
    units: list[SspUnit] = field(default_factory=list)
    start: float | None = None
    stop: float | None = None
    #: Annotations of the whole structure, and the namespaces that are declared at its root by their prefixes.
    annotations: list[bytes] = field(default_factory=list)
    namespaces: dict[str, str] = field(default_factory=dict)
    #: What was read and is not used, in words.
    unused: list[str] = field(default_factory=list)

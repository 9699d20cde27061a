"""What a sheet consists of.

Coordinates are those of the standard's graphics (specification 18.6): y upwards, extents ``[x1, y1, x2, y2]``,
turns in degrees, counter-clockwise.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal, TypeAlias

#: A shape of the standard's graphics: ``is`` names its kind, the other keys are its attributes as plain values.
Shape: TypeAlias = dict[str, Any]
#: The way of a signal seen from outside a part; empty for a physical port.
Direction: TypeAlias = Literal["in", "out", ""]


@dataclass(frozen=True, slots=True)
class Port:
    """A connector of a class, on its symbol."""

    name: str
    class_name: str
    domain: str
    direction: Direction
    #: The sizes of an array of ports, as they are written; empty for a single one.
    array: str
    extent: list[float]
    rotation: float
    description: str
    #: The condition under which it exists, as it is written; empty for a port that always does.
    condition: str


@dataclass(frozen=True, slots=True)
class Icon:
    """The symbol of a class."""

    extent: list[float]
    graphics: list[Shape]
    ports: list[Port]

    def port(self, name: str) -> Port | None:
        """The port of that name."""
        return next((p for p in self.ports if p.name == name), None)


@dataclass(frozen=True, slots=True)
class SheetComponent:
    """A part as it stands on the sheet."""

    name: str
    class_name: str
    #: Which of the sheet's icons shows it.
    symbol: str
    description: str
    extent: list[float]
    rotation: float
    #: Whether its class belongs to the project, so that it can be opened.
    opens: bool
    #: The values that its symbol may show, in words and as numbers in the declared unit, by the name of the parameter.
    labels: dict[str, str]
    numbers: dict[str, float]
    #: How many there are of it, as written; empty for a single part.
    array: str = ""
    #: Curves of its table, each with points in the square from 0 to 1.
    curves: list[list[list[float]]] = field(default_factory=list)
    #: For a port of the model itself: what kind.
    port: Port | None = None


@dataclass(frozen=True, slots=True)
class SheetConnection:
    """A wire with its route."""

    from_port: str
    to_port: str
    points: list[list[float]]
    domain: str
    direction: str
    #: Whether its corners were chosen by hand.
    bent: bool
    #: Where it branches off others.
    dots: list[list[float]]
    #: The cable that it belongs to, empty for none, and the corners of the line that this shares.
    cable: str
    trunk: list[list[float]]


@dataclass(frozen=True, slots=True)
class StateTransition:
    """An arrow of a state machine; without ``from`` it points to the initial state."""

    from_state: str
    to_state: str
    condition: str
    priority: str
    immediate: bool
    reset: bool
    #: By which it is edited; -1 for one that cannot be.
    number: int


@dataclass(frozen=True, slots=True)
class Sheet:
    """The drawing of one model."""

    name: str
    qualified: str
    description: str
    extent: list[float]
    graphics: list[Shape]
    #: The symbol of each class of which there are components.
    icons: dict[str, Icon]
    components: list[SheetComponent]
    connections: list[SheetConnection]
    transitions: list[StateTransition]

    def icon_of(self, part: SheetComponent) -> Icon:
        """The symbol that shows a part."""
        return self.icons[part.symbol]


@dataclass(frozen=True, slots=True)
class Placement:
    """Where a component lies: its corners, and its turn in degrees."""

    extent: list[float]
    rotation: float

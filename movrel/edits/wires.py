"""Wires between ports."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import count
from typing import Annotated, Literal

from annotated_types import MaxLen, MinLen

from movrel.edits.ports import WiredPort, misfit, misfit_of_elements, plain, ports_of
from movrel.edits.target import Corner, Edited, Name, Target, check_reach
from movrel.errors import EditFault
from movrel.language.edit_wires import (
    add_connection,
    bend_connection,
    cable_connection,
    delete_connection,
)
from movrel.language.patch import apply
from movrel.model.annotation import VENDOR
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Sheet
from movrel.sheet.wiring import end_of

#: Corners that were chosen by hand.
Corners = Annotated[list[Corner], MaxLen(200)]
#: Pairs that are wired or bundled at once at most.
MOST_PAIRS = 2000


@dataclass(frozen=True, slots=True)
class WireEnds:
    """A wire by the ports that it joins."""

    from_port: Name
    to_port: Name

    def pair(self) -> tuple[str, str]:
        return self.from_port, self.to_port


def _points(corners: list[list[float]] | None) -> list[tuple[float, float]] | None:
    return [(x, y) for x, y in corners] if corners else None


@dataclass(frozen=True, slots=True)
class Connect:
    """Wire two ports. Refused in words of the trade when they do not go together.

    An array port is given with the number of its element, ``mux.u[2]``. An input takes one signal: where it has one, the
    wire is refused, or with ``replace`` takes the place of the other.
    """

    from_port: Name
    to_port: Name
    points: Corners | None = None
    replace: bool = False
    do: Literal["connect"] = "connect"

    def apply(self, target: Target) -> Edited:
        left, right = self.from_port, self.to_port
        drawn = sheet(target.tree, target.definition)
        ports = ports_of(target.tree, drawn)
        if any(
            p.port.domain == "state"
            for end in (left, right)
            if (p := ports.get(plain(end))) is not None
        ):
            raise EditFault(
                "states are joined by arrows, not by wires.",
                hint="Draw an arrow and say when it is taken.",
            )
        refusal = misfit(
            ports.get(plain(left)), ports.get(plain(right)), left, right
        ) or misfit_of_elements(ports, left, right)
        if refusal:
            raise EditFault(refusal)
        text, source, cls = target.source.text, target.source, target.cls
        words = f"connected {left} and {right}"
        fed = _fed(ports, drawn, left, right)
        if fed is not None:
            if not self.replace:
                raise EditFault(
                    f"'{fed[0]}' has its signal from '{fed[1]}' already.",
                    hint="Delete that wire first, or add the two signals.",
                )
            text = apply(text, delete_connection(source, cls, *fed))
            source, cls = target.again(text)
            words += f" in the place of {fed[1]}"
        text = apply(text, add_connection(source, cls, left, right))
        points = _points(self.points)
        if not points:
            return Edited(target.rewritten(text), words)
        source, cls = target.again(text)
        return Edited(
            target.rewritten(apply(text, bend_connection(source, cls, left, right, points))),
            words,
        )


def _fed(
    ports: dict[str, WiredPort], drawn: Sheet, left: str, right: str
) -> tuple[str, str] | None:
    """The end of a new wire that has a signal already, and where it comes from; None if it is free."""
    taking = next((e for e in (left, right) if ports[plain(e)].seen_from_inside == "in"), None)
    for wire in drawn.connections:
        ends = {wire.from_port, wire.to_port}
        if taking in ends and ends != {left, right}:
            (giving,) = ends - {taking}
            if plain(giving) in ports and ports[plain(giving)].seen_from_inside == "out":
                return taking, giving
    return None


@dataclass(frozen=True, slots=True)
class Bend:
    """Lead a wire through corners, or with none let it find its way."""

    from_port: Name
    to_port: Name
    points: Corners | None = None
    do: Literal["bend"] = "bend"

    def apply(self, target: Target) -> Edited:
        points = _points(self.points)
        for x, y in points or []:
            check_reach([x, y, x, y])
        patches = bend_connection(target.source, target.cls, self.from_port, self.to_port, points)
        return Edited(
            patches,
            f"{'bent' if points else 'straightened'} the wire of {self.from_port} and {self.to_port}",
        )


@dataclass(frozen=True, slots=True)
class Bundle:
    """Draw wires between two parts as one cable; with an empty name as wires of their own again."""

    wires: Annotated[list[WireEnds], MinLen(1), MaxLen(MOST_PAIRS)]
    #: Its name; None for one that no cable of the sheet has.
    cable: Annotated[str, MaxLen(100)] | None = None
    do: Literal["bundle"] = "bundle"

    def apply(self, target: Target) -> Edited:
        name = self._name(target)
        joined = [frozenset(end_of(end)[0] for end in (w.from_port, w.to_port)) for w in self.wires]
        if name and len(set(joined)) > 1:
            raise EditFault(
                "a cable joins two parts, and these wires join more.",
                hint="Choose wires between the same two parts.",
            )
        source, cls = target.source, target.cls
        for w in self.wires:
            patches = cable_connection(source, cls, w.from_port, w.to_port, name, VENDOR)
            source, cls = target.again(apply(source.text, patches))
        many = len(self.wires)
        wires = "1 wire" if many == 1 else f"{many} wires"
        words = f"bundled {wires} as '{name}'" if name else f"took {wires} out of a cable"
        return Edited(target.rewritten(source.text), words)

    def _name(self, target: Target) -> str:
        if self.cable is not None:
            return self.cable.strip()
        drawn = sheet(target.tree, target.definition)
        names = {c.cable for c in drawn.connections}
        return next(n for k in count(1) if (n := f"cable {k}") not in names)

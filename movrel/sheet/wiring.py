"""The wires of a sheet: where they end, the way they take, and where they branch."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise

from movrel.sheet.cabling import CabledEnd, Ends, laid
from movrel.sheet.elements import Icon, Port, SheetComponent, SheetConnection
from movrel.sheet.memo import Memo
from movrel.sheet.routing import Box, Point, Way, facing, routes

#: How far wires that would run along each other are moved apart, in units of the drawing.
APART = 4.0


@dataclass(slots=True)
class Wire:
    """A connection while its way is looked for; ``points`` begins as the corners that were chosen by hand."""

    from_port: str
    to_port: str
    points: list[list[float]]
    bent: bool
    domain: str = "other"
    direction: str = ""
    dots: list[list[float]] = field(default_factory=list)
    cable: str = ""
    trunk: list[list[float]] = field(default_factory=list)

    def drawn(self) -> SheetConnection:
        return SheetConnection(
            self.from_port, self.to_port, self.points, self.domain, self.direction, self.bent, self.dots,
            self.cable, self.trunk,
        )  # fmt: skip


def wire_up(
    wires: Sequence[Wire], components: Sequence[tuple[SheetComponent, Icon]]
) -> list[SheetConnection]:
    """The connections with domain, direction and right-angled route, and the dots where they branch."""
    parts = {part.name: _standing_part(part, icon) for part, icon in components}
    ways: list[Way] = []
    routed: list[Wire] = []
    cables: dict[tuple[str, frozenset[str]], list[tuple[Wire, Ends]]] = defaultdict(list)
    for wire in wires:
        ends, facings = _ends(wire, parts)
        if wire.cable and ends[0] and ends[1]:
            names = [end_of(text)[0] for text in (wire.from_port, wire.to_port)]
            first, last = (
                CabledEnd(at, away, parts[name].box)
                for at, away, name in zip(ends, facings, names, strict=True)
                if at is not None
            )
            cables[wire.cable, frozenset(names)].append((wire, (first, last)))
        elif wire.points:
            wire.points = _fitted(wire.points, ends[0], ends[1])
        elif ends[0] and ends[1]:
            ways.append((ends[0], facings[0], ends[1], facings[1]))
            routed.append(wire)
    for wire, points in zip(routed, routes(ways, [p.box for p in parts.values()]), strict=True):
        wire.points = points
    for members in cables.values():
        _lay_cable(members, [p.box for p in parts.values()])
    nets = _nets(wires)
    _move_apart([(w, n) for w, n in zip(wires, nets, strict=True) if not w.bent and not w.trunk])
    _mark_branches(wires, nets)
    return [w.drawn() for w in wires]


def _lay_cable(members: Sequence[tuple[Wire, Ends]], boxes: Sequence[Box]) -> None:
    """Give the wires of a cable their ways, whichever end each was drawn from."""
    begin = end_of(members[0][0].from_port)[0]
    onward = [end_of(wire.from_port)[0] == begin for wire, _ in members]
    ends = [(e if on else (e[1], e[0])) for (_, e), on in zip(members, onward, strict=True)]
    trunk, ways = laid(ends, boxes)
    for (wire, _), way, on in zip(members, ways, onward, strict=True):
        wire.points, wire.trunk, wire.bent = way if on else way[::-1], trunk, False


def port_position(component: SheetComponent, icon: Icon, port: Port) -> Point:
    """The middle of a port on the sheet."""
    x1, y1, x2, y2 = component.extent
    a1, b1, a2, b2 = icon.extent
    p = port.extent
    u = ((p[0] + p[2]) / 2 - a1) / (a2 - a1)
    v = ((p[1] + p[3]) / 2 - b1) / (b2 - b1)
    x, y = x1 + u * (x2 - x1), y1 + v * (y2 - y1)
    cx, cy = (x1 + x2) / 2, (y1 + y2) / 2
    angle = math.radians(component.rotation)
    dx, dy = x - cx, y - cy
    return (
        cx + dx * math.cos(angle) - dy * math.sin(angle),
        cy + dx * math.sin(angle) + dy * math.cos(angle),
    )


def box_of(component: SheetComponent) -> Box:
    """Left, bottom, right and top of a part as it stands on the sheet."""
    x1, y1, x2, y2 = component.extent
    left, bottom, right, top = min(x1, x2), min(y1, y2), max(x1, x2), max(y1, y2)
    if round(component.rotation / 90) % 2:
        cx, cy, half_width, half_height = (
            (left + right) / 2,
            (bottom + top) / 2,
            (top - bottom) / 2,
            (right - left) / 2,
        )
        return cx - half_width, cy - half_height, cx + half_width, cy + half_height
    return left, bottom, right, top


def end_of(text: str) -> tuple[str, str]:
    """The part and the port that an end of a connection names, without subscripts."""
    part, _, rest = text.partition(".")
    return part.partition("[")[0], rest.partition(".")[0].partition("[")[0]


@dataclass(frozen=True, slots=True)
class _StandingPart:
    """A part with its box, and where its ports are, each worked out once."""

    component: SheetComponent
    box: Box
    ports: dict[str, tuple[Port, Point]]


#: Where the ports of a symbol are for each way in which a part of it stands; the symbol is kept with it.
_standing: Memo[
    tuple[int, tuple[float, ...], float], tuple[Icon, dict[str, tuple[Port, Point]]]
] = Memo()


def _standing_part(component: SheetComponent, icon: Icon) -> _StandingPart:
    key = (id(icon), tuple(component.extent), component.rotation)
    kept = _standing.get(key)
    if kept is None:
        ports = {p.name: (p, port_position(component, icon, p)) for p in icon.ports}
        kept = _standing.keep(key, (icon, ports))
    return _StandingPart(component, box_of(component), kept[1])


def _ends(wire: Wire, parts: dict[str, _StandingPart]) -> tuple[list[Point | None], list[Point]]:
    """Where a wire begins and ends and the ways its ports face; domain and direction are noted on the way."""
    ends: list[Point | None] = []
    facings: list[Point] = []
    for end, first in ((wire.from_port, True), (wire.to_port, False)):
        name, port_name = end_of(end)
        part = parts.get(name)
        own = part.component.port if part is not None and not port_name else None
        if part is not None and own is not None:
            # A port of the model itself, drawn as a part.
            wire.domain = own.domain
            if own.direction:
                wire.direction = "forward" if (own.direction == "in") == first else "backward"
            left, bottom, right, top = part.box
            ends.append(((left + right) / 2, (bottom + top) / 2))
            facings.append({"in": (1.0, 0.0), "out": (-1.0, 0.0)}.get(own.direction, (0.0, 0.0)))
            continue
        joined = part.ports.get(port_name) if part is not None else None
        if part is not None and joined is not None:
            port, at = joined
            wire.domain = port.domain
            if port.direction:
                wire.direction = "forward" if (port.direction == "out") == first else "backward"
            ends.append(at)
            facings.append(facing(at, part.box))
        else:
            ends.append(None)
            facings.append((1.0, 0.0))
    for i in (0, 1):
        here, there = ends[i], ends[1 - i]
        if facings[i] == (0.0, 0.0):  # a physical port of the model itself looks at its partner
            facings[i] = (1.0, 0.0) if here and there and there[0] > here[0] else (-1.0, 0.0)
    return ends, facings


def _fitted(
    points: list[list[float]], first: Point | None, last: Point | None
) -> list[list[float]]:
    """Chosen corners, the outer ones drawn to where the ports are now."""
    bent = [list(p) for p in points]
    for index, neighbour, end in ((0, 1, first), (-1, -2, last)):
        if end is None:
            continue
        moved = bent[index]
        if len(bent) > 2:  # keep the corner next to the end at a right angle
            along = 0 if abs(bent[neighbour][0] - moved[0]) < 1e-9 else 1
            bent[neighbour][along] = end[along]
        bent[index] = list(end)
    return _squared(bent)


def _squared(bent: list[list[float]]) -> list[list[float]]:
    """Insert corners where two points are neither level nor plumb."""
    result = [bent[0]]
    for point in bent[1:]:
        last = result[-1]
        if abs(point[0] - last[0]) > 1e-9 and abs(point[1] - last[1]) > 1e-9:
            middle = (point[0] + last[0]) / 2
            result += [[middle, last[1]], [middle, point[1]]]
        result.append(point)
    return result


def _nets(wires: Sequence[Wire]) -> list[int]:
    """For each wire the number of the set of connected wires it belongs to."""
    parent: dict[str, str] = {}

    def root(name: str) -> str:
        while parent.setdefault(name, name) != name:
            parent[name] = parent[parent[name]]
            name = parent[name]
        return name

    for w in wires:
        parent[root(w.from_port)] = root(w.to_port)
    numbers: dict[str, int] = {}
    return [numbers.setdefault(root(w.from_port), len(numbers)) for w in wires]


def _move_apart(wires: list[tuple[Wire, int]]) -> None:
    """Shift inner stretches of routed wires, each given with its net, that run along those of another net."""
    occupied: dict[tuple[int, float], list[tuple[float, float, int]]] = defaultdict(list)
    for wire, net in wires:
        points = wire.points
        for i in range(len(points) - 1):
            across = 0 if points[i][0] == points[i + 1][0] else 1
            level = points[i][across]
            low, high = sorted((points[i][1 - across], points[i + 1][1 - across]))
            if 0 < i < len(points) - 2 and high - low > 1.0:
                # A stretch between two corners may move sideways.
                for offset in (0.0, APART, -APART, 2 * APART, -2 * APART, 3 * APART, -3 * APART):
                    others = occupied[(across, round(level + offset, 3))]
                    if not any(n != net and a < high - 1 and b > low + 1 for a, b, n in others):
                        break
                else:
                    offset = 0.0
                if offset:
                    level += offset
                    points[i][across] = points[i + 1][across] = level
            occupied[(across, round(level, 3))].append((low, high, net))


def _mark_branches(wires: Sequence[Wire], nets: list[int]) -> None:
    """Corners and ends that lie on another wire of the same net are dots, unless they lie in a port."""
    members: dict[int, list[Wire]] = defaultdict(list)
    for wire, net in zip(wires, nets, strict=True):
        members[net].append(wire)
    for together in members.values():
        if len(together) < 2:
            continue
        paths = tuple(tuple((p[0], p[1]) for p in wire.points) for wire in together)
        for wire, dots in zip(together, _dots(paths), strict=True):
            wire.dots = [list(dot) for dot in dots]


_Path = tuple[Point, ...]


@lru_cache(maxsize=5_000)
def _dots(paths: tuple[_Path, ...]) -> list[list[Point]]:
    """For each wire of a net the corners at which it leaves another one."""
    junctions: list[list[Point]] = []
    for i, path in enumerate(paths):
        dots: list[Point] = []
        for j, other in enumerate(paths):
            if i == j:
                continue
            for corner in path[1:-1]:
                if (
                    corner not in dots
                    and _inside(corner, other)
                    and not _same_corner(corner, path, other)
                ):
                    dots.append(corner)
        junctions.append(dots)
    return junctions


def _inside(point: Point, path: _Path) -> bool:
    """Whether a point lies on a path, its two ends left out."""
    if point in (path[0], path[-1]) if path else True:
        return False
    for a, b in pairwise(path):
        for i in (0, 1):
            if abs(a[i] - b[i]) < 1e-6 and abs(point[i] - a[i]) < 1e-6:
                low, high = sorted((a[1 - i], b[1 - i]))
                if low - 1e-6 <= point[1 - i] <= high + 1e-6:
                    return True
    return False


def _same_corner(corner: Point, path: _Path, other: _Path) -> bool:
    """Whether both wires bend here in the same way, so that nothing branches."""

    def arms(points: _Path) -> set[tuple[int, int]]:
        if corner not in points:
            return set()
        i = points.index(corner)
        directions = set()
        for j in (i - 1, i + 1):
            if 0 <= j < len(points):
                dx, dy = points[j][0] - corner[0], points[j][1] - corner[1]
                directions.add(((dx > 0) - (dx < 0), (dy > 0) - (dy < 0)))
        return directions

    return arms(path) == arms(other)

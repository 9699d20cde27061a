"""Cables: wires between the same two parts that are drawn as one line, which opens into its wires at both ends."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from movrel.sheet.routing import Box, Point, route, routes, tidied

#: How far in front of a part its wires come together, in units of the drawing.
GATHERING = 16.0


@dataclass(frozen=True, slots=True)
class CabledEnd:
    """An end of a wire: where its port is, the way that faces, and the box of its part."""

    at: Point
    away: Point
    box: Box


#: Both ends of a wire.
Ends = tuple[CabledEnd, CabledEnd]


def laid(
    wires: Sequence[Ends], boxes: Sequence[Box]
) -> tuple[list[list[float]], list[list[list[float]]]]:
    """The line that several wires share, and the way of each wire, which leads along it.

    All wires begin at the first part and end at the second one. Points are corners in units of the drawing.
    """
    meetings = [_meeting([wire[k] for wire in wires]) for k in (0, 1)]
    (first, away), (last, home) = meetings
    trunk = route(first, away, last, home, boxes)
    begins = _tails([wire[0] for wire in wires], first, away, boxes)
    ends = _tails([wire[1] for wire in wires], last, home, boxes)
    ways = [
        [list(p) for p in tidied([_point(q) for q in (*begin, *trunk, *reversed(end))])]
        for begin, end in zip(begins, ends, strict=True)
    ]
    return trunk, ways


def _meeting(ends: Sequence[CabledEnd]) -> tuple[Point, Point]:
    """Where the wires of one part come together, and the way in which the line leads from there."""
    away = Counter(end.away for end in ends).most_common(1)[0][0]
    left, bottom, right, top = ends[0].box
    along = [end.at for end in ends if end.away == away]
    x = sum(p[0] for p in along) / len(along)
    y = sum(p[1] for p in along) / len(along)
    if away[0]:
        edge = right if away[0] > 0 else left
        return (edge + GATHERING * away[0], float(round(y / 2) * 2)), away
    edge = top if away[1] > 0 else bottom
    return (float(round(x / 2) * 2), edge + GATHERING * away[1]), away


def _tails(
    ends: Sequence[CabledEnd], meeting: Point, away: Point, boxes: Sequence[Box]
) -> list[list[list[float]]]:
    """The way of each wire from its port to where they come together."""
    inward = (-away[0], -away[1])
    others = [end for end in ends if end.away != away]
    routed = dict(
        zip(others, routes([(e.at, e.away, meeting, inward) for e in others], boxes), strict=True)
    )
    tails: list[list[list[float]]] = []
    for end in ends:
        if end in routed:
            tails.append(routed[end])
        elif away[0]:
            tails.append([list(end.at), [meeting[0], end.at[1]], list(meeting)])
        else:
            tails.append([list(end.at), [end.at[0], meeting[1]], list(meeting)])
    return tails


def _point(corner: Sequence[float]) -> Point:
    return corner[0], corner[1]

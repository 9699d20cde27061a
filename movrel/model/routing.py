"""Right-angled routes for wires that nobody has bent by hand."""

from __future__ import annotations

from itertools import pairwise

Point = tuple[float, float]
Box = tuple[float, float, float, float]

#: How far a wire runs straight out of a port, and how far it keeps from parts, in units of the drawing.
STUB, CLEARANCE = 8.0, 10.0
_BEND, _THROUGH = 15.0, 10_000.0


def route(start: Point, away: Point, end: Point, home: Point, boxes: list[Box]) -> list[list[float]]:
    """The best of a few dozen candidate routes between two ports.

    ``away`` and ``home`` are the directions, as unit vectors, in which the ports face; ``boxes`` are
    the parts (left, bottom, right, top). Cost is length, bends and, above all, crossing parts.
    """
    a = (start[0] + STUB * away[0], start[1] + STUB * away[1])
    b = (end[0] + STUB * home[0], end[1] + STUB * home[1])
    columns = {a[0], b[0], (a[0] + b[0]) / 2}
    levels = {a[1], b[1], (a[1] + b[1]) / 2}
    for left, bottom, right, top in boxes:
        if min(a[0], b[0]) - 80 <= right and left <= max(a[0], b[0]) + 80:
            columns |= {left - CLEARANCE, right + CLEARANCE}
        if min(a[1], b[1]) - 80 <= top and bottom <= max(a[1], b[1]) + 80:
            levels |= {bottom - CLEARANCE, top + CLEARANCE}
    middles: list[list[Point]] = [[(b[0], a[1])], [(a[0], b[1])]]
    middles += [[(x, a[1]), (x, b[1])] for x in sorted(columns)[:24]]
    middles += [[(a[0], y), (b[0], y)] for y in sorted(levels)[:24]]
    best = min(
        (_tidied([start, a, *middle, b, end]) for middle in middles),
        key=lambda points: (_cost(points, boxes), points),
    )
    return [list(p) for p in best]


def facing(at: Point, box: Box) -> Point:
    """The side of a part on which a port lies, as the direction out of it."""
    left, bottom, right, top = box
    sides = [
        (abs(at[0] - left), (-1.0, 0.0)),
        (abs(right - at[0]), (1.0, 0.0)),
        (abs(at[1] - bottom), (0.0, -1.0)),
        (abs(top - at[1]), (0.0, 1.0)),
    ]
    return min(sides)[1]


def _tidied(points: list[Point]) -> list[Point]:
    """Without repeated points and points on a straight line between their neighbours."""
    found: list[Point] = []
    for p in points:
        if found and p == found[-1]:
            continue
        while len(found) > 1 and _straight(found[-2], found[-1], p):
            found.pop()
        found.append(p)
    return found


def _straight(a: Point, b: Point, c: Point) -> bool:
    """Whether b lies between a and c on a level or plumb line."""
    for i in (0, 1):
        if a[i] == b[i] == c[i]:
            return (b[1 - i] - a[1 - i]) * (c[1 - i] - b[1 - i]) >= 0
    return False


def _cost(points: list[Point], boxes: list[Box]) -> float:
    total = _BEND * len(points)
    for (x1, y1), (x2, y2) in pairwise(points):
        total += abs(x2 - x1) + abs(y2 - y1)
        for left, bottom, right, top in boxes:
            if min(x1, x2) < right - 1 and max(x1, x2) > left + 1 and min(y1, y2) < top - 1 and max(y1, y2) > bottom + 1:
                total += _THROUGH
    for a, b, c in zip(points, points[1:], points[2:], strict=False):
        if (a[0] == b[0] == c[0] and (b[1] - a[1]) * (c[1] - b[1]) < 0) or (
            a[1] == b[1] == c[1] and (b[0] - a[0]) * (c[0] - b[0]) < 0
        ):
            total += _THROUGH  # it runs back over itself
    return total

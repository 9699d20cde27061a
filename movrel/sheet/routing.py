"""Right-angled routes for wires that nobody has bent by hand."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from movrel.sheet.memo import Memo

Point = tuple[float, float]
Box = tuple[float, float, float, float]

#: How far a wire runs straight out of a port, and how far it keeps from parts, in units of the drawing.
STUB, CLEARANCE = 8.0, 10.0
#: Parts farther than this from both ends' surroundings are not looked at.
SURROUNDINGS = 60.0
_BEND, _THROUGH = 15.0, 10_000.0


#: Start, the way its port faces, end, and the way that one faces.
Way = tuple[Point, Point, Point, Point]


def route(
    start: Point, away: Point, end: Point, home: Point, boxes: Sequence[Box]
) -> list[list[float]]:
    """The best of a few dozen candidate routes between two ports.

    ``away`` and ``home`` are the directions, as unit vectors, in which the ports face; ``boxes`` are
    the parts (left, bottom, right, top). Cost is length, bends and, above all, crossing parts.
    """
    return routes([(start, away, end, home)], boxes)[0]


def routes(ways: Sequence[Way], boxes: Sequence[Box]) -> list[list[list[float]]]:
    """Routes for many wires among the same parts; each looks at the parts around it only."""
    if not ways:
        return []
    rows = np.array(ways, dtype=float).reshape(-1, 8)
    parts = np.array(boxes, dtype=float).reshape(-1, 4)
    left = np.minimum(rows[:, 0], rows[:, 4])[:, None] - SURROUNDINGS
    right = np.maximum(rows[:, 0], rows[:, 4])[:, None] + SURROUNDINGS
    bottom = np.minimum(rows[:, 1], rows[:, 5])[:, None] - SURROUNDINGS
    top = np.maximum(rows[:, 1], rows[:, 5])[:, None] + SURROUNDINGS
    near = (
        (parts[:, 2] >= left)
        & (parts[:, 0] <= right)
        & (parts[:, 3] >= bottom)
        & (parts[:, 1] <= top)
    )
    around = [parts[here] for here in near]
    keys = [row.tobytes() + here.tobytes() for row, here in zip(rows, around, strict=True)]
    missing = {key: i for i, key in enumerate(keys) if key not in _found}
    new = list(missing.values())
    fresh: dict[bytes, tuple[Point, ...]] = {}
    for i in range(0, len(new), _AT_A_TIME):
        chunk = new[i : i + _AT_A_TIME]
        best = _best([(ways[k], around[k]) for k in chunk])
        fresh.update(zip((keys[k] for k in chunk), best, strict=True))
    chosen = [fresh.get(key) or _found[key] for key in keys]
    for key, points in fresh.items():
        _found.keep(key, points)
    return [[list(p) for p in points] for points in chosen]


#: Routes found so far by wire and parts around it: most wires stay while one part moves.
_found: Memo[bytes, tuple[Point, ...]] = Memo()
_AT_A_TIME = 64
_Boxes = npt.NDArray[np.float64]


def _best(tasks: Sequence[tuple[Way, _Boxes]]) -> list[tuple[Point, ...]]:
    """The cheapest candidate for each wire among the parts around it; all are worked out at once."""
    candidates = [_candidates(way, boxes.tolist()) for way, boxes in tasks]
    most = max(len(c) for c in candidates)
    points = np.zeros((len(tasks), most, 6, 2))
    parts = np.full(
        (len(tasks), max(len(boxes) for _, boxes in tasks), 4), np.nan
    )  # nothing meets what is not a number
    unused = np.zeros((len(tasks), most), dtype=bool)
    for i, (_, boxes) in enumerate(tasks):
        points[i, : len(candidates[i])] = candidates[i]
        unused[i, len(candidates[i]) :] = True
        parts[i, : len(boxes)] = boxes
    costs = np.where(unused, np.inf, np.round(_costs(points, parts), 6))
    # Of equally good ones the first.
    return [
        tuple(tidied(candidates[i][k])) for i, k in enumerate(np.argmin(costs, axis=1).tolist())
    ]


def _candidates(way: Way, boxes: list[list[float]]) -> list[list[Point]]:
    """Routes of six points each: port, stub, two corners, stub, port."""
    start, away, end, home = way
    stub = STUB
    gap = (end[0] - start[0]) * away[0] + (end[1] - start[1]) * away[1]
    if (away[0], away[1]) == (-home[0], -home[1]) and 0 < gap < 2 * STUB:
        stub = gap / 2  # ports that face each other closely: neither stub passes the other
    a = (start[0] + stub * away[0], start[1] + stub * away[1])
    b = (end[0] + stub * home[0], end[1] + stub * home[1])
    columns = {a[0], b[0], (a[0] + b[0]) / 2}
    levels = {a[1], b[1], (a[1] + b[1]) / 2}
    for left, bottom, right, top in boxes:
        columns |= {left - CLEARANCE, right + CLEARANCE}
        levels |= {bottom - CLEARANCE, top + CLEARANCE}
    middle_x, middle_y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    nearest_columns = sorted(columns, key=lambda x: (abs(x - middle_x), x))[:24]
    nearest_levels = sorted(levels, key=lambda y: (abs(y - middle_y), y))[:24]
    middles = [((b[0], a[1]), (b[0], a[1])), ((a[0], b[1]), (a[0], b[1]))]
    middles += [((x, a[1]), (x, b[1])) for x in nearest_columns]
    middles += [((a[0], y), (b[0], y)) for y in nearest_levels]
    return [[start, a, *middle, b, end] for middle in middles]


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


def _costs(
    candidates: npt.NDArray[np.float64], boxes: npt.NDArray[np.float64]
) -> npt.NDArray[np.float64]:
    """Length, bends, stretches through parts and runs back over itself (wire, candidate).

    ``candidates`` has the axes wire, candidate, point, x and y; ``boxes`` wire, part, side.
    """
    p, q = candidates[:, :, :-1], candidates[:, :, 1:]
    step = q - p
    total = np.abs(step).sum(axis=(2, 3))
    upright = np.abs(step[..., 0]) < 1e-9
    level = np.abs(step[..., 1]) < 1e-9
    real = ~(upright & level)
    low, high = np.minimum(p, q), np.maximum(p, q)
    sides = boxes[:, None, None]
    hit = (
        (low[..., None, 0] < sides[..., 2] - 1) & (high[..., None, 0] > sides[..., 0] + 1)
        & (low[..., None, 1] < sides[..., 3] - 1) & (high[..., None, 1] > sides[..., 1] + 1)
    )  # fmt: skip
    total += _THROUGH * (hit & real[..., None]).sum(axis=(2, 3))
    # Directions as numbers, opposite ones with opposite sign, 0 for stretches without length.
    codes = (
        np.sign(np.where(upright, 0.0, step[..., 0]))
        + 2 * np.sign(np.where(level, 0.0, step[..., 1]))
    ).astype(int)
    before = codes[..., 0]
    total += 2 * _BEND
    for k in range(1, codes.shape[-1]):
        now = codes[..., k]
        both = (now != 0) & (before != 0)
        total += _BEND * (both & (now != before))
        total += _THROUGH * (both & (now == -before))
        before = np.where(now != 0, now, before)
    return total


def tidied(points: list[Point]) -> list[Point]:
    """Corners without repeated points and points on a straight line between their neighbours."""
    corners: list[Point] = []
    for p in points:
        if corners and p == corners[-1]:
            continue
        while len(corners) > 1 and _straight(corners[-2], corners[-1], p):
            corners.pop()
        corners.append(p)
    return corners


def _straight(a: Point, b: Point, c: Point) -> bool:
    """Whether b lies between a and c on a level or plumb line."""
    for i in (0, 1):
        if a[i] == b[i] == c[i]:
            return (b[1 - i] - a[1 - i]) * (c[1 - i] - b[1 - i]) >= 0
    return False

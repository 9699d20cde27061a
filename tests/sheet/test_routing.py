"""Wires run at right angles, leave ports outwards and keep off parts where there is a way."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from movrel.sheet.routing import Box, facing, route

LEFT, RIGHT, UP, DOWN = (-1.0, 0.0), (1.0, 0.0), (0.0, 1.0), (0.0, -1.0)


def crossings(points: list[list[float]], boxes: list[Box]) -> int:
    return sum(
        min(a[0], b[0]) < right - 1
        and max(a[0], b[0]) > left + 1
        and min(a[1], b[1]) < top - 1
        and max(a[1], b[1]) > bottom + 1
        for a, b in pairwise(points)
        for left, bottom, right, top in boxes
    )


def test_facing_ports_on_a_level_are_joined_straight() -> None:
    boxes = [(0.0, 0.0, 40.0, 40.0), (100.0, 0.0, 140.0, 40.0)]
    assert route((40, 20), RIGHT, (100, 20), LEFT, boxes) == [[40, 20], [100, 20]]


@pytest.mark.parametrize("gap", [4, 10, 15])
@pytest.mark.parametrize("rise", [0, 12])
def test_close_ports_are_joined_without_a_way_back(gap: int, rise: int) -> None:
    boxes = [(0.0, 0.0, 40.0, 40.0), (40.0 + gap, -40.0, 100.0, 60.0)]
    points = route((40, 20), RIGHT, (40 + gap, 20 + rise), LEFT, boxes)
    assert [p[0] for p in points] == sorted(p[0] for p in points)
    assert len(points) == (4 if rise else 2)


def test_a_wire_goes_round_the_part_it_comes_from_and_the_one_it_goes_to() -> None:
    """From the right side of the upper part to the left side of the one below it."""
    boxes = [(0.0, 100.0, 40.0, 140.0), (0.0, 0.0, 40.0, 40.0)]
    points = route((40, 120), RIGHT, (0, 20), LEFT, boxes)
    assert crossings(points, boxes) == 0
    assert points[1][0] > 40 and points[-2][0] < 0


def test_feedback_goes_round() -> None:
    boxes = [(0.0, 0.0, 40.0, 40.0), (100.0, 0.0, 140.0, 40.0)]
    points = route((140, 20), RIGHT, (0, 20), LEFT, boxes)
    assert crossings(points, boxes) == 0 and len(points) <= 6


def test_a_part_in_between_is_gone_round() -> None:
    boxes = [(0.0, 0.0, 40.0, 40.0), (100.0, -20.0, 140.0, 60.0), (200.0, 0.0, 240.0, 40.0)]
    assert crossings(route((40, 20), RIGHT, (200, 20), LEFT, boxes), boxes) == 0


@pytest.mark.parametrize(
    ("at", "side"),
    [((0, 5), LEFT), ((40, 30), RIGHT), ((20, 0), DOWN), ((15, 20), UP), ((-2, 5), LEFT)],
)
def test_the_side_of_a_port(at: tuple[float, float], side: tuple[float, float]) -> None:
    assert facing(at, (0.0, 0.0, 40.0, 20.0)) == side


@settings(max_examples=200, deadline=None)
@given(
    st.tuples(*(st.integers(-200, 200) for _ in range(4))),
    st.sampled_from([LEFT, RIGHT, UP, DOWN]),
    st.sampled_from([LEFT, RIGHT, UP, DOWN]),
)
def test_every_route_is_right_angled_and_ends_in_its_ports(
    at: tuple[int, ...], away: tuple[float, float], home: tuple[float, float]
) -> None:
    points = route((at[0], at[1]), away, (at[2], at[3]), home, [(-20.0, -20.0, 20.0, 20.0)])
    assert points[0] == [at[0], at[1]] and points[-1] == [at[2], at[3]]
    assert all(a[0] == b[0] or a[1] == b[1] for a, b in pairwise(points))

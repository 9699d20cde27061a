"""Two changes of one text: brought together without loss, or not at all."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from movrel.language.merged_text import merged

BASE = "a\nb\nc\nd\ne\n"


def test_changes_apart_are_both_in_the_result() -> None:
    assert merged(BASE, "A\nb\nc\nd\ne\n", "a\nb\nc\nd\nE\nf\n") == "A\nb\nc\nd\nE\nf\n"
    assert merged(BASE, "b\nc\nd\ne\n", "a\nb\nc\nd\n") == "b\nc\nd\n"
    assert merged(BASE, "A\nb\nc\nd\ne\n", "A\nb\nc\nD\ne\n") == "A\nb\nc\nD\ne\n"  # one the same


def test_changes_of_the_same_or_neighbouring_lines_are_not_guessed() -> None:
    assert merged(BASE, "A\nb\nc\nd\ne\n", "X\nb\nc\nd\ne\n") is None
    assert merged(BASE, "A\nb\nc\nd\ne\n", "a\nB\nc\nd\ne\n") is None
    assert merged(BASE, BASE + "f\n", BASE + "g\n") is None


LINES = st.lists(st.sampled_from(["a\n", "b\n", "c\n", "d\n"]), max_size=8).map("".join)


@given(LINES, LINES, LINES)
def test_a_side_that_changed_nothing_gives_way_and_sides_are_alike(
    base: str, mine: str, yours: str
) -> None:
    assert merged(base, base, yours) == yours
    assert merged(base, mine, base) == mine
    assert merged(base, mine, mine) == mine
    both = merged(base, mine, yours)
    assert both == merged(base, yours, mine)

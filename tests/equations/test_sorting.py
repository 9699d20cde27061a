"""Aliases, matching, solving order and the words for what does not match."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import maximum_bipartite_matching

import movrel
from movrel.equations import newton
from movrel.equations.report import counts, describe
from movrel.errors import StructureFault
from movrel.matching import match


@settings(max_examples=100, deadline=None)
@given(st.integers(1, 25), st.integers(1, 25), st.integers(0, 2**31))
def test_the_matching_is_as_large_as_another_method_finds(
    rows: int, columns: int, seed: int
) -> None:
    dense = np.random.default_rng(seed).random((rows, columns)) < 0.15
    lists = [list(np.nonzero(row)[0]) for row in dense]
    column_of, row_of = match(lists, columns)
    assert all(c < 0 or (row_of[c] == r and dense[r, c]) for r, c in enumerate(column_of))
    theirs = maximum_bipartite_matching(csr_matrix(dense.astype(int)), perm_type="column")
    assert sum(c >= 0 for c in column_of) == (theirs >= 0).sum()


def ordered(text: str) -> movrel.session.LoadedModel:  # type: ignore[name-defined]
    return movrel.load(text=f"model M {text} end M;")


def test_equations_are_put_in_the_order_in_which_they_can_be_solved() -> None:
    system = ordered(
        "Real a, b, c, d; equation d = c + 1; c = b*2; b = a - time; a = 3*time + 1;"
    ).system
    assert [v.name for block in system.blocks for v in block.unknowns] == ["a", "b", "c", "d"]
    assert {block.kind for block in system.blocks} == {"explicit"}


def test_loops_are_no_larger_than_they_must_be() -> None:
    system = ordered(
        "Real a, b, c, d, e; equation a = time; b + c = a; b - c = 1; d = b*c; e^3 + e = d;"
    ).system
    found = {tuple(sorted(v.name for v in block.unknowns)): block.kind for block in system.blocks}
    assert (
        found[("b", "c")] == "linear"
        and found[("e",)] == "nonlinear"
        and found[("d",)] == "explicit"
    )
    assert counts(system)["linear loops"] == 1 and counts(system)["nonlinear loops"] == 1
    text = describe(system)
    assert (
        "linear loop of 2 for" in text
        and "nonlinear loop of 1 for e" in text
        and "text.mo:1:" in text
    )


def test_long_chains_of_aliases_collapse_with_their_signs() -> None:
    names = [f"v{i}" for i in range(50)]
    chain = " ".join(
        f"{b} = {'-' if i % 2 else ''}{a};" for i, (a, b) in enumerate(pairwise(names))
    )
    r = ordered(f"Real {', '.join(names)}; equation v0 = time + 1; {chain}").simulate(stop=1)
    sign = 1
    for i, name in enumerate(names[1:]):
        sign *= -1 if i % 2 else 1
        assert np.array_equal(r[name], sign * r["v0"])


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (
            "Real x, y, z; equation x + y = 1; x - y = time; x*y = 2; z = 1;",
            ["3 equations determine 2 unknowns (x, y)", "'x*y = 2'"],
        ),
        (
            "Real p, q, r; equation p = time; q + r = p;",
            ["only 1 equations for 2 unknowns (q, r)", "'q + r = p'"],
        ),
        (
            "Real x(start = 1, fixed = true), y; initial equation y = 2; equation y = 2*x; x = y - 1 + time;",
            ["start of the model"],
        ),
        (
            "Real x; initial equation x = 1; x = 2; equation der(x) = -x;",
            ["start of the model", "'x = 2'"],
        ),
    ],
)
def test_a_mismatch_names_the_smallest_sets(text: str, words: list[str]) -> None:
    with pytest.raises(StructureFault) as fault:
        _ = ordered(text).system
    for word in words:
        assert word in fault.value.sentence()


def near(*guess: float) -> newton.Place:
    z = np.array(guess)
    return newton.Place(z, np.zeros(len(z)), np.full(len(z), -np.inf), np.full(len(z), np.inf))


def test_newton_finds_roots_from_poor_and_singular_starts() -> None:
    def equations(z: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        a, b = z
        return (
            np.array([2 - a * b, a - 0.5 * b]),
            np.array([[-b, -a], [1.0, -0.5]]),
            np.array([2 + abs(a * b), abs(a) + 0.5 * abs(b)]),
        )

    for start in ([0.0, 0.0], [100.0, -3.0], [1e-3, 1e3]):
        solution = newton.solve(equations, near(*start))
        assert solution is not None
        assert np.abs(equations(solution)[0]).max() < 1e-10
    none = newton.solve(lambda z: (z**2 + 1, np.array([[2 * z[0]]]), z**2 + 1), near(1.0))
    assert none is None


@pytest.mark.parametrize("size", [1e-12, 1e-3, 1.0, 1e9])
def test_newton_knows_no_absolute_size(size: float) -> None:
    """q + q|q|/s = s*(3/4) has the root s/2, whatever s; so has its product with any factor."""

    def equations(z: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        q, factor = z[0], 1e7 / size
        return (
            factor * np.array([q + q * abs(q) / size - 0.75 * size]),
            factor * np.array([[1 + 2 * abs(q) / size]]),
            factor * np.array([abs(q) + q * q / size + 0.75 * size]),
        )

    for start in (0.0, size, -40 * size, 1e6 * size):
        solution = newton.solve(equations, near(start))
        assert solution is not None
        assert solution[0] == pytest.approx(size / 2, rel=1e-14)


def test_newton_prefers_roots_within_the_bounds() -> None:
    def equations(z: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        return z**2 - 4, np.array([[2 * z[0]]]), z**2 + 4

    one = np.ones(1)
    inside = newton.solve(equations, newton.Place(-one, 0 * one, 0 * one, 10 * one))
    assert inside == pytest.approx([2.0])
    only = newton.solve(equations, newton.Place(-one, 0 * one, -10 * one, 0 * one - 3))
    assert only is not None
    assert abs(only[0]) == pytest.approx(2.0)

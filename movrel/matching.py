"""Matching of rows (equations) with columns (unknowns): maximum matchings and augmenting paths."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from typing import TypeVar

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import maximum_bipartite_matching

Column = TypeVar("Column", bound=Hashable)


def match(
    rows: list[list[int]], columns: int, first: int | None = None
) -> tuple[list[int], list[int]]:
    """A maximum matching; returns (column of each row, row of each column), -1 if none.

    The ``first`` rows (all, if not given) are matched together (Hopcroft and Karp, as SciPy has it);
    the others follow one by one along augmenting paths, so that none of the first, nor an earlier
    one, is left unmatched for the sake of a later one.
    """
    count = len(rows) if first is None else first
    column_of = [-1] * len(rows)
    row_of = [-1] * columns
    if count and columns:
        lengths = [len(row) for row in rows[:count]]
        entries = np.fromiter(
            (c for row in rows[:count] for c in row), dtype=np.int32, count=sum(lengths)
        )
        starts = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int32)
        graph = csr_matrix(
            (np.ones(len(entries), np.int8), entries, starts), shape=(count, columns)
        )
        for row, column in enumerate(
            maximum_bipartite_matching(graph, perm_type="column").tolist()
        ):
            if column >= 0:
                column_of[row], row_of[column] = column, row

    def candidates(row: int) -> Iterator[int]:
        return iter(rows[row])

    def owner(column: int) -> int | None:
        return row_of[column] if row_of[column] >= 0 else None

    for start in range(count, len(rows)):
        free = next((c for c in rows[start] if row_of[c] < 0), None)
        path = (
            [(start, free)] if free is not None else augmenting_path(start, candidates, owner, {})
        )
        for row, column in path or ():
            column_of[row], row_of[column] = column, row
    return column_of, row_of


def augmenting_path(
    start: int,
    candidates: Callable[[int], Iterator[Column]],
    owner: Callable[[Column], int | None],
    seen: dict[Column, None],
) -> list[tuple[int, Column]] | None:
    """A path from the row ``start`` that ends in a column without an owner, as pairs (row, its new column).

    ``None`` if there is none; then ``seen`` holds, in the order met, every column that can be reached.
    Depth first, without recursion. Assigning each pair of the path makes the matching larger by one.
    """
    stack = [(start, candidates(start))]
    path: list[tuple[int, Column]] = []
    while stack:
        row, remaining = stack[-1]
        for column in remaining:
            if column in seen:
                continue
            seen[column] = None
            path.append((row, column))
            holder = owner(column)
            if holder is None:
                return path
            stack.append((holder, candidates(holder)))
            break
        else:
            stack.pop()
            if path:
                path.pop()
    return None

"""Trajectories in the database: written in chunks while a run goes on, read thinned out or whole."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np
import numpy.typing as npt
import zstandard
from peewee import JOIN

from movrel.analyse.sampling import thinned
from movrel.simulate.recipes import Recipe, carried_out, inputs_of
from movrel.sized_cache import SizedCache
from movrel.workspace.tables import ResultColumn, ResultOverview, Run, database

Array = npt.NDArray[np.float64]

TIME = -1

#: Rows from which a piece gets an overview, pixels that one is good for at least, and rows for each pixel of a long one.
LONG, OVERVIEW, ROWS = 2_000, 60, 250
#: Points of a run from which it is read piece by piece, and points of pieces that are read whole for a picture.
MANY, READ_WHOLE = 200_000, 150_000
#: Bytes of the columns of finished runs that are kept once they were read.
KEPT = 80_000_000


def write_chunk(
    run: int,
    chunk: int,
    time: Array,
    table: Array,
    recipes: Mapping[int, Recipe] | None = None,
) -> None:
    """Append rows to a run: ``time`` of shape ``(n,)`` and ``table`` of shape ``(n, columns)``.

    A column that its recipe gives to the last bit is not stored; the ``recipes`` are those that are kept with the run.
    """
    pack = zstandard.ZstdCompressor(level=1).compress
    rows = [(run, TIME, chunk, len(time), pack(np.ascontiguousarray(time, "<f8").tobytes()))]
    columns = dict(enumerate(np.ascontiguousarray(table.T, "<f8")))
    for k, values in columns.items():
        data = values.tobytes()
        recipe = (recipes or {}).get(k)
        follows = recipe is not None and carried_out(recipe, columns, time).tobytes() == data
        rows.append((run, k, chunk, len(time), b"" if follows else pack(data)))
    fields = [
        ResultColumn.run,
        ResultColumn.column,
        ResultColumn.chunk,
        ResultColumn.count,
        ResultColumn.data,
    ]
    views = _overviews(run, chunk, time, table) if len(time) >= LONG else []
    seen = [
        ResultOverview.run, ResultOverview.column, ResultOverview.chunk, ResultOverview.low, ResultOverview.high,
        ResultOverview.data,
    ]  # fmt: skip
    with database.atomic():
        for first in range(0, len(rows), 500):
            ResultColumn.insert_many(rows[first : first + 500], fields).execute()
        for first in range(0, len(views), 500):
            ResultOverview.insert_many(views[first : first + 500], seen).execute()


def _overviews(
    run: int, chunk: int, time: Array, table: Array
) -> list[tuple[int, int, int, float, float, bytes]]:
    """The extremes of each column of a piece, with their instants."""
    pack = zstandard.ZstdCompressor(level=1).compress
    overviews = []
    for k in range(table.shape[1]):
        chosen = thinned(table[:, k], max(OVERVIEW, len(time) // ROWS))
        data = np.concatenate([time[chosen], table[chosen, k]]).astype("<f8")
        overviews.append((run, k, chunk, float(time[0]), float(time[-1]), pack(data.tobytes())))
    return overviews


def overview(
    run: int, column: int, low: float | None, high: float | None
) -> tuple[Array, Array] | None:
    """A long curve for a picture: overviews of its pieces, or the pieces themselves where few lie in the range.

    None when the run has none.
    """
    unpack = zstandard.ZstdDecompressor().decompress
    pieces = (
        ResultColumn.select(
            ResultColumn.chunk, ResultColumn.count, ResultOverview.low, ResultOverview.high
        )
        .join(
            ResultOverview,
            JOIN.LEFT_OUTER,
            on=(
                (ResultOverview.run == ResultColumn.run)
                & (ResultOverview.column == ResultColumn.column)
                & (ResultOverview.chunk == ResultColumn.chunk)
            ),
        )
        .where((ResultColumn.run == run) & (ResultColumn.column == column))
        .order_by(ResultColumn.chunk)
        .tuples()
    )
    # A short piece without an overview is taken whole, wherever it lies.
    inside = [
        (chunk, count, known is None)
        for chunk, count, known, end in pieces
        if known is None or ((low is None or end >= low) and (high is None or known <= high))
    ]
    if not inside or all(short for _, _, short in inside):
        return None
    whole = sum(count for _, count, _ in inside) <= READ_WHOLE
    read = [chunk for chunk, _, short in inside if whole or short]
    parts: dict[int, tuple[Array, Array]] = {}
    if read:
        pieces = _pieces(run, [TIME, column], read)
        parts = {chunk: (pieces[TIME][chunk], values) for chunk, values in pieces[column].items()}
    if not whole:
        rows = (
            ResultOverview.select(ResultOverview.chunk, ResultOverview.data)
            .where(
                (ResultOverview.run == run)
                & (ResultOverview.column == column)
                & ResultOverview.chunk.in_([chunk for chunk, _, short in inside if not short])
            )
            .tuples()
        )
        for chunk, data in rows:
            both = np.frombuffer(unpack(bytes(data)), "<f8")
            parts[chunk] = (both[: len(both) // 2], both[len(both) // 2 :])
    ordered = [parts[chunk] for chunk, _, _ in inside]
    return np.concatenate([t for t, _ in ordered]), np.concatenate([y for _, y in ordered])


def whole_overview(run: int, column: int, points: int) -> tuple[Array, Array] | None:
    """The overview of all of a finished run; ``points`` is part of the key so that a longer run is read anew."""
    return _overviews_read.get((run, column, points), lambda: overview(run, column, None, None))


def around(run: int, columns: list[int], instant: float) -> dict[int, tuple[Array, Array]] | None:
    """The pieces of a long run in which an instant lies: time and values by column. None without overviews."""
    neighbours = (
        ResultOverview.select(ResultOverview.chunk)
        .where(
            (ResultOverview.run == run)
            & (ResultOverview.low <= instant)
            & (ResultOverview.high >= instant)
        )
        .order_by(ResultOverview.chunk.desc())
        .first()
    )
    if neighbours is None:
        return None
    at = neighbours.chunk
    pieces = {c: of[at] for c, of in _pieces(run, [TIME, *columns], [at]).items() if at in of}
    return {column: (pieces[TIME], values) for column, values in pieces.items()}


def forget(run: int, kept: int = 0) -> None:
    """Remove what was written of a run but for its first pieces, before it is computed again from there."""
    for table in (ResultColumn, ResultOverview):
        table.delete().where((table.run == run) & (table.chunk >= kept)).execute()


def read_columns(run: int, columns: list[int]) -> dict[int, Array]:
    """Whole trajectories by column number; column -1 is the time."""
    nothing = np.zeros(0)
    return {
        column: np.concatenate([of[chunk] for chunk in sorted(of)]) if of else nothing
        for column, of in _pieces(run, columns).items()
    }


def _pieces(
    run: int, columns: Iterable[int], chunks: Sequence[int] | None = None
) -> dict[int, dict[int, Array]]:
    """The pieces of columns by column and number of the piece, all or those asked for."""
    pieces: dict[int, dict[int, Array]] = {column: {} for column in columns}
    following: dict[int, list[int]] = {}
    wanted = (ResultColumn.run == run) & ResultColumn.column.in_(list(pieces))
    if chunks is not None:
        wanted &= ResultColumn.chunk.in_(chunks)
    unpack = zstandard.ZstdDecompressor().decompress
    for column, chunk, data in (
        ResultColumn.select(ResultColumn.column, ResultColumn.chunk, ResultColumn.data)
        .where(wanted)
        .tuples()
    ):
        if len(data):
            pieces[column][chunk] = np.frombuffer(unpack(bytes(data)), "<f8")
        else:
            following.setdefault(chunk, []).append(column)
    if following:
        _carry_out(run, pieces, following)
    return pieces


def _carry_out(
    run: int, pieces: dict[int, dict[int, Array]], following: Mapping[int, list[int]]
) -> None:
    """Put in the pieces that follow from others: columns by piece."""
    recipes = {int(k): r for k, r in Run.select(Run.recipes).where(Run.id == run).scalar().items()}
    needed = set().union(
        {TIME}, *(inputs_of(recipes[column]) for of in following.values() for column in of)
    )
    others = needed - set(pieces)
    read = pieces | (_pieces(run, others, list(following)) if others else {})

    def piece(column: int, chunk: int) -> Array:
        if chunk not in read[column]:
            recipe = recipes[column]
            inputs = {k: piece(k, chunk) for k in inputs_of(recipe)}
            read[column][chunk] = carried_out(recipe, inputs, read[TIME][chunk])
        return read[column][chunk]

    for chunk, of in following.items():
        for column in of:
            piece(column, chunk)


def column(run: int, number: int, points: int, finished: bool) -> Array:
    """A column of a run; that of a ``finished`` one is kept, by its ``points``, so that a longer run is read anew."""
    if not finished:
        return read_columns(run, [number])[number]
    return _columns_read.get((run, number, points), lambda: read_columns(run, [number])[number])


_columns_read: SizedCache[Array] = SizedCache(KEPT, lambda values: values.nbytes)
_overviews_read: SizedCache[tuple[Array, Array] | None] = SizedCache(
    KEPT // 4, lambda both: 100 + sum(part.nbytes for part in both or ())
)

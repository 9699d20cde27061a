"""Trajectories in the database: written in chunks while a run goes on, read thinned out or whole."""

from __future__ import annotations

import functools

import numpy as np
import numpy.typing as npt
import zstandard
from tsdownsample import MinMaxDownsampler

from movrel.workspace.tables import ResultColumn, database

Array = npt.NDArray[np.float64]

TIME = -1


def write_chunk(run: int, chunk: int, time: Array, table: Array) -> None:
    """Append rows to a run: ``time`` of shape ``(n,)`` and ``table`` of shape ``(n, columns)``."""
    pack = zstandard.ZstdCompressor(level=1).compress
    rows = [(run, TIME, chunk, len(time), pack(np.ascontiguousarray(time, "<f8").tobytes()))]
    for k in range(table.shape[1]):
        rows.append((run, k, chunk, len(time), pack(np.ascontiguousarray(table[:, k], "<f8").tobytes())))
    fields = [ResultColumn.run, ResultColumn.column, ResultColumn.chunk, ResultColumn.count, ResultColumn.data]
    with database.atomic():
        for first in range(0, len(rows), 500):
            ResultColumn.insert_many(rows[first : first + 500], fields).execute()


def forget(run: int) -> None:
    """Remove what was written of a run, before it is computed again."""
    ResultColumn.delete().where(ResultColumn.run == run).execute()


def read_columns(run: int, columns: list[int]) -> dict[int, Array]:
    """Whole trajectories by column number; column -1 is the time."""
    pieces: dict[int, list[bytes]] = {column: [] for column in columns}
    rows = (
        ResultColumn.select(ResultColumn.column, ResultColumn.data)
        .where((ResultColumn.run == run) & ResultColumn.column.in_(columns))
        .order_by(ResultColumn.column, ResultColumn.chunk)
        .tuples()
    )
    unpack = zstandard.ZstdDecompressor().decompress
    for column, data in rows:
        pieces[column].append(unpack(bytes(data)))
    return {c: np.frombuffer(b"".join(parts), "<f8") for c, parts in pieces.items()}


@functools.lru_cache(maxsize=512)
def _cached_column(run: int, column: int, points: int) -> Array:
    """A column of a finished run; ``points`` is part of the key so that a longer run is read anew."""
    return read_columns(run, [column])[column]


def column(run: int, number: int, points: int, finished: bool) -> Array:
    if finished:
        return _cached_column(run, number, points)
    return read_columns(run, [number])[number]


def thin(time: Array, values: Array, width: int, low: float | None, high: float | None) -> tuple[Array, Array]:
    """At most ``2 * width + 2`` points of a curve between two times: the extremes of every pixel.

    The times given are both included, with one point beyond each.
    """
    first = 0 if low is None else max(int(np.searchsorted(time, low, "left")) - 1, 0)
    last = len(time) if high is None else min(int(np.searchsorted(time, high, "right")) + 1, len(time))
    time, values = time[first:last], values[first:last]
    chosen = thinned(values, width)
    return time[chosen], values[chosen]


def thinned(values: Array, width: int) -> npt.NDArray[np.int64]:
    """The places of the extremes of every pixel, both ends included; all places of a short curve."""
    wanted = max(2 * width, 100)
    if len(values) <= wanted:
        return np.arange(len(values))
    # By position, not by time: at an event two points have the same time, and both must stay.
    inner = MinMaxDownsampler().downsample(np.ascontiguousarray(values), n_out=wanted)
    return np.asarray(np.unique(np.concatenate([[0], inner.astype(np.int64), [len(values) - 1]])))


def value_at(time: Array, values: Array, instant: float) -> float | None:
    """The value at an instant; at an event the one after it, between points interpolated."""
    if not len(time) or instant < time[0] or instant > time[-1]:
        return None
    after = int(np.searchsorted(time, instant, "right"))
    if after == len(time) or time[after - 1] == instant:
        return float(values[after - 1])
    t0, t1 = time[after - 1], time[after]
    share = (instant - t0) / (t1 - t0)
    return float(values[after - 1] + share * (values[after] - values[after - 1]))

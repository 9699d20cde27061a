"""A run in the database, read at an instant, in a window, on a grid, or thinned out for a picture.

Everything that looks at stored curves does it through here: strips, the ledger at the time cursor, x-y and spectrum,
measures and claims, exports.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property

import numpy as np
import numpy.typing as npt

from movrel.analyse.curves import si
from movrel.analyse.measures import NotMeasurable
from movrel.analyse.measures import window as measurable_window
from movrel.analyse.quantity import Quantity
from movrel.analyse.sampling import on_grid, thin, thinned, value_at, window
from movrel.analyse.spectrum import spectrum
from movrel.errors import MovrelError, NotFound
from movrel.exchange.run_files import MOST_CELLS
from movrel.exchange.run_files import Column as FileColumn
from movrel.model.expression import Scalar
from movrel.simulate.trajectory import Column
from movrel.units import display_scale
from movrel.views.run_data import Curve, Pair, RunState, SpectrumCurve
from movrel.workspace import results, runs
from movrel.workspace.tables import Run

Array = npt.NDArray[np.float64]


class StoredRun:
    """The curves and parameters of a run; columns are read when they are asked for."""

    def __init__(self, run: Run) -> None:
        self._run = run
        self._columns = {entry["name"]: Column(**entry) for entry in run.catalogue}
        self._finished = RunState(run.state).finished

    @classmethod
    def of(cls, number: int) -> StoredRun:
        """A run by its identity. Raises :class:`NotFound`."""
        return cls(runs.run(number))

    @cached_property
    def time(self) -> Array:
        """All stored instants in s, shape ``(points,)``."""
        return self._stored(results.TIME)

    def names(self) -> list[str]:
        """The names of variables and parameters."""
        return [*self._columns, *self._run.parameters]

    def __getitem__(self, name: str) -> Array:
        """A variable at all stored instants in its declared unit, shape ``(points,)``. Raises :class:`NotFound`."""
        column = self.column(name)
        if column.column is None:
            return np.full(len(self.time), float(column.constant))
        values = self._stored(column.column)[: len(self.time)]
        return values * column.sign if column.sign != 1 else values

    def column(self, name: str) -> Column:
        """The description of a variable. Raises :class:`NotFound`."""
        column = self._columns.get(name)
        if column is None:
            raise NotFound(f"the run '{self._run.name}' has no variable '{name}'.")
        return column

    def _stored(self, number: int) -> Array:
        return results.column(self._run.id, number, self._run.points, self._finished)

    # --- as claims see it ---

    def event_times(self) -> Array:
        """The instants of the events that were kept, in s."""
        return np.array([event["time"] for event in self._run.events], dtype=np.float64)

    def quantity(self, name: str) -> Quantity | None:
        """A variable or parameter in SI units, or None where there is none of that name."""
        column = self._columns.get(name)
        if column is not None:
            values = float(column.constant) if column.column is None else self[name]
            return si(values, column.unit, column.display_unit)
        value = self._run.parameters.get(name)
        if isinstance(value, int | float):
            unit, display_unit = self._run.parameter_units.get(name, ("", ""))
            return si(float(value), unit, display_unit)
        if name in self._run.worked_out:
            value, unit, display_unit = self._run.worked_out[name]
            return si(float(value), unit, display_unit)
        return None

    # --- for a picture ---

    def curve(self, name: str, width: int, low: float | None, high: float | None) -> Curve:
        """A variable between two times, thinned to what ``width`` pixels can show, in its declared unit."""
        column = self.column(name)
        t, values = self._thinned(column, width, low, high)
        return Curve(name, column.unit, t.tolist(), (values * column.sign).tolist())

    def _thinned(
        self, column: Column, width: int, low: float | None, high: float | None
    ) -> tuple[Array, Array]:
        if column.column is None:
            ends = self.time[[0, -1]] if len(self.time) else self.time
            return ends, np.full(len(ends), float(column.constant))
        if self._run.points >= results.MANY:
            if self._finished and low is None and high is None:
                overview = results.whole_overview(self._run.id, column.column, self._run.points)
            else:
                overview = results.overview(self._run.id, column.column, low, high)
            if overview is not None:
                return thin(*overview, width, low, high)
        whole = self._stored(column.column)[: len(self.time)]
        return thin(self.time[: len(whole)], whole, width, low, high)

    def pair(self, x: str, y: str, width: int, low: float | None, high: float | None) -> Pair:
        """One variable against another at common instants, thinned to what shows: the extremes of both stay."""
        inside = window(self.time, low, high)
        along, across, time = self[x][inside], self[y][inside], self.time[inside]
        if not len(time):
            raise MovrelError("the run has nothing in this range.")
        kept = np.unique(np.concatenate([thinned(along, width), thinned(across, width)]))
        return Pair(
            along[kept].tolist(), across[kept].tolist(), time[kept].tolist(), self.column(x).unit, self.column(y).unit
        )  # fmt: skip

    def spectrum(
        self, name: str, low: float | None, high: float | None, window_name: str
    ) -> SpectrumCurve:
        """Amplitudes over frequency between two instants, at most 4 000 lines."""
        try:
            t, y = measurable_window(self.time, self[name], low, high)
        except NotMeasurable as fault:
            raise MovrelError(f"{fault}.") from None
        f, a = spectrum(t, y, window_name)
        kept = thinned(a, 2000)
        return SpectrumCurve(name, self.column(name).unit, f[kept].tolist(), a[kept].tolist())

    # --- at an instant ---

    def values_at(self, names: Iterable[str], instant: float) -> dict[str, float | None]:
        """The values of variables at an instant, in declared units; None outside the run."""
        columns = [self.column(name) for name in names]
        numbers = sorted({c.column for c in columns if c.column is not None})
        long = self._run.points >= results.MANY and bool(numbers)
        pieces = results.around(self._run.id, numbers, instant) if long else None
        values: dict[str, float | None] = {}
        for column in columns:
            if column.column is None:
                there = bool(pieces) if pieces is not None else bool(len(self.time))
                values[column.name] = column.constant if there else None
                continue
            if pieces is not None:
                t, y = pieces[column.column]
            else:
                y = self._stored(column.column)[: len(self.time)]
                t = self.time[: len(y)]
            value = value_at(t, y, instant)
            values[column.name] = None if value is None else value * column.sign
        return values

    @property
    def parameters(self) -> dict[str, Scalar]:
        """The values of the parameters that the run was ordered with, in declared units."""
        return dict(self._run.parameters)

    def variables(self) -> list[str]:
        """The names of all variables."""
        return list(self._columns)

    def row_at(self, count: int, instant: float) -> list[float] | None:
        """The first so many stored columns at an instant, those without a name among them; None outside of the run."""
        numbers = list(range(count))
        pieces = (
            results.around(self._run.id, numbers, instant)
            if self._run.points >= results.MANY
            else None
        )
        row: list[float] = []
        for number in numbers:
            t, y = pieces[number] if pieces is not None else (self.time, self._stored(number))
            value = value_at(t[: len(y)], y[: len(t)], instant)
            if value is None:
                return None
            row.append(value)
        return row

    # --- for a file ---

    def table(
        self, names: list[str], interval: float | None, low: float | None, high: float | None
    ) -> list[FileColumn]:
        """The time and the variables, in the units in which they are shown; all of them when no names are given.

        With an ``interval`` in s they stand on an even grid, interpolated; at an event the value after it.
        Raises :class:`MovrelError` when there is nothing, or more than a file can hold.
        """
        wanted = names or list(self._columns)
        columns = [self.column(name) for name in wanted]
        time = self.time
        if not len(time):
            raise MovrelError("the run has stored nothing.")
        low = float(time[0]) if low is None else low
        high = float(time[-1]) if high is None else high
        inside = window(time, low, high)
        stored = len(time[inside])
        count = (
            stored if interval is None else int((high - low) / interval) + 1 if interval > 0 else 0
        )
        if count < 1:
            raise MovrelError(
                "there are no rows in this range.", hint="Choose another range or interval."
            )
        if count * (len(columns) + 1) > MOST_CELLS:
            raise MovrelError(
                f"that would be {count} rows of {len(columns) + 1} columns.",
                hint="Choose fewer variables or a longer interval.",
            )
        grid = (
            time[inside]
            if interval is None
            else np.asarray(low + interval * np.arange(count), dtype=np.float64)
        )
        table = [FileColumn("time", "s", grid)]
        for column in columns:
            shown = column.display_unit or column.unit
            factor, offset = display_scale(column.unit, shown)
            if column.column is None:
                values = np.full(count, float(column.constant))
            else:
                whole = self[column.name]
                values = (
                    whole[inside] if interval is None else on_grid(time[: len(whole)], whole, grid)
                )
            table.append(
                FileColumn(column.name, shown if shown != "1" else "", values * factor + offset)
            )
        return table

    def all_rows(self) -> tuple[list[Column], Iterable[list[float]]]:
        """Every variable in its declared unit, and the rows of every stored instant with the time in front."""
        columns = list(self._columns.values())
        numbers = sorted({c.column for c in columns if c.column is not None})
        data = results.read_columns(self._run.id, [results.TIME, *numbers])
        return columns, _rows(columns, data)


def _rows(columns: list[Column], data: dict[int, Array]) -> Iterable[list[float]]:
    time = data[results.TIME]
    for first in range(0, len(time), 1000):
        block = slice(first, first + 1000)
        table = [time[block]]
        for c in columns:
            constant = np.full(len(table[0]), float(c.constant))
            table.append(constant if c.column is None else data[c.column][block] * c.sign)
        yield from np.column_stack(table).tolist()

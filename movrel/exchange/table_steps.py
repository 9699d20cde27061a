"""Steps that prepare a measured table: each makes a new table of the one before, and says what it did."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import astuple, dataclass, replace
from typing import Literal, TypeAlias

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError
from movrel.exchange.table_files import MeasuredTable, TableColumn
from movrel.units import unit

Array = npt.NDArray[np.float64]
#: Gives the table of another file of the project, as it was taken in.
Others: TypeAlias = Callable[[str], MeasuredTable]

#: Standard deviation of a normal distribution, as a multiple of the median distance from its median.
NORMAL = 1.4826
#: Times that outliers are looked for again without those found, and samples that a parabola needs.
PASSES, PARABOLA = 5, 5
#: Deviation of a value in steps, as a share of the smallest (that of a uniform distribution).
STEPPED = 0.2887
#: A hole: so many usual distances between two samples.
HOLE = 5.0
#: Most rows that resampling may make.
ROWS = 5_000_000
#: Distance between instants that differs by less than this share counts as even.
EVEN = 1e-6


@dataclass(frozen=True, slots=True)
class Crop:
    """Only what lies between two instants, in s, stays."""

    low: float | None = None
    high: float | None = None
    do: Literal["crop"] = "crop"

    def words(self) -> str:
        low = "" if self.low is None else f" from {self.low:g} s"
        high = "" if self.high is None else f" to {self.high:g} s"
        return f"only{low}{high}" if low or high else "all of it"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        t = table.instants
        keep = np.ones(len(t), bool)
        if self.low is not None:
            keep &= t >= self.low
        if self.high is not None:
            keep &= t <= self.high
        if keep.sum() < 2:
            raise MovrelError(
                f"fewer than two rows lie {self.words().removeprefix('only ')}.",
                hint=f"The table reaches from {t[0]:g} s to {t[-1]:g} s.",
            )
        return _with_rows(table, lambda c: c.values[keep]), f"{int(keep.sum())} of {len(t)} rows."


@dataclass(frozen=True, slots=True)
class Offset:
    """Something is added to a column, in its own unit."""

    column: str
    by: float
    do: Literal["offset"] = "offset"

    def words(self) -> str:
        return f"{self.column} {'+' if self.by >= 0 else '−'} {abs(self.by):g}"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        return _with_values(table, self.column, lambda c: c.values + self.by), ""


@dataclass(frozen=True, slots=True)
class Shift:
    """All instants are later, in s."""

    by: float
    do: Literal["shift"] = "shift"

    def words(self) -> str:
        return f"{abs(self.by):g} s {'later' if self.by >= 0 else 'earlier'}"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        at = table.columns[table.time]
        later = at.values + self.by
        if not (np.diff(later) > 0).all():
            raise MovrelError(f"{self.by:g} s is too much to tell the instants apart after it.")
        columns = list(table.columns)
        columns[table.time] = replace(at, values=later)
        return replace(table, columns=columns), ""


@dataclass(frozen=True, slots=True)
class Resample:
    """Even instants, a period in s apart, with the mean over that period of what was straight between samples."""

    period: float
    do: Literal["resample"] = "resample"

    def words(self) -> str:
        return f"means over {self.period:g} s"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        if self.period <= 0:
            raise MovrelError("the period is not positive.", hint="Give seconds between two rows.")
        t = table.instants
        count = math.floor((t[-1] - t[0]) / self.period * (1 + EVEN)) + 1
        if not 2 <= count <= ROWS:
            raise MovrelError(
                f"rows every {self.period:g} s over {t[-1] - t[0]:g} s would be {count}.",
                hint=f"Choose a period that makes between 2 and {ROWS} rows.",
            )
        instants = t[0] + self.period * np.arange(count)
        made = _with_rows(table, lambda c: _means(t, c.values, instants, self.period))
        columns = list(made.columns)
        columns[table.time] = replace(columns[table.time], values=instants)
        return replace(made, columns=columns), f"{count} rows of {len(t)}."


@dataclass(frozen=True, slots=True)
class LowPass:
    """What repeats faster than a period, in s, is taken away, without a delay: a Butterworth filter of second order, once
    forwards and once backwards."""

    column: str
    period: float
    do: Literal["low pass"] = "low pass"

    def words(self) -> str:
        return f"{self.column} without what is faster than {self.period:g} s"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        return _with_values(table, self.column, lambda c: self._filtered(table.instants, c)), ""

    def _filtered(self, t: Array, column: TableColumn) -> Array:
        from scipy.signal import butter, sosfiltfilt

        good = np.isfinite(column.values)
        steps = np.diff(t)
        step = float(np.median(steps))
        if self.period <= 2 * step:
            raise MovrelError(
                f"a period of {self.period:g} s is shorter than two samples, {2 * step:g} s.",
                hint="Choose a longer one.",
            )
        if self.period > t[-1] - t[0]:
            raise MovrelError(
                f"a period of {self.period:g} s is longer than the table, {t[-1] - t[0]:g} s.",
                hint="Choose a shorter one.",
            )
        even = bool((np.abs(steps - step) <= EVEN * step).all())
        if not even:
            step = max(float(steps.min()), (t[-1] - t[0]) / ROWS)
        grid = t if even else t[0] + step * np.arange(math.ceil((t[-1] - t[0]) / step) + 1)
        sections = butter(2, 2 * step / self.period, output="sos")
        padding = min(len(grid) - 1, math.ceil(3 * self.period / step))
        smooth = sosfiltfilt(
            sections, np.interp(grid, t[good], column.values[good]), padlen=padding
        )
        values = np.asarray(np.interp(t, grid, smooth), np.float64)
        values[~good] = np.nan
        return values


@dataclass(frozen=True, slots=True)
class Outliers:
    """Samples that lie too far from those around them count no more.

    They differ by more than so many standard deviations from the median of a window of samples (Hampel's identifier: Davies
    and Gather, The identification of multiple outliers, J. Am. Stat. Assoc. 88, 1993), and as much from a parabola through
    the window, so that neither jumps nor slopes are taken for outliers. The deviation follows from the median distance from
    the parabolas.
    """

    column: str
    deviations: float = 5.0
    window: int = 21
    do: Literal["outliers"] = "outliers"

    def words(self) -> str:
        return f"outliers of {self.column} beyond {self.deviations:g} deviations of {self.window} samples"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        if not 5 <= self.window <= 10_001 or self.deviations <= 0:
            raise MovrelError(
                "the window has 5 to 10 001 samples, and the deviations are positive."
            )
        marked = 0

        def cleaned(column: TableColumn) -> Array:
            nonlocal marked
            values = column.values.copy()
            far = self._far(table.instants, values)
            marked = int(far.sum())
            values[far] = np.nan
            return values

        made = _with_values(table, self.column, cleaned)
        return made, f"{marked} of {len(table.instants)} samples count no more."

    def _far(self, t: Array, values: Array) -> npt.NDArray[np.bool_]:
        from scipy.ndimage import median_filter
        from scipy.signal import savgol_coeffs, savgol_filter

        window = min(self.window, len(values)) - (min(self.window, len(values)) + 1) % 2
        good = np.isfinite(values)
        far = np.zeros(len(values), bool)
        follows = savgol_coeffs(window, 2)[window // 2] if window >= PARABOLA else 0.0
        for _ in range(PASSES):
            left = good & ~far
            if window < PARABOLA or left.sum() < PARABOLA:
                break
            filled = np.interp(t, t[left], values[left])
            off = np.abs(filled - savgol_filter(filled, window, 2))
            # Of values in steps, as converters give them, the distance is often nothing.
            steps = np.diff(np.unique(filled))
            smallest = float(steps[steps > EVEN * float(np.ptp(filled))].min(initial=np.inf))
            # The parabola follows each sample a little.
            deviation = NORMAL * float(np.median(off)) / np.sqrt(1 - follows)
            if np.isfinite(smallest):
                deviation = max(deviation, STEPPED * smallest)
            off = np.minimum(off, np.abs(filled - median_filter(filled, window, mode="nearest")))
            new = left & (off > self.deviations * deviation)
            if not new.any():
                break
            far |= new
        return far


@dataclass(frozen=True, slots=True)
class Join:
    """Another file of the project: its columns beside these, straight between its samples, or its rows after these.

    Its instants are later by ``shift``, in s.
    """

    file: str
    how: Literal["beside", "after"] = "beside"
    shift: float = 0.0
    do: Literal["join"] = "join"

    def words(self) -> str:
        later = f", {self.shift:g} s later" if self.shift else ""
        return f"{self.file.rpartition('/')[2]} {self.how} it{later}"

    def apply(self, table: MeasuredTable, others: Others) -> tuple[MeasuredTable, str]:
        other, _ = Shift(self.shift).apply(others(self.file), others)
        return self._beside(table, other) if self.how == "beside" else self._after(table, other)

    def _beside(self, table: MeasuredTable, other: MeasuredTable) -> tuple[MeasuredTable, str]:
        t, u = table.instants, other.instants
        inside = (t >= u[0]) & (t <= u[-1])
        if not inside.any():
            raise MovrelError(
                f"'{self.file}' reaches from {u[0]:g} s to {u[-1]:g} s, this table from {t[0]:g} s to {t[-1]:g} s.",
                hint="Shift it.",
            )
        names = {c.name for c in table.columns}
        joined = list(table.columns)
        for k, c in enumerate(other.columns):
            if k == other.time:
                continue
            good = np.isfinite(c.values)
            values = np.where(inside, np.interp(t, u[good], c.values[good]), np.nan)
            name, number = c.name, 2
            while name in names:
                name, number = f"{c.name} {number}", number + 1
            names.add(name)
            joined.append(TableColumn(name, c.unit, values))
        added = len(joined) - len(table.columns)
        columns = "1 column" if added == 1 else f"{added} columns"
        note = f"{columns}, with values in {int(inside.sum())} of {len(t)} rows."
        return replace(table, columns=joined), note

    def _after(self, table: MeasuredTable, other: MeasuredTable) -> tuple[MeasuredTable, str]:
        last = table.instants[-1]
        later = other.instants > last
        by_name = {c.name: c for k, c in enumerate(other.columns) if k != other.time}
        common = [c.name for c in table.columns if c.name in by_name]
        if not common:
            raise MovrelError(f"'{self.file}' has no column with the name of one of these.")
        if not later.any():
            raise MovrelError(
                f"'{self.file}' ends at {other.instants[-1]:g} s, before this table does at {last:g} s.",
                hint="Shift it.",
            )
        count = int(later.sum())

        def longer(c: TableColumn) -> Array:
            more = (
                by_name[c.name].in_unit(c.unit)[later]
                if c.name in by_name
                else np.full(count, np.nan)
            )
            return np.concatenate([c.values, more])

        made = _with_rows(table, longer)
        columns = list(made.columns)
        at = table.columns[table.time]
        columns[table.time] = replace(at, values=np.concatenate([at.values, other.instants[later]]))
        return replace(made, columns=columns), f"{count} rows more."


@dataclass(frozen=True, slots=True)
class InUnit:
    """A column is in another unit than was read; its numbers stay as they are."""

    column: str
    unit: str
    do: Literal["in unit"] = "in unit"

    def words(self) -> str:
        return f"{self.column} is in {self.unit or 'no unit'}"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        column = table.column(self.column)
        if column is table.columns[table.time]:
            raise MovrelError(f"'{self.column}' is the time, which is in s.", hint="Take it as time anew.")  # fmt: skip
        wanted = self.unit.strip()
        if wanted:
            unit(wanted)
        read = f"it was read as {column.unit}." if column.unit else "none was read."
        columns = [replace(c, unit=wanted) if c is column else c for c in table.columns]
        return replace(table, columns=columns), read


@dataclass(frozen=True, slots=True)
class AsTime:
    """Another column is the time, in a unit of time; rows in which it does not rise are left out."""

    column: str
    unit: str = "s"
    do: Literal["as time"] = "as time"

    def words(self) -> str:
        return f"{self.column} is the time, in {self.unit}"

    def apply(self, table: MeasuredTable, _others: Others) -> tuple[MeasuredTable, str]:
        column = table.column(self.column)
        if column is table.columns[table.time]:
            raise MovrelError(f"'{self.column}' is the time already.")
        if unit(self.unit).dimension != unit("s").dimension:
            raise MovrelError(f"'{self.unit}' is no unit of time.", hint="Give s, min, h or d.")
        t = column.values * unit(self.unit).factor
        latest = np.fmax.accumulate(np.concatenate([[-np.inf], t[:-1]]))
        keep = np.isfinite(t) & (t > latest)
        if keep.sum() < 2:
            raise MovrelError(f"'{self.column}' does not rise.", hint="Choose another column.")
        columns = [
            TableColumn(c.name, "s", t[keep]) if c is column else replace(c, values=c.values[keep])
            for c in table.columns
        ]
        gone = len(t) - int(keep.sum())
        made = replace(table, columns=columns, time=table.columns.index(column))
        return made, f"{gone} rows in which it does not rise are left out." if gone else ""


Step: TypeAlias = Crop | Offset | Shift | Resample | LowPass | Outliers | Join | InUnit | AsTime


def prepared(
    table: MeasuredTable, steps: list[Step], others: Others
) -> tuple[MeasuredTable, list[str]]:
    """A table after steps, and what each of them says. Raises :class:`MovrelError` for a step that does not fit."""
    said: list[str] = []
    for number, step in enumerate(steps, 1):
        try:
            if not all(math.isfinite(v) for v in astuple(step) if isinstance(v, float)):
                raise MovrelError("a number of it is not finite.")
            table, note = step.apply(table, others)
        except MovrelError as fault:
            raise MovrelError(
                f"step {number}, {step.words()}: {fault.message}", hint=fault.hint
            ) from None
        said.append(note)
    return table, said


def _with_values(
    table: MeasuredTable, name: str, change: Callable[[TableColumn], Array]
) -> MeasuredTable:
    """The table with other values in one column, which is not the time."""
    column = table.column(name)
    if column is table.columns[table.time]:
        raise MovrelError(f"'{name}' is the time.", hint="Shift the times instead.")
    columns = [replace(c, values=change(c)) if c is column else c for c in table.columns]
    return replace(table, columns=columns)


def _with_rows(table: MeasuredTable, change: Callable[[TableColumn], Array]) -> MeasuredTable:
    return replace(table, columns=[replace(c, values=change(c)) for c in table.columns])


def _means(t: Array, values: Array, instants: Array, period: float) -> Array:
    """Means over a period around instants of what is straight between samples; none where samples are missing."""
    good = np.isfinite(values)
    if good.sum() < 2:
        return np.full(len(instants), np.nan)
    t, values = t[good], values[good]
    edges = np.concatenate([instants - 0.5 * period, instants[-1:] + 0.5 * period])
    edges = np.clip(edges, t[0], t[-1])
    # The integral of the straight pieces at each edge.
    pieces = np.concatenate([[0.0], np.cumsum(0.5 * (values[1:] + values[:-1]) * np.diff(t))])
    piece = np.clip(np.searchsorted(t, edges, side="right") - 1, 0, len(t) - 2)
    there = np.interp(edges, t, values)
    integral = pieces[piece] + 0.5 * (values[piece] + there) * (edges - t[piece])
    width = np.diff(edges)
    with np.errstate(divide="ignore", invalid="ignore"):
        means = np.where(
            width > EVEN * period, np.diff(integral) / width, np.interp(instants, t, values)
        )
    outside = (instants < t[0] - 0.5 * period) | (instants > t[-1] + 0.5 * period)
    gaps = np.diff(t)
    wide = np.nonzero(gaps > max(HOLE * float(np.median(gaps)), 2 * period))[0]
    for k in wide:
        outside |= (instants > t[k] + 0.5 * period) & (instants < t[k + 1] - 0.5 * period)
    return np.where(outside, np.nan, means)

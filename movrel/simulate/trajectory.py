"""What a run leaves behind: columns over time, events, statistics."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TextIO

import numpy as np
import numpy.typing as npt

from movrel.delimited import delimited_blocks
from movrel.errors import MovrelError, did_you_mean

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Column:
    """How a variable is found in the result: a column of the table times a sign, or one number."""

    name: str
    unit: str
    display_unit: str
    description: str
    column: int | None  # None: the same value at all times
    sign: int = 1
    constant: float = 0.0
    type: str = "Real"


@dataclass(frozen=True, slots=True)
class Event:
    """An event with its cause in words."""

    time: float
    cause: str


@dataclass(frozen=True, slots=True)
class FinalState:
    """Where a run ended: all values by name and the relations that held, so that another can go on."""

    time: float
    values: dict[str, float]
    held: dict[str, float]


@dataclass(slots=True)
class Statistics:
    steps: int = 0
    evaluations: int = 0
    jacobians: int = 0
    state_events: int = 0
    time_events: int = 0
    state_changes: int = 0  # how often other variables became the states
    rejected_steps: int = 0  # communication steps of a rig that were taken back for a smaller one
    seconds: dict[str, float] = field(default_factory=dict)

    def as_dict(self) -> dict[str, Any]:
        return {
            "steps": self.steps, "evaluations": self.evaluations, "jacobians": self.jacobians, "state_events": self.state_events,
            "time_events": self.time_events, "state_changes": self.state_changes, "rejected_steps": self.rejected_steps,
            "seconds": {k: round(v, 6) for k, v in self.seconds.items()},
        }  # fmt: skip


@dataclass(slots=True)
class Trajectory:
    """The result of a run.

    ``table`` has one row per stored instant and one column per distinct trajectory; both sides of an
    event are stored as two rows of the same time.
    """

    time: Array
    table: Array
    describe: Callable[[], list[Column]]
    events: list[Event]
    statistics: Statistics
    messages: list[str] = field(default_factory=list)
    final_time: float = 0.0
    complete: bool = True
    ended_at: Callable[[], FinalState] | None = None
    _columns: list[Column] = field(default_factory=list, repr=False)
    _by_name: dict[str, Column] = field(default_factory=dict, repr=False)

    @property
    def columns(self) -> list[Column]:
        """How every variable of the model is found."""
        if not self._columns:
            self._columns = self.describe()
        return self._columns

    @property
    def final(self) -> FinalState | None:
        """The state from which a later run can go on; None when the run did not reach its end."""
        return self.ended_at() if self.ended_at is not None else None

    def column(self, name: str) -> Column:
        """The description of a variable. Raises :class:`MovrelError` for an unknown name."""
        if not self._by_name:
            self._by_name = {c.name: c for c in self.columns}
        column = self._by_name.get(name)
        if column is None:
            raise MovrelError(
                f"the run has no variable '{name}'.", hint=did_you_mean(name, self._by_name)
            )
        return column

    def __getitem__(self, name: str) -> Array:
        """The values of a variable at all stored instants, shape ``(len(time),)``, in its declared unit."""
        if name == "time":
            return self.time
        column = self.column(name)
        if column.column is None:
            return np.full(len(self.time), column.constant)
        return self.table[:, column.column] * column.sign

    @property
    def names(self) -> list[str]:
        return [c.name for c in self.columns]

    @property
    def units(self) -> dict[str, str]:
        return {c.name: c.unit for c in self.columns}

    def varying(self) -> list[Column]:
        """The variables that belong into a table over time: everything but parameters."""
        return [c for c in self.columns if c.type != "parameter"]

    def to_csv(self, target: str | Path | TextIO) -> None:
        """Write ``time`` and every time-varying variable, aliases included, with full precision."""
        if isinstance(target, str | Path):
            with open(target, "w", newline="", encoding="utf-8") as file:
                self.to_csv(file)
            return
        columns = self.varying()
        data = np.column_stack([self.time, *(self[c.name] for c in columns)])
        # The plain names are what scripts rely on; the units are in the Arrow table and in :attr:`units`.
        target.writelines(delimited_blocks(["time", *(c.name for c in columns)], data.tolist()))

    def to_arrow(self) -> Any:
        """A ``pyarrow.Table`` of the time-varying variables with the units in the field metadata."""
        import pyarrow as pa

        fields = [pa.field("time", pa.float64(), metadata={"unit": "s"})]
        arrays = [pa.array(self.time)]
        for c in self.varying():
            fields.append(pa.field(c.name, pa.float64(), metadata={"unit": c.unit}))
            arrays.append(pa.array(self[c.name]))
        return pa.Table.from_arrays(arrays, schema=pa.schema(fields))

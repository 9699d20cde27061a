"""Runs, and what is read off them, as they are shown."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from movrel.analyse.claims import Verdict


class RunState(StrEnum):
    """Where a run stands."""

    QUEUED = "queued"
    RUNNING = "running"
    STOPPING = "stopping"
    DONE = "done"
    FAILED = "failed"
    STOPPED = "stopped"

    @property
    def finished(self) -> bool:
        """Whether nothing more will happen by itself."""
        return self in FINISHED


#: States in which nothing more will be computed or stored.
FINISHED = (RunState.DONE, RunState.FAILED, RunState.STOPPED)


@dataclass(frozen=True, slots=True)
class JudgedClaim(Verdict):
    """A claim with its verdict on a run; ``holds`` is None while or where it cannot be judged.

    ``instant`` is where a claim about curves is closest to failing, in s.
    """

    text: str = field(kw_only=True)
    off: bool = field(kw_only=True)
    #: What the margin changes by where the run was computed more exactly, in the same unit.
    numerical: float | None = field(kw_only=True, default=None)


@dataclass(frozen=True, slots=True)
class RunView:
    """A run without its variables."""

    id: int
    project: int
    model: str
    number: int
    name: str
    state: RunState
    progress: float
    time_reached: float | None
    reason: str
    #: The part of the model in which it failed, if that is known.
    place: str
    points: int
    created: str
    ended: str | None
    revisions: dict[str, int]
    #: Changes only with what is computed, see the model's ``marks``; empty for runs of long ago.
    mark: str
    #: The scenario it is of, as it was called then, with its colour.
    scenario: str
    colour: int
    claims: list[JudgedClaim]
    pinned: bool
    note: str
    prediction: str
    prediction_held: bool | None
    #: The run that this one repeats more exactly; the one that did so with this one and is done.
    repeats: int | None
    checked_by: int | None


@dataclass(frozen=True, slots=True)
class RunVariable:
    """``shown value = value * factor + offset`` in ``shown_unit``."""

    name: str
    unit: str
    shown_unit: str
    factor: float
    offset: float
    description: str


@dataclass(frozen=True, slots=True)
class RunEvent:
    """An event at an instant in s, and what it came from."""

    time: float
    cause: str


@dataclass(frozen=True, slots=True)
class RunDetail(RunView):
    """A run with its variables, events, messages and statistics."""

    variables: list[RunVariable] = field(kw_only=True)
    layout: list[list[str]] = field(kw_only=True)
    events: list[RunEvent] = field(kw_only=True)
    messages: list[str] = field(kw_only=True)
    statistics: dict[str, Any] = field(kw_only=True)
    parameters: dict[str, Any] = field(kw_only=True)
    changes: dict[str, str] = field(kw_only=True)
    options: dict[str, Any] = field(kw_only=True)


@dataclass(frozen=True, slots=True)
class RunList:
    """Some runs, and how many there are of which these are some."""

    runs: list[RunView]
    count: int


@dataclass(frozen=True, slots=True)
class Curve:
    """A variable over the time in s, in its declared unit."""

    name: str
    unit: str
    time: list[float]
    values: list[float]


@dataclass(frozen=True, slots=True)
class Pair:
    """One variable against another, in declared units."""

    x: list[float]
    y: list[float]
    time: list[float]
    x_unit: str
    y_unit: str


@dataclass(frozen=True, slots=True)
class SpectrumCurve:
    """Amplitudes over frequencies."""

    name: str
    unit: str
    #: In Hz.
    frequency: list[float]
    amplitude: list[float]


@dataclass(frozen=True, slots=True)
class Difference:
    """A value in one run and in the other; None where it is not there."""

    name: str
    one: Any
    other: Any


@dataclass(frozen=True, slots=True)
class TextDifference:
    file: str
    lines: list[str]


@dataclass(frozen=True, slots=True)
class Differences:
    """What two runs differ in."""

    values: list[Difference]
    settings: list[Difference]
    changes: list[Difference]
    texts: list[TextDifference]


@dataclass(frozen=True, slots=True)
class Measured:
    """One measure of a curve in a unit that people see; without a value for the reason given."""

    measure: str
    words: str
    value: float | None
    unit: str
    reason: str
    #: What it changes by where the run was computed more exactly.
    numerical: float | None = None


@dataclass(frozen=True, slots=True)
class MeasuredCurve:
    name: str
    measures: list[Measured]

"""Runs and what is read off them, as they travel over HTTP."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from pydantic import BaseModel, Field


class JudgedClaim(BaseModel):
    """A claim with its verdict on a run; ``holds`` is None while or where it cannot be judged."""

    text: str
    off: bool
    holds: bool | None
    value: float | None = None
    limit: float | None = None
    margin: float | None = None
    unit: str = ""
    #: Where a claim about curves is closest to failing, in s.
    instant: float | None = None
    reason: str = ""


class RunView(BaseModel):
    id: int
    project: int
    model: str
    number: int
    name: str
    state: str
    progress: float
    time_reached: float | None
    reason: str
    #: The part of the model in which it failed, if that is known.
    place: str
    points: int
    created: str
    ended: str | None
    revisions: dict[str, int]
    #: The scenario it is of, as it was called then, with its colour.
    scenario: str
    colour: int
    claims: list[JudgedClaim]
    pinned: bool
    note: str
    prediction: str
    prediction_held: bool | None


class RunVariable(BaseModel):
    """``shown value = value * factor + offset`` in ``shown_unit``."""

    name: str
    unit: str
    shown_unit: str
    factor: float
    offset: float
    description: str


class RunEvent(BaseModel):
    time: float
    cause: str


class RunDetail(RunView):
    variables: list[RunVariable]
    layout: list[list[str]]
    events: list[RunEvent]
    messages: list[str]
    statistics: dict[str, Any]
    parameters: dict[str, Any]
    changes: dict[str, str]
    options: dict[str, Any]


class RunList(BaseModel):
    """Some runs, and how many there are of which these are some."""

    runs: list[RunView]
    count: int


class RunFilter(BaseModel):
    """Which runs are looked for, and which of those are wanted."""

    words: str = Field(default="", max_length=500)
    scenario: str = Field(default="", max_length=100)
    state: str = Field(default="", max_length=20)
    since: datetime | None = None
    all_models: bool = False
    offset: int = Field(default=0, ge=0)
    limit: int = Field(default=100, ge=1, le=500)


class Curve(BaseModel):
    name: str
    unit: str
    time: list[float]
    values: list[float]


class Curves(BaseModel):
    run: int
    curves: list[Curve]


class Values(BaseModel):
    run: int
    time: float
    values: dict[str, float | None]


class RunPath(BaseModel):
    run: int


class RunOrder(BaseModel):
    start: float | None = None
    stop: float | None = None
    interval: float | None = None
    solver: str | None = None
    tolerance: float | None = None
    scenario: str = Field(default="base", max_length=100)
    #: What is expected of it, in plain words.
    prediction: str = Field(default="", max_length=10_000)


class TryOrder(BaseModel):
    """Values to look at while a slider moves."""

    scenario: str = Field(default="base", max_length=100)
    values: dict[str, float]
    names: list[Annotated[str, Field(max_length=400)]] = Field(max_length=40)


class TriedCurves(BaseModel):
    curves: list[Curve]


class PairQuery(BaseModel):
    x: str
    y: str
    width: int = Field(default=800, ge=1, le=10_000)
    low: float | None = None
    high: float | None = None


class Pair(BaseModel):
    """One variable against another, in declared units."""

    x: list[float]
    y: list[float]
    time: list[float]
    x_unit: str
    y_unit: str


class SpectrumQuery(BaseModel):
    names: str
    low: float | None = None
    high: float | None = None
    window: str = "hann"


class SpectrumCurve(BaseModel):
    name: str
    unit: str
    #: In Hz.
    frequency: list[float]
    amplitude: list[float]


class Spectra(BaseModel):
    curves: list[SpectrumCurve]


class Document(BaseModel):
    """A page or a picture that is wanted as PDF."""

    document: str


class UnitQuery(BaseModel):
    unit: str = Field(default="", max_length=100)


class ShownUnit(BaseModel):
    """``shown value = value * factor + offset``."""

    unit: str
    factor: float
    offset: float


class ShownUnits(BaseModel):
    """Units in which a quantity can be shown, its own first."""

    units: list[ShownUnit]


class Versions(BaseModel):
    """What computed a result: the program and the libraries that decide about numbers."""

    versions: dict[str, str]


class GoOn(BaseModel):
    #: The later time, in s.
    stop: float


class RunWords(BaseModel):
    """What a person says of a run; what is left out stays as it is."""

    name: str | None = Field(default=None, max_length=1000)
    pinned: bool | None = None
    note: str | None = Field(default=None, max_length=10_000)
    prediction_held: bool | None = None


class Difference(BaseModel):
    name: str
    one: Any
    other: Any


class TextDifference(BaseModel):
    file: str
    lines: list[str]


class Differences(BaseModel):
    """What two runs differ in."""

    values: list[Difference]
    settings: list[Difference]
    changes: list[Difference]
    texts: list[TextDifference]


class TwoRunsPath(BaseModel):
    run: int
    other: int


class ExportQuery(BaseModel):
    kind: str = Field(default="csv", description="csv, parquet or xlsx")
    names: str = Field(default="", description="variable names, separated by spaces; all without any")
    interval: float | None = Field(default=None, gt=0, description="distance of even instants, in s; the stored ones without it")
    low: float | None = None
    high: float | None = None


class MeasureQuery(BaseModel):
    names: str = Field(description="variable names, separated by spaces")
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class Measured(BaseModel):
    """One measure of a curve in a unit that people see; without a value for the reason given."""

    measure: str
    words: str
    value: float | None
    unit: str
    reason: str


class MeasuredCurve(BaseModel):
    name: str
    measures: list[Measured]


class MeasureTable(BaseModel):
    run: int
    curves: list[MeasuredCurve]


class CurveQuery(BaseModel):
    names: str = Field(description="variable names, separated by spaces")
    width: int = Field(default=1000, ge=1, le=10_000, description="pixels across")
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class ValueQuery(BaseModel):
    at: float = Field(description="time in s")

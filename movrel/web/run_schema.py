"""What is asked over HTTP about runs, and answers that only gather what the core gives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, TypeAlias, cast

from pydantic import BaseModel, Field

from movrel.simulate.options import RunSettings
from movrel.views.run_data import Curve, MeasuredCurve, SpectrumCurve

#: Variables of a run; large array parts have thousands.
Names: TypeAlias = Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=100_000)]


class RunFilter(BaseModel):
    """Which runs are looked for, and which of those are wanted."""

    words: str = Field(default="", max_length=500)
    scenario: str = Field(default="", max_length=100)
    state: str = Field(default="", max_length=20)
    since: datetime | None = None
    all_models: bool = False
    offset: int = Field(default=0, ge=0)
    limit: int = Field(default=100, ge=1, le=500)


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

    def settings(self) -> RunSettings:
        """The settings that are given."""
        return cast(
            RunSettings, self.model_dump(exclude_none=True, exclude={"scenario", "prediction"})
        )


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


class SpectrumQuery(BaseModel):
    names: Names
    low: float | None = None
    high: float | None = None
    window: str = "hann"


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


class GoOn(BaseModel):
    #: The later time, in s.
    stop: float


class RunWords(BaseModel):
    """What a person says of a run; what is left out stays as it is."""

    name: str | None = Field(default=None, max_length=1000)
    pinned: bool | None = None
    note: str | None = Field(default=None, max_length=10_000)
    prediction_held: bool | None = None


class TwoRunsPath(BaseModel):
    run: int
    other: int


class ExportQuery(BaseModel):
    kind: str = Field(default="csv", description="csv, parquet or xlsx")
    names: str = Field(
        default="", description="variable names, separated by spaces; all without any"
    )
    interval: float | None = Field(
        default=None,
        gt=0,
        description="distance of even instants, in s; the stored ones without it",
    )
    low: float | None = None
    high: float | None = None


class MeasureQuery(BaseModel):
    names: Names
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class MeasureTable(BaseModel):
    run: int
    curves: list[MeasuredCurve]


class CurveQuery(BaseModel):
    names: Names
    width: int = Field(default=1000, ge=1, le=10_000, description="pixels across")
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class InstantQuery(BaseModel):
    at: float = Field(description="time in s")


class ValueQuery(BaseModel):
    names: Names
    at: float = Field(description="time in s")

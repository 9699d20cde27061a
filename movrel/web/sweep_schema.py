"""Sweeps and sensitivities, as they travel over HTTP."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field


class ScenarioQuery(BaseModel):
    scenario: str = "base"


class EffectQuery(ScenarioQuery):
    parameter: str


class Balance(BaseModel):
    """A claim that a quantity is conserved in a part."""

    kind: str
    component: str
    text: str


class Balances(BaseModel):
    balances: list[Balance]


class Candidates(BaseModel):
    parameters: list[str]


class EffectView(BaseModel):
    """What a parameter does to the margin of a claim; ``slope`` for the whole of the parameter, ``turns`` relative."""

    claim: str
    margin: float | None
    slope: float | None
    turns: float | None
    unit: str
    reason: str


class Effects(BaseModel):
    parameter: str
    effects: list[EffectView]


class VaryOrder(BaseModel):
    """How a parameter varies, in its declared unit: over values, or between bounds."""

    name: str = Field(max_length=400)
    low: float = 0.0
    high: float = 1.0
    count: int = Field(default=5, ge=1, le=100_000)
    values: list[float] = Field(default=[], max_length=100_000)
    distribution: str = "uniform"


class SweepOrder(BaseModel):
    scenario: str = Field(default="base", max_length=100)
    varied: list[VaryOrder] = Field(max_length=50)
    sample: str = "grid"
    points: int = Field(default=100, ge=1, le=100_000)
    seed: int = 1
    measures: list[Annotated[str, Field(max_length=2000)]] = Field(default=[], max_length=50)
    #: Variables whose curves are kept.
    curves: list[Annotated[str, Field(max_length=400)]] = Field(default=[], max_length=50)


class SweepView(BaseModel):
    id: int
    project: int
    model: str
    name: str
    scenario: str
    state: str
    sample: str
    varied: list[VaryOrder]
    measures: list[str]
    curves: list[str]
    units: dict[str, str]
    count: int
    waiting: int
    running: int
    done: int
    failed: int
    created: str
    ended: str | None


class SweepList(BaseModel):
    sweeps: list[SweepView]


class PointView(BaseModel):
    number: int
    values: dict[str, float]
    state: str
    measures: list[float | None]
    reason: str


class SweepDetail(SweepView):
    points: list[PointView]


class BandCurve(BaseModel):
    point: int
    values: list[float | None]


class Bands(BaseModel):
    """A family of curves: percentiles at each instant, and some of the curves."""

    name: str
    unit: str
    time: list[float]
    percentiles: dict[str, list[float | None]]
    curves: list[BandCurve]


class SweepPath(BaseModel):
    sweep: int


class SteerPath(BaseModel):
    sweep: int
    what: str = Field(description="pause, resume, stop or retry")


class BandQuery(BaseModel):
    name: str

"""What is asked over HTTP about sweeps and sensitivities, and answers that only gather what the core gives."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from movrel.analyse.balances import Balance
from movrel.analyse.design import Vary
from movrel.workspace.sweeps import SweepView


class ScenarioQuery(BaseModel):
    scenario: str = "base"


class EffectQuery(ScenarioQuery):
    parameter: str


class Balances(BaseModel):
    balances: list[Balance]


class VaryOrder(BaseModel):
    """How a parameter varies, in its declared unit: over values, or between bounds."""

    name: str = Field(max_length=400)
    low: float = 0.0
    high: float = 1.0
    count: int = Field(default=5, ge=1, le=100_000)
    values: list[float] = Field(default=[], max_length=100_000)
    distribution: str = "uniform"

    def vary(self) -> Vary:
        return Vary(
            self.name, self.low, self.high, self.count, tuple(self.values), self.distribution
        )


class SweepOrder(BaseModel):
    scenario: str = Field(default="base", max_length=100)
    varied: list[VaryOrder] = Field(max_length=50)
    sample: str = "grid"
    points: int = Field(default=100, ge=1, le=100_000)
    seed: int = 1
    measures: list[Annotated[str, Field(max_length=2000)]] = Field(default=[], max_length=50)
    #: Variables whose curves are kept.
    curves: list[Annotated[str, Field(max_length=400)]] = Field(default=[], max_length=50)


class SweepList(BaseModel):
    sweeps: list[SweepView]


class SweepPath(BaseModel):
    sweep: int


class SteerPath(BaseModel):
    sweep: int
    what: str = Field(description="pause, resume, stop or retry")


class BandQuery(BaseModel):
    name: str

"""One model at many points: what each point gives, and why some give nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Unpack

from movrel.analyse.claim_text import Claim, ClaimFault
from movrel.analyse.claims import value_of
from movrel.analyse.curves import RunCurves
from movrel.errors import MovrelError
from movrel.session import LoadedModel
from movrel.simulate.options import RunSettings


@dataclass(frozen=True, slots=True)
class PointResult:
    """What one point gave: the measures with their unit, None where a measure has no value; or why it failed."""

    point: dict[str, float]
    values: list[float | None] = field(default_factory=list)
    units: list[str] = field(default_factory=list)
    failure: str = ""


def run_point(
    model: LoadedModel,
    point: dict[str, float],
    measures: Sequence[Claim],
    fixed: Mapping[str, float | bool | str] | None = None,
    **options: Unpack[RunSettings],
) -> PointResult:
    """Run a model at one point, with ``fixed`` values of other parameters, and measure it; a failure is part of the answer."""
    try:
        run = RunCurves(model.simulate(set={**(fixed or {}), **point}, **options))
    except MovrelError as fault:
        return PointResult(point, failure=fault.sentence())
    return measured(point, run, measures)


def measured(point: dict[str, float], run: RunCurves, measures: Sequence[Claim]) -> PointResult:
    """The measures of a run that is there."""
    values: list[float | None] = []
    units: list[str] = []
    reasons: list[str] = []
    for measure in measures:
        try:
            value, symbol = value_of(measure, run)
            values.append(value)
            units.append(symbol)
        except ClaimFault as fault:
            values.append(None)
            units.append("")
            reasons.append(f"{measure.text}: {fault.message}")
    return PointResult(point, values, units, " ".join(reasons))


def sweep(
    model: LoadedModel,
    points: Iterable[dict[str, float]],
    measures: Sequence[Claim],
    fixed: Mapping[str, float | bool | str] | None = None,
    **options: Unpack[RunSettings],
) -> Iterator[PointResult]:
    """Run a model at every point, one after the other."""
    for point in points:
        yield run_point(model, point, measures, fixed, **options)

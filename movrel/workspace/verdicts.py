"""Claims and measures of stored runs."""

from __future__ import annotations

from dataclasses import asdict

from movrel.analyse.claim_text import read, read_expression
from movrel.analyse.claims import judge, value_of
from movrel.analyse.measures import MEASURES, Measure
from movrel.errors import MovrelError
from movrel.views.run_data import JudgedClaim, Measured, MeasuredCurve
from movrel.workspace.stored_run import StoredRun
from movrel.workspace.tables import Run

#: Measures that need no further argument, in the order in which they are listed.
LISTED = [m for m in MEASURES.values() if m.name not in ("at", "crossing", "initial")]


def verdicts(run: Run) -> list[JudgedClaim]:
    """The claims of a run with their verdicts; those that its scenario leaves out say so."""
    curves = StoredRun(run)
    return [JudgedClaim(**c) if c["off"] else _judged(c["text"], curves) for c in run.claims]


def _judged(text: str, curves: StoredRun) -> JudgedClaim:
    try:
        verdict = judge(read(text), curves)
    except MovrelError as fault:
        return JudgedClaim(None, text=text, off=False, reason=fault.message)
    return JudgedClaim(**asdict(verdict), text=text, off=False)


def measures(
    run: Run, names: list[str], low: float | None, high: float | None
) -> list[MeasuredCurve]:
    """All measures of some curves over the whole run or between two instants."""
    curves = StoredRun(run)
    bounds = "".join(
        f", {word}={value!r}" for word, value in (("from", low), ("to", high)) if value is not None
    )
    return [
        MeasuredCurve(name, [_measured(curves, m, name, bounds) for m in LISTED]) for name in names
    ]


def _measured(curves: StoredRun, measure: Measure, name: str, bounds: str) -> Measured:
    try:
        value, unit = value_of(read_expression(f"{measure.name}({name}{bounds})"), curves)
    except MovrelError as fault:
        return Measured(measure.name, measure.words, None, "", fault.message)
    return Measured(measure.name, measure.words, value, unit, "")

"""Claims and measures of stored runs."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from peewee import fn

from movrel.analyse.claim_text import read, read_expression
from movrel.analyse.claims import judge, value_of
from movrel.analyse.measures import MEASURES, Measure
from movrel.errors import MovrelError
from movrel.project.snapshot import definition_of
from movrel.project.vendor_annotation import claims_of, scenarios_of
from movrel.views.run_data import FINISHED, JudgedClaim, Measured, MeasuredCurve
from movrel.workspace import projects
from movrel.workspace.certainty import more_exact, note_more_exact
from movrel.workspace.stored_run import StoredRun
from movrel.workspace.tables import Run

#: Runs of a model that are judged anew at least when its claims change.
RECENT = 20
#: Measures that need no further argument, in the order in which they are listed.
LISTED = [m for m in MEASURES.values() if m.name not in ("at", "crossing", "initial")]


def judge_run(number: int) -> None:
    """Judge a run by the claims that its model has now; where the model is gone, by those that it was ordered with."""
    run = Run.get_by_id(number)
    try:
        claims = _Claims.of(run.project_id, run.model)
    except MovrelError:
        claims = _Claims(
            [c["text"] for c in run.claims],
            {run.scenario: [c["text"] for c in run.claims if c["off"]]},
        )
    claims.judge(run)
    if (first := note_more_exact(run)) is not None:
        judge_run(first.id)


def judge_anew(project: int, model: str) -> list[Run]:
    """Judge the runs that are looked at by the claims that the model has now; gives those whose verdicts changed.

    These are the newest run of each scenario, the :data:`RECENT` newest ones and the pinned ones.
    """
    claims = _Claims.of(project, model)
    return [run for run in _looked_at(project, model) if claims.judge(run)]


@dataclass(frozen=True, slots=True)
class _Claims:
    """What is claimed of a model, and which of it is not judged, by scenario."""

    texts: list[str]
    off: dict[str, list[str]]

    @staticmethod
    def of(project: int, model: str) -> _Claims:
        definition = definition_of(projects.snapshot(project), model)
        off = {scenario.name: scenario.off for scenario in scenarios_of(definition)}
        return _Claims([c.text for c in claims_of(definition)], off)

    def judge(self, run: Run) -> bool:
        """Judge what is not judged yet; says whether the verdicts of the run are others now."""
        before = {c["text"]: c for c in run.claims if _is_judged(c)}
        off = self.off.get(run.scenario, ())
        curves = StoredRun(run)
        judged: list[dict[str, Any]] = [
            {"text": text, "off": True, "holds": None}
            if text in off
            else before.get(text) or asdict(_judged(text, curves))
            for text in self.texts
        ]
        exact = more_exact(run)
        if exact is not None:
            judged = [_doubted(c, StoredRun(exact)) for c in judged]
        if judged == run.claims:
            return False
        Run.update(claims=judged).where(Run.id == run.id).execute()
        return True


def _doubted(claim: dict[str, Any], exact: StoredRun) -> dict[str, Any]:
    """A verdict with what its margin changes by in a run that is more exact."""
    if claim.get("margin") is None or claim.get("numerical") is not None:
        return claim
    there = _judged(claim["text"], exact)
    if there.margin is None or there.unit != claim["unit"]:
        return claim
    return claim | {"numerical": abs(there.margin - claim["margin"])}


def _is_judged(claim: dict[str, Any]) -> bool:
    return not claim["off"] and (claim["holds"] is not None or bool(claim.get("reason")))


def _looked_at(project: int, model: str) -> list[Run]:
    ended = (
        (Run.project == project)
        & (Run.model == model)
        & Run.deleted.is_null()
        & Run.state.in_(list(FINISHED))
        & (Run.points > 0)
    )
    newest = Run.select(fn.MAX(Run.id)).where(ended).group_by(Run.scenario)
    recent = Run.select(Run.id).where(ended).order_by(Run.id.desc()).limit(RECENT)
    return list(Run.select().where(ended & (Run.id.in_(newest) | Run.id.in_(recent) | Run.pinned)))


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
    curves, exact = StoredRun(run), more_exact(run)
    other = StoredRun(exact) if exact is not None else None
    bounds = "".join(
        f", {word}={value!r}" for word, value in (("from", low), ("to", high)) if value is not None
    )
    return [
        MeasuredCurve(name, [_measured(curves, other, m, name, bounds) for m in LISTED])
        for name in names
    ]


def _measured(
    curves: StoredRun, exact: StoredRun | None, measure: Measure, name: str, bounds: str
) -> Measured:
    expression = read_expression(f"{measure.name}({name}{bounds})")
    try:
        value, unit = value_of(expression, curves)
    except MovrelError as fault:
        return Measured(measure.name, measure.words, None, "", fault.message)
    numerical = None
    if exact is not None:
        try:
            there, other_unit = value_of(expression, exact)
            numerical = abs(there - value) if other_unit == unit else None
        except MovrelError:
            pass  # it has no such value there, so nothing is known
    return Measured(measure.name, measure.words, value, unit, "", numerical)

"""What the terms of a model's equations are worth at an instant of a run."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.edits.scenario_model import with_changes
from movrel.equations.listing import EquationList, listed_equations, listing
from movrel.equations.terms import rates_of, term_values, terms
from movrel.model.expression import TIME_VARIABLE, Scalar, Variable
from movrel.session import LoadedModel
from movrel.workspace import projects, runs
from movrel.workspace.stored_run import StoredRun


@dataclass(frozen=True, slots=True)
class TermValues:
    """By row of the equations of a run: what each of its terms is worth at the instant ``time`` in s."""

    time: float
    rows: list[list[float | None]]


def run_equations(number: int) -> EquationList:
    """The equations that a run solved. Raises :class:`movrel.errors.NotFound`."""
    return listing(_model(number).system)


def values_of_terms(number: int, instant: float) -> TermValues:
    """What the terms are worth at an instant; None outside of the run. Raises :class:`movrel.errors.NotFound`."""
    ordered = _model(number).ordered
    stored = StoredRun.of(number)
    columns = stored.row_at(len(ordered.states) + len(ordered.solved), instant)
    place = {v: k for k, v in enumerate([*ordered.states, *ordered.solved])}
    known: dict[str, Scalar | None] = dict(stored.parameters)
    known |= stored.values_at(stored.variables(), instant)

    def value_of(v: Variable) -> Scalar | None:
        if v is TIME_VARIABLE:
            return instant
        if v in place:
            return columns[place[v]] if columns is not None else None
        alias = ordered.reduced.aliases.get(v)
        if alias is not None and alias.of in place:
            return alias.sign * columns[place[alias.of]] if columns is not None else None
        return known.get(v.name)

    rates = rates_of(ordered)
    return TermValues(
        instant,
        [
            term_values(terms(e), value_of, rates) if e is not None else []
            for e in listed_equations(ordered)
        ],
    )


def _model(number: int) -> LoadedModel:
    """The model as a run had it."""
    run = runs.run(number)
    texts = projects.snapshot(run.project_id, run.revisions)
    return with_changes(texts, run.model, run.changes, {}).loaded

"""Runs: ordered by a person, computed by a worker, kept until deleted."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from peewee import fn

from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError
from movrel.simulate.options import run_options
from movrel.simulate.result_columns import result_columns
from movrel.workspace import projects, results
from movrel.workspace.faults import NotFound
from movrel.workspace.layout import prepared_layout
from movrel.workspace.ledger import readable, shown_value
from movrel.workspace.tables import Run, database, now

#: States in which nothing more will happen by itself.
FINISHED = ("done", "failed", "stopped")
#: What lists show of a run; the rest can be large.
LISTED = (
    Run.id, Run.project, Run.model, Run.number, Run.name, Run.state, Run.progress, Run.time_reached, Run.reason,
    Run.points, Run.created, Run.ended, Run.revisions,
)  # fmt: skip
#: Settings of a run that a person may give.
OPTIONS = ("start", "stop", "interval", "solver", "tolerance")


def order(project_number: int, model: str, options: dict[str, Any]) -> Run:
    """Put a run of the newest text on record, frozen with its revisions and settings.

    Faults of the model or the settings are raised here, before anything is queued.
    """
    taken = projects.snapshot(project_number)
    loaded = projects.loaded_model(taken, model)
    given = {k: v for k, v in options.items() if k in OPTIONS and v is not None}
    run_options(loaded.flat.experiment, **given)
    ordered = loaded.ordered  # raises when equations and unknowns do not match
    values = parameter_values(loaded.flat, {})
    parameters = {v.name: values[id(v)] for v in loaded.flat.parameters() if v.variability == "parameter" and not v.final}
    columns = result_columns(ordered, values, parameter_vector(ordered.parameters, values))
    catalogue = [asdict(c) for c in columns if c.type != "parameter"]
    with database.atomic():
        # One order after the other, so that numbers are not given twice.
        database.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (727275, project_number))
        kept = Run.select().where((Run.project == project_number) & (Run.model == model) & Run.deleted.is_null())
        first = kept.order_by(Run.number).first()
        highest = Run.select(fn.MAX(Run.number)).where((Run.project == project_number) & (Run.model == model)).scalar() or 0
        name = name_by_difference(first, parameters, given, loaded.flat) if first else "base"
        return Run.create(
            project=project_number,
            model=model,
            number=highest + 1,
            name=name,
            revisions=taken.revisions,
            options=given,
            parameters=parameters,
            catalogue=catalogue,
            layout=prepared_layout(projects.definition_of(taken, model), ordered),
        )


def name_by_difference(base: Run, parameters: dict[str, Any], options: dict[str, Any], flat: Any) -> str:
    """What makes a run differ from the first one of its model, in a few words."""
    by_name = flat.by_name()
    parts = []
    for name, value in parameters.items():
        if name in base.parameters and base.parameters[name] == value:
            continue
        variable = by_name[name]
        shown_unit = variable.display_unit or variable.unit
        if isinstance(value, float | int) and not isinstance(value, bool):
            parts.append(f"{name} {readable(float(shown_value(float(value), variable.unit, shown_unit)), shown_unit)}")
        else:
            parts.append(f"{name} {readable(value)}")
    parts += [f"{name} {readable(value)}" for name, value in options.items() if base.options.get(name) != value]
    parts += [f"without {name}" for name in base.parameters if name not in parameters]
    if not parts:
        return "base"
    return " · ".join(parts[:3]) + (f" · and {len(parts) - 3} more" if len(parts) > 3 else "")


def runs(project_number: int, model: str | None = None, limit: int = 200) -> list[Run]:
    """The newest runs first."""
    chosen = (Run.project == project_number) & Run.deleted.is_null()
    if model is not None:
        chosen &= Run.model == model
    return list(Run.select(*LISTED).where(chosen).order_by(Run.id.desc()).limit(limit))


def run(number: int) -> Run:
    found = Run.get_or_none((Run.id == number) & Run.deleted.is_null())
    if found is None:
        raise NotFound(f"there is no run {number}.", hint="It may have been deleted.")
    return found


def delete(number: int) -> None:
    """Take a run out of all lists. Its results stay until the database is tidied, so it can come back."""
    Run.update(deleted=now()).where(Run.id == number).execute()


def restore(number: int) -> None:
    Run.update(deleted=None).where(Run.id == number).execute()


def last_runs(project_number: int) -> dict[str, Run]:
    """The newest run of each model."""
    newest = Run.select(fn.MAX(Run.id)).where((Run.project == project_number) & Run.deleted.is_null()).group_by(Run.model)
    return {found.model: found for found in Run.select(*LISTED).where(Run.id.in_(newest))}


def _entry(found: Run, name: str) -> dict[str, Any]:
    for entry in found.catalogue:
        if entry["name"] == name:
            return entry
    raise NotFound(f"the run '{found.name}' has no variable '{name}'.")


def series(number: int, names: list[str], width: int, low: float | None, high: float | None) -> list[dict[str, Any]]:
    """Curves of a run for drawing, each thinned to what ``width`` pixels can show, in declared units."""
    found = run(number)
    finished = found.state in FINISHED
    time = results.column(number, results.TIME, found.points, finished)
    curves = []
    for name in names:
        entry = _entry(found, name)
        if entry["column"] is None:
            ends = time[[0, -1]] if len(time) else time
            t, values = ends, ends * 0 + entry["constant"]
        else:
            whole = results.column(number, entry["column"], found.points, finished)[: len(time)]
            t, values = results.thin(time[: len(whole)], whole, width, low, high)
            values = values * entry["sign"]
        curves.append({"name": name, "unit": entry["unit"], "time": t.tolist(), "values": values.tolist()})
    return curves


def values_at(number: int, names: list[str], instant: float) -> dict[str, float | None]:
    """The values of variables at an instant, in declared units."""
    found = run(number)
    finished = found.state in FINISHED
    time = results.column(number, results.TIME, found.points, finished)
    answer: dict[str, float | None] = {}
    for name in names:
        entry = _entry(found, name)
        if entry["column"] is None:
            answer[name] = entry["constant"] if len(time) else None
            continue
        whole = results.column(number, entry["column"], found.points, finished)[: len(time)]
        value = results.value_at(time[: len(whole)], whole, instant)
        answer[name] = None if value is None else value * entry["sign"]
    return answer


def stop(number: int) -> Run:
    """Ask for a run to end; a waiting one ends at once."""
    found = run(number)
    if found.state in FINISHED:
        raise MovrelError("this run has already ended.")
    changed = (
        Run.update(state="stopped", ended=now(), reason="Stopped before it began.")
        .where((Run.id == number) & (Run.state == "queued"))
        .execute()
    )
    if not changed:
        Run.update(state="stopping").where((Run.id == number) & (Run.state == "running")).execute()
    return run(number)

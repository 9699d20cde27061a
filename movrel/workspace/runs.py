"""Runs: ordered by a person, computed by a worker, kept until deleted."""

from __future__ import annotations

import difflib
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from peewee import fn

from movrel.analyse.measures import NotMeasurable, window
from movrel.analyse.spectrum import spectrum
from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError
from movrel.model.flat import FlatModel, Variable
from movrel.model.prepared import BASE, SWAP, claims_of
from movrel.simulate.options import run_options
from movrel.simulate.result_columns import result_columns
from movrel.workspace import projects, results, scenarios
from movrel.workspace.faults import NotFound
from movrel.workspace.layout import first_layout
from movrel.workspace.ledger import START, readable, shown_value
from movrel.workspace.tables import Revision, Run, database, now

Array = npt.NDArray[np.float64]

#: States in which nothing more will happen by itself.
FINISHED = ("done", "failed", "stopped")
#: Settings of a run that a person may give.
OPTIONS = ("start", "stop", "interval", "solver", "tolerance")


def order(project_number: int, model: str, options: dict[str, Any], scenario: str = BASE, prediction: str = "") -> Run:
    """Put a run of a scenario of the newest text on record, frozen with its revisions, changes and settings.

    Faults of the model or the settings are raised here, before anything is queued.
    """
    taken = projects.snapshot(project_number)
    definition = projects.definition_of(taken, model)
    asked = scenarios.scenario(taken, model, scenario)
    applied = scenarios.applied(taken, model, asked.changes, asked.settings)
    loaded = applied.loaded
    given = applied.options | {k: v for k, v in options.items() if k in OPTIONS and v is not None}
    run_options(loaded.flat.experiment, **given)
    ordered = loaded.ordered  # raises when equations and unknowns do not match
    values = parameter_values(loaded.flat, applied.values)
    set_ones = _settable(loaded.flat)
    parameters = {v.name: values[id(v)] for v in set_ones}
    columns = result_columns(ordered, values, parameter_vector(ordered.parameters, values))
    catalogue = [asdict(c) for c in columns if c.type != "parameter"]
    with database.atomic():
        # One order after the other, so that numbers are not given twice.
        database.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (727275, project_number))
        kept = Run.select().where((Run.project == project_number) & (Run.model == model) & Run.deleted.is_null())
        first = kept.where(Run.scenario == BASE).order_by(Run.number).first()
        highest = Run.select(fn.MAX(Run.number)).where((Run.project == project_number) & (Run.model == model)).scalar() or 0
        reference = (
            Reference(*_base_values(taken, model)) if asked.changes else first and Reference(first.parameters, first.options)
        )
        name = name_by_difference(reference, parameters, given, loaded.flat, asked.changes) if reference else BASE
        return Run.create(
            project=project_number,
            model=model,
            number=highest + 1,
            name=name,
            revisions=taken.revisions,
            scenario=asked.name,
            colour=asked.colour,
            changes=asked.changes,
            claims=[{"text": c.text, "off": c.text in asked.off, "holds": None} for c in claims_of(definition)],
            prediction=prediction.strip(),
            options=given,
            parameters=parameters,
            parameter_units={v.name: [v.unit, v.display_unit] for v in set_ones if v.unit},
            catalogue=catalogue,
            messages=[f"left out, as it does not fit the model any more: {text}" for text in applied.left_out],
            layout=first_layout(ordered),
        )


@dataclass(frozen=True, slots=True)
class Reference:
    """Values and settings from which a run differs."""

    parameters: dict[str, Any]
    options: dict[str, Any]


def _base_values(taken: projects.Snapshot, model: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """The values of the model without changes."""
    flat = projects.loaded_model(taken, model).flat
    values = parameter_values(flat, {})
    return {v.name: values[id(v)] for v in _settable(flat)}, {}


def _settable(flat: FlatModel) -> list[Variable]:
    """The parameters whose values are kept with a run: those that somebody may set."""
    return [v for v in flat.parameters() if v.variability == "parameter" and not v.final]


def name_by_difference(
    reference: Reference, parameters: dict[str, Any], options: dict[str, Any], flat: Any, changes: dict[str, str]
) -> str:
    """What makes a run differ from another one, in a few words: swapped parts, start values, values, settings."""
    by_name = flat.by_name()
    swapped = {place: text.removeprefix(SWAP) for place, text in changes.items() if text.startswith(SWAP)}
    parts = [f"{place} {text.rpartition('.')[2]}" for place, text in swapped.items()]
    parts += [f"{place} {text}" for place, text in changes.items() if place.endswith(START)]
    known = reference.parameters
    for name, value in parameters.items():
        # What was not there at all says nothing about the values that somebody chose.
        if name not in known or known[name] == value or name.partition(".")[0] in swapped:
            continue
        variable = by_name[name]
        # What follows from a changed value is not told beside it.
        if changes and name not in changes and variable.binding is not None and variable.binding.op != "const":
            continue
        shown_unit = variable.display_unit or variable.unit
        if isinstance(value, float | int) and not isinstance(value, bool):
            parts.append(f"{name} {readable(float(shown_value(float(value), variable.unit, shown_unit)), shown_unit)}")
        else:
            parts.append(f"{name} {readable(value)}")
    parts += [f"{name} {readable(value)}" for name, value in options.items() if reference.options.get(name) != value]
    if not parts:
        return BASE
    return " · ".join(parts[:3]) + (f" · and {len(parts) - 3} more" if len(parts) > 3 else "")


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


def go_on(number: int, stop: float) -> Run:
    """Put a run on record that goes on from the end of another one to a later time, with the same text and values."""
    earlier = run(number)
    if earlier.final is None:
        raise MovrelError(
            "this run keeps no state at its end, so nothing can go on from it.", hint="Run it once more to its end."
        )
    if not stop > earlier.final["time"]:
        raise MovrelError(f"the run ended at {earlier.final['time']:g} s.", hint="Give a later time.")
    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (727275, earlier.project_id))
        same = (Run.project == earlier.project_id) & (Run.model == earlier.model)
        highest = Run.select(fn.MAX(Run.number)).where(same).scalar() or 0
        return Run.create(
            project=earlier.project_id, model=earlier.model, number=highest + 1, name=f"{earlier.name} · on to {stop:g} s",
            revisions=earlier.revisions, scenario=earlier.scenario, colour=earlier.colour, changes=earlier.changes,
            claims=[{"text": c["text"], "off": c["off"], "holds": None} for c in earlier.claims],
            options=earlier.options | {"start": earlier.final["time"], "stop": stop}, parameters=earlier.parameters,
            parameter_units=earlier.parameter_units, catalogue=earlier.catalogue, layout=earlier.layout, goes_on=earlier.id,
        )  # fmt: skip


def describe(number: int, name: str | None, pinned: bool | None, note: str | None, held: bool | None) -> Run:
    """Rename, pin or annotate a run, or say whether what was expected of it came true; None leaves a thing as it is."""
    changes: dict[Any, Any] = {}
    if name is not None:
        words = " ".join(name.split())
        if not words:
            raise MovrelError("a run needs a name.")
        changes |= {Run.name: words[:400], Run.renamed: True}
    if pinned is not None:
        changes[Run.pinned] = pinned
    if note is not None:
        changes[Run.note] = note.strip()[:10_000]
    if held is not None:
        changes[Run.prediction_held] = held
    found = run(number)
    if changes:
        Run.update(changes).where(Run.id == number).execute()
    return run(found.id)


def differences(one: int, other: int) -> dict[str, Any]:
    """What two runs of a project differ in: values, settings, changes of the scenario, and texts by file."""
    a, b = run(one), run(other)
    values = [
        {"name": name, "one": a.parameters.get(name), "other": b.parameters.get(name)}
        for name in dict.fromkeys([*a.parameters, *b.parameters])
        if a.parameters.get(name) != b.parameters.get(name)
    ]
    settings = [
        {"name": name, "one": a.options.get(name), "other": b.options.get(name)}
        for name in dict.fromkeys([*a.options, *b.options])
        if a.options.get(name) != b.options.get(name)
    ]
    swaps = [
        {"name": place, "one": a.changes.get(place), "other": b.changes.get(place)}
        for place in dict.fromkeys([*a.changes, *b.changes])
        if a.changes.get(place) != b.changes.get(place) and place not in {v["name"] for v in values}
    ]
    texts = []
    for path in dict.fromkeys([*a.revisions, *b.revisions]):
        before, after = (_text_of(r.revisions.get(path)) for r in (a, b))
        if before != after:
            lines = list(difflib.unified_diff(before.splitlines(), after.splitlines(), lineterm="", n=1))[2:]
            texts.append({"file": path, "lines": lines[:400]})
    return {"values": values, "settings": settings, "changes": swaps, "texts": texts}


def _text_of(revision: int | None) -> str:
    found = Revision.get_or_none(Revision.id == revision) if revision is not None else None
    return found.text if found is not None else ""


def _entry(found: Run, name: str) -> dict[str, Any]:
    for entry in found.catalogue:
        if entry["name"] == name:
            return entry
    raise NotFound(f"the run '{found.name}' has no variable '{name}'.")


def series(number: int, names: list[str], width: int, low: float | None, high: float | None) -> list[dict[str, Any]]:
    """Curves of a run for drawing, each thinned to what ``width`` pixels can show, in declared units."""
    found = run(number)
    finished = found.state in FINISHED
    curves = []
    for name in names:
        entry = _entry(found, name)
        many = found.points >= results.MANY and entry["column"] is not None
        if not many:
            long = None
        elif finished and low is None and high is None:
            long = results.whole_overview(number, entry["column"], found.points)
        else:
            long = results.overview(number, entry["column"], low, high)
        if long is not None:
            t, values = results.thin(*long, width, low, high)
            curves.append({"name": name, "unit": entry["unit"], "time": t.tolist(), "values": (values * entry["sign"]).tolist()})
            continue
        time = results.column(number, results.TIME, found.points, finished)
        if entry["column"] is None:
            ends = time[[0, -1]] if len(time) else time
            t, values = ends, ends * 0 + entry["constant"]
        else:
            whole = results.column(number, entry["column"], found.points, finished)[: len(time)]
            t, values = results.thin(time[: len(whole)], whole, width, low, high)
            values = values * entry["sign"]
        curves.append({"name": name, "unit": entry["unit"], "time": t.tolist(), "values": values.tolist()})
    return curves


def pair(number: int, x: str, y: str, width: int, low: float | None, high: float | None) -> dict[str, Any]:
    """One variable against another at common instants, thinned to what shows: the extremes of both stay."""
    found = run(number)
    time = _stored_time(found)
    first = 0 if low is None else int(np.searchsorted(time, low, "left"))
    last = len(time) if high is None else int(np.searchsorted(time, high, "right"))
    columns = {name: _declared(found, name)[first:last] for name in (x, y)}
    time = time[first:last]
    if not len(time):
        raise MovrelError("the run has nothing in this range.")
    kept = np.unique(np.concatenate([results.thinned(c, width) for c in columns.values()]))
    units = {name: _entry(found, name)["unit"] for name in (x, y)}
    return {"x": columns[x][kept].tolist(), "y": columns[y][kept].tolist(), "time": time[kept].tolist(),
            "x_unit": units[x], "y_unit": units[y]}  # fmt: skip


def _stored_time(found: Run) -> Array:
    """All stored instants of a run."""
    return results.column(found.id, results.TIME, found.points, found.state in FINISHED)


def _declared(found: Run, name: str) -> Array:
    """A variable at all stored instants in its declared unit."""
    entry, time = _entry(found, name), _stored_time(found)
    if entry["column"] is None:
        return np.full(len(time), float(entry["constant"]))
    return np.asarray(
        results.column(found.id, entry["column"], found.points, found.state in FINISHED)[: len(time)] * entry["sign"]
    )


def spectra(number: int, names: list[str], low: float | None, high: float | None, window_name: str) -> list[dict[str, Any]]:
    """Amplitudes over frequency of some variables, between two instants, at most 4 000 lines each."""
    found = run(number)
    time = _stored_time(found)
    answer = []
    for name in names:
        try:
            t, y = window(time, _declared(found, name), low, high)
        except NotMeasurable as fault:
            raise MovrelError(f"{fault}.") from None
        f, a = spectrum(t, y, window_name)
        kept = results.thinned(a, 2000)
        answer.append(
            {"name": name, "unit": _entry(found, name)["unit"], "frequency": f[kept].tolist(), "amplitude": a[kept].tolist()}
        )
    return answer


def values_at(number: int, names: list[str], instant: float) -> dict[str, float | None]:
    """The values of variables at an instant, in declared units."""
    found = run(number)
    finished = found.state in FINISHED
    entries = {name: _entry(found, name) for name in names}
    numbers = sorted({e["column"] for e in entries.values() if e["column"] is not None})
    pieces = results.around(number, numbers, instant) if found.points >= results.MANY and numbers else None
    time = results.column(number, results.TIME, found.points, finished) if pieces is None else next(iter(pieces.values()))[0]
    answer: dict[str, float | None] = {}
    for name, entry in entries.items():
        if entry["column"] is None:
            answer[name] = entry["constant"] if len(time) else None
            continue
        if pieces is not None:
            value = results.value_at(*pieces[entry["column"]], instant)
        else:
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

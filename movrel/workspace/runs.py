"""Runs: ordered by a person, computed by a worker, kept until deleted."""

from __future__ import annotations

import difflib
from dataclasses import asdict, dataclass
from typing import Any

from peewee import fn

from movrel.analyse.claim_text import claimed_names
from movrel.couple.recorded import rig_columns, rig_layout
from movrel.couple.rig import cut, settings_of
from movrel.edits.scenario_model import scenario_of, with_changes
from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError, NotFound
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import FlatModel
from movrel.project.computed_mark import computed_mark, mark_with
from movrel.project.snapshot import Snapshot, definition_of, loaded_model
from movrel.project.value_place import START
from movrel.project.vendor_annotation import BASE, SWAP, claims_of
from movrel.session import LoadedModel
from movrel.simulate.options import RunSettings, run_options
from movrel.simulate.result_columns import result_columns
from movrel.simulate.trajectory import Column
from movrel.unit_words import in_words
from movrel.units import display_value
from movrel.views.first_layout import first_layout
from movrel.views.run_data import Difference, Differences, RunState, TextDifference
from movrel.workspace import projects
from movrel.workspace.tables import Revision, Run, database, now

#: Settings of a run that a person may give.
OPTIONS = ("start", "stop", "interval", "solver", "tolerance")


def order(
    project_number: int,
    model: str,
    options: RunSettings,
    scenario: str = BASE,
    prediction: str = "",
) -> Run:
    """Put a run of a scenario of the newest text on record, frozen with its revisions, changes and settings.

    Faults of the model or the settings are raised here, before anything is queued.
    """
    texts = projects.snapshot(project_number)
    definition = definition_of(texts, model)
    asked = scenario_of(texts, model, scenario)
    prepared = with_changes(texts, model, asked.changes, asked.settings)
    loaded = prepared.loaded
    given = prepared.options | options
    run_options(loaded.flat.experiment, **given)
    values = parameter_values(loaded.flat, prepared.values)
    set_ones = _settable(loaded.flat)
    parameters = {v.name: values[v] for v in set_ones}
    claimed = [name for c in claims_of(definition) for name in claimed_names(c.text)]
    columns, layout = _columns(loaded, values, prepared.values, claimed)
    catalogue = [asdict(c) for c in columns if c.type != "parameter"]
    worked_out = {
        c.name: [c.constant, c.unit, c.display_unit]
        for c in columns
        if c.type == "parameter" and c.name not in parameters
    }
    with database.atomic():
        # One order after the other, so that numbers are not given twice.
        database.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (727275, project_number))
        kept = Run.select().where(
            (Run.project == project_number) & (Run.model == model) & Run.deleted.is_null()
        )
        first = kept.where(Run.scenario == BASE).order_by(Run.number).first()
        highest = (
            Run.select(fn.MAX(Run.number))
            .where((Run.project == project_number) & (Run.model == model))
            .scalar()
            or 0
        )
        reference = (
            Reference(*_base_values(texts, model))
            if asked.changes
            else first and Reference(first.parameters, first.options)
        )
        name = (
            name_by_difference(reference, parameters, dict(given), loaded.flat, asked.changes)
            if reference
            else BASE
        )
        return Run.create(
            project=project_number,
            model=model,
            number=highest + 1,
            name=name,
            revisions=texts.revisions,
            mark=mark_with(computed_mark(texts, model), asked.changes, asked.settings | options),
            scenario=asked.name,
            colour=asked.colour,
            changes=asked.changes,
            claims=[
                {"text": c.text, "off": c.text in asked.off, "holds": None}
                for c in claims_of(definition)
            ],
            prediction=prediction.strip(),
            options=given,
            parameters=parameters,
            parameter_units={v.name: [v.unit, v.display_unit] for v in set_ones if v.unit},
            worked_out=worked_out,
            catalogue=catalogue,
            messages=[
                f"left out, as it does not fit the model any more: {text}"
                for text in prepared.left_out
            ],
            layout=layout,
            statistics={"rig": True} if settings_of(loaded) is not None else {},
        )


def _columns(
    loaded: LoadedModel, values: dict[Variable, Scalar], given: dict[str, float], claimed: list[str]
) -> tuple[list[Column], list[list[str]]]:
    """How the variables of a run will be found, and the strips that are shown first.

    Raises :class:`MovrelError` for a model that cannot be run.
    """
    if settings_of(loaded) is not None:
        rig = cut(loaded)
        return rig_columns(rig, parameter_values(rig.flat, given)), rig_layout(rig, claimed)
    ordered = loaded.ordered  # raises when equations and unknowns do not match
    columns = result_columns(ordered, values, parameter_vector(ordered.parameters, values))
    return columns, first_layout(ordered, claimed)


@dataclass(frozen=True, slots=True)
class Reference:
    """Values and settings from which a run differs."""

    parameters: dict[str, Scalar]
    options: dict[str, Any]


def _base_values(texts: Snapshot, model: str) -> tuple[dict[str, Scalar], dict[str, Any]]:
    """The values of the model without changes."""
    flat = loaded_model(texts, model).flat
    values = parameter_values(flat, {})
    return {v.name: values[v] for v in _settable(flat)}, {}


def _settable(flat: FlatModel) -> list[Variable]:
    """The parameters whose values are kept with a run: those that somebody may set."""
    return [v for v in flat.parameters() if v.variability == "parameter" and not v.final]


def name_by_difference(
    reference: Reference,
    parameters: dict[str, Scalar],
    options: dict[str, Any],
    flat: FlatModel,
    changes: dict[str, str],
) -> str:
    """What makes a run differ from another one, in a few words: swapped parts, start values, values, settings."""
    by_name = flat.by_name()
    swapped = {
        place: text.removeprefix(SWAP) for place, text in changes.items() if text.startswith(SWAP)
    }
    parts = [f"{place} {text.rpartition('.')[2]}" for place, text in swapped.items()]
    parts += [f"{place} {text}" for place, text in changes.items() if place.endswith(START)]
    known = reference.parameters
    for name, value in parameters.items():
        # What was not there at all says nothing about the values that somebody chose.
        if name not in known or known[name] == value or name.partition(".")[0] in swapped:
            continue
        variable = by_name[name]
        # What follows from a changed value is not told beside it.
        if (
            changes
            and name not in changes
            and variable.binding is not None
            and variable.binding.op != "const"
        ):
            continue
        shown_unit = variable.display_unit or variable.unit
        if isinstance(value, float | int) and not isinstance(value, bool):
            parts.append(
                f"{name} {in_words(display_value(float(value), variable.unit, shown_unit), shown_unit)}"
            )
        else:
            parts.append(f"{name} {in_words(value)}")
    parts += [
        f"{name} {in_words(value)}"
        for name, value in options.items()
        if reference.options.get(name) != value
    ]
    if not parts:
        return BASE
    return " · ".join(parts[:3]) + (f" · and {len(parts) - 3} more" if len(parts) > 3 else "")


def run(number: int) -> Run:
    kept = Run.get_or_none((Run.id == number) & Run.deleted.is_null())
    if kept is None:
        raise NotFound(f"there is no run {number}.", hint="It may have been deleted.")
    return kept


def delete(number: int) -> None:
    """Take a run out of all lists. Its results stay until the database is tidied, so it can come back."""
    with database.atomic():
        Run.update(deleted=now()).where(Run.id == number).execute()
        # What it checked is as uncertain as before.
        Run.update(checked_by=None).where(Run.checked_by == number).execute()


def restore(number: int) -> None:
    """Bring a deleted run back, and what it said of the run that it repeats."""
    with database.atomic():
        Run.update(deleted=None).where(Run.id == number).execute()
        again = Run.get_or_none((Run.id == number) & (Run.state == RunState.DONE))
        if again is not None and again.repeats is not None:
            Run.update(checked_by=number).where(Run.id == again.repeats).execute()


def go_on(number: int, stop: float) -> Run:
    """Put a run on record that goes on from the end of another one to a later time, with the same text and values."""
    earlier = run(number)
    if earlier.final is None:
        raise MovrelError(
            "this run keeps no state at its end, so nothing can go on from it.",
            hint="Run it once more to its end.",
        )
    if not stop > earlier.final["time"]:
        raise MovrelError(
            f"the run ended at {earlier.final['time']:g} s.", hint="Give a later time."
        )
    options = earlier.options | {"start": earlier.final["time"], "stop": stop}
    return again(earlier, f"{earlier.name} · on to {stop:g} s", options, goes_on=earlier.id)


def again(earlier: Run, name: str, options: dict[str, Any], **fields: Any) -> Run:
    """Put a run on record with the text and values of an earlier one, under other settings."""
    with database.atomic():
        database.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (727275, earlier.project_id))
        same = (Run.project == earlier.project_id) & (Run.model == earlier.model)
        highest = Run.select(fn.MAX(Run.number)).where(same).scalar() or 0
        kept = {
            "revisions": earlier.revisions, "mark": earlier.mark, "scenario": earlier.scenario, "colour": earlier.colour,
            "changes": earlier.changes, "parameters": earlier.parameters, "parameter_units": earlier.parameter_units,
            "worked_out": earlier.worked_out, "catalogue": earlier.catalogue, "layout": earlier.layout,
            "claims": [{"text": c["text"], "off": c["off"], "holds": None} for c in earlier.claims],
        }  # fmt: skip
        return Run.create(
            project=earlier.project_id,
            model=earlier.model,
            number=highest + 1,
            name=name,
            options=options,
            **(kept | fields),
        )


def describe(
    number: int, name: str | None, pinned: bool | None, note: str | None, held: bool | None
) -> Run:
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
    run(number)
    if changes:
        Run.update(changes).where(Run.id == number).execute()
    return run(number)


def differences(one: int, other: int) -> Differences:
    """What two runs of a project differ in: values, settings, changes of the scenario, and texts by file."""
    a, b = run(one), run(other)
    values = _different(a.parameters, b.parameters)
    changed = {d.name for d in values}
    texts = []
    for path in dict.fromkeys([*a.revisions, *b.revisions]):
        before, after = (_text_of(r.revisions.get(path)) for r in (a, b))
        if before != after:
            lines = list(
                difflib.unified_diff(before.splitlines(), after.splitlines(), lineterm="", n=1)
            )[2:]
            texts.append(TextDifference(path, lines[:400]))
    swaps = [d for d in _different(a.changes, b.changes) if d.name not in changed]
    return Differences(values, _different(a.options, b.options), swaps, texts)


def _different(one: dict[str, Any], other: dict[str, Any]) -> list[Difference]:
    names = dict.fromkeys([*one, *other])
    return [
        Difference(name, one.get(name), other.get(name))
        for name in names
        if one.get(name) != other.get(name)
    ]


def _text_of(revision: int | None) -> str:
    kept = Revision.get_or_none(Revision.id == revision) if revision is not None else None
    return kept.text if kept is not None else ""


def stop(number: int) -> Run:
    """Ask for a run to end; a waiting one ends at once."""
    if RunState(run(number).state).finished:
        raise MovrelError("this run has already ended.")
    changed = (
        Run.update(state="stopped", ended=now(), reason="Stopped before it began.")
        .where((Run.id == number) & (Run.state == "queued"))
        .execute()
    )
    if not changed:
        Run.update(state="stopping").where((Run.id == number) & (Run.state == "running")).execute()
    return run(number)

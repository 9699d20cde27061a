"""What the screen shows of a model, put together from the rooms below."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, dataclass
from typing import Any

from movrel.equations.judging import about_parameters, broken
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, StructureFault
from movrel.language import syntax as s
from movrel.model.annotation import experiment_of
from movrel.model.arrangement import layouts_of
from movrel.model.classes import Definition
from movrel.model.drawing import icon, sheet
from movrel.model.flat import Variable
from movrel.model.memo import Memo
from movrel.model.prepared import claims_of, scenarios_of
from movrel.model.wiring import end_of
from movrel.session import LoadedModel
from movrel.simulate.options import SOLVERS, RunOptions, run_options
from movrel.workspace import ledger, projects, run_list
from movrel.workspace.ledger import readable
from movrel.workspace.once import kept_once
from movrel.workspace.tables import ModelFile, Project, Run
from movrel.workspace.view_changes import changes

#: Parts up to which an edit is answered with the rows of the ledger at once.
AT_ONCE = 150


@dataclass(frozen=True, slots=True)
class Newest:
    """A model in its newest state, found but not yet looked through."""

    taken: projects.Snapshot
    definition: Definition
    file: ModelFile
    revision: int


def newest(project_number: int, qualified: str) -> Newest:
    """The newest state of a model. Raises :class:`NotFound`."""
    taken, definition = projects.current(project_number, qualified)
    file, revision, _ = projects.file_of(taken, definition)
    return Newest(taken, definition, file, revision)


def model_view(found: Newest, quick: bool = False, known: str = "") -> dict[str, Any]:
    """Sheet, ledger rows, settings and faults of a model.

    ``quick`` leaves out the rows and faults of a large model; ``analysed`` says so. ``known`` is the
    ``mark`` of a view that the asker has; where it is still at hand only what differs is told.
    """
    head = projects.head_revision(found.file)
    small = sum(isinstance(e, s.Component) for e in found.definition.node.elements) <= AT_ONCE
    picture = _picture(found.taken, found.definition.qualified, small or not quick)
    earlier = _told.get(known)
    _told.keep(picture["mark"], picture)
    differing = changes(earlier, picture) if earlier is not None else None
    return (differing or picture) | {
        "project": found.taken.project,
        "project_name": projects.project(found.taken.project).name,
        "model": found.definition.qualified,
        "file": found.file.path,
        "revision": found.revision,
        "summary": head.summary,
        "can_undo": head.parent_id is not None,
        "can_redo": projects.can_redo(head),
    }


#: The pictures that windows may have, by their marks.
_told: Memo[str, dict[str, Any]] = Memo(32)


@kept_once(24)
def _picture(taken: projects.Snapshot, qualified: str, analysed: bool) -> dict[str, Any]:
    """What the text of a model says of it; the same for the same texts, so it is kept and never altered."""
    definition = projects.definition_of(taken, qualified)
    tree = projects.class_tree(taken)
    drawn = sheet(tree, definition)
    rows: list[dict[str, Any]] = []
    problem: dict[str, Any] | None = None
    settings: dict[str, Any] | None = None
    doubts: list[dict[str, str]] = []
    try:
        settings = _settings(run_options(experiment_of(definition, tree)))
        if analysed:
            loaded = projects.loaded_model(taken, qualified)
            rows, fault = _rows(loaded, definition)
            doubts = _doubts(loaded)
            problem = _problem(fault, drawn) if fault is not None else None
    except MovrelError as fault:
        problem = _problem(fault, drawn)
    _label(drawn, rows)
    for component in drawn["components"]:
        inner = tree.find(component["class"])
        component["opens"] = inner is not None and inner.source.file in taken.revisions and component["port"] is None
    return {
        "mark": hashlib.sha256(repr((sorted(taken.revisions.items()), qualified, analysed)).encode()).hexdigest()[:16],
        "inside": _models_around(definition),
        "meaning": projects.meaning_mark(taken, qualified),
        "sheet": drawn,
        "symbol": icon(tree, definition),
        "rows": rows,
        "analysed": analysed,
        "settings": settings,
        "problem": problem,
        "doubts": doubts,
        "claims": [c.text for c in claims_of(definition)],
        "scenarios": [asdict(found) for found in scenarios_of(definition)],
        "layouts": [asdict(found) for found in layouts_of(definition)],
    }


def _doubts(loaded: LoadedModel) -> list[dict[str, str]]:
    """What the parts say about the values of their parameters."""
    try:
        values = parameter_values(loaded.flat, {})
    except StructureFault:
        return []
    asked = [a for a in loaded.flat.assertions if not a.at_events and about_parameters(a)]
    return [{"component": a.component, "level": a.level, "message": f"{message}."} for a, message in broken(asked, values)]


def _rows(loaded: LoadedModel, definition: Definition) -> tuple[list[dict[str, Any]], MovrelError | None]:
    """The rows of the ledger, and why the model cannot be run all the same."""
    flat = loaded.flat
    states: list[Variable] = []
    fault: MovrelError | None = None
    try:
        _ = parameter_values(flat, {})  # whether parameters depend on each other in a circle
        # Sorting tells whether equations and unknowns match, and which variables are states.
        states = loaded.ordered.states
    except MovrelError as found:
        fault = found
    return ledger.rows(flat, definition, states), fault


def _problem(fault: MovrelError, drawn: dict[str, Any]) -> dict[str, Any]:
    """Why a model cannot be run; inputs that nobody wired say more than the equations that lack for them."""
    if not isinstance(fault, StructureFault):
        return fault_view(fault)
    wired = {end_of(c[side]) for c in drawn["connections"] for side in ("from", "to")}
    inputs = loose_inputs(drawn, wired)
    if inputs:
        return _loose("input", inputs, "or give {it} a constant")
    chosen = [
        f"{c['name']}.{p['name']}" for c in drawn["components"] for p in c["icon"]["ports"]
        if p["condition"] and (c["name"], p["name"]) not in wired
    ]  # fmt: skip
    if chosen:
        return _loose("chosen port", chosen, "or switch {it} off in the part's rows")
    parts = [
        c["name"] for c in drawn["components"]
        if any(not p["direction"] and p["domain"] != "state" for p in c["icon"]["ports"])
        and c["name"] not in {part for part, _ in wired}
    ]  # fmt: skip
    return _loose("part", parts, "or delete {it}") if parts else fault_view(fault)


def _loose(what: str, names: list[str], cure: str) -> dict[str, Any]:
    """That some inputs or parts are not wired, in a sentence."""
    shown = ", ".join(names[:6]) + (" …" if len(names) > 6 else "")
    one = len(names) == 1
    return {
        "message": f"{len(names)} {what}{'' if one else 's'} {'is' if one else 'are'} not connected: {shown}.",
        "hint": f"Wire {'it' if one else 'them'}, {cure.format(it='it' if one else 'each')}.",
        "where": None,
    }


def _settings(options: RunOptions) -> dict[str, Any]:
    return {
        "start": options.start, "stop": options.stop, "interval": options.interval, "solver": options.solver,
        "solver_name": SOLVERS[options.solver], "tolerance": options.tolerance, "solvers": SOLVERS,
    }  # fmt: skip


def loose_inputs(drawn: dict[str, Any], wired: set[tuple[str, str]]) -> list[str]:
    """Inputs of parts on a sheet that no wire leads to."""
    return [
        f"{part['name']}.{port['name']}"
        for part in drawn["components"]
        for port in part["icon"]["ports"]
        if port["direction"] == "in" and (part["name"], port["name"]) not in wired
    ]


def _models_around(definition: Definition) -> list[str]:
    found: list[str] = []
    at = definition.parent
    while at is not None and at.node.kind != "package":
        found.insert(0, at.qualified)
        at = at.parent
    return found


def _label(drawn: dict[str, Any], rows: list[dict[str, Any]]) -> None:
    """Give every component the values that its symbol may show as ``%name``."""
    by_component: dict[str, dict[str, str]] = {}
    numbers: dict[str, dict[str, float]] = {}
    for row in rows:
        if row["group"] == "watch" or row["value"] is None:
            continue
        shown = row["shown"] if row["shown"] is not None else row["value"]
        by_component.setdefault(row["component"], {})[row["label"]] = readable(shown, row["shown_unit"])
        if isinstance(row["value"], float):
            numbers.setdefault(row["component"], {})[row["label"]] = row["value"]
    for component in drawn["components"]:
        component["labels"] = by_component.get(component["name"], {})
        component["numbers"] = numbers.get(component["name"], {})


def fault_view(fault: MovrelError) -> dict[str, Any]:
    """A fault as the screen shows it."""
    where = fault.where
    place = {"file": where.file, "line": where.line, "column": where.column} if where else None
    return {"message": fault.message, "hint": fault.hint, "where": place}


def run_view(found: Run) -> dict[str, Any]:
    """A run without its variables."""
    return {
        "id": found.id,
        "project": found.project_id,
        "model": found.model,
        "number": found.number,
        "name": found.name,
        "state": found.state,
        "progress": found.progress,
        "time_reached": found.time_reached,
        "reason": found.reason,
        "place": found.place,
        "points": found.points,
        "created": found.created.isoformat() + "Z",
        "ended": found.ended.isoformat() + "Z" if found.ended else None,
        "revisions": found.revisions,
        "scenario": found.scenario,
        "colour": found.colour,
        "claims": found.claims,
        "pinned": found.pinned,
        "note": found.note,
        "prediction": found.prediction,
        "prediction_held": found.prediction_held,
    }


def run_detail(found: Run) -> dict[str, Any]:
    """A run with its variables, events, messages and statistics."""
    variables = []
    for entry in found.catalogue:
        shown_unit = entry["display_unit"] or entry["unit"]
        factor, offset = ledger.scale(entry["unit"], shown_unit)
        variables.append(
            {
                "name": entry["name"],
                "unit": entry["unit"],
                "shown_unit": shown_unit,
                "factor": factor,
                "offset": offset,
                "description": entry["description"],
            }  # fmt: skip
        )
    return run_view(found) | {
        "variables": variables,
        "layout": found.layout,
        "events": found.events,
        "messages": found.messages,
        "statistics": found.statistics,
        "parameters": found.parameters,
        "changes": found.changes,
        "options": found.options,
    }


def project_view(found: Project) -> dict[str, Any]:
    """A project with its models, each with a small drawing and its last run."""
    taken = projects.snapshot(found.id)
    newest = run_list.last_of_each(found.id)
    files = [f.path for f in projects.files(found.id)]
    models = []
    problem = None
    try:
        for definition in projects.models(taken):
            last = newest.get(definition.qualified)
            models.append(
                {
                    "model": definition.qualified,
                    "name": definition.name,
                    "description": definition.node.comment,
                    "file": definition.source.file,
                    "sheet": sheet(projects.class_tree(taken), definition),
                    "last_run": run_view(last) if last else None,
                }  # fmt: skip
            )
    except MovrelError as fault:
        problem = fault_view(fault)
    return {
        "id": found.id,
        "name": found.name,
        "created": found.created.isoformat() + "Z",
        "files": files,
        "models": sorted(models, key=lambda m: files.index(m["file"])),
        "problem": problem,
    }

"""The address at which models are edited."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint

from movrel.jobs.announce import announce
from movrel.model.arrangement import StripPlan
from movrel.web import edit_schema as e
from movrel.web import schema as s
from movrel.web.app import answer
from movrel.workspace import (
    drawing_edits,
    figure_edits,
    history,
    kept_changes,
    law_edits,
    layout_edits,
    model_edits,
    projects,
    runs,
    scenario_edits,
    sheet_edits,
    state_edits,
    structure_edits,
    table_edits,
    views,
)

api = APIBlueprint("edits", __name__, url_prefix="/api", abp_responses={"422": s.Fault, "404": s.Fault})

#: Project, full name of the model, revision, and the edit; gives the names of parts that came.
Doing = Callable[[int, str, int, Any], list[str] | None]


@api.post("/projects/<int:project>/models/<model>/edits", operation_id="edit", responses={200: s.ModelView, 409: s.Fault})
def edit(path: s.ModelPath, body: e.EditOrder) -> Response:
    made = DOINGS[type(body.edit)](path.project, path.model, body.revision, body.edit) or []
    newest = views.newest(path.project, path.model)
    # Other windows may ask while the answer is made.
    announce("model", project=path.project, model=path.model, revision=newest.revision)
    return answer(s.ModelView, views.model_view(newest, quick=True, known=body.known) | {"inserted": made})


def _wire(ends: e.WireEnds) -> tuple[str, str]:
    return ends.from_port, ends.to_port


def _arrow(d: e.DrawArrow | e.ChangeArrow) -> state_edits.Arrow:
    return state_edits.Arrow(d.start, d.end, d.condition, d.priority, d.immediate, d.reset)


def _strip(given: s.StripPlan) -> StripPlan:
    return StripPlan(tuple(given.names), given.left, given.right, given.logarithmic)


def _points(given: list[list[float]] | None) -> list[tuple[float, float]] | None:
    return [(x, y) for x, y in given] if given else None


def _insert(p: int, m: str, r: int, d: e.Insert) -> list[str]:
    _, name = sheet_edits.insert_part(p, m, r, d.class_name, d.x, d.y, _wire(d.into) if d.into else None)
    return [name]


def _move(p: int, m: str, r: int, d: e.Move) -> None:
    places = [sheet_edits.Place(place.name, place.extent, place.rotation) for place in d.places]
    sheet_edits.move_parts(p, m, r, places, d.what, d.straighten)


def _rename(p: int, m: str, r: int, d: e.Rename) -> list[str]:
    sheet_edits.rename_part(p, m, r, d.name, d.new)
    return [d.new.strip()]


def _component(p: int, m: str, r: int, d: e.KeepComponent) -> list[str] | None:
    _, part = structure_edits.keep_component(p, m, r, d.text, d.replaces, d.x, d.y)
    return [part] if part else None


def _symbol(p: int, m: str, r: int, d: e.SetSymbol) -> None:
    shapes = [{"is": x.kind, "points": x.points, "text": x.text, "filled": x.filled} for x in d.shapes]
    drawing_edits.set_symbol(p, m, r, shapes)


def _scenario_value(p: int, m: str, r: int, d: e.ScenarioValue) -> None:
    if d.text is None:
        scenario_edits.reset_value(p, m, r, d.scenario, d.place)
    else:
        scenario_edits.set_value(p, m, r, d.scenario, d.place, d.text)


def _file(p: int, m: str) -> int:
    taken = projects.snapshot(p)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, m))
    return int(file.id)


def _quietly(action: Callable[..., Any], *fields: str) -> Doing:
    """An edit that brings no parts: its fields are passed on in order."""

    def do(p: int, m: str, r: int, d: Any) -> None:
        action(p, m, r, *(getattr(d, f) for f in fields))

    return do


DOINGS: dict[type, Doing] = {
    e.Insert: _insert,
    e.Move: _move,
    e.Rename: _rename,
    e.Delete: lambda p, m, r, d: (
        sheet_edits.delete_things(p, m, r, d.parts, [_wire(w) for w in d.wires], "cut" if d.cut else "deleted") and None
    ),
    e.Connect: lambda p, m, r, d: sheet_edits.connect(p, m, r, *_wire(d), _points(d.points)) and None,
    e.Bend: lambda p, m, r, d: sheet_edits.bend_wire(p, m, r, *_wire(d), _points(d.points)) and None,
    e.DrawArrow: lambda p, m, r, d: state_edits.draw_arrow(p, m, r, _arrow(d)) and None,
    e.ChangeArrow: lambda p, m, r, d: state_edits.change_arrow(p, m, r, d.number, _arrow(d)) and None,
    e.DeleteArrow: lambda p, m, r, d: state_edits.change_arrow(p, m, r, d.number, None) and None,
    e.BeginIn: _quietly(state_edits.begin_in, "name"),
    e.Setting: _quietly(model_edits.set_setting, "name", "text"),
    e.Parameter: _quietly(law_edits.set_row, "name", "text"),
    e.SetTable: _quietly(table_edits.set_table, "name", "text"),
    e.Reset: _quietly(structure_edits.reset, "name"),
    e.ReplaceText: _quietly(model_edits.replace_text, "text"),
    e.Paste: lambda p, m, r, d: structure_edits.paste(p, m, r, d.text, d.x, d.y)[1],
    e.Duplicate: lambda p, m, r, d: structure_edits.duplicate(p, m, r, d.parts, d.dx, d.dy)[1],
    e.Assemble: lambda p, m, r, d: [structure_edits.make_assembly(p, m, r, d.parts, d.name, d.description)[1]],
    e.Dissolve: lambda p, m, r, d: structure_edits.dissolve(p, m, r, d.name)[1],
    e.Expose: lambda p, m, r, d: structure_edits.expose(p, m, r, d.parameter, d.name, d.description, d.group) and None,
    e.Hide: _quietly(structure_edits.hide, "name"),
    e.Swap: _quietly(structure_edits.swap, "name", "class_name", "ports"),
    e.KeepComponent: _component,
    e.SetFigure: _quietly(figure_edits.set_figure, "old", "name", "expression", "unit", "note"),
    e.DeleteFigure: _quietly(figure_edits.delete_figure, "name"),
    e.PasteFigures: _quietly(figure_edits.paste_figures, "text"),
    e.AddNote: _quietly(drawing_edits.add_note, "text", "x", "y"),
    e.ChangeNote: _quietly(drawing_edits.change_note, "index", "text", "x", "y"),
    e.Describe: _quietly(model_edits.describe, "text"),
    e.Document: _quietly(model_edits.document, "text"),
    e.SetSymbol: _symbol,
    e.PlacePort: _quietly(drawing_edits.place_port, "name", "x", "y"),
    e.AddScenario: _quietly(scenario_edits.add, "name", "like"),
    e.AlterScenario: _quietly(scenario_edits.alter, "name", "new", "colour", "note"),
    e.DeleteScenario: _quietly(scenario_edits.delete, "name"),
    e.ScenarioValue: _scenario_value,
    e.ScenarioSetting: _quietly(scenario_edits.set_setting, "scenario", "name", "text"),
    e.ScenarioClaim: _quietly(scenario_edits.switch_claim, "scenario", "claim", "off"),
    e.PasteScenarios: _quietly(scenario_edits.paste, "text"),
    e.ScenarioFromRun: lambda p, m, r, d: scenario_edits.from_run(p, m, r, runs.run(d.run), d.name) and None,
    e.KeepChanges: lambda p, m, r, d: kept_changes.keep_as_scenario(p, m, r, runs.run(d.run), d.name) and None,
    e.KeepLayout: lambda p, m, r, d: layout_edits.keep(p, m, r, d.name, [_strip(s) for s in d.strips]) and None,
    e.DeleteLayout: _quietly(layout_edits.delete, "name"),
    e.AddClaim: _quietly(scenario_edits.add_claim, "text"),
    e.ChangeClaim: _quietly(scenario_edits.change_claim, "number", "text"),
    e.Restore: lambda p, m, r, d: history.restore(_file(p, m), r, d.revision) and None,
    e.Undo: lambda p, m, r, d: projects.undo(_file(p, m), r) and None,
    e.Redo: lambda p, m, r, d: projects.redo(_file(p, m), r) and None,
}

"""The addresses of sweeps."""

from __future__ import annotations

import csv
import io
from dataclasses import asdict
from typing import Any
from urllib.parse import quote

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

from movrel.analyse.balances import balances
from movrel.analyse.design import Vary
from movrel.jobs.announce import announce
from movrel.jobs.queue import order_sweep
from movrel.jobs.sweeping import CHAINS
from movrel.web import schema as s
from movrel.web import sweep_schema as ss
from movrel.web.app import answer
from movrel.workspace import matters, projects, sweeps
from movrel.workspace.tables import Sweep

api = APIBlueprint("sweeps", __name__, url_prefix="/api", abp_responses={"422": s.Fault, "404": s.Fault})


def _view(found: Sweep) -> dict[str, Any]:
    names = ("id", "model", "name", "scenario", "state", "sample", "varied", "measures", "curves", "units", "count")
    return {n: getattr(found, n) for n in names} | sweeps.counts(found.id) | {
        "project": found.project_id, "created": found.created.isoformat() + "Z",
        "ended": found.ended.isoformat() + "Z" if found.ended else None,
    }  # fmt: skip


@api.get("/projects/<int:project>/models/<model>/sweeps", operation_id="sweeps", responses={200: ss.SweepList})
def list_sweeps(path: s.ModelPath) -> Response:
    return answer(ss.SweepList, {"sweeps": [_view(found) for found in sweeps.sweeps(path.project, path.model)]})


@api.post("/projects/<int:project>/models/<model>/sweeps", operation_id="orderSweep", responses={200: ss.SweepView})
def order(path: s.ModelPath, body: ss.SweepOrder) -> Response:
    projects.project(path.project)
    varied = [Vary(v.name, v.low, v.high, v.count, tuple(v.values), v.distribution) for v in body.varied]
    made = sweeps.order(
        path.project, path.model, body.scenario, varied, body.sample, body.points, body.seed, body.measures, body.curves
    )
    order_sweep(current_app.config["MOVREL_DATABASE"], made.id, min(CHAINS, made.count))
    announce("sweep", sweep=made.id, project=path.project, model=path.model, state="running")
    return answer(ss.SweepView, _view(made))


@api.get("/projects/<int:project>/models/<model>/balances", operation_id="balances", responses={200: ss.Balances})
def what_is_conserved(path: s.ModelPath) -> Response:
    loaded = projects.loaded_model(projects.snapshot(path.project), path.model)
    return answer(ss.Balances, {"balances": [asdict(b) for b in balances(loaded.flat)]})


@api.get("/projects/<int:project>/models/<model>/matters", operation_id="whatMayMatter", responses={200: ss.Candidates})
def what_may_matter(path: s.ModelPath, query: ss.ScenarioQuery) -> Response:
    return answer(ss.Candidates, {"parameters": matters.candidates(path.project, path.model, query.scenario)})


@api.get("/projects/<int:project>/models/<model>/matters/effect", operation_id="effect", responses={200: ss.Effects})
def effect(path: s.ModelPath, query: ss.EffectQuery) -> Response:
    found = matters.of_parameter(path.project, path.model, query.scenario, query.parameter)
    return answer(ss.Effects, {"parameter": query.parameter, "effects": found})


@api.get("/sweeps/<int:sweep>", operation_id="sweep", responses={200: ss.SweepDetail})
def one(path: ss.SweepPath) -> Response:
    found = sweeps.sweep(path.sweep)
    fields = ("number", "values", "state", "measures", "reason")
    points = [{n: getattr(p, n) for n in fields} for p in sweeps.table(path.sweep)]
    return answer(ss.SweepDetail, _view(found) | {"points": points})


@api.post("/sweeps/<int:sweep>/<what>", operation_id="steerSweep", responses={200: ss.SweepView})
def steer(path: ss.SteerPath) -> Response:
    found = sweeps.steer(path.sweep, path.what)
    if found.state == "running":
        order_sweep(current_app.config["MOVREL_DATABASE"], found.id, CHAINS)
    announce("sweep", sweep=found.id, project=found.project_id, model=found.model, state=found.state)
    return answer(ss.SweepView, _view(found))


@api.delete("/sweeps/<int:sweep>", operation_id="deleteSweep", responses={200: ss.SweepView})
def delete(path: ss.SweepPath) -> Response:
    found = sweeps.sweep(path.sweep)
    sweeps.delete(path.sweep)
    announce("sweep", sweep=found.id, project=found.project_id, model=found.model, state="deleted")
    return answer(ss.SweepView, _view(found))


@api.get("/sweeps/<int:sweep>/bands", operation_id="bands", responses={200: ss.Bands})
def bands(path: ss.SweepPath, query: ss.BandQuery) -> Response:
    return answer(ss.Bands, sweeps.bands(path.sweep, query.name))


@api.get("/sweeps/<int:sweep>/table.csv", operation_id="sweepTable")
def table(path: ss.SweepPath) -> Response:
    found = sweeps.sweep(path.sweep)
    names = [v["name"] for v in found.varied]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    heads = [*names, *found.measures]
    writer.writerow(
        [*(f"{n} [{found.units[n]}]" if found.units.get(n) not in (None, "", "1") else n for n in heads), "state", "reason"]
    )
    for p in sweeps.table(path.sweep):
        measures = p.measures or [None] * len(found.measures)
        cells = [*(p.values[n] for n in names), *measures]
        writer.writerow([*("" if v is None else repr(v) for v in cells), p.state, p.reason])
    name = f"{found.model.rpartition('.')[2]} sweep {found.id}.csv"
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(out.getvalue(), content_type="text/csv; charset=utf-8", headers=headers)

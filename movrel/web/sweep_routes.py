"""The addresses of sweeps and sensitivities."""

from __future__ import annotations

from collections.abc import Iterator

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

from movrel.analyse.balances import balances
from movrel.delimited import delimited, head
from movrel.jobs.queue import order_sweep
from movrel.jobs.sweeping import CHAINS
from movrel.project.snapshot import loaded_model
from movrel.views import sensitivities
from movrel.views.fault_view import Fault
from movrel.views.sensitivities import Candidates, Effects
from movrel.web import schema as s
from movrel.web import sweep_schema as ss
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import projects, sweeps
from movrel.workspace.announce import announce
from movrel.workspace.editing import run_scripts
from movrel.workspace.sweeps import Bands, SweepDetail, SweepView, sweep_detail, sweep_view
from movrel.workspace.tables import Sweep

api = APIBlueprint(
    "sweeps",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)


@api.get(
    "/projects/<int:project>/models/<model>/sweeps",
    operation_id="sweeps",
    responses={200: ss.SweepList},
)
def list_sweeps(path: s.ModelPath) -> Response:
    return answer(
        ss.SweepList(sweeps=[sweep_view(one) for one in sweeps.sweeps(path.project, path.model)])
    )


@api.post(
    "/projects/<int:project>/models/<model>/sweeps",
    operation_id="orderSweep",
    responses={200: schema(SweepView)},
)
def order(path: s.ModelPath, body: ss.SweepOrder) -> Response:
    projects.project(path.project)
    run_scripts(path.project)
    varied = [v.vary() for v in body.varied]
    made = sweeps.order(
        path.project,
        path.model,
        body.scenario,
        varied,
        body.sample,
        body.points,
        body.seed,
        body.measures,
        body.curves,
    )
    order_sweep(current_app.config["MOVREL_DATABASE"], made.id)
    announce("sweep", sweep=made.id, project=path.project, model=path.model, state="running")
    return answer(sweep_view(made))


@api.get(
    "/projects/<int:project>/models/<model>/balances",
    operation_id="balances",
    responses={200: ss.Balances},
)
def what_is_conserved(path: s.ModelPath) -> Response:
    loaded = loaded_model(projects.snapshot(path.project), path.model)
    return answer(ss.Balances(balances=balances(loaded.flat)))


@api.get(
    "/projects/<int:project>/models/<model>/sensitivities",
    operation_id="sensitivityCandidates",
    responses={200: schema(Candidates)},
)
def candidates(path: s.ModelPath, query: ss.ScenarioQuery) -> Response:
    return answer(
        sensitivities.candidates(projects.snapshot(path.project), path.model, query.scenario)
    )


@api.get(
    "/projects/<int:project>/models/<model>/sensitivities/effect",
    operation_id="effect",
    responses={200: schema(Effects)},
)
def effect(path: s.ModelPath, query: ss.EffectQuery) -> Response:
    return answer(
        sensitivities.of_parameter(
            projects.snapshot(path.project), path.model, query.scenario, query.parameter
        )
    )


@api.get("/sweeps/<int:sweep>", operation_id="sweep", responses={200: schema(SweepDetail)})
def one(path: ss.SweepPath) -> Response:
    return answer(sweep_detail(path.sweep))


@api.post(
    "/sweeps/<int:sweep>/<what>", operation_id="steerSweep", responses={200: schema(SweepView)}
)
def steer(path: ss.SteerPath) -> Response:
    steered = sweeps.steer(path.sweep, path.what)
    if steered.state == "running":
        order_sweep(current_app.config["MOVREL_DATABASE"], steered.id, CHAINS)
    _announce(steered, steered.state)
    return answer(sweep_view(steered))


@api.delete("/sweeps/<int:sweep>", operation_id="deleteSweep", responses={200: schema(SweepView)})
def delete(path: ss.SweepPath) -> Response:
    leaving = sweeps.sweep(path.sweep)
    sweeps.delete(path.sweep)
    _announce(leaving, "deleted")
    return answer(sweep_view(leaving))


def _announce(sweep: Sweep, state: str) -> None:
    announce("sweep", sweep=sweep.id, project=sweep.project_id, model=sweep.model, state=state)


@api.get("/sweeps/<int:sweep>/bands", operation_id="bands", responses={200: schema(Bands)})
def bands(path: ss.SweepPath, query: ss.BandQuery) -> Response:
    return answer(sweeps.bands(path.sweep, query.name))


@api.get("/sweeps/<int:sweep>/table.csv", operation_id="sweepTable")
def table(path: ss.SweepPath) -> Response:
    sweep = sweeps.sweep(path.sweep)
    names = [v["name"] for v in sweep.varied]

    def rows() -> Iterator[list[object]]:
        for p in sweeps.table(path.sweep):
            yield [
                *(p.values[n] for n in names),
                *(p.measures or [None] * len(sweep.measures)),
                *(p.claims or [None] * len(sweep.claims)),
                p.state,
                p.reason,
            ]

    heads = [
        *(head(n, sweep.units.get(n)) for n in [*names, *sweep.measures]),
        *(c["text"] for c in sweep.claims),
        "state",
        "reason",
    ]
    name = f"{sweep.model.rpartition('.')[2]} sweep {sweep.id}.csv"
    return download(delimited(heads, rows()), name, "text/csv; charset=utf-8")

"""The addresses of the application."""

from __future__ import annotations

from datetime import UTC

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

from movrel.delimited import delimited_blocks, head
from movrel.equations.listing import EquationList
from movrel.errors import MovrelError
from movrel.exchange import pdf, run_files
from movrel.jobs.queue import order_run
from movrel.project.snapshot import definition_of
from movrel.units import display_scale
from movrel.views.display_units import fitting_units
from movrel.views.fault_view import Fault
from movrel.views.live_preview import preview
from movrel.views.run_data import Differences, Pair, RunDetail, RunList, RunState, RunView
from movrel.views.scenario_values import ScenarioValues, instance_values, scenario_values
from movrel.views.shelf import Shelf, shelf
from movrel.web import run_schema as rs
from movrel.web import schema as s
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import projects, run_list, runs
from movrel.workspace.announce import announce
from movrel.workspace.certainty import order_more_exactly
from movrel.workspace.editing import run_scripts
from movrel.workspace.model_state import (
    ModelDrawing,
    ModelView,
    TextView,
    model_drawing,
    model_view,
    text_view,
)
from movrel.workspace.project_list import (
    ModelPage,
    ModelSummary,
    ProjectList,
    ProjectView,
    model_page,
    model_summary,
    project_view,
)
from movrel.workspace.run_terms import TermValues, run_equations, values_of_terms
from movrel.workspace.run_views import run_detail, run_view
from movrel.workspace.stored_run import StoredRun
from movrel.workspace.tables import Run
from movrel.workspace.verdicts import measures

api = APIBlueprint(
    "api", __name__, url_prefix="/api", abp_responses={"422": schema(Fault), "404": schema(Fault)}
)


# --- projects ---


@api.get("/projects", operation_id="projects", responses={200: schema(ProjectList)})
def list_projects() -> Response:
    return answer(ProjectList([project_view(p) for p in projects.projects()]))


@api.get(
    "/projects/<int:project>/models", operation_id="models", responses={200: schema(ModelPage)}
)
def list_models(path: s.ProjectPath, query: s.OffsetQuery) -> Response:
    projects.project(path.project)
    return answer(model_page(path.project, query.offset))


@api.get(
    "/projects/<int:project>/models/<model>/summary",
    operation_id="modelSummary",
    responses={200: schema(ModelSummary)},
)
def summary_of_model(path: s.ModelPath) -> Response:
    projects.project(path.project)
    return answer(model_summary(path.project, path.model))


@api.post("/projects", operation_id="createProject", responses={200: schema(ProjectView)})
def create_project(body: s.NewProject) -> Response:
    return answer(project_view(projects.create_project(body.name)))


@api.post(
    "/projects/<int:project>/files", operation_id="addFile", responses={200: schema(ProjectView)}
)
def add_file(path: s.ProjectPath, body: s.NewFile) -> Response:
    project = projects.project(path.project)
    projects.add_file(path.project, body.path, body.text, f"added {body.path}")
    announce("project", project=path.project)
    return answer(project_view(project))


# --- models ---


@api.get(
    "/projects/<int:project>/models/<model>",
    operation_id="model",
    responses={200: schema(ModelView)},
)
def model(path: s.ModelPath, query: s.KnownQuery) -> Response:
    projects.project(path.project)
    return answer(model_view(path.project, path.model, known=query.known))


@api.get(
    "/projects/<int:project>/models/<model>/scenario",
    operation_id="scenarioValues",
    responses={200: schema(ScenarioValues)},
)
def values_of_scenario(path: s.ModelPath, query: s.ScenarioQuery) -> Response:
    return answer(scenario_values(projects.snapshot(path.project), path.model, query.scenario))


@api.get(
    "/projects/<int:project>/models/<model>/instance",
    operation_id="instanceValues",
    responses={200: schema(ScenarioValues)},
)
def values_of_instance(path: s.ModelPath, query: s.InstanceQuery) -> Response:
    texts = projects.snapshot(path.project)
    return answer(instance_values(texts, path.model, query.whole, query.instance, query.scenario))


@api.get(
    "/projects/<int:project>/models/<model>/drawing",
    operation_id="drawing",
    responses={200: schema(ModelDrawing)},
)
def drawing(path: s.ModelPath) -> Response:
    return answer(model_drawing(projects.snapshot(path.project), path.model))


@api.get(
    "/projects/<int:project>/models/<model>/text",
    operation_id="text",
    responses={200: schema(TextView)},
)
def text(path: s.ModelPath) -> Response:
    return answer(text_view(projects.snapshot(path.project), path.model))


@api.get("/projects/<int:project>/models/<model>/download", operation_id="download")
def download_text(path: s.ModelPath) -> Response:
    source = definition_of(projects.snapshot(path.project), path.model).source
    return download(source.text, source.file.rpartition("/")[2], "text/plain; charset=utf-8")


@api.get("/projects/<int:project>/shelf", operation_id="shelf", responses={200: schema(Shelf)})
def get_shelf(path: s.ProjectPath, query: s.ShelfQuery) -> Response:
    projects.project(path.project)
    return answer(shelf(projects.snapshot(path.project), query.model))


# --- runs ---


@api.get(
    "/projects/<int:project>/models/<model>/runs",
    operation_id="runs",
    responses={200: schema(RunList)},
)
def list_runs(path: s.ModelPath) -> Response:
    newest = run_list.newest(path.project, path.model)
    return answer(RunList([run_view(r) for r in newest], run_list.count(path.project, path.model)))


@api.get(
    "/projects/<int:project>/models/<model>/runs/page",
    operation_id="runPage",
    responses={200: schema(RunList)},
)
def page_of_runs(path: s.ModelPath, query: rs.RunFilter) -> Response:
    model = None if query.all_models else path.model
    since = query.since and query.since.astimezone(UTC).replace(tzinfo=None)
    count, page = run_list.page(
        path.project,
        model,
        query.words,
        query.scenario,
        query.state,
        since,
        query.offset,
        query.limit,
    )
    return answer(RunList([run_view(r) for r in page], count))


@api.post(
    "/projects/<int:project>/models/<model>/runs",
    operation_id="orderRun",
    responses={200: schema(RunDetail)},
)
def order(path: s.ModelPath, body: rs.RunOrder) -> Response:
    projects.project(path.project)
    run_scripts(path.project)
    return _queued(
        runs.order(path.project, path.model, body.settings(), body.scenario, body.prediction)
    )


@api.post(
    "/projects/<int:project>/models/<model>/try",
    operation_id="tryValues",
    responses={200: rs.TriedCurves},
)
def try_values(path: s.ModelPath, body: rs.TryOrder) -> Response:
    curves = preview(
        projects.snapshot(path.project), path.model, body.scenario, body.values, body.names
    )
    return answer(rs.TriedCurves(curves=curves))


@api.post("/pdf", operation_id="pdf")
def as_pdf(body: rs.Document) -> Response:
    return Response(pdf.pdf_of(body.document), mimetype="application/pdf")


@api.get("/units", operation_id="units", responses={200: rs.ShownUnits})
def units(query: rs.UnitQuery) -> Response:
    scales = [(unit, *display_scale(query.unit or "1", unit)) for unit in fitting_units(query.unit)]
    return answer(
        rs.ShownUnits(units=[rs.ShownUnit(unit=u, factor=k, offset=b) for u, k, b in scales])
    )


@api.get("/runs/<int:run>", operation_id="run", responses={200: schema(RunDetail)})
def run(path: rs.RunPath) -> Response:
    return answer(run_detail(runs.run(path.run)))


@api.post("/runs/<int:run>/stop", operation_id="stopRun", responses={200: schema(RunView)})
def stop(path: rs.RunPath) -> Response:
    return _announced(runs.stop(path.run))


@api.post("/runs/<int:run>/on", operation_id="goOn", responses={200: schema(RunDetail)})
def go_on(path: rs.RunPath, body: rs.GoOn) -> Response:
    return _queued(runs.go_on(path.run, body.stop))


@api.post(
    "/runs/<int:run>/more-exactly",
    operation_id="moreExactly",
    responses={200: schema(RunDetail)},
)
def more_exactly(path: rs.RunPath) -> Response:
    """Order the same run at a hundredth of its tolerance, to see which digits stay."""
    made = order_more_exactly(path.run)
    return answer(run_detail(made)) if made.job is not None else _queued(made)


def _queued(ordered: Run) -> Response:
    job = order_run(current_app.config["MOVREL_DATABASE"], ordered.id)
    Run.update(job=job).where(Run.id == ordered.id).execute()
    announce(
        "run",
        run=ordered.id,
        project=ordered.project_id,
        model=ordered.model,
        state=RunState.QUEUED,
    )
    return answer(run_detail(ordered))


def _announced(changed: Run, state: str = "") -> Response:
    announce(
        "run",
        run=changed.id,
        project=changed.project_id,
        model=changed.model,
        state=state or changed.state,
    )
    return answer(run_view(changed))


@api.patch("/runs/<int:run>", operation_id="describeRun", responses={200: schema(RunView)})
def describe_run(path: rs.RunPath, body: rs.RunWords) -> Response:
    return _announced(
        runs.describe(path.run, body.name, body.pinned, body.note, body.prediction_held)
    )


@api.get(
    "/runs/<int:run>/differences/<int:other>",
    operation_id="runDifferences",
    responses={200: schema(Differences)},
)
def run_differences(path: rs.TwoRunsPath) -> Response:
    return answer(runs.differences(path.run, path.other))


@api.post("/runs/<int:run>/measures", operation_id="measures", responses={200: rs.MeasureTable})
def measure(path: rs.RunPath, body: rs.MeasureQuery) -> Response:
    return answer(
        rs.MeasureTable(
            run=path.run, curves=measures(runs.run(path.run), body.names, body.low, body.high)
        )
    )


@api.delete("/runs/<int:run>", operation_id="deleteRun", responses={200: schema(RunView)})
def delete(path: rs.RunPath) -> Response:
    leaving = runs.run(path.run)
    if not RunState(leaving.state).finished:
        raise MovrelError("this run is still going on.", hint="Stop it first.")
    runs.delete(path.run)
    return _announced(leaving, "deleted")


@api.post("/runs/<int:run>/restore", operation_id="restoreRun", responses={200: schema(RunView)})
def restore(path: rs.RunPath) -> Response:
    runs.restore(path.run)
    return _announced(runs.run(path.run))


# --- what a run holds ---


@api.post("/runs/<int:run>/curves", operation_id="curves", responses={200: rs.Curves})
def curves(path: rs.RunPath, body: rs.CurveQuery) -> Response:
    if body.low is not None and body.high is not None and body.high < body.low:
        raise MovrelError("the time range ends before it begins.")
    stored = StoredRun.of(path.run)
    return answer(
        rs.Curves(
            run=path.run,
            curves=[stored.curve(n, body.width, body.low, body.high) for n in body.names],
        )
    )


@api.get("/runs/<int:run>/pair", operation_id="pair", responses={200: schema(Pair)})
def pair(path: rs.RunPath, query: rs.PairQuery) -> Response:
    return answer(StoredRun.of(path.run).pair(query.x, query.y, query.width, query.low, query.high))


@api.post("/runs/<int:run>/spectrum", operation_id="spectrum", responses={200: rs.Spectra})
def spectrum(path: rs.RunPath, body: rs.SpectrumQuery) -> Response:
    stored = StoredRun.of(path.run)
    return answer(
        rs.Spectra(
            curves=[stored.spectrum(n, body.low, body.high, body.window) for n in body.names]
        )
    )


@api.post("/runs/<int:run>/values", operation_id="values", responses={200: rs.Values})
def values(path: rs.RunPath, body: rs.ValueQuery) -> Response:
    return answer(
        rs.Values(
            run=path.run, time=body.at, values=StoredRun.of(path.run).values_at(body.names, body.at)
        )
    )


@api.get(
    "/runs/<int:run>/equations", operation_id="runEquations", responses={200: schema(EquationList)}
)
def equations_of_run(path: rs.RunPath) -> Response:
    return answer(run_equations(path.run))


@api.get("/runs/<int:run>/terms", operation_id="runTerms", responses={200: schema(TermValues)})
def terms_of_run(path: rs.RunPath, query: rs.InstantQuery) -> Response:
    return answer(values_of_terms(path.run, query.at))


@api.get("/runs/<int:run>/export", operation_id="exportRun")
def export(path: rs.RunPath, query: rs.ExportQuery) -> Response:
    chosen = runs.run(path.run)
    if query.kind not in run_files.KINDS:
        raise MovrelError(
            f"there is no file kind '{query.kind}'.", hint=f"Take {', '.join(run_files.KINDS)}."
        )
    table = StoredRun(chosen).table(query.names.split(), query.interval, query.low, query.high)
    name = f"{chosen.model.rpartition('.')[2]} run {chosen.number}.{query.kind}"
    return download(run_files.as_file(table, query.kind, name), name, run_files.KINDS[query.kind])


@api.get("/runs/<int:run>/table.csv", operation_id="runTable")
def table(path: rs.RunPath) -> Response:
    """Every stored instant with every variable in its declared unit, a piece at a time."""
    chosen = runs.run(path.run)
    columns, rows = StoredRun(chosen).all_rows()
    heads = [head("time", "s"), *(head(c.name, c.unit) for c in columns)]
    name = f"{chosen.model.rpartition('.')[2]} run {chosen.number}.csv"
    return download(delimited_blocks(heads, rows), name, "text/csv; charset=utf-8")

"""The addresses of the application."""

from __future__ import annotations

import csv
import io
import platform
from collections.abc import Iterator
from datetime import UTC
from importlib import metadata
from urllib.parse import quote

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

import movrel
from movrel.errors import MovrelError
from movrel.jobs.announce import announce
from movrel.jobs.queue import order_run
from movrel.web import edit_routes, model_routes, sweep_routes
from movrel.web import run_schema as rs
from movrel.web import schema as s
from movrel.web.app import answer
from movrel.workspace import exporting, ledger, paper, projects, results, run_curves, run_list, runs, shelf, trying, views
from movrel.workspace.display_units import fitting_units
from movrel.workspace.tables import Run

api = APIBlueprint("api", __name__, url_prefix="/api", abp_responses={"422": s.Fault, "404": s.Fault})
blueprints = [api, edit_routes.api, model_routes.api, sweep_routes.api]


@api.get("/health", operation_id="health", responses={200: s.Health})
def health() -> Response:
    return answer(s.Health, {"version": movrel.__version__})


@api.get("/events", operation_id="events")
def events() -> Response:
    stream = current_app.extensions["switchboard"].stream()
    return Response(stream, content_type="text/event-stream", headers={"Cache-Control": "no-cache", "X-Accel-Buffering": "no"})


# --- projects ---


@api.get("/projects", operation_id="projects", responses={200: s.ProjectList})
def list_projects() -> Response:
    return answer(s.ProjectList, {"projects": [views.project_view(p) for p in projects.projects()]})


@api.post("/projects", operation_id="createProject", responses={200: s.ProjectView})
def create_project(body: s.NewProject) -> Response:
    return answer(s.ProjectView, views.project_view(projects.create_project(body.name)))


@api.post("/projects/<int:project>/files", operation_id="addFile", responses={200: s.ProjectView})
def add_file(path: s.ProjectPath, body: s.NewFile) -> Response:
    found = projects.project(path.project)
    projects.add_file(path.project, body.path, body.text, f"added {body.path}")
    announce("project", project=path.project)
    return answer(s.ProjectView, views.project_view(found))


# --- models ---


@api.get("/projects/<int:project>/models/<model>", operation_id="model", responses={200: s.ModelView})
def model(path: s.ModelPath, query: s.KnownQuery) -> Response:
    projects.project(path.project)
    return answer(s.ModelView, views.model_view(views.newest(path.project, path.model), known=query.known))


@api.get("/projects/<int:project>/models/<model>/text", operation_id="text", responses={200: s.TextView})
def text(path: s.ModelPath) -> Response:
    taken, definition = projects.current(path.project, path.model)
    file, revision, source = projects.file_of(taken, definition)
    first, last = source.place(definition.node.start).line, source.place(definition.node.end).line
    view = {"file": file.path, "revision": revision, "text": source.text, "first_line": first, "last_line": last}
    return answer(s.TextView, view)


@api.get("/projects/<int:project>/models/<model>/download", operation_id="download")
def download(path: s.ModelPath) -> Response:
    taken = projects.snapshot(path.project)
    file, _, source = projects.file_of(taken, projects.definition_of(taken, path.model))
    name = file.path.rpartition("/")[2]
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(source.text, content_type="text/plain; charset=utf-8", headers=headers)


@api.get("/projects/<int:project>/shelf", operation_id="shelf", responses={200: s.Shelf})
def get_shelf(path: s.ProjectPath, query: s.ShelfQuery) -> Response:
    projects.project(path.project)
    return answer(s.Shelf, {"entries": shelf.shelf(path.project, query.model)})


# --- runs ---


@api.get("/projects/<int:project>/models/<model>/runs", operation_id="runs", responses={200: rs.RunList})
def list_runs(path: s.ModelPath) -> Response:
    found = run_list.newest(path.project, path.model)
    return answer(rs.RunList, {"runs": [views.run_view(r) for r in found], "count": run_list.count(path.project, path.model)})


@api.get("/projects/<int:project>/models/<model>/runs/page", operation_id="runPage", responses={200: rs.RunList})
def page_of_runs(path: s.ModelPath, query: rs.RunFilter) -> Response:
    model = None if query.all_models else path.model
    since = query.since and query.since.astimezone(UTC).replace(tzinfo=None)
    count, found = run_list.page(path.project, model, query.words, query.scenario, query.state, since, query.offset, query.limit)
    return answer(rs.RunList, {"runs": [views.run_view(r) for r in found], "count": count})


@api.post("/projects/<int:project>/models/<model>/runs", operation_id="orderRun", responses={200: rs.RunDetail})
def order(path: s.ModelPath, body: rs.RunOrder) -> Response:
    projects.project(path.project)
    options = body.model_dump(exclude_none=True, exclude={"scenario", "prediction"})
    ordered = runs.order(path.project, path.model, options, body.scenario, body.prediction)
    return _queued(ordered)


@api.post("/projects/<int:project>/models/<model>/try", operation_id="tryValues", responses={200: rs.TriedCurves})
def try_values(path: s.ModelPath, body: rs.TryOrder) -> Response:
    return answer(rs.TriedCurves, {"curves": trying.curves(path.project, path.model, body.scenario, body.values, body.names)})


@api.post("/pdf", operation_id="pdf")
def pdf(body: rs.Document) -> Response:
    return Response(paper.pdf_of(body.document), mimetype="application/pdf")


@api.get("/units", operation_id="units", responses={200: rs.ShownUnits})
def units(query: rs.UnitQuery) -> Response:
    found = [(unit, *ledger.scale(query.unit or "1", unit)) for unit in fitting_units(query.unit)]
    return answer(rs.ShownUnits, {"units": [{"unit": u, "factor": k, "offset": b} for u, k, b in found]})


@api.get("/versions", operation_id="versions", responses={200: rs.Versions})
def versions() -> Response:
    packages = ("movrel", "casadi", "scikit-sundae", "numpy", "scipy")
    found = {name: metadata.version(name) for name in packages}
    return answer(rs.Versions, {"versions": found | {"python": platform.python_version()}})


@api.get("/runs/<int:run>", operation_id="run", responses={200: rs.RunDetail})
def run(path: rs.RunPath) -> Response:
    return answer(rs.RunDetail, views.run_detail(runs.run(path.run)))


@api.post("/runs/<int:run>/stop", operation_id="stopRun", responses={200: rs.RunView})
def stop(path: rs.RunPath) -> Response:
    found = runs.stop(path.run)
    announce("run", run=found.id, project=found.project_id, model=found.model, state=found.state)
    return answer(rs.RunView, views.run_view(found))


@api.post("/runs/<int:run>/on", operation_id="goOn", responses={200: rs.RunDetail})
def go_on(path: rs.RunPath, body: rs.GoOn) -> Response:
    return _queued(runs.go_on(path.run, body.stop))


def _queued(ordered: Run) -> Response:
    job = order_run(current_app.config["MOVREL_DATABASE"], ordered.id)
    Run.update(job=job).where(Run.id == ordered.id).execute()
    announce("run", run=ordered.id, project=ordered.project_id, model=ordered.model, state="queued")
    return answer(rs.RunDetail, views.run_detail(ordered))


@api.patch("/runs/<int:run>", operation_id="describeRun", responses={200: rs.RunView})
def describe_run(path: rs.RunPath, body: rs.RunWords) -> Response:
    found = runs.describe(path.run, body.name, body.pinned, body.note, body.prediction_held)
    announce("run", run=found.id, project=found.project_id, model=found.model, state=found.state)
    return answer(rs.RunView, views.run_view(found))


@api.get("/runs/<int:run>/differences/<int:other>", operation_id="runDifferences", responses={200: rs.Differences})
def run_differences(path: rs.TwoRunsPath) -> Response:
    return answer(rs.Differences, runs.differences(path.run, path.other))


@api.get("/runs/<int:run>/measures", operation_id="measures", responses={200: rs.MeasureTable})
def measures(path: rs.RunPath, query: rs.MeasureQuery) -> Response:
    found = runs.run(path.run)
    table = run_curves.measure_table(found, query.names.split(), query.low, query.high)
    return answer(rs.MeasureTable, {"run": path.run, "curves": table})


@api.delete("/runs/<int:run>", operation_id="deleteRun", responses={200: rs.RunView})
def delete(path: rs.RunPath) -> Response:
    found = runs.run(path.run)
    if found.state not in runs.FINISHED:
        raise MovrelError("this run is still going on.", hint="Stop it first.")
    runs.delete(path.run)
    announce("run", run=found.id, project=found.project_id, model=found.model, state="deleted")
    return answer(rs.RunView, views.run_view(found))


@api.post("/runs/<int:run>/restore", operation_id="restoreRun", responses={200: rs.RunView})
def restore(path: rs.RunPath) -> Response:
    runs.restore(path.run)
    found = runs.run(path.run)
    announce("run", run=found.id, project=found.project_id, model=found.model, state=found.state)
    return answer(rs.RunView, views.run_view(found))


@api.get("/runs/<int:run>/curves", operation_id="curves", responses={200: rs.Curves})
def curves(path: rs.RunPath, query: rs.CurveQuery) -> Response:
    names = query.names.split()
    if query.low is not None and query.high is not None and query.high < query.low:
        raise MovrelError("the time range ends before it begins.")
    return answer(rs.Curves, {"run": path.run, "curves": runs.series(path.run, names, query.width, query.low, query.high)})


@api.get("/runs/<int:run>/pair", operation_id="pair", responses={200: rs.Pair})
def pair(path: rs.RunPath, query: rs.PairQuery) -> Response:
    return answer(rs.Pair, runs.pair(path.run, query.x, query.y, query.width, query.low, query.high))


@api.get("/runs/<int:run>/spectrum", operation_id="spectrum", responses={200: rs.Spectra})
def spectrum(path: rs.RunPath, query: rs.SpectrumQuery) -> Response:
    return answer(rs.Spectra, {"curves": runs.spectra(path.run, query.names.split(), query.low, query.high, query.window)})


@api.get("/runs/<int:run>/values", operation_id="values", responses={200: rs.Values})
def values(path: rs.RunPath, query: rs.ValueQuery) -> Response:
    names = [entry["name"] for entry in runs.run(path.run).catalogue]
    return answer(rs.Values, {"run": path.run, "time": query.at, "values": runs.values_at(path.run, names, query.at)})


@api.get("/runs/<int:run>/export", operation_id="exportRun")
def export(path: rs.RunPath, query: rs.ExportQuery) -> Response:
    found = runs.run(path.run)
    if query.kind not in exporting.KINDS:
        raise MovrelError(f"there is no file kind '{query.kind}'.", hint=f"Take {', '.join(exporting.KINDS)}.")
    columns = exporting.columns(found, query.names.split(), query.interval, query.low, query.high)
    short = found.model.rpartition(".")[2]
    name = f"{short} run {found.number}.{query.kind}"
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(exporting.as_file(columns, query.kind, name), content_type=exporting.KINDS[query.kind], headers=headers)


@api.get("/runs/<int:run>/table.csv", operation_id="runTable")
def table(path: rs.RunPath) -> Response:
    found = runs.run(path.run)
    name = f"{found.model.rpartition('.')[2]} run {found.number}.csv"
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(_csv_rows(found), content_type="text/csv; charset=utf-8", headers=headers)


def _csv_rows(found: Run) -> Iterator[str]:
    """Every stored instant with every variable in its declared unit, a piece at a time."""
    entries = found.catalogue
    numbers = sorted({e["column"] for e in entries if e["column"] is not None})
    data = results.read_columns(found.id, [results.TIME, *numbers])
    time = data[results.TIME]
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\n")
    writer.writerow(["time", *(e["name"] for e in entries)])
    for first in range(0, max(len(time), 1), 1000):
        block = slice(first, first + 1000)
        columns = [time[block].tolist()]
        for e in entries:
            if e["column"] is None:
                columns.append([e["constant"]] * len(columns[0]))
            else:
                columns.append((data[e["column"]][block] * e["sign"]).tolist())
        writer.writerows([repr(v) for v in row] for row in zip(*columns, strict=True))
        yield buffer.getvalue()
        buffer.seek(0)
        buffer.truncate()

"""Addresses for looking into models and for models and projects as a whole."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from urllib.parse import quote

from flask import Response, request
from flask_openapi3 import APIBlueprint

from movrel.equations.listing import listing
from movrel.errors import MovrelError
from movrel.jobs.announce import announce
from movrel.language.indenting import indent
from movrel.language.python_code import Code
from movrel.model import annotation as note
from movrel.web import model_schema as m
from movrel.web import schema as s
from movrel.web.app import answer
from movrel.workspace import figures, history, inspection, models, projects, reference, searching, structure_edits, views
from movrel.workspace.faults import NotFound

api = APIBlueprint("models", __name__, url_prefix="/api", abp_responses={"422": s.Fault, "404": s.Fault})
EXAMPLES = Path(__file__).resolve().parents[2] / "examples"
_MODEL = "/projects/<int:project>/models/<model>"


# --- looking into a model ---


@api.post(f"{_MODEL}/clipboard", operation_id="copyParts", responses={200: m.TextOnly})
def copy_parts(path: s.ModelPath, body: m.PartNames) -> Response:
    return answer(m.TextOnly, {"text": structure_edits.copied(path.project, path.model, body.parts)})


@api.post(f"{_MODEL}/check", operation_id="checkText", responses={200: m.Findings})
def check_text(path: s.ModelPath, body: m.TextOnly) -> Response:
    taken = projects.snapshot(path.project)
    file = projects.definition_of(taken, path.model).source.file
    return answer(m.Findings, {"findings": inspection.check_text(taken, path.model, file, body.text)})


@api.post("/indent", operation_id="indentText", responses={200: m.TextOnly})
def indent_text(body: m.TextOnly) -> Response:
    return answer(m.TextOnly, {"text": indent(body.text)})


@api.post(f"{_MODEL}/component", operation_id="checkComponent", responses={200: m.ComponentCheck})
def check_component(path: s.ModelPath, body: m.ComponentText) -> Response:
    taken = projects.snapshot(path.project)
    return answer(m.ComponentCheck, inspection.check_component(taken, path.model, body.text, body.replaces))


@api.post("/code", operation_id="translateCode", responses={200: m.TextOnly})
def translate_code(body: m.CodeComponent) -> Response:
    code = Code(body.name, body.source, body.inputs, body.outputs, body.memory, body.period, body.description)
    return answer(m.TextOnly, {"text": structure_edits.code_text(code)})


@api.get(f"{_MODEL}/class", operation_id="classText", responses={200: m.ClassText})
def class_text(path: s.ModelPath, query: m.ClassQuery) -> Response:
    text = structure_edits.class_text(path.project, query.name, path.model)
    return answer(m.ClassText, {"text": text, "code": structure_edits.code_of(path.project, path.model, query.name)})


@api.post(f"{_MODEL}/swap", operation_id="planSwap", responses={200: m.SwapPlan})
def plan_swap(path: s.ModelPath, body: m.SwapQuery) -> Response:
    return answer(m.SwapPlan, structure_edits.plan_swap(path.project, path.model, body.part, body.class_name))


@api.get(f"{_MODEL}/figures", operation_id="figures", responses={200: m.FigureTable})
def get_figures(path: s.ModelPath) -> Response:
    taken = projects.snapshot(path.project)
    rows = figures.figures(projects.class_tree(taken), projects.definition_of(taken, path.model))
    return answer(m.FigureTable, {"figures": [asdict(row) for row in rows]})


@api.get(f"{_MODEL}/figures.csv", operation_id="figuresTable")
def figures_table(path: s.ModelPath) -> Response:
    taken = projects.snapshot(path.project)
    rows = figures.figures(projects.class_tree(taken), projects.definition_of(taken, path.model))
    return _download(figures.as_csv(rows), f"{path.model.rpartition('.')[2]} figures.csv", "text/csv; charset=utf-8")


@api.get(f"{_MODEL}/equations", operation_id="equations", responses={200: m.EquationList})
def equations(path: s.ModelPath) -> Response:
    taken = projects.snapshot(path.project)
    return answer(m.EquationList, listing(projects.loaded_model(taken, path.model).system))


@api.get(f"{_MODEL}/hierarchy", operation_id="hierarchy", responses={200: m.Hierarchy})
def hierarchy(path: s.ModelPath) -> Response:
    return answer(m.Hierarchy, structure_edits.hierarchy(path.project, path.model))


@api.get(f"{_MODEL}/documentation", operation_id="documentation", responses={200: m.DocumentationView})
def documentation(path: s.ModelPath) -> Response:
    definition = projects.definition_of(projects.snapshot(path.project), path.model)
    info = note.members(note.find(definition.node.annotation, "Documentation")).get("info")
    return answer(m.DocumentationView, {"description": definition.node.comment, "info": info if isinstance(info, str) else ""})


@api.get("/projects/<int:project>/parts/<part>", operation_id="part", responses={200: m.PartPage})
def part(path: m.PartPath) -> Response:
    projects.project(path.project)
    return answer(m.PartPage, reference.part_page(path.project, path.part))


@api.post("/projects/<int:project>/parts/<part>/open", operation_id="openExample", responses={200: m.ModelAddress})
def open_example(path: m.PartPath) -> Response:
    name = reference.open_example(path.project, path.part)
    announce("project", project=path.project)
    return answer(m.ModelAddress, {"project": path.project, "model": name})


# --- history ---


@api.get(f"{_MODEL}/revisions", operation_id="revisions", responses={200: m.RevisionList})
def revisions(path: s.ModelPath, query: m.RevisionsBefore) -> Response:
    return answer(m.RevisionList, history.revisions(_file(path), query.before))


@api.post(f"{_MODEL}/revisions/name", operation_id="nameRevision", responses={200: m.RevisionList})
def name_revision(path: s.ModelPath, body: m.RevisionName) -> Response:
    file = _file(path)
    history.name_revision(file, body.id, body.name)
    return answer(m.RevisionList, history.revisions(file))


@api.get(f"{_MODEL}/revisions/compare", operation_id="compareRevisions", responses={200: m.Comparison})
def compare_revisions(path: s.ModelPath, query: m.TwoRevisions) -> Response:
    return answer(m.Comparison, history.compare(path.project, path.model, _file(path), query.a, query.b))


def _file(path: s.ModelPath) -> int:
    taken = projects.snapshot(path.project)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, path.model))
    return int(file.id)


# --- models as a whole ---


@api.post(f"{_MODEL}/copy", operation_id="copyModel", responses={200: m.ModelAddress})
def copy_model(path: s.ModelPath, body: m.CopyOrder) -> Response:
    name = models.copy_model(path.project, path.model, body.name, body.project)
    goal = path.project if body.project is None else body.project
    announce("project", project=goal)
    return answer(m.ModelAddress, {"project": goal, "model": name})


@api.post(f"{_MODEL}/move", operation_id="moveModel", responses={200: m.ModelAddress})
def move_model(path: s.ModelPath, body: m.MoveOrder) -> Response:
    name = models.move_model(path.project, path.model, body.project)
    announce("project", project=path.project)
    return answer(m.ModelAddress, {"project": body.project, "model": name})


@api.post(f"{_MODEL}/delete", operation_id="deleteModel", responses={200: m.DeletedFile})
def delete_model(path: s.ModelPath) -> Response:
    file = models.delete_model(path.project, path.model)
    announce("project", project=path.project)
    return answer(m.DeletedFile, {"file": file})


@api.post("/files/<int:file>/restore", operation_id="restoreFile", responses={200: m.DeletedFile})
def restore_file(path: m.FilePath) -> Response:
    found = models.restore_file(path.file)
    announce("project", project=found.project_id)
    return answer(m.DeletedFile, {"file": found.id})


# --- projects as a whole ---


@api.post("/projects/<int:project>/name", operation_id="renameProject", responses={200: s.ProjectView})
def rename_project(path: s.ProjectPath, body: m.ProjectName) -> Response:
    found = models.rename_project(path.project, body.name)
    announce("project", project=path.project)
    return answer(s.ProjectView, views.project_view(found))


@api.delete("/projects/<int:project>", operation_id="deleteProject", responses={200: m.MoveOrder})
def delete_project(path: s.ProjectPath) -> Response:
    models.delete_project(path.project)
    announce("project", project=path.project)
    return answer(m.MoveOrder, {"project": path.project})


@api.post("/projects/<int:project>/restore", operation_id="restoreProject", responses={200: s.ProjectView})
def restore_project(path: s.ProjectPath) -> Response:
    found = models.restore_project(path.project)
    announce("project", project=path.project)
    return answer(s.ProjectView, views.project_view(found))


@api.get("/projects/<int:project>/archive", operation_id="projectArchive")
def project_archive(path: s.ProjectPath) -> Response:
    name = projects.project(path.project).name
    return _download(models.archive(path.project), f"{name}.zip", "application/zip")


@api.post("/archives/<name>", operation_id="importArchive", responses={200: s.ProjectView})
def import_archive(path: m.ProjectName) -> Response:
    """A new project of the ZIP archive in the body of the request."""
    if (request.content_length or 0) > models.ARCHIVE_LIMIT:
        raise MovrelError("the archive is too large.")
    made = models.read_archive(path.name, request.get_data())
    announce("project", project=made.id)
    return answer(s.ProjectView, views.project_view(made))


@api.get("/examples", operation_id="examples", responses={200: m.ExampleList})
def examples() -> Response:
    found = []
    for package in sorted(EXAMPLES.glob("*/package.mo")):
        name = package.parent.name
        words = package.read_text(encoding="utf-8").partition('"')[2].partition('"')[0]
        found.append({"name": name, "title": name, "description": words})
    return answer(m.ExampleList, {"examples": found})


@api.post("/examples", operation_id="fromExample", responses={200: s.ProjectView})
def from_example(body: m.FromExample) -> Response:
    folder = EXAMPLES / Path(body.example).name
    if not (folder / "package.mo").is_file():
        raise NotFound(f"there is no example '{body.example}'.")
    made = models.from_example(folder, body.name)
    announce("project", project=made.id)
    return answer(s.ProjectView, views.project_view(made))


@api.get("/projects/<int:project>/search", operation_id="search", responses={200: m.SearchResult})
def search(path: s.ProjectPath, query: m.SearchQuery) -> Response:
    projects.project(path.project)
    return answer(m.SearchResult, {"found": searching.search(path.project, query.words)})


def _download(data: str | bytes, name: str, kind: str) -> Response:
    return Response(data, content_type=kind, headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"})

"""Addresses for looking into models and for models and projects as a whole."""

from __future__ import annotations

from pathlib import Path

from flask import Response, request
from flask_openapi3 import APIBlueprint

from movrel.delimited import delimited
from movrel.edits import components
from movrel.edits.clipboard import copied
from movrel.edits.swapping import SwapPlan, plan_swap
from movrel.edits.target import Target, target_of
from movrel.equations.listing import EquationList, listing
from movrel.errors import MovrelError, NotFound
from movrel.language.indenting import indent
from movrel.language.parse_cache import parse_cached
from movrel.project.snapshot import definition_of, loaded_model
from movrel.views.comparison import Comparison
from movrel.views.fault_view import Fault
from movrel.views.figures import (
    FigureTable,
    PastedFigures,
    ScriptOutcome,
    figure_table,
    pasted_figures,
    script_outcome,
)
from movrel.views.hierarchy import Hierarchy, hierarchy
from movrel.views.inspection import ComponentCheck, Findings, check_component, check_text
from movrel.views.reference import DocumentationView, PartPage, info_of, part_page
from movrel.views.text_search import SearchResult, search
from movrel.web import model_schema as m
from movrel.web import schema as s
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import history, models, projects
from movrel.workspace.announce import announce
from movrel.workspace.history import RevisionList
from movrel.workspace.project_list import ProjectView, project_view

api = APIBlueprint(
    "models",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)
EXAMPLES = Path(__file__).resolve().parents[2] / "examples"
_MODEL = "/projects/<int:project>/models/<model>"


def _target(path: s.ModelPath) -> Target:
    return target_of(projects.snapshot(path.project), path.model)


# --- looking into a model ---


@api.post(f"{_MODEL}/clipboard", operation_id="copyParts", responses={200: m.TextOnly})
def copy_parts(path: s.ModelPath, body: m.PartNames) -> Response:
    return answer(m.TextOnly(text=copied(_target(path), body.parts)))


@api.post(f"{_MODEL}/check", operation_id="checkText", responses={200: schema(Findings)})
def check(path: s.ModelPath, body: m.TextOnly) -> Response:
    texts = projects.snapshot(path.project)
    file = definition_of(texts, path.model).source.file
    return answer(check_text(texts, path.model, file, body.text))


@api.post("/indent", operation_id="indentText", responses={200: m.TextOnly})
def indent_text(body: m.TextOnly) -> Response:
    return answer(m.TextOnly(text=indent(body.text)))


@api.post(
    f"{_MODEL}/component", operation_id="checkComponent", responses={200: schema(ComponentCheck)}
)
def check_new_component(path: s.ModelPath, body: m.ComponentText) -> Response:
    return answer(
        check_component(projects.snapshot(path.project), path.model, body.text, body.replaces)
    )


@api.post("/code", operation_id="translateCode", responses={200: m.TextOnly})
def translate_code(body: m.CodeComponent) -> Response:
    return answer(m.TextOnly(text=components.code_text(body.code())))


@api.get(f"{_MODEL}/class", operation_id="classText", responses={200: m.ClassText})
def class_text(path: s.ModelPath, query: m.ClassQuery) -> Response:
    target = _target(path)
    text = components.class_text(target, query.name)
    return answer(m.ClassText(text=text, code=components.code_of(target, query.name)))


@api.post(f"{_MODEL}/swap", operation_id="planSwap", responses={200: schema(SwapPlan)})
def swap_plan(path: s.ModelPath, body: m.SwapQuery) -> Response:
    return answer(plan_swap(_target(path), body.part, body.class_name))


@api.get(f"{_MODEL}/figures", operation_id="figures", responses={200: schema(FigureTable)})
def get_figures(path: s.ModelPath) -> Response:
    return answer(figure_table(projects.snapshot(path.project), path.model))


@api.post(
    f"{_MODEL}/figures/read", operation_id="readFigures", responses={200: schema(PastedFigures)}
)
def read_figures(path: s.ModelPath, body: m.TextOnly) -> Response:
    return answer(pasted_figures(projects.snapshot(path.project), path.model, body.text))


@api.post(f"{_MODEL}/script", operation_id="tryScript", responses={200: schema(ScriptOutcome)})
def try_script(path: s.ModelPath, body: m.TextOnly) -> Response:
    return answer(script_outcome(projects.snapshot(path.project), path.model, body.text))


@api.get(f"{_MODEL}/figures.csv", operation_id="figuresTable")
def figures_table(path: s.ModelPath) -> Response:
    table = figure_table(projects.snapshot(path.project), path.model)
    rows = ([r.name, r.expression, r.unit, r.note, r.value] for r in table.figures)
    text = delimited(["name", "expression", "unit", "note", "value"], rows)
    return download(text, f"{path.model.rpartition('.')[2]} values.csv", "text/csv; charset=utf-8")


@api.get(f"{_MODEL}/equations", operation_id="equations", responses={200: schema(EquationList)})
def equations(path: s.ModelPath) -> Response:
    return answer(listing(loaded_model(projects.snapshot(path.project), path.model).system))


@api.get(f"{_MODEL}/hierarchy", operation_id="hierarchy", responses={200: schema(Hierarchy)})
def get_hierarchy(path: s.ModelPath) -> Response:
    return answer(hierarchy(projects.snapshot(path.project), path.model))


@api.get(
    f"{_MODEL}/documentation",
    operation_id="documentation",
    responses={200: schema(DocumentationView)},
)
def documentation(path: s.ModelPath) -> Response:
    definition = definition_of(projects.snapshot(path.project), path.model)
    return answer(DocumentationView(definition.node.comment, info_of(definition)))


@api.get(
    "/projects/<int:project>/parts/<part>", operation_id="part", responses={200: schema(PartPage)}
)
def part(path: m.PartPath) -> Response:
    projects.project(path.project)
    return answer(part_page(projects.snapshot(path.project), path.part))


@api.post(
    "/projects/<int:project>/parts/<part>/open",
    operation_id="openExample",
    responses={200: m.ModelAddress},
)
def open_example(path: m.PartPath) -> Response:
    name = models.open_example(path.project, path.part)
    announce("project", project=path.project)
    return answer(m.ModelAddress(project=path.project, model=name))


# --- history ---


@api.get(f"{_MODEL}/revisions", operation_id="revisions", responses={200: schema(RevisionList)})
def revisions(path: s.ModelPath, query: m.RevisionsBefore) -> Response:
    return answer(history.revisions(_file(path), query.before))


@api.post(
    f"{_MODEL}/revisions/name", operation_id="nameRevision", responses={200: schema(RevisionList)}
)
def name_revision(path: s.ModelPath, body: m.RevisionName) -> Response:
    file = _file(path)
    history.name_revision(file, body.id, body.name)
    return answer(history.revisions(file))


@api.get(
    f"{_MODEL}/revisions/compare",
    operation_id="compareRevisions",
    responses={200: schema(Comparison)},
)
def compare_revisions(path: s.ModelPath, query: m.TwoRevisions) -> Response:
    return answer(
        history.compare_revisions(path.project, path.model, _file(path), query.a, query.b)
    )


def _file(path: s.ModelPath) -> int:
    texts, definition = projects.current(path.project, path.model)
    return int(projects.file_of(texts, definition).id)


# --- models as a whole ---


@api.post(f"{_MODEL}/copy", operation_id="copyModel", responses={200: m.ModelAddress})
def copy_model(path: s.ModelPath, body: m.CopyOrder) -> Response:
    name = models.copy_model(path.project, path.model, body.name, body.project)
    goal = path.project if body.project is None else body.project
    announce("project", project=goal)
    return answer(m.ModelAddress(project=goal, model=name))


@api.post(f"{_MODEL}/move", operation_id="moveModel", responses={200: m.ModelAddress})
def move_model(path: s.ModelPath, body: m.MoveOrder) -> Response:
    name = models.move_model(path.project, path.model, body.project)
    announce("project", project=path.project)
    return answer(m.ModelAddress(project=body.project, model=name))


@api.post(f"{_MODEL}/delete", operation_id="deleteModel", responses={200: m.DeletedFile})
def delete_model(path: s.ModelPath) -> Response:
    file = models.delete_model(path.project, path.model)
    announce("project", project=path.project)
    return answer(m.DeletedFile(file=file))


@api.post("/files/<int:file>/restore", operation_id="restoreFile", responses={200: m.DeletedFile})
def restore_file(path: m.FilePath) -> Response:
    file = models.restore_file(path.file)
    announce("project", project=file.project_id)
    return answer(m.DeletedFile(file=file.id))


# --- projects as a whole ---


@api.post(
    "/projects/<int:project>/name",
    operation_id="renameProject",
    responses={200: schema(ProjectView)},
)
def rename_project(path: s.ProjectPath, body: m.ProjectName) -> Response:
    project = models.rename_project(path.project, body.name)
    announce("project", project=path.project)
    return answer(project_view(project))


@api.delete("/projects/<int:project>", operation_id="deleteProject", responses={200: m.MoveOrder})
def delete_project(path: s.ProjectPath) -> Response:
    models.delete_project(path.project)
    announce("project", project=path.project)
    return answer(m.MoveOrder(project=path.project))


@api.post(
    "/projects/<int:project>/restore",
    operation_id="restoreProject",
    responses={200: schema(ProjectView)},
)
def restore_project(path: s.ProjectPath) -> Response:
    project = models.restore_project(path.project)
    announce("project", project=path.project)
    return answer(project_view(project))


@api.get("/projects/<int:project>/archive", operation_id="projectArchive")
def project_archive(path: s.ProjectPath) -> Response:
    name = projects.project(path.project).name
    return download(models.archive(path.project), f"{name}.zip", "application/zip")


@api.post("/archives/<name>", operation_id="importArchive", responses={200: schema(ProjectView)})
def import_archive(path: m.ProjectName) -> Response:
    """A new project of the ZIP archive in the body of the request."""
    request.max_content_length = models.ARCHIVE_LIMIT
    if (request.content_length or 0) > models.ARCHIVE_LIMIT:
        raise MovrelError("the archive is too large.")
    made = models.read_archive(path.name, request.get_data())
    announce("project", project=made.id)
    return answer(project_view(made))


@api.get("/examples", operation_id="examples", responses={200: m.ExampleList})
def examples() -> Response:
    listed = []
    for package in sorted(EXAMPLES.glob("*/package.mo")):
        name = package.parent.name
        source = parse_cached(package.read_text(encoding="utf-8"), f"{name}/package.mo")
        listed.append(m.Example(name=name, title=name, description=source.tree.classes[0].comment))
    return answer(m.ExampleList(examples=listed))


@api.post("/examples", operation_id="fromExample", responses={200: schema(ProjectView)})
def from_example(body: m.FromExample) -> Response:
    folder = EXAMPLES / Path(body.example).name
    if not (folder / "package.mo").is_file():
        raise NotFound(f"there is no example '{body.example}'.")
    made = models.from_example(folder, body.name)
    announce("project", project=made.id)
    return answer(project_view(made))


@api.get(
    "/projects/<int:project>/search", operation_id="search", responses={200: schema(SearchResult)}
)
def search_texts(path: s.ProjectPath, query: m.SearchQuery) -> Response:
    projects.project(path.project)
    return answer(search(projects.snapshot(path.project), query.words))

"""A model in its newest state: what its text says, and where it stands in its history."""

from __future__ import annotations

import logging
from dataclasses import dataclass, field, fields

from movrel.errors import MovrelError
from movrel.model.classes import ClassTree, Definition
from movrel.project.computed_mark import computed_mark, mark_with
from movrel.project.snapshot import Snapshot, class_tree, definition_of, models
from movrel.project.vendor_annotation import BASE, Scenario, scenarios_of
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Sheet
from movrel.sheet.symbols import icon
from movrel.views.fault_view import Fault, fault_view
from movrel.views.model_view import ModelContent, model_content
from movrel.views.run_data import RunView
from movrel.workspace import folders, projects, run_list
from movrel.workspace.editing import newest_child
from movrel.workspace.run_views import run_view
from movrel.workspace.tables import Project, Revision


@dataclass(frozen=True, slots=True)
class ModelView(ModelContent):
    """A model in its newest state; ``inserted`` names the parts that the edit just made."""

    project: int = field(kw_only=True)
    project_name: str = field(kw_only=True)
    model: str = field(kw_only=True)
    file: str = field(kw_only=True)
    revision: int = field(kw_only=True)
    summary: str = field(kw_only=True)
    can_undo: bool = field(kw_only=True)
    can_redo: bool = field(kw_only=True)
    inserted: list[str] = field(default_factory=list, kw_only=True)
    #: By scenario: what a run of it would compute now, see the ``mark`` of a run.
    marks: dict[str, str] = field(kw_only=True)


def model_view(
    project: int,
    model: str,
    quick: bool = False,
    known: str = "",
    inserted: list[str] | None = None,
) -> ModelView:
    """The newest state of a model; see :func:`model_content`. Raises :class:`movrel.errors.NotFound`."""
    texts = projects.snapshot(project)
    path = definition_of(texts, model).source.file
    content = model_content(texts, model, quick, known)
    head = Revision.get_by_id(texts.revisions[path])
    return ModelView(
        **{f.name: getattr(content, f.name) for f in fields(ModelContent)},
        project=project,
        project_name=projects.project(project).name,
        model=model,
        file=path,
        revision=head.id,
        summary=head.summary,
        can_undo=head.parent_id is not None,
        can_redo=newest_child(head) is not None,
        inserted=inserted or [],
        marks=_marks(texts, model),
    )


def _marks(texts: Snapshot, model: str) -> dict[str, str]:
    mark = computed_mark(texts, model)
    scenarios = [Scenario(BASE, 0), *scenarios_of(definition_of(texts, model))]
    return {s.name: mark_with(mark, s.changes, dict(s.settings)) for s in scenarios}


@dataclass(frozen=True, slots=True)
class TextView:
    """The text of the file that holds a model, and the lines of the model in it."""

    file: str
    revision: int
    text: str
    first_line: int
    last_line: int


def text_view(texts: Snapshot, model: str) -> TextView:
    definition = definition_of(texts, model)
    source = definition.source
    first, last = source.place(definition.node.start).line, source.place(definition.node.end).line
    return TextView(source.file, texts.revisions[source.file], source.text, first, last)


@dataclass(frozen=True, slots=True)
class ModelSummary:
    """A model with its last run; its drawing is asked for when it is to be seen."""

    model: str
    name: str
    description: str
    file: str
    #: Of its file: another one where its drawing may be another.
    revision: int
    #: Whether it has ports: it is a part of others rather than a plant to be run alone.
    part: bool
    last_run: RunView | None
    #: Why it cannot be shown.
    problem: Fault | None


@dataclass(frozen=True, slots=True)
class ModelDrawing:
    """The sheet of a model, for a small picture."""

    sheet: Sheet


def model_drawing(texts: Snapshot, model: str) -> ModelDrawing:
    """Raises :class:`MovrelError` where the model cannot be drawn."""
    return ModelDrawing(sheet(class_tree(texts), definition_of(texts, model)))


@dataclass(frozen=True, slots=True)
class ProjectView:
    """A project with its models."""

    id: int
    name: str
    created: str
    files: list[str]
    models: list[ModelSummary]
    problem: Fault | None


@dataclass(frozen=True, slots=True)
class ProjectList:
    projects: list[ProjectView]


def _is_part(tree: ClassTree, definition: Definition) -> tuple[bool, Fault | None]:
    """Whether a model has ports; no fault of one model keeps the others from being listed."""
    try:
        return bool(icon(tree, definition).ports), None
    except MovrelError as fault:
        return False, fault_view(fault)
    except Exception as fault:
        logging.getLogger(__name__).exception("%s cannot be listed", definition.qualified)
        words = f"this model cannot be shown ({type(fault).__name__}); the server's log has the details."
        return False, fault_view(MovrelError(words))


def project_view(project: Project) -> ProjectView:
    """A project as the start page shows it; where its models cannot be read, why."""
    texts = projects.snapshot(project.id)
    newest = run_list.last_of_each(project.id)
    files = [f.path for f in projects.files(project.id)]
    summaries = []
    problem = None
    try:
        tree = class_tree(texts)
        for definition in models(texts):
            last = newest.get(definition.qualified)
            part, fault_of_model = _is_part(tree, definition)
            summaries.append(
                ModelSummary(
                    definition.qualified, definition.name, definition.node.comment, definition.source.file,
                    texts.revisions[definition.source.file], part, run_view(last) if last else None, fault_of_model,
                )
            )  # fmt: skip
    except MovrelError as fault:
        problem = fault_view(fault)
    unread = folders.faults(project.id) if project.folder else []
    if unread and problem is None:
        problem = fault_view(
            MovrelError(unread[0], hint="Correct the file; it is read again then.")
        )
    summaries.sort(key=lambda m: files.index(m.file))
    return ProjectView(
        project.id, project.name, project.created.isoformat() + "Z", files, summaries, problem
    )

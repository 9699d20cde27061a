"""A model in its newest state: what its text says, and where it stands in its history."""

from __future__ import annotations

from dataclasses import dataclass, field, fields

from movrel.project.computed_mark import computed_mark, mark_with
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.project.vendor_annotation import BASE, Scenario, scenarios_of
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Sheet
from movrel.views.model_view import ModelContent, model_content
from movrel.workspace import projects
from movrel.workspace.editing import newest_child
from movrel.workspace.tables import Revision


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
class ModelDrawing:
    """The sheet of a model, for a small picture."""

    sheet: Sheet


def model_drawing(texts: Snapshot, model: str) -> ModelDrawing:
    """Raises :class:`MovrelError` where the model cannot be drawn."""
    return ModelDrawing(sheet(class_tree(texts), definition_of(texts, model)))

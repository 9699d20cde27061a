"""What the start page lists: projects with their models, some at a time."""

from __future__ import annotations

import hashlib
import logging
import pickle
from dataclasses import dataclass

from movrel.disk_cache import DiskCache
from movrel.errors import MovrelError, NotFound
from movrel.kept_models import program_mark
from movrel.model.classes import ClassTree, Definition
from movrel.project.snapshot import Snapshot, class_tree, models
from movrel.sheet.symbols import icon
from movrel.views.fault_view import Fault, fault_view
from movrel.views.run_data import RunView
from movrel.workspace import folders, projects, run_list
from movrel.workspace.run_views import run_view
from movrel.workspace.tables import Project, Run

#: Models of a project that are listed at once.
PAGE = 120


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
class ModelPage:
    """Some models of a project in the order of its files, and how many come after them."""

    models: list[ModelSummary]
    more: int


@dataclass(frozen=True, slots=True)
class ProjectView:
    """A project with its first models, and how many come after them."""

    id: int
    name: str
    created: str
    files: list[str]
    models: list[ModelSummary]
    more: int
    problem: Fault | None


@dataclass(frozen=True, slots=True)
class ProjectList:
    projects: list[ProjectView]


@dataclass(frozen=True, slots=True)
class _Listed:
    """What the texts say of a model."""

    qualified: str
    name: str
    description: str
    file: str
    part: bool
    problem: Fault | None


def project_view(project: Project) -> ProjectView:
    """A project as the start page shows it; where its models cannot be read, why."""
    texts = projects.snapshot(project.id)
    files = [f.path for f in projects.files(project.id)]
    page, problem = ModelPage([], 0), None
    try:
        page = _page(texts, project.id, files, 0)
    except MovrelError as fault:
        problem = fault_view(fault)
    unread = folders.faults(project.id) if project.folder else []
    if unread and problem is None:
        problem = fault_view(
            MovrelError(unread[0], hint="Correct the file; it is read again then.")
        )
    created = project.created.isoformat() + "Z"
    return ProjectView(project.id, project.name, created, files, page.models, page.more, problem)


def model_page(project: int, offset: int) -> ModelPage:
    """Models of a project from a place in its list on. Raises :class:`MovrelError` where they cannot be read."""
    files = [f.path for f in projects.files(project)]
    return _page(projects.snapshot(project), project, files, offset)


def model_summary(project: int, model: str) -> ModelSummary:
    """One model as the start page lists it. Raises :class:`NotFound`."""
    texts = projects.snapshot(project)
    for listed in _listed(texts):
        if listed.qualified == model:
            return _summary(texts, listed, run_list.last_of_each(project).get(model))
    raise NotFound(f"there is no model '{model}' in this project.")


def _page(texts: Snapshot, project: int, files: list[str], offset: int) -> ModelPage:
    listed = sorted(_listed(texts), key=lambda m: files.index(m.file))
    newest = run_list.last_of_each(project)
    chosen = listed[offset : offset + PAGE]
    return ModelPage(
        [_summary(texts, m, newest.get(m.qualified)) for m in chosen],
        max(0, len(listed) - offset - len(chosen)),
    )


def _summary(texts: Snapshot, listed: _Listed, last: Run | None) -> ModelSummary:
    return ModelSummary(
        listed.qualified, listed.name, listed.description, listed.file, texts.revisions[listed.file], listed.part,
        run_view(last) if last else None, listed.problem,
    )  # fmt: skip


_listings = DiskCache("listings", 50_000_000)


def _listed(texts: Snapshot) -> list[_Listed]:
    """All models of a project; kept by the texts, so that a process that never read them need not parse them for a list."""
    content = hashlib.sha256(repr((program_mark(), texts.files)).encode()).hexdigest()
    listing = _listings.read(content)
    if listing is not None:
        return [_Listed(*entry) for entry in pickle.loads(listing)]
    tree = class_tree(texts)
    listed = []
    for definition in models(texts):
        part, problem = _is_part(tree, definition)
        listed.append(
            _Listed(
                definition.qualified, definition.name, definition.node.comment, definition.source.file, part, problem
            )
        )  # fmt: skip
    entries = [(m.qualified, m.name, m.description, m.file, m.part, m.problem) for m in listed]
    if not any(m.problem for m in listed):
        _listings.write(content, pickle.dumps(entries))
    return listed


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

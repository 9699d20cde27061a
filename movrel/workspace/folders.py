"""Projects that live in a folder: what is on record of both sides, and texts that come from the disk."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from movrel.errors import MovrelError
from movrel.language.parse_cache import parse_cached
from movrel.workspace import projects
from movrel.workspace.tables import (
    FolderFile,
    ModelFile,
    Project,
    ProjectResource,
    Revision,
    database,
    now,
)

#: Who is said to have written what came from the disk.
DISK = "another program"


@dataclass(frozen=True, slots=True)
class KeptFile:
    """A model file as the workspace has it."""

    number: int
    revision: int
    text: str


def folder_project(folder: Path) -> Project:
    """The project of a folder, made when it is opened for the first time."""
    kept: Project | None = Project.get_or_none(Project.folder == str(folder))
    if kept is None:
        kept = Project.create(name=folder.name[:200] or "models", folder=str(folder))
    if kept.deleted is not None:
        kept.deleted = None
        kept.save(only=[Project.deleted])
    return kept


def model_files(project: int) -> dict[str, KeptFile]:
    """The model files of a project by path."""
    rows = (
        ModelFile.select(ModelFile.path, ModelFile.id, Revision.id.alias("revision"), Revision.text)
        .join(Revision, on=(ModelFile.head == Revision.id))
        .where((ModelFile.project == project) & ModelFile.deleted.is_null())
        .tuples()
    )
    return {path: KeptFile(number, revision, text) for path, number, revision, text in rows}


def data_files(project: int) -> dict[str, str]:
    """The digests of the files with data by path."""
    rows = ProjectResource.select(ProjectResource.path, ProjectResource.content)
    return dict(rows.where(ProjectResource.project == project).tuples())


def noted(project: int) -> dict[str, FolderFile]:
    """What is on record of the files of the folder, by path."""
    return {row.path: row for row in FolderFile.select().where(FolderFile.project == project)}


def note(project: int, path: str, digest: str, revision: int | None, fault: str = "") -> None:
    """Both sides of a file are the same now, or why they are not."""
    FolderFile.insert(
        project=project, path=path, digest=digest, revision=revision, fault=fault
    ).on_conflict(
        conflict_target=[FolderFile.project, FolderFile.path],
        update={"digest": digest, "revision": revision, "fault": fault},
    ).execute()


def forget(project: int, path: str) -> None:
    FolderFile.delete().where((FolderFile.project == project) & (FolderFile.path == path)).execute()


def faults(project: int) -> list[str]:
    """Why files of the folder could not be read, each a sentence."""
    rows = FolderFile.select(FolderFile.fault).where(
        (FolderFile.project == project) & (FolderFile.fault != "")
    )
    return [row.fault for row in rows.order_by(FolderFile.path)]


def take_text(project: int, path: str, text: str, summary: str) -> int:
    """A text that came from the disk as the newest revision of its file; the number of the revision.

    Raises :class:`MovrelError` where it cannot be read.
    """
    parse_cached(text, path)
    with database.atomic():
        file = (
            ModelFile.select()
            .where(
                (ModelFile.project == project)
                & (ModelFile.path == path)
                & ModelFile.deleted.is_null()
            )
            .for_update()
            .get_or_none()
        )
        if file is None:
            file = _gone(project, path)
            if file is None:
                return int(projects.add_file(project, path, text, summary).head)
            projects.check_free(project, path, text)
            ModelFile.update(deleted=None).where(ModelFile.id == file.id).execute()
        head = projects.head_revision(file)
        if head.text == text:
            return int(head.id)
        revision = Revision.create(file=file, parent=head, text=text, summary=summary, author=DISK)
        file.head = revision.id
        file.save(only=[ModelFile.head])
        return int(revision.id)


def _gone(project: int, path: str) -> ModelFile | None:
    """The file that last had that path and was deleted: its history goes on when it comes back."""
    rows = ModelFile.select().where(
        (ModelFile.project == project) & (ModelFile.path == path) & ModelFile.deleted.is_null(False)
    )
    last: ModelFile | None = rows.order_by(ModelFile.deleted.desc()).first()
    return last


def keep_beside(number: int, parent: int, text: str, summary: str) -> int:
    """Keep a text in the history of a file without making it the present one; the number of its revision."""
    kept = Revision.create(file=number, parent=parent, text=text, summary=summary, author=DISK)
    return int(kept.id)


def text_of(revision: int) -> str:
    """The text of a revision."""
    return str(Revision.get_by_id(revision).text)


def put_aside(number: int) -> None:
    """A model file is gone from the disk."""
    ModelFile.update(deleted=now()).where(ModelFile.id == number).execute()


def models_in(project: int, path: str) -> list[str]:
    """The full names of the classes at the top of a file."""
    file = model_files(project).get(path)
    if file is None:
        return []
    try:
        tree = parse_cached(file.text, path).tree
    except MovrelError:
        return []
    return [f"{tree.within}.{c.name}" if tree.within else c.name for c in tree.classes]

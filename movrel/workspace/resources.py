"""Files beside the models of a project, kept by content."""

from __future__ import annotations

import hashlib
import re
from pathlib import Path

from movrel.errors import MovrelError, NotFound
from movrel.workspace import projects
from movrel.workspace.resource_folder import resource_folder
from movrel.workspace.tables import Content, ProjectResource, database, now

#: Largest file, and most files of one project.
SIZE_LIMIT, COUNT_LIMIT = 50_000_000, 200
#: Where units lie in a project.
UNITS = "Units"


def keep(project: int, path: str, data: bytes) -> ProjectResource:
    """Keep a file under a path; a file that was there gives way. Raises :class:`MovrelError`."""
    projects.project(project)
    path = _clean(path)
    if len(data) > SIZE_LIMIT:
        raise MovrelError(f"'{path}' is larger than {SIZE_LIMIT // 1_000_000} MB.")
    digest = hashlib.sha256(data).hexdigest()
    with database.atomic():
        if resources(project).count() >= COUNT_LIMIT:
            raise MovrelError(
                f"a project has at most {COUNT_LIMIT} files beside its models.",
                hint="Delete those that no model uses.",
            )
        Content.insert(digest=digest, data=data).on_conflict_ignore().execute()
        kept = ProjectResource.get_or_none(
            (ProjectResource.project == project) & (ProjectResource.path == path)
        )
        if kept is None:
            return ProjectResource.create(
                project=project, path=path, content=digest, size=len(data)
            )
        ProjectResource.update(content=digest, size=len(data), trial={}, created=now()).where(
            ProjectResource.id == kept.id
        ).execute()
        return resource(kept.id)


def _clean(path: str) -> str:
    parts = [p for p in path.replace("\\", "/").split("/") if p not in ("", ".")]
    joined = "/".join(parts)
    if not parts or ".." in parts or len(joined) > 400 or re.search(r"[\0-\x1f\"]", joined):
        raise MovrelError(f"'{path}' is not a name for a file.", hint="Rename the file.")
    return joined


def resources(project: int):  # type: ignore[no-untyped-def]  # a query of peewee, which has no types
    """The files of a project, by path."""
    return (
        ProjectResource.select()
        .where(ProjectResource.project == project)
        .order_by(ProjectResource.path)
    )


def by_path(project: int, path: str) -> ProjectResource | None:
    """A file by its path, None where there is none."""
    kept: ProjectResource | None = ProjectResource.get_or_none(
        (ProjectResource.project == project) & (ProjectResource.path == path)
    )
    return kept


def resource(number: int) -> ProjectResource:
    """A file by its number. Raises :class:`NotFound`."""
    kept: ProjectResource | None = ProjectResource.get_or_none(ProjectResource.id == number)
    if kept is None:
        raise NotFound(f"there is no file {number}.", hint="It may have been deleted.")
    return kept


def delete(number: int) -> None:
    """Take a file away; content that no project has any more goes too. Raises :class:`NotFound`."""
    gone = resource(number)
    with database.atomic():
        gone.delete_instance()
        left = ProjectResource.select().where(ProjectResource.content == gone.digest)
        if not left.exists():
            Content.delete().where(Content.digest == gone.digest).execute()


def content_of(kept: ProjectResource) -> bytes:
    return bytes(Content.select(Content.data).where(Content.digest == kept.digest).scalar())


def file_of(kept: ProjectResource) -> Path:
    """The file on the disk."""
    return Path(resource_folder(kept.project_id)) / kept.path

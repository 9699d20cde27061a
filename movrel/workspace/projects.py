"""Projects, their model files and the revisions of these."""

from __future__ import annotations

import re
from pathlib import Path

from movrel.errors import LookupFault, MovrelError, NotFound
from movrel.model.classes import Definition, parse_cached
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.workspace.resource_folder import resource_folder
from movrel.workspace.tables import ModelFile, Project, Revision, database

#: Largest text that a file of a project may have, in bytes.
FILE_LIMIT = 5_000_000


# --- projects ---


def projects() -> list[Project]:
    """All projects that are not deleted, oldest first."""
    return list(Project.select().where(Project.deleted.is_null()).order_by(Project.id))


def project(number: int) -> Project:
    kept = Project.get_or_none((Project.id == number) & Project.deleted.is_null())
    if kept is None:
        raise NotFound(
            f"there is no project {number}.", hint="It may have been deleted; go to the start page."
        )
    return kept


def create_project(name: str, example: str | None = None) -> Project:
    if not name.strip():
        raise MovrelError("a project needs a name.")
    return Project.create(name=name.strip()[:200], example=example)


def load_example(folder: Path) -> Project | None:
    """Make a project of a bundled example package; one that is there gets the models that came with a newer version.

    What somebody changed or deleted stays as it is; where the package does not fit any more, nothing is
    added. Gives the project when something was.
    """
    present = Project.get_or_none(Project.example == folder.name)
    try:
        with database.atomic():
            made = present or create_project(
                re.sub(r"(?<=[a-z])(?=[A-Z])", " ", folder.name), folder.name
            )
            return made if add_package(made.id, folder) else None
    except MovrelError:
        if present is None:
            raise
        return None


def add_package(project_number: int, folder: Path) -> int:
    """Add the files of a package folder that were never there, in the order that the package gives; how many."""
    known = {
        f.path for f in ModelFile.select(ModelFile.path).where(ModelFile.project == project_number)
    }
    members = ["package", *(folder / "package.order").read_text(encoding="utf-8").split()]
    missing = [m for m in members if f"{folder.name}/{m}.mo" not in known]
    for member in missing:
        text = (folder / f"{member}.mo").read_text(encoding="utf-8")
        add_file(
            project_number,
            f"{folder.name}/{member}.mo",
            text,
            f"example {folder.name if member == 'package' else member}",
        )
    return len(missing)


# --- files and revisions ---


def files(project_number: int) -> list[ModelFile]:
    kept = ModelFile.select().where(
        (ModelFile.project == project_number) & ModelFile.deleted.is_null()
    )
    return list(kept.order_by(ModelFile.id))


def add_file(project_number: int, path: str, text: str, summary: str) -> ModelFile:
    """A new file. Text that does not parse, or that does not fit the project, is refused whole."""
    path = _clean_path(path)
    if len(text.encode()) > FILE_LIMIT:
        raise MovrelError(
            f"'{path}' is larger than {FILE_LIMIT // 1_000_000} MB.",
            hint="Split the package into several files.",
        )
    source = parse_cached(text, path)
    if not source.tree.classes:
        raise MovrelError(
            f"'{path}' holds no class.",
            hint="A model file begins with 'model Name' or 'package Name'.",
        )
    check_free(project_number, path, text)
    with database.atomic():
        file = ModelFile.create(project=project_number, path=path)
        revision = Revision.create(file=file, text=text, summary=summary)
        file.head = revision.id
        file.save(only=[ModelFile.head])
    return file


def check_free(project_number: int, path: str, text: str) -> None:
    """Refuse a file whose place is taken or whose classes do not fit the project."""
    existing = ModelFile.get_or_none(
        (ModelFile.project == project_number)
        & (ModelFile.path == path)
        & ModelFile.deleted.is_null()
    )
    if existing is not None:
        raise MovrelError(
            f"the project already has a file '{path}'.",
            hint="Rename yours, or delete the other one first.",
        )
    _check_fits(project_number, path, text)


def _clean_path(path: str) -> str:
    parts = [p for p in path.replace("\\", "/").split("/") if p not in ("", ".")]
    if (
        not parts
        or ".." in parts
        or not parts[-1].endswith(".mo")
        or len("/".join(parts)) > 400
        or "\0" in path
    ):
        raise MovrelError(
            f"'{path}' is not a name for a model file.", hint="Use a name that ends in .mo."
        )
    return "/".join(parts)


def _check_fits(project_number: int, path: str, text: str) -> None:
    """Refuse a text whose classes clash with the project's or whose package is missing."""
    tree = class_tree(snapshot(project_number))
    source = parse_cached(text, path)
    parent = tree.find(source.tree.within) if source.tree.within else None
    if source.tree.within and parent is None:
        raise LookupFault(
            f"'{path}' belongs in the package '{source.tree.within}', which this project does not have.",
            source.place(0), "Add the package first, or remove the 'within' line.",
        )  # fmt: skip
    for node in source.tree.classes:
        known = tree.own_child(parent, node.name) if parent else tree.roots.get(node.name)
        if known is not None:
            raise LookupFault(
                f"the project already has a class '{known.qualified}'.",
                source.place(node.name_span[0]),
                "Rename one of them.",
            )


def head_revision(file: ModelFile) -> Revision:
    return Revision.get_by_id(file.head)


# --- the classes of a project ---


def snapshot(project_number: int, revisions: dict[str, int] | None = None) -> Snapshot:
    """The newest texts of a project, or those of given revisions."""
    if revisions is None:
        rows = (
            ModelFile.select(ModelFile.path, Revision.id.alias("revision"), Revision.text)
            .join(Revision, on=(ModelFile.head == Revision.id))
            .where((ModelFile.project == project_number) & ModelFile.deleted.is_null())
            .tuples()
        )
    else:
        rows = [
            (r.file.path, r.id, r.text)
            for r in Revision.select().where(Revision.id.in_(list(revisions.values())))
        ]
    return Snapshot.of(
        {path: text for path, _, text in rows}, project_number, {path: revision for path, revision, _ in rows},
        resource_folder(project_number),
    )  # fmt: skip


def current(project_number: int, qualified: str) -> tuple[Snapshot, Definition]:
    """A model as it is now, with the texts of its project. Raises :class:`NotFound`."""
    newest = snapshot(project_number)
    return newest, definition_of(newest, qualified)


def file_of(texts: Snapshot, definition: Definition) -> ModelFile:
    """The file that holds a class."""
    path = definition.source.file
    return ModelFile.get(
        (ModelFile.project == texts.project)
        & (ModelFile.path == path)
        & ModelFile.deleted.is_null()
    )

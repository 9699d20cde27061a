"""Projects, their model files and the revisions of these."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from pathlib import Path

from movrel.errors import LookupFault, MovrelError, NotFound
from movrel.language.parse_cache import parse_cached
from movrel.language.parser import Source
from movrel.model.classes import ClassTree, Definition
from movrel.project.snapshot import Snapshot, class_tree, definition_of, new_class_tree
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
    missing = {
        f"{folder.name}/{member}.mo": (folder / f"{member}.mo").read_text(encoding="utf-8")
        for member in members
        if f"{folder.name}/{member}.mo" not in known
    }

    def summary(path: str) -> str:
        name = Path(path).stem
        return f"example {folder.name if name == 'package' else name}"

    add_files(project_number, missing, summary)
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
    _read(path, text)
    check_free(project_number, path, text)
    with database.atomic():
        return _store(project_number, path, text, summary)


def add_files(project_number: int, texts: Mapping[str, str], summary: Callable[[str], str]) -> None:
    """New files, texts by their paths, all of them or none, each with what ``summary`` says of its path.

    They come in the order given, but a file after the package that it belongs to. Raises :class:`MovrelError` naming
    the file that does not fit.
    """
    tree = new_class_tree(snapshot(project_number))
    present = {f.path for f in files(project_number)}
    clean = {_clean_path(path): text for path, text in texts.items()}
    waiting = {path: _read(path, text) for path, text in clean.items()}
    with database.atomic():
        while waiting:
            fitting = [
                path
                for path, source in waiting.items()
                if not source.tree.within or tree.find(source.tree.within) is not None
            ]
            # Where none fits, the first one says which package is missing.
            for path in fitting or list(waiting):
                if path in present:
                    raise _taken(path)
                source = waiting.pop(path)
                _check_fits(tree, source)
                tree.add_source(source)
                _store(project_number, path, source.text, summary(path))


def _read(path: str, text: str) -> Source:
    """The text of a new file. Raises :class:`MovrelError` where it is too long, does not parse, or holds nothing."""
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
    return source


def _store(project_number: int, path: str, text: str, summary: str) -> ModelFile:
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
        raise _taken(path)
    _check_fits(class_tree(snapshot(project_number)), parse_cached(text, path))


def _taken(path: str) -> MovrelError:
    return MovrelError(
        f"the project already has a file '{path}'.",
        hint="Rename yours, or delete the other one first.",
    )


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


def _check_fits(tree: ClassTree, source: Source) -> None:
    """Refuse a text whose classes clash with those of a project or whose package is missing."""
    parent = tree.find(source.tree.within) if source.tree.within else None
    if source.tree.within and parent is None:
        raise LookupFault(
            f"'{source.file}' belongs in the package '{source.tree.within}', which this project does not have.",
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

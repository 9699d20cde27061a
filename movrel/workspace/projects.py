"""Projects, their model files and the revisions of these."""

from __future__ import annotations

import functools
import hashlib
import re
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from movrel.errors import LookupFault, MovrelError
from movrel.language.parser import Source
from movrel.model.classes import ClassTree, Definition, parse_cached, parse_changed
from movrel.model.flatten import RUNNABLE
from movrel.model.meaning import meaning
from movrel.session import LoadedModel
from movrel.workspace.faults import NotFound, StaleRevision
from movrel.workspace.tables import ModelFile, Project, Revision, database

#: Largest text that a file of a project may have, in bytes.
FILE_LIMIT = 5_000_000


@dataclass(frozen=True, slots=True)
class Snapshot:
    """The texts of a project at one moment: ``(path, text)`` each, packages first.

    Snapshots of equal texts are equal, whatever their revisions, so that what was compiled for one
    serves for the other.
    """

    project: int
    files: tuple[tuple[str, str], ...]
    #: {path: revision}
    revisions: dict[str, int] = field(default_factory=dict, compare=False)

    def changed(self, path: str, text: str) -> Snapshot:
        """The same with another text for one file."""
        return Snapshot(self.project, tuple((p, text if p == path else t) for p, t in self.files), self.revisions)


# --- projects ---


def projects() -> list[Project]:
    """All projects that are not deleted, oldest first."""
    return list(Project.select().where(Project.deleted.is_null()).order_by(Project.id))


def project(number: int) -> Project:
    found = Project.get_or_none((Project.id == number) & Project.deleted.is_null())
    if found is None:
        raise NotFound(f"there is no project {number}.", hint="It may have been deleted; go to the start page.")
    return found


def create_project(name: str, example: str | None = None) -> Project:
    if not name.strip():
        raise MovrelError("a project needs a name.")
    return Project.create(name=name.strip()[:200], example=example)


def load_example(folder: Path) -> Project | None:
    """Make a project of a bundled example package; one that is there gets the models that came with a newer version.

    What somebody changed or deleted stays as it is; where the package does not fit any more, nothing is
    added. Gives the project when something was.
    """
    found = Project.get_or_none(Project.example == folder.name)
    try:
        with database.atomic():
            made = found or create_project(re.sub(r"(?<=[a-z])(?=[A-Z])", " ", folder.name), folder.name)
            return made if add_package(made.id, folder) else None
    except MovrelError:
        if found is None:
            raise
        return None


def add_package(project_number: int, folder: Path) -> int:
    """Add the files of a package folder that were never there, in the order that the package gives; how many."""
    known = {f.path for f in ModelFile.select(ModelFile.path).where(ModelFile.project == project_number)}
    members = ["package", *(folder / "package.order").read_text(encoding="utf-8").split()]
    missing = [m for m in members if f"{folder.name}/{m}.mo" not in known]
    for member in missing:
        text = (folder / f"{member}.mo").read_text(encoding="utf-8")
        add_file(project_number, f"{folder.name}/{member}.mo", text, f"example {folder.name if member == 'package' else member}")
    return len(missing)


# --- files and revisions ---


def files(project_number: int) -> list[ModelFile]:
    found = ModelFile.select().where((ModelFile.project == project_number) & ModelFile.deleted.is_null())
    return list(found.order_by(ModelFile.id))


def add_file(project_number: int, path: str, text: str, summary: str) -> ModelFile:
    """A new file. Text that does not parse, or that does not fit the project, is refused whole."""
    path = _clean_path(path)
    if len(text.encode()) > FILE_LIMIT:
        raise MovrelError(f"'{path}' is larger than {FILE_LIMIT // 1_000_000} MB.", hint="Split the package into several files.")
    source = parse_cached(text, path)
    if not source.tree.classes:
        raise MovrelError(f"'{path}' holds no class.", hint="A model file begins with 'model Name' or 'package Name'.")
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
        (ModelFile.project == project_number) & (ModelFile.path == path) & ModelFile.deleted.is_null()
    )
    if existing is not None:
        raise MovrelError(f"the project already has a file '{path}'.", hint="Rename yours, or delete the other one first.")
    _check_fits(project_number, path, text)


def _clean_path(path: str) -> str:
    parts = [p for p in path.replace("\\", "/").split("/") if p not in ("", ".")]
    if not parts or ".." in parts or not parts[-1].endswith(".mo") or len("/".join(parts)) > 400 or "\0" in path:
        raise MovrelError(f"'{path}' is not a name for a model file.", hint="Use a name that ends in .mo.")
    return "/".join(parts)


def _check_fits(project_number: int, path: str, text: str) -> None:
    """Refuse a text whose classes clash with the project's or whose package is missing."""
    tree = class_tree(snapshot(project_number))
    source = parse_cached(text, path)
    parent = tree.find(source.tree.within) if source.tree.within else None
    if source.tree.within and parent is None:
        raise LookupFault(
            f"'{path}' belongs into the package '{source.tree.within}', which this project does not have.",
            source.place(0), "Add the package first, or remove the 'within' line.",
        )  # fmt: skip
    for node in source.tree.classes:
        known = tree.own_child(parent, node.name) if parent else tree.roots.get(node.name)
        if known is not None:
            raise LookupFault(
                f"the project already has a class '{known.qualified}'.", source.place(node.name_span[0]), "Rename one of them."
            )


def head_revision(file: ModelFile) -> Revision:
    return Revision.get_by_id(file.head)


def change_text(file_number: int, base: int, change: Callable[[str], tuple[str, str]], author: str = "") -> Revision:
    """Apply a change to the newest text, as a new revision.

    ``change`` maps the text to ``(new text, what was done)``. Raises :class:`StaleRevision` when
    ``base`` is not the newest revision; then nothing is changed.
    """
    with database.atomic():
        file = ModelFile.select().where((ModelFile.id == file_number) & ModelFile.deleted.is_null()).for_update().get_or_none()
        if file is None:
            raise NotFound("this file was deleted.", hint="Go to the start page.")
        head = head_revision(file)
        if head.id != base:
            raise StaleRevision(head.id, head.summary)
        text, summary = change(head.text)
        if text == head.text:
            return head
        parse_cached(text, file.path)
        revision = Revision.create(file=file, parent=head, text=text, summary=summary, author=author)
        file.head = revision.id
        file.save(only=[ModelFile.head])
    return revision


def undo(file_number: int, base: int) -> Revision:
    """Step back to the revision that the newest one was made from."""
    return _step(file_number, base, back=True)


def redo(file_number: int, base: int) -> Revision:
    """Step forward to the newest revision that was made from the present one."""
    return _step(file_number, base, back=False)


def _step(file_number: int, base: int, back: bool) -> Revision:
    with database.atomic():
        file = ModelFile.select().where(ModelFile.id == file_number).for_update().get_or_none()
        if file is None:
            raise NotFound("this file was deleted.")
        head = head_revision(file)
        if head.id != base:
            raise StaleRevision(head.id, head.summary)
        target = head.parent if back else _child(head)
        if target is None:
            raise MovrelError("there is nothing to undo." if back else "there is nothing to redo.")
        parse_changed(parse_cached(head.text, file.path), target.text)
        file.head = target.id
        file.save(only=[ModelFile.head])
    return target


def _child(revision: Revision) -> Revision | None:
    return Revision.select().where(Revision.parent == revision.id).order_by(Revision.id.desc()).first()


def can_redo(revision: Revision) -> bool:
    return _child(revision) is not None


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
        rows = [(r.file.path, r.id, r.text) for r in Revision.select().where(Revision.id.in_(list(revisions.values())))]
    ordered = sorted(rows, key=lambda row: (row[0].count("/"), not row[0].endswith("package.mo"), row[0]))
    return Snapshot(
        project_number,
        tuple((path, text) for path, _, text in ordered),
        {path: revision for path, revision, _ in ordered},
    )


@functools.lru_cache(maxsize=64)
def class_tree(taken: Snapshot) -> ClassTree:
    """The classes of a snapshot; the component library is added on demand."""
    tree = ClassTree()
    for path, text in taken.files:
        tree.add_text(text, path)
    return tree


_loaded: OrderedDict[tuple[int, tuple[str, ...], str], LoadedModel] = OrderedDict()
_loading = threading.Lock()


def loaded_model(taken: Snapshot, qualified: str) -> LoadedModel:
    """A model of a snapshot, its flat form and system made when first used.

    Snapshots that differ only in how things are drawn share it.
    """
    key = _meaning(taken, qualified)
    with _loading:
        if key not in _loaded:
            _loaded[key] = LoadedModel(class_tree(taken), definition_of(taken, qualified))
            while len(_loaded) > 64:
                _loaded.popitem(last=False)
        _loaded.move_to_end(key)
        return _loaded[key]


def meaning_mark(taken: Snapshot, qualified: str) -> str:
    """A short text that stays the same as long as only drawings change."""
    return hashlib.sha256(repr(_meaning(taken, qualified)).encode()).hexdigest()[:16]


def _meaning(taken: Snapshot, qualified: str) -> tuple[int, tuple[str, ...], str]:
    return taken.project, tuple(meaning(text, path) for path, text in taken.files), qualified


def definition_of(taken: Snapshot, qualified: str) -> Definition:
    found = class_tree(taken).find(qualified)
    if found is None or found.source.file not in taken.revisions:
        raise NotFound(f"there is no model '{qualified}' in this project.", hint="Go to the start page to see its models.")
    return found


def current(project_number: int, qualified: str) -> tuple[Snapshot, Definition]:
    """A model as it is now, with the texts of its project. Raises :class:`NotFound`."""
    taken = snapshot(project_number)
    return taken, definition_of(taken, qualified)


def models(taken: Snapshot, inside_models: bool = False) -> list[Definition]:
    """The models of a project that can be run, in the order of its files.

    Those declared inside another model, its assemblies, are left out unless asked for.
    """
    found: list[Definition] = []

    def visit(definition: Definition) -> None:
        runnable = definition.node.kind in RUNNABLE and not definition.node.partial
        if runnable:
            found.append(definition)
        if inside_models or definition.node.kind == "package":
            for child in definition.children.values():
                visit(child)

    for definition in class_tree(taken).roots.values():
        if definition.source.file in taken.revisions:
            visit(definition)
    return found


def file_of(taken: Snapshot, definition: Definition) -> tuple[ModelFile, int, Source]:
    """The file that holds a class, its revision and parsed text."""
    path = definition.source.file
    file = ModelFile.get((ModelFile.project == taken.project) & (ModelFile.path == path) & ModelFile.deleted.is_null())
    return file, taken.revisions[path], definition.source

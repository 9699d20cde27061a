"""Models as a whole: copied, moved between projects, deleted and brought back; projects as archives."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

from movrel.errors import MovrelError, NotFound
from movrel.language import syntax as s
from movrel.language.clauses import line_indent
from movrel.language.margins import outdented
from movrel.language.names import is_name
from movrel.language.patch import Patch, apply
from movrel.model.classes import Definition
from movrel.project.snapshot import class_tree
from movrel.project.snapshot import models as runnable_models
from movrel.views.examples import example
from movrel.workspace import projects, resources
from movrel.workspace.tables import ModelFile, Project, database, now

#: Largest archive that is read, in bytes, packed and unpacked, and most files in one.
ARCHIVE_LIMIT, UNPACKED_LIMIT, FILES_LIMIT = 50_000_000, 200_000_000, 5_000


def copy_model(project: int, qualified: str, name: str, to_project: int | None = None) -> str:
    """A model again under another name, in its package or in another project; gives its full name."""
    _, definition = projects.current(project, qualified)
    text = renamed_text(definition, name)
    goal = project if to_project is None else to_project
    projects.project(goal)
    within = definition.parent.qualified if definition.parent is not None else ""
    tree = class_tree(projects.snapshot(goal))
    parent = tree.find(within) if within else None
    if within and (goal != project or parent is None or parent.node.kind != "package"):
        within = ""
    folder = (
        str(Path(definition.source.file).parent) + "/"
        if "/" in definition.source.file and within
        else ""
    )
    file = projects.add_file(
        goal,
        f"{folder}{name}.mo",
        (f"within {within};\n" if within else "") + text,
        f"copied from {definition.name}",
    )
    return f"{within}.{name}" if within and file else name


def renamed_text(definition: Definition, name: str) -> str:
    """The text of a class with another name."""
    if not is_name(name):
        raise MovrelError(
            f"'{name}' cannot be the name of a model.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    source, node = definition.source, definition.node
    text = source.slice(node)
    offset = node.start
    a, b = node.name_span
    patches = [Patch(a - offset, b - offset, name)]
    if node.form == "long":
        end = text.rindex(node.name)
        patches.append(Patch(end, end + len(node.name), name))
    return outdented(apply(text, patches), len(line_indent(source, node.start))) + ";\n"


def move_model(project: int, qualified: str, to_project: int) -> str:
    """Take a model, with its file and history, to another project; gives its full name there.

    Raises :class:`MovrelError` when the model shares its file or belongs to a package.
    """
    texts, definition = projects.current(project, qualified)
    file, source = projects.file_of(texts, definition), definition.source
    projects.project(to_project)
    if definition.parent is not None or len(source.tree.classes) != 1:
        raise MovrelError(
            f"'{qualified}' is part of a package or shares its file.",
            hint="Copy it to the other project instead.",
        )
    projects.check_free(to_project, file.path, source.text)
    ModelFile.update(project=to_project).where(ModelFile.id == file.id).execute()
    return qualified


def delete_model(project: int, qualified: str) -> int:
    """Put a model's file aside; gives its number, with which it is brought back.

    Raises :class:`MovrelError` when another model of the project uses it, naming that one.
    """
    texts, definition = projects.current(project, qualified)
    file, source = projects.file_of(texts, definition), definition.source
    if definition not in [
        class_tree(texts).find(_full(source.tree.within, c.name)) for c in source.tree.classes
    ] or (len(source.tree.classes) != 1):
        raise MovrelError(
            f"'{qualified}' shares its file with others.", hint="Delete it in the view Text."
        )
    tree = class_tree(texts)
    for other in runnable_models(texts):
        if other is definition or _inside(other, definition):
            continue
        for element in other.node.elements:
            if isinstance(element, s.Component):
                used = tree.lookup(element.type_name, other)
                if used is not None and (used is definition or _inside(used, definition)):
                    raise MovrelError(
                        f"'{other.qualified}' has the part '{element.name}' of it.",
                        hint="Delete or swap that part first.",
                    )
    ModelFile.update(deleted=now()).where(ModelFile.id == file.id).execute()
    return int(file.id)


def restore_file(number: int) -> ModelFile:
    """Bring a deleted file back. Raises :class:`MovrelError` when its place was taken since."""
    file = ModelFile.get_or_none(ModelFile.id == number)
    if file is None:
        raise NotFound("there is no such file.")
    if file.deleted is not None:
        projects.check_free(file.project_id, file.path, projects.head_revision(file).text)
        file.deleted = None
        file.save(only=[ModelFile.deleted])
    return file


def rename_project(number: int, name: str) -> Project:
    kept = projects.project(number)
    if not name.strip():
        raise MovrelError("a project needs a name.")
    kept.name = name.strip()[:200]
    kept.save(only=[Project.name])
    return kept


def delete_project(number: int) -> None:
    """Put a project aside with all that is in it."""
    kept = projects.project(number)
    if kept.folder:
        raise MovrelError(
            f"this project lives in the folder '{kept.folder}'.",
            hint="Close it, and delete the folder itself if you want to.",
        )
    kept.deleted = now()
    kept.save(only=[Project.deleted])


def restore_project(number: int) -> Project:
    kept = Project.get_or_none(Project.id == number)
    if kept is None:
        raise NotFound("there is no such project.")
    kept.deleted = None
    kept.save(only=[Project.deleted])
    return kept


def _full(within: str | None, name: str) -> str:
    return f"{within}.{name}" if within else name


def _inside(definition: Definition, outer: Definition) -> bool:
    at: Definition | None = definition
    while at is not None:
        if at is outer:
            return True
        at = at.parent
    return False


# --- archives ---


def archive(number: int) -> bytes:
    """All files of a project, as a ZIP archive: Modelica text, and the units beside it."""
    projects.project(number)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        texts = dict(projects.snapshot(number).files)
        for file in projects.files(number):
            packed.writestr(file.path, texts[file.path])
        for kept in resources.resources(number):
            packed.writestr(kept.path, resources.content_of(kept))
    return out.getvalue()


def read_archive(name: str, data: bytes) -> Project:
    """A new project of the Modelica files in a ZIP archive, all of them or none.

    Raises :class:`MovrelError` naming the file that cannot be read.
    """
    if len(data) > ARCHIVE_LIMIT:
        raise MovrelError(f"the archive is larger than {ARCHIVE_LIMIT // 1_000_000} MB.")
    try:
        packed = zipfile.ZipFile(io.BytesIO(data))
        entries = [e for e in packed.infolist() if e.filename.endswith(".mo") and not e.is_dir()]
        beside = [e for e in packed.infolist() if e.filename.lower().endswith((".fmu", ".csv"))]
        every = [*entries, *beside]
        if sum(e.file_size for e in every) > UNPACKED_LIMIT or len(every) > FILES_LIMIT:
            raise MovrelError("the archive holds more than can be read.")
        texts = {e.filename: packed.read(e).decode("utf-8") for e in entries}
        units = {e.filename: packed.read(e) for e in beside}
    except UnicodeDecodeError:
        raise MovrelError("a file in the archive is not UTF-8 text.") from None
    except (zipfile.BadZipFile, RuntimeError, OSError, NotImplementedError):
        raise MovrelError(
            "that is not a ZIP archive.", hint="Choose a file that was exported from a project."
        ) from None
    if not texts:
        raise MovrelError(
            "the archive holds no Modelica files.", hint="It must hold files that end in .mo."
        )
    with database.atomic():
        made = projects.create_project(name)
        order = sorted(texts, key=lambda p: (p.count("/"), not p.endswith("package.mo")))
        projects.add_files(made.id, {p: texts[p] for p in order}, lambda path: f"imported {path}")
        for path, content in units.items():
            resources.keep(made.id, path, content)
    return made


def open_example(project: int, qualified: str) -> str:
    """Copy an example of the library into a project; gives the name of the new model."""
    definition = example(qualified)
    projects.project(project)
    tree = class_tree(projects.snapshot(project))
    present = {name.lower() for name in tree.roots} | {
        f.path.lower().removesuffix(".mo") for f in projects.files(project)
    }
    name, number = definition.name, 1
    while name.lower() in present or not is_name(name):
        number += 1
        name = f"{definition.name}{number}"
    projects.add_file(
        project, f"{name}.mo", renamed_text(definition, name), f"example {definition.name}"
    )
    return name


def from_example(folder: Path, name: str) -> Project:
    """A project of one's own with a copy of a bundled example."""
    with database.atomic():
        made = projects.create_project(name)
        projects.add_package(made.id, folder)
    return made

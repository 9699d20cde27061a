"""The one door through which anything changes a model: lock, apply, store, announce."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal, TypeAlias

from movrel.edits.every_edit import AnyEdit
from movrel.edits.start_script import renewed
from movrel.edits.target import Changed, PastRun, apply_to, target_of
from movrel.errors import MovrelError, NotFound
from movrel.language.parse_cache import parse_cached, parse_changed
from movrel.project.snapshot import Snapshot, definition_of, models
from movrel.project.vendor_annotation import claims_of, scenarios_of
from movrel.workspace import history, projects, runs
from movrel.workspace.announce import announce
from movrel.workspace.faults import StaleRevision
from movrel.workspace.tables import ModelFile, Revision, StoredEdit, database


@dataclass(frozen=True, slots=True)
class Undo:
    """Step back to the revision that the newest one was made from."""

    do: Literal["undo"] = "undo"


@dataclass(frozen=True, slots=True)
class Redo:
    """Step forward to the newest revision that was made from the present one."""

    do: Literal["redo"] = "redo"


@dataclass(frozen=True, slots=True)
class Restore:
    """Bring the text of an earlier revision back."""

    revision: int
    do: Literal["restore"] = "restore"


#: Everything that can be done to a model: edits of its text, and steps through its history.
Order: TypeAlias = AnyEdit | Undo | Redo | Restore


@dataclass(frozen=True, slots=True)
class Applied:
    """The revision that a model has now, the names of parts that came, and whether its runs are judged otherwise now."""

    revision: Revision
    inserted: list[str] = field(default_factory=list)
    claims_changed: bool = False


def apply_edit(
    project: int, model: str, revision: int, edit: Order, author: str = "", sent_as: str = ""
) -> Applied:
    """Do something to a model that was seen in a revision of its file, and say so to everybody who listens.

    An edit that was ``sent_as`` before, whose answer was lost, is answered again and not carried out twice.

    Raises :class:`StaleRevision` when the file was changed in the meantime, :class:`NotFound` for a model that is
    not there, and whatever the edit raises; then nothing is changed.
    """
    texts, definition = projects.current(project, model)
    path = definition.source.file
    with database.atomic():
        file = _locked(project, path)
        if sent_as:
            before = StoredEdit.get_or_none((StoredEdit.id == sent_as) & (StoredEdit.file == file))
            if before is not None:
                return Applied(before.revision, before.inserted)
        head = projects.head_revision(file)
        if head.id != revision:
            raise StaleRevision(head.id, head.summary)
        if texts.revisions[path] != head.id:
            texts = projects.snapshot(project)
        applied = _applied(texts, model, file, head, edit, author)
        if sent_as:
            StoredEdit.create(
                id=sent_as, file=file, revision=applied.revision, inserted=applied.inserted
            )
    announce("model", project=project, model=model, revision=applied.revision.id)
    after = projects.snapshot(project)
    if _names(after) != _names(texts):
        announce("project", project=project)
    return replace(applied, claims_changed=_claims(after, model) != _claims(texts, model))


def _names(texts: Snapshot) -> list[str]:
    """The models of a project; none where its texts do not fit together."""
    try:
        return [d.qualified for d in models(texts)]
    except MovrelError:
        return []


def run_scripts(project: int) -> None:
    """Run the start scripts of a project, so that what they work out is up to date whatever changed their texts.

    Raises :class:`movrel.errors.EditFault` with the line of a script that cannot be run.
    """
    texts = projects.snapshot(project)
    for path, text in texts.files:
        changed = renewed(texts, Changed(path, text, "ran the start script", []))
        if changed.text == text:
            continue
        with database.atomic():
            file = _locked(project, path)
            revision = _stored(
                file, projects.head_revision(file), changed.text, changed.summary, ""
            )
        announce("model", project=project, model=path, revision=revision.id)


def _claims(texts: Snapshot, model: str) -> object:
    """What is claimed of a model, and in which scenarios it is not judged; nothing where it is gone."""
    try:
        definition = definition_of(texts, model)
    except MovrelError:
        return None
    return claims_of(definition), {s.name: s.off for s in scenarios_of(definition) if s.off}


def _locked(project: int, path: str) -> ModelFile:
    """The file, which nobody else changes until the transaction ends."""
    chosen = (ModelFile.project == project) & (ModelFile.path == path) & ModelFile.deleted.is_null()
    file = ModelFile.select().where(chosen).for_update().get_or_none()
    if file is None:
        raise NotFound("this file was deleted.", hint="Go to the start page.")
    return file


def _applied(
    texts: Snapshot, model: str, file: ModelFile, head: Revision, edit: Order, author: str
) -> Applied:
    match edit:
        case Undo():
            return Applied(_moved(file, head, head.parent, "there is nothing to undo."))
        case Redo():
            return Applied(_moved(file, head, newest_child(head), "there is nothing to redo."))
        case Restore():
            old = history.revision(file.id, edit.revision)
            return Applied(
                _stored(file, head, old.text, f"restored '{old.name or old.summary}'", author)
            )
        case _:
            changed = renewed(texts, apply_to(target_of(texts, model, past_run), edit))
            return Applied(
                _stored(file, head, changed.text, changed.summary, author), changed.inserted
            )


def _stored(file: ModelFile, head: Revision, text: str, summary: str, author: str) -> Revision:
    """A text as the newest revision; the present one where it is the same."""
    if text == head.text:
        return head
    parse_cached(text, file.path)
    revision = Revision.create(file=file, parent=head, text=text, summary=summary, author=author)
    return _moved(file, head, revision, "")


def _moved(file: ModelFile, head: Revision, goal: Revision | None, otherwise: str) -> Revision:
    """Another revision as the present one. Raises :class:`MovrelError` when there is none."""
    if goal is None:
        raise MovrelError(otherwise)
    parse_changed(parse_cached(head.text, file.path), goal.text)
    file.head = goal.id
    file.save(only=[ModelFile.head])
    return goal


def newest_child(revision: Revision) -> Revision | None:
    """The newest revision that was made from another one."""
    return (
        Revision.select().where(Revision.parent == revision.id).order_by(Revision.id.desc()).first()
    )


def past_run(identity: int) -> PastRun:
    """A run as edits see it. Raises :class:`NotFound`."""
    run = runs.run(identity)
    texts = projects.snapshot(run.project_id, run.revisions)
    return PastRun(run.number, texts, run.changes, run.options, run.parameters)

"""The revisions of a model: listed in words, named, compared as text and as drawing, restored."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.errors import NotFound
from movrel.views.comparison import Comparison, compare
from movrel.workspace import projects
from movrel.workspace.tables import ModelFile, Revision

#: Most revisions listed at once.
PAGE = 200


@dataclass(frozen=True, slots=True)
class RevisionSummary:
    """A revision without its text."""

    id: int
    summary: str
    name: str
    author: str
    created: str
    #: Whether it is what the model is now.
    current: bool
    #: Whether a redo could bring it back, or it was left behind.
    undone: bool


@dataclass(frozen=True, slots=True)
class RevisionList:
    """A page of revisions, newest first, and whether there are ``more`` behind the last of them."""

    revisions: list[RevisionSummary]
    more: bool


def revisions(file_number: int, before: int | None = None) -> RevisionList:
    """The newest revisions of a file, or those before one of them."""
    file = ModelFile.get_by_id(file_number)
    query = Revision.select(
        Revision.id,
        Revision.parent,
        Revision.summary,
        Revision.name,
        Revision.author,
        Revision.created,
    )
    query = query.where(Revision.file == file_number)
    if before is not None:
        query = query.where(Revision.id < before)
    rows = list(query.order_by(Revision.id.desc()).limit(PAGE + 1))
    line = _line(file_number, file.head)
    page = [
        RevisionSummary(
            r.id,
            r.summary,
            r.name,
            r.author,
            r.created.isoformat() + "Z",
            current=r.id == file.head,
            undone=r.id not in line,
        )
        for r in rows[:PAGE]
    ]
    return RevisionList(page, len(rows) > PAGE)


def _line(file_number: int, head: int) -> set[int]:
    """The revisions that led to the present one."""
    parents = dict(
        Revision.select(Revision.id, Revision.parent).where(Revision.file == file_number).tuples()
    )
    led_here: set[int] = set()
    at: int | None = head
    while at is not None:
        led_here.add(at)
        at = parents.get(at)
    return led_here


def revision(file_number: int, number: int) -> Revision:
    kept = Revision.get_or_none((Revision.id == number) & (Revision.file == file_number))
    if kept is None:
        raise NotFound("this model has no such revision.")
    return kept


def name_revision(file_number: int, number: int, name: str) -> None:
    """Give a revision a name by which it is found again; an empty one takes the name away."""
    named = revision(file_number, number)
    named.name = " ".join(name.split())[:200]
    named.save(only=[Revision.name])


def compare_revisions(project: int, qualified: str, file_number: int, a: int, b: int) -> Comparison:
    """What differs between two revisions of a model. Raises :class:`NotFound`."""
    first, second = revision(file_number, a), revision(file_number, b)
    return compare(
        projects.snapshot(project),
        qualified,
        ModelFile.get_by_id(file_number).path,
        first.text,
        second.text,
    )

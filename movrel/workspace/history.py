"""The revisions of a model: listed in words, named, compared as text and as drawing, restored."""

from __future__ import annotations

import difflib
from typing import Any

from movrel.errors import MovrelError
from movrel.model.drawing import sheet
from movrel.workspace import projects
from movrel.workspace.faults import NotFound
from movrel.workspace.tables import ModelFile, Revision

#: Most revisions listed at once.
PAGE = 200


def revisions(file_number: int, before: int | None = None) -> dict[str, Any]:
    """A page of revisions, newest first, and whether there are ``more`` behind the last of them.

    ``current`` is what the model is now, ``undone`` what a redo could bring back or was left behind.
    """
    file = ModelFile.get_by_id(file_number)
    query = Revision.select(Revision.id, Revision.parent, Revision.summary, Revision.name, Revision.author, Revision.created)
    query = query.where(Revision.file == file_number)
    if before is not None:
        query = query.where(Revision.id < before)
    rows = list(query.order_by(Revision.id.desc()).limit(PAGE + 1))
    line = _line(file_number, file.head)
    listed = [
        {
            "id": r.id,
            "summary": r.summary,
            "name": r.name,
            "author": r.author,
            "created": r.created.isoformat() + "Z",
            "current": r.id == file.head,
            "undone": r.id not in line,
        }
        for r in rows[:PAGE]
    ]
    return {"revisions": listed, "more": len(rows) > PAGE}


def _line(file_number: int, head: int) -> set[int]:
    """The revisions that led to the present one."""
    parents = dict(Revision.select(Revision.id, Revision.parent).where(Revision.file == file_number).tuples())
    found: set[int] = set()
    at: int | None = head
    while at is not None:
        found.add(at)
        at = parents.get(at)
    return found


def revision(file_number: int, number: int) -> Revision:
    found = Revision.get_or_none((Revision.id == number) & (Revision.file == file_number))
    if found is None:
        raise NotFound("this model has no such revision.")
    return found


def name_revision(file_number: int, number: int, name: str) -> None:
    """Give a revision a name by which it is found again; an empty one takes the name away."""
    found = revision(file_number, number)
    found.name = " ".join(name.split())[:200]
    found.save(only=[Revision.name])


def restore(file_number: int, base: int, number: int) -> Revision:
    """Bring the text of an earlier revision back, as a new revision."""
    old = revision(file_number, number)
    words = old.name or old.summary
    return projects.change_text(file_number, base, lambda _: (old.text, f"restored '{words}'"))


def compare(project: int, qualified: str, file_number: int, a: int, b: int) -> dict[str, Any]:
    """What differs between two revisions of a model: lines of text, parts and wires, and both sheets."""
    first, second = revision(file_number, a), revision(file_number, b)
    path = ModelFile.get_by_id(file_number).path
    drawings = [_drawn(project, qualified, path, r.text) for r in (first, second)]
    lines = []
    differ = difflib.unified_diff(first.text.splitlines(), second.text.splitlines(), n=2, lineterm="")
    for line in list(differ)[2:]:
        kind = {"+": "added", "-": "removed", "@": "gap"}.get(line[:1], "same")
        lines.append({"kind": kind, "text": line[1:] if kind != "gap" else ""})
    return {
        "lines": lines,
        "before": drawings[0],
        "after": drawings[1],
        "changes": _changes(drawings[0], drawings[1]),
    }


def _drawn(project: int, qualified: str, path: str, text: str) -> dict[str, Any] | None:
    taken = projects.snapshot(project).changed(path, text)
    try:
        return sheet(projects.class_tree(taken), projects.definition_of(taken, qualified))
    except MovrelError:
        return None


def _changes(before: dict[str, Any] | None, after: dict[str, Any] | None) -> list[dict[str, str]]:
    """Parts and wires that came, went, moved or became of another class."""
    if before is None or after is None:
        return []
    old = {c["name"]: c for c in before["components"]}
    new = {c["name"]: c for c in after["components"]}
    found = [{"what": "added", "name": n} for n in new if n not in old]
    found += [{"what": "removed", "name": n} for n in old if n not in new]
    for name in old.keys() & new.keys():
        if old[name]["class"] != new[name]["class"]:
            found.append({"what": "swapped", "name": name})
        elif (old[name]["extent"], old[name]["rotation"]) != (new[name]["extent"], new[name]["rotation"]):
            found.append({"what": "moved", "name": name})
    wires = [{f"{c['from']} – {c['to']}" for c in s["connections"]} for s in (before, after)]
    found += [{"what": "wired", "name": w} for w in sorted(wires[1] - wires[0])]
    found += [{"what": "unwired", "name": w} for w in sorted(wires[0] - wires[1])]
    return found

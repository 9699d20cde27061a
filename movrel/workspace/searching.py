"""Search in the texts of a project."""

from __future__ import annotations

from typing import Any

from movrel.model.classes import Definition
from movrel.workspace import projects

#: Most places that are listed.
FOUND = 200


def search(project: int, words: str) -> list[dict[str, Any]]:
    """Lines that hold what was typed, letter case aside, with file, line number and the model they belong to."""
    wanted = words.strip().lower()
    if not wanted:
        return []
    taken = projects.snapshot(project)
    owners: dict[str, list[Definition]] = {}
    for definition in projects.models(taken, inside_models=True):
        owners.setdefault(definition.source.file, []).append(definition)
    found: list[dict[str, Any]] = []
    for path, text in taken.files:
        for number, line in enumerate(text.split("\n"), 1):
            if wanted in line.lower():
                model = _owner(owners.get(path, []), number)
                found.append({"file": path, "line": number, "text": line.strip()[:200], "model": model})
                if len(found) >= FOUND:
                    return found
    return found


def _owner(definitions: list[Definition], line: int) -> str:
    """The innermost model that holds a line."""
    best = ""
    size = 10**9
    for d in definitions:
        first, last = d.source.place(d.node.start).line, d.source.place(d.node.end).line
        if first <= line <= last and last - first < size:
            best, size = d.qualified, last - first
    return best or (definitions[0].qualified if definitions else "")

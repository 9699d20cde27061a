"""Search in the texts of a project."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.model.classes import Definition
from movrel.project.snapshot import Snapshot, models

#: Most places that are listed.
MOST = 200


@dataclass(frozen=True, slots=True)
class TextMatch:
    """A line that holds what was looked for, and the model that it belongs to."""

    file: str
    line: int
    text: str
    model: str


@dataclass(frozen=True, slots=True)
class SearchResult:
    matches: list[TextMatch]


def search(snapshot: Snapshot, words: str) -> SearchResult:
    """Lines that hold what was typed, letter case aside."""
    wanted = words.strip().lower()
    matches: list[TextMatch] = []
    if not wanted:
        return SearchResult(matches)
    owners: dict[str, list[Definition]] = {}
    for definition in models(snapshot, inside_models=True):
        owners.setdefault(definition.source.file, []).append(definition)
    for path, text in snapshot.files:
        for number, line in enumerate(text.split("\n"), 1):
            if wanted in line.lower():
                matches.append(
                    TextMatch(
                        path, number, line.strip()[:200], _owner(owners.get(path, []), number)
                    )
                )
                if len(matches) >= MOST:
                    return SearchResult(matches)
    return SearchResult(matches)


def _owner(definitions: list[Definition], line: int) -> str:
    """The innermost model that holds a line."""
    best = ""
    size = 10**9
    for d in definitions:
        first, last = d.source.place(d.node.start).line, d.source.place(d.node.end).line
        if first <= line <= last and last - first < size:
            best, size = d.qualified, last - first
    return best or (definitions[0].qualified if definitions else "")

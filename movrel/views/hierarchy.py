"""The parts of a model and the parts of these."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.model.classes import Definition
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.sheet.drawing import sheet

#: Levels of assemblies that are listed.
DEPTH = 6


@dataclass(frozen=True, slots=True)
class Branch:
    """A part with the parts inside it."""

    name: str
    class_name: str
    description: str
    #: Whether it can be stepped into.
    opens: bool
    parts: list[Branch]


@dataclass(frozen=True, slots=True)
class Hierarchy:
    model: str
    parts: list[Branch]


def hierarchy(snapshot: Snapshot, qualified: str) -> Hierarchy:
    """The parts of a model and the parts of these, as far as they are assemblies of the project."""
    tree = class_tree(snapshot)

    def visit(definition: Definition, level: int) -> list[Branch]:
        branches = []
        for part in sheet(tree, definition).components:
            inner = tree.find(part.class_name)
            own = inner is not None and inner.source.file in snapshot.revisions
            inside = visit(inner, level + 1) if own and inner is not None and level < DEPTH else []
            branches.append(Branch(part.name, part.class_name, part.description, own, inside))
        return branches

    return Hierarchy(qualified, visit(definition_of(snapshot, qualified), 0))

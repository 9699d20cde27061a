"""One edit: patches of the text of the file that holds a model, stored as a revision."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch, apply
from movrel.model.classes import ClassTree, Definition, parse_cached, parse_changed
from movrel.workspace import projects
from movrel.workspace.edits import class_node
from movrel.workspace.tables import Revision

#: Farthest that something can lie from the middle of a sheet.
REACH = 20_000.0


@dataclass(frozen=True, slots=True)
class Target:
    """The model that is edited, in its project."""

    taken: projects.Snapshot
    tree: ClassTree
    definition: Definition
    source: Source
    cls: s.ClassDef

    @property
    def qualified(self) -> str:
        return self.definition.qualified


#: Gives the new text of the file, or patches of it, and what was done in words.
Make = Callable[[Target], tuple[str | list[Patch], str]]


def target(project: int, qualified: str) -> Target:
    """A model with its classes as they are now."""
    taken, definition = projects.current(project, qualified)
    return Target(taken, projects.class_tree(taken), definition, definition.source, definition.node)


def edit(project: int, qualified: str, revision: int, make: Make) -> Revision:
    """Apply what ``make`` finds to do to a model as one revision.

    Raises :class:`StaleRevision` when the model was edited in the meantime, and whatever ``make``
    raises; then nothing is changed.
    """
    found = target(project, qualified)
    file, _, _ = projects.file_of(found.taken, found.definition)

    def change(text: str) -> tuple[str, str]:
        source = parse_cached(text, file.path)
        at = Target(found.taken, found.tree, found.definition, source, class_node(source.tree, qualified, source.tree.within))
        result, summary = make(at)
        new = result if isinstance(result, str) else apply(text, result)
        parse_changed(source, new, None if isinstance(result, str) else result)
        return new, summary

    return projects.change_text(file.id, revision, change)


def again(at: Target, text: str) -> tuple[Source, s.ClassDef]:
    """The class in a changed text, for an edit that takes several steps."""
    source = parse_changed(at.source, text)
    return source, class_node(source.tree, at.qualified, source.tree.within)


def check_reach(extent: list[float]) -> None:
    """Refuse places that nobody could find again."""
    if len(extent) != 4 or not all(-REACH <= v <= REACH for v in extent):
        raise EditFault("that is too far from the middle of the sheet.")


def listed(names: list[str]) -> str:
    """A few names for a sentence."""
    shown = ", ".join(names[:3])
    return shown if len(names) <= 3 else f"{shown} and {len(names) - 3} more"

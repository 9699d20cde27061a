"""The model that is edited, and what an edit makes of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Protocol, TypeAlias

from annotated_types import IsFinite, Len, MaxLen

from movrel.errors import EditFault, NotFound
from movrel.language import syntax as s
from movrel.language.parse_cache import parse_changed
from movrel.language.parser import Source
from movrel.language.patch import Patch, apply
from movrel.language.reparse import difference
from movrel.language.tree_search import class_at
from movrel.model.classes import ClassTree, Definition
from movrel.model.expression import Scalar
from movrel.project.snapshot import Snapshot, class_tree, definition_of, loaded_model
from movrel.session import LoadedModel

Name: TypeAlias = Annotated[str, MaxLen(400)]
Text: TypeAlias = Annotated[str, MaxLen(5_000_000)]
Coordinate: TypeAlias = IsFinite[float]
Corner: TypeAlias = Annotated[list[Coordinate], Len(2, 2)]

#: Farthest that something can lie from the middle of a sheet.
REACH = 20_000.0


@dataclass(frozen=True, slots=True)
class PastRun:
    """What an edit may need of a run: the texts and values with which it was ordered."""

    number: int
    snapshot: Snapshot
    changes: dict[str, str]
    options: dict[str, Any]
    parameters: dict[str, Scalar]


def no_run(identity: int) -> PastRun:
    """Where there are no runs to look at."""
    raise NotFound(f"there is no run {identity}.")


@dataclass(frozen=True, slots=True)
class Target:
    """A model in its project, with its text as it is now."""

    snapshot: Snapshot
    tree: ClassTree
    definition: Definition
    source: Source
    cls: s.ClassDef
    #: A run by its identity, for edits that bring back what a run had.
    past_run: Callable[[int], PastRun] = no_run

    @property
    def qualified(self) -> str:
        return self.definition.qualified

    @property
    def loaded(self) -> LoadedModel:
        """The model ready to be computed."""
        return loaded_model(self.snapshot, self.qualified)

    def with_patches(self, patches: Sequence[Patch]) -> Snapshot:
        """The project as it would be."""
        return self.snapshot.changed(self.source.file, apply(self.source.text, patches))

    def again(self, text: str) -> tuple[Source, s.ClassDef]:
        """The class in a changed text, for an edit that takes several steps."""
        source = parse_changed(self.source, text)
        return source, class_node(source.tree, self.qualified)

    def after(self, text: str) -> Target:
        """The model in a project in which its file has another text."""
        return target_of(
            self.snapshot.changed(self.source.file, text), self.qualified, self.past_run
        )

    def rewritten(self, text: str) -> tuple[Patch, ...]:
        """Another text of the file as the patch that leads to it."""
        return (difference(self.source.text, text),)


@dataclass(frozen=True, slots=True)
class Edited:
    """What an edit does: patches of the file that holds the model, in words, and the names of parts that came."""

    patches: Sequence[Patch]
    summary: str
    inserted: Sequence[str] = ()


class Edit(Protocol):
    """Something that can be done to a model."""

    def apply(self, target: Target) -> Edited:
        """Find the patches. Raises :class:`EditFault` where it cannot be done; nothing is changed here."""
        ...


@dataclass(frozen=True, slots=True)
class Changed:
    """A file with its new text."""

    path: str
    text: str
    summary: str
    inserted: list[str]


def target_of(
    snapshot: Snapshot, qualified: str, past_run: Callable[[int], PastRun] = no_run
) -> Target:
    """A model as the target of edits. Raises :class:`NotFound`."""
    definition = definition_of(snapshot, qualified)
    return Target(
        snapshot, class_tree(snapshot), definition, definition.source, definition.node, past_run
    )


def apply_to(target: Target, edit: Edit) -> Changed:
    """The file of a model after an edit; the new text was seen to parse.

    Raises whatever the edit raises, and :class:`movrel.errors.SyntaxFault` when its outcome is no Modelica.
    """
    edited = edit.apply(target)
    text = apply(target.source.text, edited.patches)
    parse_changed(target.source, text, edited.patches)
    return Changed(target.source.file, text, edited.summary, list(edited.inserted))


def class_node(tree: s.StoredFile, qualified: str) -> s.ClassDef:
    """The class of that full name in a file."""
    within = tree.within
    return class_at(tree, qualified.split(".")[len(within.split(".")) if within else 0 :])


def check_reach(extent: list[float]) -> None:
    """Refuse places that nobody could find again."""
    if len(extent) != 4 or not all(-REACH <= v <= REACH for v in extent):
        raise EditFault("that is too far from the middle of the sheet.")


def listed(names: Sequence[str]) -> str:
    """A few names for a sentence."""
    shown = ", ".join(names[:3])
    return shown if len(names) <= 3 else f"{shown} and {len(names) - 3} more"

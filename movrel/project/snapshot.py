"""The texts of a project at one moment, and what is made of them: the tree of classes, loaded models.

Nothing here knows where the texts are kept.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from movrel.errors import NotFound
from movrel.model.classes import ClassTree, Definition
from movrel.model.flatten import RUNNABLE
from movrel.project.semantic_text import semantic_text
from movrel.session import LoadedModel
from movrel.sized_cache import TREE, SizedCache

#: Bytes of the classes of snapshots that are kept, which share the trees of equal texts, and of models with their systems.
TREES, MODELS = 40_000_000, 200_000_000


@dataclass(frozen=True, slots=True)
class Snapshot:
    """The texts of a project at one moment: ``(path, text)`` each, packages first.

    Snapshots of equal texts are equal, whatever their revisions, so that what was compiled for one
    serves for the other.
    """

    project: int
    files: tuple[tuple[str, str], ...]
    #: The folder in which files beside the models lie; another one for other contents.
    folder: str = ""
    #: {path: revision}
    revisions: dict[str, int] = field(default_factory=dict, compare=False)

    @staticmethod
    def of(
        texts: Mapping[str, str],
        project: int = 0,
        revisions: Mapping[str, int] | None = None,
        folder: str = "",
    ) -> Snapshot:
        """A snapshot of texts by their paths, ``{"Sump.mo": "model Sump …"}``, put into the order in which they are read.

        ``revisions`` gives the number of each text; without them numbers are made from the texts.
        """
        ordered = sorted(
            texts, key=lambda path: (path.count("/"), not path.endswith("package.mo"), path)
        )
        numbers = {
            path: revisions[path] if revisions else _number_of(texts[path]) for path in ordered
        }
        return Snapshot(project, tuple((path, texts[path]) for path in ordered), folder, numbers)

    def changed(self, path: str, text: str) -> Snapshot:
        """The same with another text for one file."""
        return Snapshot(
            self.project,
            tuple((p, text if p == path else t) for p, t in self.files),
            self.folder,
            self.revisions,
        )

    def text(self, path: str) -> str:
        """The text of a file."""
        return dict(self.files)[path]


def _number_of(text: str) -> int:
    """What tells the texts of a file apart where nobody counts revisions."""
    return int(hashlib.sha256(text.encode()).hexdigest()[:12], 16)


def class_tree(snapshot: Snapshot) -> ClassTree:
    """The classes of a snapshot; the component library is added on demand."""
    return _trees.get(snapshot, lambda: new_class_tree(snapshot))


def _size_of_tree(tree: ClassTree) -> int:
    return TREE * sum(map(len, tree.own_texts().values()))


_trees = SizedCache(TREES, _size_of_tree)


def new_class_tree(snapshot: Snapshot) -> ClassTree:
    """The same for whoever will add to it."""
    tree = ClassTree()
    for path, text in snapshot.files:
        tree.add_text(text, path)
    if snapshot.folder:
        tree.folders.append(Path(snapshot.folder))
    return tree


def loaded_model(snapshot: Snapshot, qualified: str) -> LoadedModel:
    """A model of a snapshot, its flat form and system made when first used.

    Snapshots that differ only in how things are drawn share it. Raises :class:`NotFound`.
    """
    return _models.get(
        _semantic_key(snapshot, qualified),
        lambda: LoadedModel(class_tree(snapshot), definition_of(snapshot, qualified)),
    )


_models: SizedCache[LoadedModel] = SizedCache(MODELS, lambda model: model.size)


def semantic_mark(snapshot: Snapshot, qualified: str) -> str:
    """A short text that stays the same as long as only drawings change."""
    return hashlib.sha256(repr(_semantic_key(snapshot, qualified)).encode()).hexdigest()[:16]


def _semantic_key(snapshot: Snapshot, qualified: str) -> tuple[int, str, tuple[str, ...], str]:
    return (
        snapshot.project,
        snapshot.folder,
        tuple(semantic_text(text, path) for path, text in snapshot.files),
        qualified,
    )


def definition_of(snapshot: Snapshot, qualified: str) -> Definition:
    """The class of that full name in the project's own files. Raises :class:`NotFound`."""
    definition = class_tree(snapshot).find(qualified)
    if definition is None or definition.source.file not in snapshot.revisions:
        raise NotFound(
            f"there is no model '{qualified}' in this project.",
            hint="Go to the start page to see its models.",
        )
    return definition


def models(snapshot: Snapshot, inside_models: bool = False) -> list[Definition]:
    """The models of a project that can be run, in the order of its files.

    Those declared inside another model, its assemblies, are left out unless asked for.
    """
    runnable: list[Definition] = []

    def visit(definition: Definition) -> None:
        if definition.node.kind in RUNNABLE and not definition.node.partial:
            runnable.append(definition)
        if inside_models or definition.node.kind == "package":
            for child in definition.children.values():
                visit(child)

    for definition in class_tree(snapshot).roots.values():
        if definition.source.file in snapshot.revisions:
            visit(definition)
    return runnable

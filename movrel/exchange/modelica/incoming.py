"""Modelica text of others on its way in: what is missing, what cannot be run, what is there already, and what to do."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import PurePosixPath

from movrel.errors import MovrelError
from movrel.exchange.modelica.stand_ins import Need, candidates, needs_of, stand_in
from movrel.exchange.modelica.used_classes import used_classes
from movrel.exchange.ssp.as_model import model_of_archive
from movrel.language import syntax as s
from movrel.language.parse_cache import parse_cached
from movrel.language.parser import Source
from movrel.language.patch import Patch, apply
from movrel.language.tree_search import walk_nodes
from movrel.model.classes import LIBRARY_FOLDER, ClassTree, Definition
from movrel.model.flatten import RUNNABLE
from movrel.project.rig_settings import rig_settings
from movrel.project.semantic_text import semantic_text
from movrel.session import LoadedModel

#: Largest archive packed and unpacked in bytes, most files in one, and most models that are tried.
ARCHIVE_LIMIT, UNPACKED_LIMIT, FILES_LIMIT, TRIED = 50_000_000, 200_000_000, 5_000, 200


@dataclass(frozen=True, slots=True)
class Decisions:
    """What a person decided: classes for which a stub is made, and of ours that take the place of missing ones."""

    stubs: frozenset[str] = frozenset()
    replacements: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class MissingClass:
    """A class that is named and not there: who names it first, the ports that are used of it, and classes of ours that
    have these."""

    name: str
    count: int
    used_by: str
    file: str
    line: int
    ports: list[str]
    parameters: list[str]
    candidates: list[str]
    decided: str


@dataclass(frozen=True, slots=True)
class Trouble:
    """Something about a class, in a sentence."""

    name: str
    sentence: str
    file: str
    line: int


@dataclass(frozen=True, slots=True)
class ImportReport:
    """What coming texts hold and what stands in the way.

    ``clashes`` are classes that the project has with another text; ``left_out`` those that are there already, in the
    project or in the library. ``troubles`` are models that could not be run, and why.
    """

    files: int
    classes: int
    models: list[str]
    missing: list[MissingClass]
    troubles: list[Trouble]
    clashes: list[Trouble]
    left_out: list[str]

    @property
    def can_be_taken(self) -> bool:
        return not self.clashes and all(m.decided for m in self.missing)


def read_files(name: str, data: bytes) -> tuple[dict[str, str], dict[str, bytes]]:
    """The Modelica texts, and the units beside them, of a file or a ZIP archive.

    Raises :class:`MovrelError` for what is neither.
    """
    if len(data) > ARCHIVE_LIMIT:
        raise MovrelError(f"'{name}' is larger than {ARCHIVE_LIMIT // 1_000_000} MB.")
    if name.lower().endswith(".mo"):
        return {PurePosixPath(name.replace("\\", "/")).name: _decoded(name, data)}, {}
    if name.lower().endswith(".ssp"):
        rig = model_of_archive(data, name)
        return {f"{rig.name}.mo": rig.text}, rig.files
    try:
        packed = zipfile.ZipFile(io.BytesIO(data))
        entries = [e for e in packed.infolist() if not e.is_dir()]
        texts = [e for e in entries if e.filename.endswith(".mo")]
        beside = [e for e in entries if e.filename.lower().endswith((".fmu", ".csv"))]
        if sum(e.file_size for e in (*texts, *beside)) > UNPACKED_LIMIT or len(texts) > FILES_LIMIT:
            raise MovrelError("the archive holds more than can be read.")
        decoded = {e.filename: _decoded(e.filename, packed.read(e)) for e in texts}
        units = {e.filename: packed.read(e) for e in beside}
    except (zipfile.BadZipFile, RuntimeError, OSError, NotImplementedError):
        raise MovrelError(
            f"'{name}' is neither Modelica text nor a ZIP archive.",
            hint="Choose a file that ends in .mo, or an archive of such files.",
        ) from None
    if not decoded:
        raise MovrelError(
            f"'{name}' holds no Modelica files.", hint="It must hold files that end in .mo."
        )
    return decoded, units


def _decoded(name: str, data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as fault:
        raise MovrelError(
            f"'{name}' is not UTF-8 text (byte {fault.start}).", hint="Save it as UTF-8."
        ) from None


def import_report(
    present: Mapping[str, str], coming: Mapping[str, str], decisions: Decisions | None = None
) -> ImportReport:
    """What is to be said before texts are taken into a project that has the texts ``present``."""
    return _Import(present, coming, decisions or Decisions()).report()


def texts_to_add(
    present: Mapping[str, str], coming: Mapping[str, str], decisions: Decisions | None = None
) -> dict[str, str]:
    """The texts that are to be added, packages before what lies in them. Raises :class:`MovrelError` while something
    stands in the way."""
    return _Import(present, coming, decisions or Decisions()).texts()


def ordered(texts: Mapping[str, str]) -> list[str]:
    """The paths of texts, packages before what lies in them."""
    return sorted(
        texts, key=lambda p: (p.count("/"), not p.endswith("package.mo"), _depth(texts[p], p), p)
    )


def _depth(text: str, path: str) -> int:
    within = parse_cached(text, path).tree.within
    return within.count(".") + 1 if within else 0


class _Import:
    def __init__(
        self, present: Mapping[str, str], coming: Mapping[str, str], decisions: Decisions
    ) -> None:
        self.decisions = decisions
        self.present = present
        self.before = _tree(present)
        self.left_out: list[str] = []
        self.clashes: list[Trouble] = []
        self.coming: dict[str, str] = {}
        for path in ordered(coming):
            kept = self._kept(parse_cached(coming[path], path))
            if kept is not None:
                self.coming[path] = self._with_replacements(kept, path)
        self.tree = _tree({**present, **self.coming})
        self.own = [
            d
            for path in self.coming
            for d in _definitions(self.tree, parse_cached(self.coming[path], path))
        ]
        self.missing = used_classes(self.tree, *self.own).missing

    # --- what is there already ---

    def _kept(self, source: Source) -> str | None:
        """The text without what the project or the library has already; None where nothing is left."""
        kept: list[s.ClassDef] = []
        left_out: list[s.ClassDef] = []
        for node in source.tree.classes:
            name = f"{source.tree.within}.{node.name}" if source.tree.within else node.name
            ours = self.before.find(name)
            if ours is not None and (_is_library(ours) or _same(node, source, ours)):
                left_out.append(node)
                self.left_out.append(name)
                continue
            kept.append(node)
            if ours is not None:
                line = source.place(node.name_span[0]).line
                sentence = f"the project has another class '{name}'."
                self.clashes.append(Trouble(name, sentence, source.file, line))
        if not kept:
            return None
        patches = [Patch(n.start, _after(source.text, n.end), "") for n in left_out]
        return apply(source.text, patches)

    def _with_replacements(self, text: str, path: str) -> str:
        """The text with classes of ours named in the place of missing ones."""
        if not self.decisions.replacements:
            return text
        source = parse_cached(text, path)
        patches: list[Patch] = []
        for node in walk_nodes(source.tree):
            if isinstance(node, s.Component | s.Extends | s.Constraint):
                ours = self.decisions.replacements.get(node.type_name.lstrip("."))
                at = text.find(node.type_name, node.start, node.end) if ours else -1
                if ours and at >= 0:
                    patches.append(Patch(at, at + len(node.type_name), ours))
        distinct = {p.start: p for p in patches}
        return apply(text, list(distinct.values()))

    # --- what is missing ---

    def _needs(self) -> list[Need]:
        return needs_of(self.tree, self.own, self.missing)

    def report(self) -> ImportReport:
        needs = self._needs()
        known = {n.name for n in needs}
        missing = []
        for need in needs:
            place = need.scope.place(need.node)
            missing.append(
                MissingClass(
                    need.name,
                    need.count,
                    need.scope.qualified,
                    place.file or "",
                    place.line,
                    sorted(need.ports),
                    sorted(need.parameters),
                    candidates(self.tree, need),
                    "stub" if need.name in self.decisions.stubs else "",
                )
            )
        missing += [
            MissingClass(old, 0, "", "", 0, [], [], [], ours)
            for old, ours in self.decisions.replacements.items()
            if old not in known
        ]
        return ImportReport(
            files=len(self.coming),
            classes=len(self.own),
            models=[d.qualified for d in self._models()][:500],
            missing=missing,
            troubles=self._troubles(),
            clashes=self.clashes,
            left_out=self.left_out,
        )

    def _models(self) -> list[Definition]:
        return [d for d in self.own if d.node.kind in RUNNABLE and not d.node.partial]

    def _troubles(self) -> list[Trouble]:
        """Models that cannot be run as they are, each with its first reason."""
        texts = {**self.present, **self._with_stubs()}
        try:
            tree = _tree(texts)
        except MovrelError as fault:
            return [Trouble("", fault.sentence(), "", 0)]
        troubles: list[Trouble] = []
        for model in self._models()[:TRIED]:
            definition = tree.find(model.qualified)
            if definition is None or used_classes(tree, definition).missing:
                continue  # what is missing is said elsewhere
            try:
                loaded = LoadedModel(tree, definition)
                # The units of a rig are computed one by one, and inputs that nothing feeds keep their values.
                loaded.flat if rig_settings(definition) else loaded.ordered  # made when asked for
            except MovrelError as fault:
                where = fault.where
                troubles.append(
                    Trouble(
                        model.qualified,
                        f"{fault.message} {fault.hint}".strip(),
                        (where.file or "") if where else "",
                        where.line if where else 0,
                    )
                )
        return troubles

    def _with_stubs(self) -> dict[str, str]:
        texts = dict(self.coming)
        for need in self._needs():
            if need.name in self.decisions.stubs:
                path, text = stand_in(self.tree, need)
                texts[path] = text
        return texts

    def texts(self) -> dict[str, str]:
        if self.clashes:
            first = self.clashes[0]
            raise MovrelError(
                f"{first.sentence[:-1]}, with another text ({first.file}, line {first.line}).",
                hint="Rename or delete one of them, or import into a new project.",
            )
        undecided = [n for n in self._needs() if n.name not in self.decisions.stubs]
        if undecided:
            raise MovrelError(
                f"the class '{undecided[0].name}' is missing.",
                hint="Have a stub made for it, or name a class of ours in its place.",
            )
        texts = self._with_stubs()
        return {path: texts[path] for path in ordered(texts)}


def _tree(texts: Mapping[str, str]) -> ClassTree:
    tree = ClassTree()
    for path in ordered(texts):
        tree.add_text(texts[path], path)
    return tree


def _definitions(tree: ClassTree, source: Source) -> list[Definition]:
    """All classes of a file, those inside packages too."""
    within = tree.find(source.tree.within) if source.tree.within else None
    found: list[Definition] = []

    def visit(definition: Definition) -> None:
        if definition.source.file != source.file:
            return
        found.append(definition)
        if definition.node.kind == "package":
            for child in definition.children.values():
                visit(child)

    for node in source.tree.classes:
        top = tree.own_child(within, node.name) if within else tree.roots.get(node.name)
        if top is not None:
            visit(top)
    return found


def _is_library(definition: Definition) -> bool:
    """Whether a class is of the component library that is always there."""
    root = definition
    while root.parent is not None:
        root = root.parent
    return root.folder is not None and root.folder.is_relative_to(LIBRARY_FOLDER)


def _same(node: s.ClassDef, source: Source, ours: Definition) -> bool:
    """Whether two classes compute the same: their texts without drawings and layout are equal."""

    def plain(text: str) -> list[str]:
        return semantic_text(f"{text};", "class").split()

    return plain(source.slice(node)) == plain(ours.source.slice(ours.node))


def _after(text: str, end: int) -> int:
    """Behind the semicolon of a class."""
    at = text.find(";", end)
    return end if at < 0 or text[end:at].strip() else at + 1

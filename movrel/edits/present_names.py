"""Old names of the component library in a text: found, and replaced by the present ones."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from movrel.analyse.claim_text import renamed
from movrel.edits.target import Edited, Target, listed
from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.dotted_names import dotted_names
from movrel.language.parser import Source
from movrel.language.patch import Patch
from movrel.language.tree_search import references, strings
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of
from movrel.model.old_names import CLASSES, PARAMETERS, present_class

_LAST_NAMES = {name for names in CLASSES.values() for name in names}
# What a text without old names does not have: most texts are done with after these two.
_CLASS_LIKE = re.compile(rf"\.\s*(?:{'|'.join(sorted(_LAST_NAMES))})\b")
_PARAMETER_LIKE = re.compile(
    rf"\b(?:{'|'.join(sorted({old for names in PARAMETERS.values() for old in names}))})\b"
)


@dataclass(frozen=True, slots=True)
class OldName:
    """A place in a text that has an old name, and what stands there instead now."""

    start: int
    end: int
    old: str
    present: str


def old_names(tree: ClassTree, source: Source) -> list[OldName]:
    """The old names of classes and parameters of the library in a file, in the order of the text."""
    definitions = [
        d for c in source.tree.classes if (d := _definition(tree, source, c)) is not None
    ]
    names: list[OldName] = []
    if _CLASS_LIKE.search(source.text):
        names += _classes(tree, source, definitions)
    if _PARAMETER_LIKE.search(source.text):
        for definition in definitions:
            names += _parameters(tree, definition)
    return sorted(names, key=lambda n: n.start)


def _definition(tree: ClassTree, source: Source, node: s.ClassDef) -> Definition | None:
    within = source.tree.within
    return tree.find(f"{within}.{node.name}" if within else node.name)


def _classes(tree: ClassTree, source: Source, definitions: list[Definition]) -> Iterator[OldName]:
    """Names of classes with the path of their package in front; what is imported keeps its short name."""
    imports = {
        e.path
        for d in definitions
        for e in d.node.elements
        if isinstance(e, s.Import) and not e.alias
    }
    for parts in dotted_names(source.text):
        last = parts[-1]
        if len(parts) < 2 or last.name not in _LAST_NAMES:
            continue
        owner = tree.lookup(
            ".".join(p.name for p in parts[:-1]), definitions[0] if definitions else None
        )
        present = present_class(owner.qualified, last.name) if owner is not None else None
        if present is None:
            continue
        if ".".join(p.name for p in parts) in imports:
            yield OldName(parts[0].start, parts[0].start, "", f"{last.name} = ")
        yield OldName(last.start, last.end, last.name, present)


def _parameters(tree: ClassTree, definition: Definition) -> Iterator[OldName]:
    source = definition.source
    for element in definition.node.elements:
        if isinstance(element, s.ClassDef) and element.name in definition.children:
            yield from _parameters(tree, definition.children[element.name])
        if not isinstance(element, s.Component):
            continue
        kind = class_of(tree, definition, element)
        names = PARAMETERS.get(kind.qualified, {}) if kind is not None else {}
        for argument in element.modification.arguments if names and element.modification else ():
            if isinstance(argument, s.Modify) and argument.name in names:
                start = source.text.index(argument.name, argument.start)
                yield OldName(
                    start, start + len(argument.name), argument.name, names[argument.name]
                )
        for old, present in names.items():
            for reference in references(definition.node, element.name):
                if len(reference.parts) > 1 and reference.parts[1].name == old:
                    part = reference.parts[1]
                    yield OldName(part.start, part.start + len(old), old, present)


def _in_annotations(tree: ClassTree, definition: Definition) -> Iterator[Patch]:
    """Claims, scenarios and strips of a model that name a parameter by its old name."""
    vendor = note.find(definition.node.annotation, VENDOR)
    for node in strings(vendor) if vendor is not None else ():
        text = node.value
        for element in definition.node.elements:
            kind = class_of(tree, definition, element) if isinstance(element, s.Component) else None
            if kind is None or not isinstance(element, s.Component):
                continue
            for old, present in PARAMETERS.get(kind.qualified, {}).items():
                text = renamed(text, f"{element.name}.{old}", f"{element.name}.{present}")
        if text != node.value:
            yield Patch(node.start, node.end, quoted(text))


@dataclass(frozen=True, slots=True)
class UsePresentNames:
    """Write the present names of the component library where the file of the model has old ones."""

    do: Literal["present names"] = "present names"

    def apply(self, target: Target) -> Edited:
        names = old_names(target.tree, target.source)
        if not names:
            raise EditFault("the text has no old names of the library.")
        words = [
            f"{old} → {present}"
            for old, present in dict.fromkeys((n.old, n.present) for n in names if n.old)
        ]
        patches = [Patch(n.start, n.end, n.present) for n in names]
        return Edited(
            [*patches, *_in_annotations(target.tree, target.definition)],
            f"present names: {listed(words)}",
        )

"""A model as Modelica text that needs nothing else: one file, the files of a package folder, or an archive of these."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field
from pathlib import Path

from movrel.edits.components import text_alone
from movrel.edits.fragment import declared
from movrel.errors import MovrelError
from movrel.exchange.modelica.used_classes import Used, used_classes
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.margins import indented
from movrel.language.tree_search import strings
from movrel.model.classes import ClassTree, Definition
from movrel.model.resource_files import resource_file

#: Longest text that may be the name of a file.
NAME_LIMIT = 200


@dataclass(slots=True)
class Outgoing:
    """The texts of a model by path, and the files with data that it reads."""

    texts: dict[str, str]
    resources: dict[str, Path] = field(default_factory=dict)


def one_file(tree: ClassTree, model: Definition) -> str:
    """The model with the classes that it uses, in one text; the model comes last.

    Raises :class:`MovrelError` naming a class that is missing.
    """
    used = _complete(tree, model)
    return "".join(_nested(tree, used, root, model) + "\n" for root in _roots(used, model))


def package_files(tree: ClassTree, model: Definition) -> Outgoing:
    """The same as files: a folder for each package with its package.mo and package.order (specification 13.4)."""
    used = _complete(tree, model)
    texts: dict[str, str] = {}
    for root in _roots(used, model):
        _lay_out(tree, used, root, model, "", texts)
    return Outgoing(texts, _resources(tree, used))


def archive(tree: ClassTree, model: Definition) -> bytes:
    """A ZIP archive of the files."""
    out = io.BytesIO()
    files = package_files(tree, model)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for path, text in files.texts.items():
            packed.writestr(path, text)
        for path, file in files.resources.items():
            packed.write(file, path)
    return out.getvalue()


def write_files(tree: ClassTree, model: Definition, folder: Path) -> list[str]:
    """Write the files below a folder that is empty or not there; the paths that were written."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise MovrelError(
            f"'{folder}' is not empty.", hint="Name a folder that is empty or not there yet."
        )
    files = package_files(tree, model)
    for path, text in files.texts.items():
        target = folder / path
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_text(text, encoding="utf-8")
    for path, file in files.resources.items():
        target = folder / path
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(file.read_bytes())
    return [*files.texts, *files.resources]


def _complete(tree: ClassTree, model: Definition) -> Used:
    used = used_classes(tree, model)
    for name, places in used.missing.items():
        scope, node = places[0]
        raise MovrelError(
            f"the class '{name.lstrip('.')}' that '{scope.qualified}' names is missing.",
            scope.place(node),
            "Load it, or correct the name.",
        )
    return used


def _roots(used: Used, model: Definition) -> list[Definition]:
    """The classes at the top, that of the model last."""
    own = _root(model)
    roots = dict.fromkeys(_root(d) for d in (*used.packages, *used.whole))
    return [r for r in roots if r is not own] + [own]


def _root(definition: Definition) -> Definition:
    while definition.parent is not None:
        definition = definition.parent
    return definition


def _children(
    tree: ClassTree, used: Used, package: Definition, model: Definition
) -> list[Definition]:
    """The classes of a package that are used, in its order; the one that holds the model last."""
    chosen = [d for d in tree.members(package) if d in used.whole or d in used.packages]
    line = {model}
    while model.parent is not None:
        model = model.parent
        line.add(model)
    return [d for d in chosen if d not in line] + [d for d in chosen if d in line]


def _nested(tree: ClassTree, used: Used, definition: Definition, model: Definition) -> str:
    """The text of a class, of a package with what is used of it inside."""
    if definition in used.whole and not definition.folder:
        return text_alone(definition)
    head, inner, tail = _shell(definition)
    inner += [
        _nested(tree, used, child, model).rstrip("\n")
        for child in _children(tree, used, definition, model)
    ]
    return "\n".join([head, *(indented(text, "  ") for text in inner), tail]) + "\n"


def _lay_out(
    tree: ClassTree, used: Used, definition: Definition, model: Definition, place: str, texts: dict[str, str]
) -> None:  # fmt: skip
    within = f"within {place.replace('/', '.').rstrip('.')};\n" if place else ""
    if definition.node.kind != "package":
        texts[f"{place}{definition.name}.mo"] = within + text_alone(definition)
        return
    head, inner, tail = _shell(definition)
    folder = f"{place}{definition.name}/"
    lines = [head, *(indented(text, "  ") for text in inner), tail]
    texts[f"{folder}package.mo"] = within + "\n".join(lines) + "\n"
    children = _children(tree, used, definition, model)
    if children:
        texts[f"{folder}package.order"] = "".join(f"{child.name}\n" for child in children)
    for child in children:
        _lay_out(tree, used, child, model, folder, texts)


def _shell(package: Definition) -> tuple[str, list[str], str]:
    """The beginning of a package, its constants, imports and bases, and its end."""
    node, source = package.node, package.source
    if node.form != "long":
        raise MovrelError(
            f"the package '{package.qualified}' is written as a short class.",
            package.place(),
            "Write it out as a package of its own.",
        )
    comment = f" {quoted(node.comment)}" if node.comment else ""
    own = [
        (declared(source, e) if isinstance(e, s.Component) else source.slice(e)) + ";"
        for e in node.elements
        if not isinstance(e, s.ClassDef)
    ]
    prefixes = "".join(f"{p} " for p in node.prefixes)
    return f"{prefixes}package {node.name}{comment}", own, f"end {node.name};"


def _resources(tree: ClassTree, used: Used) -> dict[str, Path]:
    """The files that texts in the used classes name."""
    found: dict[str, Path] = {}
    for definition in used.whole:
        for text in strings(definition.node):
            name = text.value
            if not 0 < len(name) <= NAME_LIMIT or "\n" in name or "." not in name:
                continue
            try:
                path = resource_file(name, tree.folders, None)
            except (MovrelError, OSError, ValueError):
                continue
            found[name.partition("://")[2].partition("/")[2] if "://" in name else name] = path
    return found

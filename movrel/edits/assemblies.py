"""Parts joined to an assembly, assemblies taken apart, and the parameters that their users see."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Len, MaxLen

from movrel.edits import assembly, dissolving, exposure
from movrel.edits.target import Edited, Name, Target, listed
from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.names import RESERVED
from movrel.language.unset_value import Written
from movrel.model.expression import Scalar, Variable


@dataclass(frozen=True, slots=True)
class Assemble:
    """Replace parts by one assembly of them."""

    parts: Annotated[list[Name], Len(1, 2000)]
    name: Name
    description: Annotated[str, MaxLen(1000)] = ""
    do: Literal["assemble"] = "assemble"

    def apply(self, target: Target) -> Edited:
        class_name = _class_name(self.name)
        part_name = class_name[:1].lower() + class_name[1:]
        if part_name == class_name or part_name in RESERVED:
            part_name = f"{class_name}1"
        part_name = _free(target.cls, part_name, set(self.parts))
        patches = assembly.make(
            target.tree, target.definition, self.parts, class_name, part_name, self.description
        )
        return Edited(
            patches, f"made the assembly {class_name} of {listed(self.parts)}", [part_name]
        )


@dataclass(frozen=True, slots=True)
class Dissolve:
    """Put the parts of an assembly in its place."""

    name: Name
    do: Literal["dissolve"] = "dissolve"

    def apply(self, target: Target) -> Edited:
        text, names = dissolving.dissolve(target.tree, target.definition, self.name)
        return Edited(target.rewritten(text), f"dissolved the assembly {self.name}", names)


@dataclass(frozen=True, slots=True)
class Expose:
    """Let the user of an assembly set a parameter of one of its parts."""

    parameter: Name
    name: Name = ""
    description: Annotated[str, MaxLen(1000)] = ""
    group: Annotated[str, MaxLen(200)] = ""
    do: Literal["expose"] = "expose"

    def apply(self, target: Target) -> Edited:
        model = target.loaded
        variable = model.by_name.get(self.parameter)
        elements = [v for v in model.flat.parameters() if v.name.startswith(self.parameter + "[")]
        if variable is None and not elements:
            raise EditFault(f"the model has no parameter '{self.parameter}'.")
        path = self.parameter.split(".")
        name = self.name.strip()
        if not name:
            name = path[-1] if not _declares(target.cls, path[-1]) else "_".join(path[-2:])
            name = _free(target.cls, name, set())
        text = Written(target.source, target.cls).value(*path)
        if text is None:
            values = parameter_values(model.flat, {})
            text = _literal(values.get(variable)) if variable else _array(elements, values)
        patches = exposure.expose(
            target.tree, target.definition, path, name, text, self.description, self.group
        )
        return Edited(patches, f"exposed {self.parameter} as {name}")


@dataclass(frozen=True, slots=True)
class Hide:
    """Take an exposed parameter away again."""

    name: Name
    do: Literal["hide"] = "hide"

    def apply(self, target: Target) -> Edited:
        return Edited(
            exposure.hide(target.tree, target.definition, self.name),
            f"hid the parameter {self.name}",
        )


def _class_name(name: str) -> str:
    words = [w for w in re.split(r"\W+|_", name.strip()) if w]
    text = "".join(w[:1].upper() + w[1:] for w in words)
    if not text or not re.match(r"[A-Za-z]", text):
        raise EditFault(
            f"'{name}' cannot be the name of an assembly.",
            hint="Use letters and digits, beginning with a letter.",
        )
    return text


def _declares(cls: s.ClassDef, name: str) -> bool:
    return any(isinstance(e, s.Component | s.ClassDef) and e.name == name for e in cls.elements)


def _free(cls: s.ClassDef, name: str, leaving: set[str]) -> str:
    if not _declares(cls, name) or name in leaving:
        return name
    number = 2
    while _declares(cls, f"{name}{number}"):
        number += 1
    return f"{name}{number}"


def _array(elements: list[Variable], values: Mapping[Variable, Scalar]) -> str:
    """The text of a vector or matrix by its elements, which come row by row."""
    rows: dict[str, list[str]] = {}
    for v in elements:
        *row, _ = v.name[v.name.rindex("[") + 1 : -1].split(",")
        rows.setdefault(",".join(row), []).append(_literal(values.get(v)))
    if "" in rows:
        return "{" + ", ".join(rows[""]) + "}"
    return "[" + "; ".join(", ".join(row) for row in rows.values()) + "]"


def _literal(value: Scalar | None) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return '"' + value + '"'
    if isinstance(value, int | float):
        return f"{value:.15g}"
    raise EditFault("this parameter has no value that could be passed on.")

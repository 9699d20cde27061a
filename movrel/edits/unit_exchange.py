"""The file of a unit exchanged for another one: its class is written anew, and what still fits of its wires and values stays."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from movrel.edits.components import component_class, with_component
from movrel.edits.figure_table import attribute_text
from movrel.edits.swapping import plan, rewired
from movrel.edits.target import Edited, Name, Target, Text
from movrel.errors import EditFault
from movrel.fmi.description import Interface
from movrel.language import syntax as s
from movrel.language.patch import Patch, apply
from movrel.model import annotation as note
from movrel.model.classes import Definition
from movrel.model.declared import class_of, components
from movrel.model.unit_parts import unit_annotation


@dataclass(frozen=True, slots=True)
class ExchangePlan:
    """What an exchange changes: variables of the class that vanish, appear or become another kind, and of its parts the wires
    and values that are lost; ``broken`` are places that name what vanishes, which have to be changed first."""

    parts: list[str]
    vanished: list[str] = field(default_factory=list)
    appeared: list[str] = field(default_factory=list)
    changed: list[str] = field(default_factory=list)
    wires: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    broken: list[str] = field(default_factory=list)


def unit_classes(target: Target) -> dict[str, str]:
    """The classes of a model's own that are units, with their files."""
    files: dict[str, str] = {}
    for element in target.cls.elements:
        if isinstance(element, s.ClassDef):
            said = unit_annotation(_class_of(target, element.name))
            if said is not None and isinstance(said.get("file"), str):
                files[element.name] = said["file"]
    return files


@dataclass(frozen=True, slots=True)
class ClassChoices:
    """How a class shows its unit: its name of each variable that it has, by that of the unit, how it is solved, its
    communication step in s where it is a number, and the headings of its ports."""

    names: dict[str, str]
    groups: dict[str, str]
    kind: Interface
    step: float | None


def class_choices(target: Target, class_name: str) -> ClassChoices:
    """Read from the text of a class that is a unit."""
    definition = _class_of(target, class_name)
    names: dict[str, str] = {}
    groups: dict[str, str] = {}
    step: float | None = None
    for element in definition.node.elements:
        if not isinstance(element, s.Component):
            continue
        annotation = element.comment.annotation if element.comment else None
        said = note.members(note.find(annotation, note.VENDOR)) if annotation else {}
        if said.get("step") is True:
            value = element.modification.value if element.modification else None
            step = float(value.text) if isinstance(value, s.Number) else None
            continue
        of = said.get("variable")
        variable = of if isinstance(of, str) else element.name
        names[variable] = element.name
        if isinstance(said.get("group"), str):
            groups[variable] = said["group"]
    kind: Interface = "me" if (unit_annotation(definition) or {}).get("kind") == "me" else "cs"
    return ClassChoices(names, groups, kind, step)


def exchange_plan(target: Target, class_name: str, text: str) -> ExchangePlan:
    """What comes of exchanging the unit of a class for the one of a text. Raises :class:`EditFault`."""
    return _planned(target, class_name, text)[0]


@dataclass(frozen=True, slots=True)
class ExchangeUnit:
    """Exchange the unit of a class of the model's own: ``text`` is the class for the other file, of the same name."""

    class_name: Name
    text: Text
    do: Literal["exchange unit"] = "exchange unit"

    def apply(self, target: Target) -> Edited:
        planned, patches = _planned(target, self.class_name, self.text)
        if planned.broken:
            raise EditFault(
                f"what vanishes is used: {planned.broken[0]}.", hint="Change that place first."
            )
        return Edited(
            target.rewritten(apply(target.source.text, patches)),
            f"exchanged the unit of {self.class_name}",
        )


def _planned(target: Target, class_name: str, text: str) -> tuple[ExchangePlan, list[Patch]]:
    if class_name not in unit_classes(target):
        raise EditFault(f"'{target.cls.name}' has no unit '{class_name}' of its own.")
    old = _class_of(target, class_name)
    if component_class(text).name != class_name:
        raise EditFault(f"the class must keep its name '{class_name}'.")
    _, changed = with_component(target.snapshot, target.qualified, text, class_name)
    new = _class_of(target.after(changed), class_name)
    before, after = _members(old), _members(new)
    planned = ExchangePlan(
        [
            e.name
            for e in target.cls.elements
            if isinstance(e, s.Component) and class_of(target.tree, target.definition, e) is old
        ],
        [name for name in before if name not in after],
        [name for name in after if name not in before],
        [
            f"{name}: {before[name]} becomes {kind}"
            for name, kind in after.items()
            if before.get(name, kind) != kind
        ],
    )
    patches = [Patch(old.node.start, old.node.end, new.source.slice(new.node))]
    members = {c.name for _, c in components(target.tree, new)}
    for part in planned.parts:
        swap = plan(target.tree, target.definition, part, new)
        # A port of another name is not taken for one that vanished without being asked.
        ports = {port: port if fitting == port else "" for port, fitting in swap.ports.items()}
        planned.wires.extend(f"{part}.{port}" for port, fitting in ports.items() if not fitting)
        planned.lost.extend(f"{part}: {value}" for value in swap.lost)
        planned.broken.extend(swap.broken)
        patches += rewired(target.definition, part, ports, swap, members)
    return planned, list(dict.fromkeys(patches))


def _class_of(target: Target, name: str) -> Definition:
    definition = target.tree.find(f"{target.qualified}.{name}")
    assert definition is not None
    return definition


def _members(definition: Definition) -> dict[str, str]:
    """What each variable of a class is, in words: kind, size, unit and value."""
    kinds: dict[str, str] = {}
    for element in definition.node.elements:
        if not isinstance(element, s.Component):
            continue
        unit = attribute_text(element, "unit")
        kind = element.type_name.rpartition(".")[2]
        if element.subscripts:
            sizes = definition.source.text[element.subscripts[0].start : element.subscripts[-1].end]
            kind += f"[{sizes}]"
        kind = " ".join([*sorted(element.prefixes), kind])
        kinds[element.name] = f"{kind} in {unit}" if unit else kind
        if element.modification is not None and element.modification.value is not None:
            kinds[element.name] += f" = {definition.source.slice(element.modification.value)}"
    return kinds

"""Swap the class of a part for another one, keeping wires and values where both classes have them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from typing import Literal

from movrel.edits.parts import insertable
from movrel.edits.ports import can_replace
from movrel.edits.target import Edited, Name, Target
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.patch import Patch
from movrel.language.tree_search import component, references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, components, reach
from movrel.sheet.symbols import whole_icon


@dataclass(frozen=True, slots=True)
class SwapPlan:
    """What a swap would keep and lose."""

    #: Ports in use: the port of the new class that takes over, or nothing.
    ports: dict[str, str] = field(default_factory=dict)
    #: For each port in use without a counterpart of its name: ports of the new class that fit.
    choices: dict[str, list[str]] = field(default_factory=dict)
    #: Values that the new class has no parameter for, as they are written.
    lost: list[str] = field(default_factory=list)
    #: Places outside wires that name something the new class lacks, by line.
    broken: list[str] = field(default_factory=list)


def plan(tree: ClassTree, definition: Definition, name: str, new: Definition) -> SwapPlan:
    """Compare what is used of a part with what another class offers."""
    source, cls = definition.source, definition.node
    node = component(cls, name)
    old = class_of(tree, definition, node)
    if old is None:
        raise EditFault(f"the class of '{name}' is not known.")
    before = {p.name: p for p in whole_icon(tree, old).ports}
    after = {p.name: p for p in whole_icon(tree, new).ports}
    result = SwapPlan()
    for port in _used_ports(cls, name):
        if port in after and (port not in before or can_replace(before[port], after[port])):
            result.ports[port] = port
        else:
            result.ports[port] = ""
            fitting = [
                n for n, p in after.items() if port in before and can_replace(before[port], p)
            ]
            result.choices[port] = fitting
            if len(fitting) == 1 and fitting[0] not in _used_ports(cls, name):
                result.ports[port] = fitting[0]
    known = {c.name for _, c in components(tree, new)}
    for argument in node.modification.arguments if node.modification else ():
        if _modified(argument) not in known:
            result.lost.append(source.slice(argument))
    wired = [e for e in cls.equations if isinstance(e, s.Connect)]
    for reference in references(cls, name):
        in_wire = any(
            e.left.start == reference.start or e.right.start == reference.start for e in wired
        )
        if not in_wire and len(reference.parts) > 1 and reference.parts[1].name not in known:
            result.broken.append(
                f"line {source.place(reference.start).line}: {source.slice(reference)}"
            )
    return result


def swapped(
    tree: ClassTree,
    definition: Definition,
    name: str,
    new: Definition,
    ports: Mapping[str, str],
    planned: SwapPlan,
) -> list[Patch]:
    """Patches for a swap; ``ports`` says for each port in use which one takes over, ``""`` to drop its wires."""
    source, cls = definition.source, definition.node
    kind = class_of(tree, definition, component(cls, name))
    if kind is new:
        raise EditFault(f"'{name}' is of this class already.")
    if planned.broken:
        raise EditFault(
            f"'{name}' is used where the other class has nothing of that name: {planned.broken[0]}.",
            hint="Change that place first.",
        )
    retyped = edit_class.retype(source, cls, name, reach(new.qualified, definition.qualified))
    return [
        *retyped,
        *rewired(definition, name, ports, planned, {c.name for _, c in components(tree, new)}),
    ]


def rewired(
    definition: Definition,
    name: str,
    ports: Mapping[str, str],
    planned: SwapPlan,
    known: Collection[str],
) -> list[Patch]:
    """Patches for the wires and values of a part whose class has other ports and only the members ``known``."""
    source, cls = definition.source, definition.node
    node = component(cls, name)
    patches: list[Patch] = []
    for equation in cls.equations:
        if not isinstance(equation, s.Connect):
            continue
        ends = [
            e
            for e in (equation.left, equation.right)
            if e.parts[0].name == name and len(e.parts) > 1
        ]
        targets = [ports.get(e.parts[1].name, planned.ports.get(e.parts[1].name, "")) for e in ends]
        if ends and not all(targets):
            patches.append(edit_class.delete_equation(source, equation))
            continue
        for end, target in zip(ends, targets, strict=True):
            part = end.parts[1]
            if target != part.name:
                patches.append(Patch(part.start, part.start + len(part.name), target))
    arguments = node.modification.arguments if node.modification else ()
    kept = [a for a in arguments if _modified(a) in known]
    span = node.modification.arguments_span if node.modification else None
    if span is not None and len(kept) < len(arguments):
        text = f"({', '.join(source.slice(a) for a in kept)})" if kept else ""
        patches.append(Patch(span[0], span[1], text))
    return patches


@dataclass(frozen=True, slots=True)
class Swap:
    """Give a part another class; what could not be kept is said by :func:`plan_swap`."""

    name: Name
    class_name: Name
    ports: dict[str, str] = field(default_factory=dict)
    do: Literal["swap"] = "swap"

    def apply(self, target: Target) -> Edited:
        new = insertable(target.tree, target.qualified, self.class_name)
        planned = plan(target.tree, target.definition, self.name, new)
        patches = swapped(target.tree, target.definition, self.name, new, self.ports, planned)
        return Edited(patches, f"swapped {self.name} for {new.name}")


def plan_swap(target: Target, part: str, class_name: str) -> SwapPlan:
    """What a swap would keep, ask and lose."""
    return plan(
        target.tree, target.definition, part, insertable(target.tree, target.qualified, class_name)
    )


def _used_ports(cls: s.ClassDef, name: str) -> list[str]:
    ports = []
    for equation in cls.equations:
        if isinstance(equation, s.Connect):
            ports += [
                e.parts[1].name
                for e in (equation.left, equation.right)
                if e.parts[0].name == name and len(e.parts) > 1
            ]
    return list(dict.fromkeys(ports))


def _modified(argument: s.Argument) -> str:
    """The member that an argument of a modification is about; nothing where it takes one out."""
    if isinstance(argument, s.InheritanceBreak):
        return ""
    name = argument.name if isinstance(argument, s.Modify) else argument.element.name
    return name.partition(".")[0]

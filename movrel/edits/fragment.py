"""Parts and their wires as Modelica text: what the clipboard holds."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import fields

from movrel.errors import EditFault, SyntaxFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.clauses import equation_end
from movrel.language.edit_wires import bend_connection, port_text
from movrel.language.margins import indented, inside, outdented
from movrel.language.parser import Source, parse
from movrel.language.patch import Patch, apply
from movrel.language.tree_search import component, references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, reach
from movrel.sheet.drawing import wire_points
from movrel.sheet.symbols import placement_of

#: Name of the class in which copied parts travel.
WRAPPER = "Parts"


def copy(tree: ClassTree, definition: Definition, names: list[str]) -> str:
    """The declarations of parts and the wires between them, as a class of its own.

    Own parameters that the parts use and own classes that they are made of come along, so that the
    text can be pasted into another model or project. Raises :class:`EditFault` for a name that is
    not declared in the class itself.
    """
    source, cls = definition.source, definition.node
    nodes = [component(cls, name) for name in names]
    classes: dict[str, str] = {}
    for node in nodes:
        class_ = class_of(tree, definition, node)
        if class_ is not None:
            _own_classes(tree, class_, classes)
    wires = [
        e for e in cls.equations
        if isinstance(e, s.Connect) and e.left.parts[0].name in names and e.right.parts[0].name in names
    ]  # fmt: skip
    figures = _figures_used(definition, [*nodes, *wires], set(names))
    lines = [_block(text, "  ") for text in classes.values()]
    lines += [f"  {declared(source, node)};" for node in figures]
    for node in nodes:
        class_ = class_of(tree, definition, node)
        brought = class_ is not None and class_.name in classes
        type_name = (
            class_.name
            if class_ is not None and brought
            else qualified_type(tree, definition, node)
        )
        lines.append(f"  {declared(source, node, type_name)};")
    if wires:
        lines += [
            "equation",
            *(f"  {source.text[w.start : equation_end(w)]};" for w in wires),
        ]
    return f"model {WRAPPER}\n" + "\n".join(lines) + f"\nend {WRAPPER};\n"


def declared(
    source: Source, node: s.Component, type_name: str | None = None, name: str | None = None
) -> str:
    """A declaration in a clause of its own, without the semicolon; perhaps with another type or name."""
    end = node.name_span[1]
    size = (
        f"[{', '.join(source.slice(x) for x in node.type_subscripts)}]"
        if node.type_subscripts
        else ""
    )
    return " ".join(
        [
            *node.flags,
            *node.prefixes,
            f"{type_name or node.type_name}{size}",
            (name or node.name) + source.text[end : node.end],
        ]
    )


def qualified_type(tree: ClassTree, owner: Definition, node: s.Component) -> str:
    """The full name of the class of a component, which means the same everywhere."""
    class_ = class_of(tree, owner, node)
    return node.type_name if class_ is None or class_.predefined else class_.qualified


def paste(
    tree: ClassTree, target: Definition, text: str, shift: tuple[float, float] = (0.0, 0.0)
) -> tuple[list[Patch], list[str]]:
    """Put the parts of a text into a class; gives patches and the names that the parts got.

    Names that are taken get a number; ``shift`` is added to all places. Raises :class:`EditFault`
    when the text holds no parts, or classes that are not known here.
    """
    source = _read(text)
    cls = source.tree.classes[0]
    parts = [e for e in cls.elements if isinstance(e, s.Component)]
    brought = {e.name: e for e in cls.elements if isinstance(e, s.ClassDef)}
    if not parts:
        raise EditFault(
            "the text that was to be pasted declares no parts.",
            hint="Copy parts from a sheet first.",
        )
    own = target.node
    kept = {
        p.name
        for p in parts
        if is_figure(p)
        and any(isinstance(e, s.Component) and e.name == p.name for e in own.elements)
    }
    new_names = _free_names(own, [p for p in parts if p.name not in kept])
    needed = _missing_classes(tree, target, [p for p in parts if p.name not in kept], brought)
    patches = [
        p for old, new in new_names.items() if new != old for p in _renamed(source, cls, old, new)
    ]
    changed = parse(apply(source.text, patches), "pasted text")
    cls = changed.tree.classes[0]
    lines: list[str] = []
    for node in (e for e in cls.elements if isinstance(e, s.Component) and e.name not in kept):
        moved = shifted(changed, node, shift)
        again = parse(f"model {WRAPPER}\n{moved};\nend {WRAPPER};", "pasted text")
        kind = reach(node.type_name, target.qualified)
        lines.append(f"{declared(again, only_component(again), kind)};")
    wires = [
        shifted_wire(changed, e, shift) + ";" for e in cls.equations if isinstance(e, s.Connect)
    ]
    result = edit_class.insert_elements(
        target.source, own, [_block(source.slice(brought[n]), "") for n in needed], first=True
    )
    result += edit_class.insert_elements(target.source, own, lines)
    result += edit_class.insert_equations(target.source, own, wires)
    return result, [
        new
        for old, new in new_names.items()
        if not is_figure(next(p for p in parts if p.name == old))
    ]


def places(text: str) -> list[list[float]]:
    """The extents of the parts of a text that is to be pasted, as far as they have places."""
    parts = [e for e in _read(text).tree.classes[0].elements if isinstance(e, s.Component)]
    return [placed.extent for part in parts if (placed := placement_of(part)) is not None]


def is_figure(node: s.Component) -> bool:
    """Whether a declaration is a named value rather than a part."""
    return "parameter" in node.prefixes or "constant" in node.prefixes


def only_component(source: Source) -> s.Component:
    """The component that the first class of a text begins with."""
    component = source.tree.classes[0].elements[0]
    assert isinstance(component, s.Component)
    return component


def shifted(source: Source, node: s.Component, shift: tuple[float, float]) -> str:
    """A declaration with its place moved, in a clause of its own."""
    placed = placement_of(node)
    if placed is None or shift == (0.0, 0.0):
        return declared(source, node)
    x1, y1, x2, y2 = placed.extent
    corners = (x1 + shift[0], y1 + shift[1]), (x2 + shift[0], y2 + shift[1])
    only = parse(f"model {WRAPPER}\n{declared(source, node)};\nend {WRAPPER};", "pasted text")
    cls = only.tree.classes[0]
    text = edit_class.placement(corners, placed.rotation)
    again = parse(
        apply(only.text, edit_class.place_component(only, cls, node.name, text)), "pasted text"
    )
    return declared(again, only_component(again))


def shifted_wire(source: Source, wire: s.Connect, shift: tuple[float, float]) -> str:
    """A connection with its corners moved."""
    text = f"model {WRAPPER}\nequation\n{source.text[wire.start : equation_end(wire)]};\nend {WRAPPER};"
    points = wire_points(wire)
    only = parse(text, "pasted text")
    if points is not None and shift != (0.0, 0.0):
        moved = [(x + shift[0], y + shift[1]) for x, y in points]
        left, right = (port_text(source, e) for e in (wire.left, wire.right))
        only = parse(
            apply(text, bend_connection(only, only.tree.classes[0], left, right, moved)),
            "pasted text",
        )
    node = only.tree.classes[0].equations[0]
    return only.text[node.start : equation_end(node)]


def free_references(node: object, inside: set[str]) -> Iterable[s.Ref]:
    """References in modifications, conditions and subscripts that lead out of a set of names."""
    if isinstance(node, s.Ref):
        if not node.absolute and node.parts[0].name not in inside:
            yield node
        for part in node.parts:
            yield from free_references(part.subscripts, inside)
    elif isinstance(node, s.Call):
        for item in (node.arguments, node.named, node.indices):
            yield from free_references(item, inside)
    elif isinstance(node, s.Annotation):
        return
    elif isinstance(node, s.Node):
        for f in fields(node):
            if f.name not in ("start", "end"):
                yield from free_references(getattr(node, f.name), inside)
    elif isinstance(node, list | tuple):
        for item in node:
            yield from free_references(item, inside)


def _own_classes(tree: ClassTree, definition: Definition, texts: dict[str, str]) -> None:
    """The texts of classes that are not of the component library, and of what these are made of."""
    root = definition
    while root.parent is not None:
        root = root.parent
    if (
        definition.predefined
        or root.folder is not None
        or definition.name in texts
        or definition.node.kind == "package"
    ):
        return
    texts[definition.name] = definition.source.slice(definition.node) + ";"
    for element in definition.node.elements:
        if isinstance(element, s.Component):
            used = tree.lookup(element.type_name, definition)
            if used is not None and used.parent is not definition:
                _own_classes(tree, used, texts)


def _figures_used(
    definition: Definition, nodes: Sequence[s.Node], inside: set[str]
) -> list[s.Component]:
    """Parameters of the class itself that declarations and wires refer to, in the order of the text."""
    wanted: set[str] = set()
    waiting = list(nodes)
    own = {
        e.name: e for e in definition.node.elements if isinstance(e, s.Component) and is_figure(e)
    }
    while waiting:
        for reference in free_references(waiting.pop(), inside):
            name = reference.parts[0].name
            if name in own and name not in wanted:
                wanted.add(name)
                waiting.append(own[name])
    return [node for name, node in own.items() if name in wanted]


def _read(text: str) -> Source:
    """The text as a class; bare declarations and wires are taken as the inside of one."""
    fault: SyntaxFault | None = None
    for candidate in (text, f"model {WRAPPER}\n{text}\nend {WRAPPER};\n"):
        try:
            source = parse(candidate, "pasted text")
        except SyntaxFault as refusal:
            fault = fault or refusal
            continue
        if source.tree.classes and source.tree.classes[0].form == "long":
            return source
    reason = f" ({fault.message})" if fault else ""
    raise EditFault(
        f"what was to be pasted is not Modelica text{reason}",
        hint="Copy parts from a sheet, or declarations from a text.",
    )


def _free_names(cls: s.ClassDef, parts: list[s.Component]) -> dict[str, str]:
    present = {e.name for e in cls.elements if isinstance(e, s.Component | s.ClassDef)}
    brought = {p.name for p in parts}
    names: dict[str, str] = {}
    for part in parts:
        new = part.name
        if new in present:
            stem = part.name.rstrip("0123456789") or part.name
            number = 2
            while f"{stem}{number}" in present or f"{stem}{number}" in brought:
                number += 1
            new = f"{stem}{number}"
        present.add(new)
        names[part.name] = new
    return names


def _renamed(source: Source, cls: s.ClassDef, old: str, new: str) -> list[Patch]:
    node = component(cls, old)
    places = {
        node.name_span,
        *((r.parts[0].start, r.parts[0].start + len(old)) for r in references(cls, old)),
    }
    return [Patch(a, b, new) for a, b in sorted(places)]


def _missing_classes(
    tree: ClassTree, target: Definition, parts: list[s.Component], brought: dict[str, s.ClassDef]
) -> list[str]:
    """Names of brought classes that the target does not know yet. Refuses what nobody brings."""
    needed: list[str] = []

    def need(name: str) -> None:
        last = name.rpartition(".")[2]
        if tree.lookup(name, target) is not None or last in needed:
            return
        if last not in brought:
            raise EditFault(
                f"there is no class '{name}' in this project.",
                hint="Copy its text into the project first.",
            )
        if last != name:
            raise EditFault(
                f"'{name}' is a class of another package.",
                hint=f"Add '{name}' to this project first.",
            )
        for element in brought[last].elements:
            if (
                isinstance(element, s.Component)
                and tree.lookup(element.type_name, target) is None
                and element.type_name in brought
            ):
                need(element.type_name)
        needed.append(last)

    for part in parts:
        need(part.type_name)
    return needed


def _block(text: str, indent: str) -> str:
    text = text if text.rstrip().endswith(";") else text + ";"
    fixed = inside(text)
    depths = [
        len(line) - len(line.lstrip())
        for i, line in enumerate(text.split("\n"))
        if i and i not in fixed and line.strip()
    ]
    return indented(outdented(text, min(depths, default=0)), indent)

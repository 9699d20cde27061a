"""Take an assembly apart: its parts and wires in its place, its parameters as their values."""

from __future__ import annotations

import re

from movrel.edits.assembly import box_of_parts
from movrel.edits.fragment import (
    declared,
    is_figure,
    only_component,
    qualified_type,
    shifted,
    shifted_wire,
)
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.clauses import equation_end, line_indent, without_declaration
from movrel.language.edit_wires import port_text
from movrel.language.parser import Source, parse
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value
from movrel.language.tree_search import class_at, component, references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, declaration, path_in_file, reach
from movrel.sheet.symbols import placement_of


def dissolve(tree: ClassTree, definition: Definition, name: str) -> tuple[str, list[str]]:
    """Put the parts of an assembly in its place; gives the new text of the file and the parts' names.

    Raises :class:`EditFault` when the class of the part is more than parts, wires and equations of
    its own project.
    """
    source, cls = definition.source, definition.node
    node = component(cls, name)
    class_ = class_of(tree, definition, node)
    inner = _openable(class_, name)
    assert class_ is not None
    if node.subscripts or node.type_subscripts or node.condition is not None:
        raise EditFault(
            f"'{name}' is an array or conditional.", hint="Declare its elements singly first."
        )
    values, work = _settled(class_, node, source)
    text = work.text
    body = work.tree.classes[0]
    ports = {
        e.name for e in body.elements
        if isinstance(e, s.Component) and (k := tree.lookup(e.type_name, class_)) is not None and tree.is_kind(k, "connector")
    }  # fmt: skip
    figures = {e.name: e for e in body.elements if isinstance(e, s.Component) and is_figure(e)}
    parts = [
        e
        for e in body.elements
        if isinstance(e, s.Component) and e.name not in ports and e.name not in figures
    ]
    names = _names_outside(cls, name, [p.name for p in parts])
    text = _rewritten(tree, class_, work, body, ports, figures, names, values)
    work = parse(text, "assembly")
    body = work.tree.classes[0]
    placed = placement_of(node)
    box = box_of_parts(
        [p for p in body.elements if isinstance(p, s.Component) and p.name in names.values()]
    )
    at = [(placed.extent[i] + placed.extent[i + 2]) / 2 for i in (0, 1)] if placed else [0.0, 0.0]
    shift = round(at[0] - (box[0] + box[2]) / 2), round(at[1] - (box[1] + box[3]) / 2)
    lines = []
    for part in (
        e for e in body.elements if isinstance(e, s.Component) and e.name in names.values()
    ):
        again = parse(f"model A\n{shifted(work, part, shift)};\nend A;", "assembly")
        kind = reach(qualified_type(tree, class_, part), definition.qualified)
        lines.append(_restored(declared(again, only_component(again), kind), values))
    equations = [
        _restored(shifted_wire(work, e, shift), values)
        for e in body.equations
        if isinstance(e, s.Connect) and not {e.left.parts[0].name, e.right.parts[0].name} & ports
    ]  # fmt: skip
    equations += [
        _restored(work.text[e.start : equation_end(e)], values)
        for e in body.equations
        if not isinstance(e, s.Connect)
    ]
    direction = {p: _direction(tree, class_, p) for p in ports}
    joined, gone = _rejoined(source, cls, name, work, body, ports, direction)
    patches = [edit_class.delete_equation(source, e) for e in gone]
    for reference in references(cls, name):
        if any(e.start <= reference.start < e.end for e in gone):
            continue
        patches.append(_outside_reference(source, reference, names, figures, values, work, name))
    if _alone(source, cls, node):
        separator = f";\n{line_indent(source, node.start)}"
        patches.append(Patch(node.start, node.end, separator.join(lines)))
    else:
        patches += without_declaration(source, cls, node)
        patches += edit_class.insert_elements(source, cls, [line + ";" for line in lines])
    if class_.parent is definition and not _used_elsewhere(cls, inner, node):
        patches.append(edit_class.delete_class(source, inner))
    # Equations come in a second step, as the one after which they are put may have gone in the first.
    text = apply(source.text, patches)
    again = parse(text, source.file)
    own = class_at(again.tree, path_in_file(definition))
    return apply(
        text, edit_class.insert_equations(again, own, [f"{e};" for e in [*equations, *joined]])
    ), list(names.values())


def _openable(class_: Definition | None, name: str) -> s.ClassDef:
    if class_ is None or class_.predefined or _library(class_):
        raise EditFault(
            f"'{name}' is a part of the library and cannot be dissolved.",
            hint="Only assemblies of this project can.",
        )
    node = class_.node
    if node.form != "long" or any(isinstance(e, s.Extends) for e in node.elements):
        raise EditFault(f"'{name}' is built on another class and cannot be dissolved.")
    if node.algorithms or node.initial_equations or node.initial_algorithms or node.external:
        raise EditFault(
            f"'{name}' holds algorithms or initial equations, so it cannot be dissolved."
        )
    if any(isinstance(e, s.ClassDef | s.Import) or e.protected for e in node.elements):
        raise EditFault(
            f"'{name}' holds classes or protected parts of its own, so it cannot be dissolved."
        )
    return node


def _library(class_: Definition) -> bool:
    root = class_
    while root.parent is not None:
        root = root.parent
    return root.folder is not None


def _settled(
    class_: Definition, node: s.Component, source: Source
) -> tuple[dict[str, str], Source]:
    """The class with the modifiers of the part written into it; values from outside stand as marks."""
    values: dict[str, str] = {}
    own = class_.source.slice(class_.node)
    work = parse(own + ";", "assembly")

    def write(arguments: tuple[s.Argument, ...], path: list[str]) -> None:
        nonlocal work
        for argument in arguments:
            if not isinstance(argument, s.Modify):
                raise EditFault(
                    f"'{node.name}' redeclares something inside, so it cannot be dissolved."
                )
            inner = [*path, *argument.name.split(".")]
            modification = argument.modification
            if modification is None:
                continue
            write(modification.arguments, inner)
            if modification.value is not None:
                mark = f"outside_value_{len(values)}_"
                values[mark] = source.slice(modification.value)
                work = parse(
                    apply(work.text, set_value(work, work.tree.classes[0], inner, mark)), "assembly"
                )

    if node.modification is not None:
        write(node.modification.arguments, [])
    return values, work


def _names_outside(cls: s.ClassDef, part: str, inner: list[str]) -> dict[str, str]:
    used = {e.name for e in cls.elements if isinstance(e, s.Component | s.ClassDef)} - {part}
    names: dict[str, str] = {}
    for name in inner:
        new, number = name, 2
        if new in used:
            new = f"{part}_{name}"
        while new in used:
            new, number = f"{part}_{name}{number}", number + 1
        used.add(new)
        names[name] = new
    return names


def _figure_text(work: Source, figures: dict[str, s.Component], name: str, depth: int = 0) -> str:
    """The value of a parameter of the assembly, written out without its other parameters."""
    node = figures[name]
    value = node.modification.value if node.modification else None
    if value is None or depth > len(figures):
        raise EditFault(
            f"the parameter '{name}' of the assembly has no value.", hint="Give it one first."
        )
    text = work.slice(value)
    offset = value.start
    patches = []
    for other in figures:
        for reference in references(value, other):
            patches.append(
                Patch(
                    reference.start - offset,
                    reference.end - offset,
                    _figure_text(work, figures, other, depth + 1),
                )
            )
    text = apply(text, patches)
    return text if re.fullmatch(r"[\w.]+|\".*\"", text) else f"({text})"


def _rewritten(
    tree: ClassTree, class_: Definition, work: Source, body: s.ClassDef, ports: set[str], figures: dict[str, s.Component],
    names: dict[str, str], values: dict[str, str],
) -> str:  # fmt: skip
    """The class with its parameters replaced by their values and its parts by their new names."""
    patches: list[Patch] = []
    own = {f.name: (f.start, f.end) for f in figures.values()}
    for name in figures:
        text = None
        for reference in references(body, name):
            if any(a <= reference.start < b for a, b in own.values()):
                continue
            text = text or _figure_text(work, figures, name)
            patches.append(Patch(reference.start, reference.end, text))
    for old, new in names.items():
        if old == new:
            continue
        patches.append(Patch(*component(body, old).name_span, new))
        patches += [
            Patch(r.parts[0].start, r.parts[0].start + len(old), new) for r in references(body, old)
        ]
    wired = [(e.left, e.right) for e in body.equations if isinstance(e, s.Connect)]
    ends = {r.start for pair in wired for r in pair}
    for port in ports:
        for reference in references(body, port):
            if reference.start not in ends:
                raise EditFault(
                    f"'{class_.name}' has an equation about its port '{port}', so it cannot be dissolved.",
                    hint="Move that equation into a component first.",
                )
    unique = {(p.start, p.end): p for p in patches}
    return apply(work.text, list(unique.values()))


def _restored(text: str, values: dict[str, str]) -> str:
    for mark, value in values.items():
        plain = re.fullmatch(r"[\w.]+|\".*\"", value) is not None
        # A value that stands alone after '=' needs no parentheses.
        literal = value.replace("\\", r"\\")
        text = re.sub(rf"(= ?)\(?{mark}\)?(?=\s*[,)]|$)", rf"\g<1>{literal}", text)
        text = text.replace(mark, value if plain else f"({value})")
    return text


def _direction(tree: ClassTree, class_: Definition, port: str) -> str:
    declared_port = declaration(tree, class_, [port])
    if declared_port is None:
        return ""
    kind = class_of(tree, *declared_port)
    prefixes = (*declared_port[1].prefixes, *(kind.node.base_prefixes if kind else ()))
    return "in" if "input" in prefixes else "out" if "output" in prefixes else ""


def _rejoined(
    source: Source,
    cls: s.ClassDef,
    name: str,
    work: Source,
    body: s.ClassDef,
    ports: set[str],
    direction: dict[str, str],
) -> tuple[list[str], list[s.Connect]]:
    """Wires through the ports, joined: what was wired to a port outside meets what was wired to it inside."""
    links: dict[str, list[str]] = {}
    gone: list[s.Connect] = []

    def link(a: str, b: str) -> None:
        links.setdefault(a, []).append(b)
        links.setdefault(b, []).append(a)

    for e in body.equations:
        if isinstance(e, s.Connect) and {e.left.parts[0].name, e.right.parts[0].name} & ports:
            ends = [
                f"|{port_text(work, r)}" if r.parts[0].name in ports else port_text(work, r)
                for r in (e.left, e.right)
            ]  # fmt: skip
            link(*ends)
    for e in cls.equations:
        if isinstance(e, s.Connect) and name in (e.left.parts[0].name, e.right.parts[0].name):
            gone.append(e)
            ends = []
            for r in (e.left, e.right):
                text = port_text(source, r)
                ends.append(f"|{text[len(name) + 1 :]}" if r.parts[0].name == name else text)
            link(*ends)
    lines: list[str] = []
    seen: set[str] = set()
    for port in links:
        if not port.startswith("|") or port in seen:
            continue
        group, waiting = [], [port]
        while waiting:
            end = waiting.pop()
            if end in seen or (not end.startswith("|") and end in group):
                continue
            if end.startswith("|"):
                seen.add(end)
                waiting += links[end]
            else:
                group.append(end)
        group.reverse()
        # A signal comes from one end: the outer one of an input, the inner one of an output.
        base = port[1:].split("[")[0]
        outer = [
            e
            for e in group
            if any(e == port_text(source, r) for c in gone for r in (c.left, c.right))
        ]
        inner = [e for e in group if e not in outer]
        ordered = [*inner, *outer] if direction.get(base) == "out" else [*outer, *inner]
        lines += [f"connect({ordered[0]}, {other})" for other in ordered[1:]]
    return lines, gone


def _outside_reference(
    source: Source, reference: s.Ref, names: dict[str, str], figures: dict[str, s.Component], values: dict[str, str],
    work: Source, part: str,
) -> Patch:  # fmt: skip
    place = source.place(reference.start)
    if len(reference.parts) < 2:
        raise EditFault(
            f"'{part}' as a whole is used in line {place.line}.", place, "Change that place first."
        )
    inner = reference.parts[1]
    if inner.name in names:
        return Patch(reference.parts[0].start, inner.start + len(inner.name), names[inner.name])
    if inner.name in figures and len(reference.parts) == 2:
        return Patch(
            reference.start,
            reference.end,
            _restored(_figure_text(work, figures, inner.name), values),
        )
    raise EditFault(
        f"the port '{inner.name}' of '{part}' is used in line {place.line}.",
        place,
        "Change that place first.",
    )


def _alone(source: Source, cls: s.ClassDef, node: s.Component) -> bool:
    """Whether a declaration has a clause of its own."""
    others = [e for e in cls.elements if isinstance(e, s.Component)]
    i = next(k for k, e in enumerate(others) if e is node)
    before = i == 0 or ";" in source.text[others[i - 1].end : node.start]
    after = i + 1 == len(others) or ";" in source.text[node.end : others[i + 1].start]
    return before and after


def _used_elsewhere(cls: s.ClassDef, inner: s.ClassDef, node: s.Component) -> bool:
    return any(
        isinstance(e, s.Component) and e is not node and e.type_name.split(".")[-1] == inner.name
        for e in cls.elements
    ) or any(
        isinstance(e, s.ClassDef)
        and e is not inner
        and any(
            isinstance(c, s.Component) and c.type_name.split(".")[-1] == inner.name
            for c in e.elements
        )
        for e in cls.elements
    )

"""Make an assembly of parts, and take it apart again, as patches of the text."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any

from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import TILE
from movrel.language.parser import Source, parse
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, components, declaration, reach
from movrel.model.drawing import placement_of
from movrel.model.fragment import declared, free_references, is_figure, qualified_type, shifted, shifted_wire

#: Size of a new assembly on the sheet, and the distance of its ports on the inside from the parts.
SIZE, BORDER = 60.0, 40.0


@dataclass(slots=True)
class _Port:
    """A port of the new assembly, for one port of a part inside that is wired to something outside."""

    inner: str
    name: str
    type_name: str
    size: str
    domain_direction: str
    at: tuple[float, float]
    towards: list[tuple[float, float]] = field(default_factory=list)
    side: str = "left"


# --- making ---


def make(
    tree: ClassTree, definition: Definition, names: list[str], class_name: str, part_name: str, description: str = ""
) -> list[Patch]:
    """Replace parts by one component of a new class, declared in the class itself, that holds them.

    Wires that cross the border get ports; parameters of the class that the parts use are passed on.
    Raises :class:`EditFault` when something cannot be moved, naming the line.
    """
    source, cls = definition.source, definition.node
    edit_class.check_name(cls, class_name)
    if part_name != class_name:
        edit_class.check_name(cls, part_name)
    else:
        raise EditFault("the class and the part need different names.")
    chosen = set(names)
    nodes = [edit_class.component(cls, n) for n in names]
    nodes.sort(key=lambda n: n.start)
    if not nodes:
        raise EditFault("no part is selected.", hint="Select the parts that the assembly is to hold.")
    for node in nodes:
        found = class_of(tree, definition, node)
        if is_figure(node) or found is None or found.predefined:
            raise EditFault(f"'{node.name}' is no part, so it cannot go into an assembly.")
        if tree.is_kind(found, "connector"):
            raise EditFault(f"'{node.name}' is a port of the model itself.", hint="Leave it out of the selection.")
        if node.flags:
            raise EditFault(f"'{node.name}' is declared {node.flags[0]}.", hint="Leave it out of the selection.")
    inner_wires, border = _sort_wires(source, cls, chosen)
    box = _box(nodes)
    ports = _ports(tree, definition, source, border, chosen, box)
    given = _given(tree, definition, [*nodes, *inner_wires], chosen)
    body = _class_text(tree, definition, nodes, inner_wires, ports, given, class_name, description, box)
    arguments = ", ".join(f"{name} = {text}" for name, text, _ in given)
    middle = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    tallest = max((sum(p.side == side for p in ports) for side in ("left", "right", "top", "bottom")), default=1)
    half = max(SIZE, 24.0 * tallest) / 2
    place = edit_class.placement(((middle[0] - half, middle[1] - half), (middle[0] + half, middle[1] + half)))
    comment = f' "{description}"' if description else ""
    part = f"{class_name} {part_name}{f'({arguments})' if arguments else ''}{comment} annotation ({place});"
    patches = edit_class.insert_elements(source, cls, [body], first=True)
    patches += _replaced(source, cls, nodes, part)
    by_inner = {p.inner: p.name for p in ports}
    for wire, (end, _) in border:
        inner = edit_class.port_text(source, end)
        patches.append(Patch(end.start, end.end, f"{part_name}.{by_inner[inner]}"))
        # Its corners led to a part that is elsewhere now.
        patches += _without_bends(source, cls, wire)
    patches += [edit_class.delete_equation(source, wire) for wire in inner_wires]
    taken = [(n.start, n.end) for n in [*nodes, *inner_wires]] + [(end.start, end.end) for _, (end, _) in border]
    for name in names:
        for reference in edit_class.references(cls, name):
            if not any(a <= reference.start < b for a, b in taken):
                patches.append(Patch(reference.start, reference.start, f"{part_name}."))
    return patches


def _sort_wires(
    source: Source, cls: s.ClassDef, chosen: set[str]
) -> tuple[list[s.Connect], list[tuple[s.Connect, tuple[s.Ref, s.Ref]]]]:
    """Wires wholly inside, and wires that cross the border with their inner and outer ends."""
    inside: list[s.Connect] = []
    border: list[tuple[s.Connect, tuple[s.Ref, s.Ref]]] = []
    for equation in cls.equations:
        if isinstance(equation, s.Connect):
            left, right = (e.parts[0].name in chosen for e in (equation.left, equation.right))
            if left and right:
                inside.append(equation)
            elif left or right:
                border.append((equation, (equation.left, equation.right) if left else (equation.right, equation.left)))
        elif isinstance(equation, s.ForEquation | s.IfEquation) and _wires_in(equation, chosen):
            raise EditFault(
                f"a selected part is wired inside the block in line {source.place(equation.start).line}.",
                source.place(equation.start), "Write these connections out first, or leave the part out.",
            )  # fmt: skip
    return inside, border


def _wires_in(node: Any, chosen: set[str]) -> bool:
    from dataclasses import fields

    if isinstance(node, s.Connect):
        return node.left.parts[0].name in chosen or node.right.parts[0].name in chosen
    if isinstance(node, s.Node):
        return any(_wires_in(getattr(node, f.name), chosen) for f in fields(node) if f.name not in ("start", "end"))
    return isinstance(node, list | tuple) and any(_wires_in(item, chosen) for item in node)


def _ports(
    tree: ClassTree, definition: Definition, source: Source, border: list[tuple[s.Connect, tuple[s.Ref, s.Ref]]],
    chosen: set[str], box: tuple[float, float, float, float],
) -> list[_Port]:  # fmt: skip
    ports: dict[str, _Port] = {}
    taken = set(chosen)
    for wire, (end, other) in border:
        inner = edit_class.port_text(source, end)
        port = ports.get(inner)
        if port is None:
            found = declaration(tree, definition, [p.name for p in end.parts])
            kind = class_of(tree, *found) if found is not None else None
            if found is None or kind is None:
                place = source.place(wire.start)
                raise EditFault(f"the port '{inner}' in line {place.line} is not known.", place, "Correct the connection first.")
            owner, node = found
            name = end.parts[-1].name
            if name in taken:
                name = "_".join(p.name for p in end.parts)
            stem, number = name, 2
            while name in taken:
                name, number = f"{stem}{number}", number + 1
            taken.add(name)
            size = (
                ""
                if end.parts[-1].subscripts
                else ", ".join(owner.source.slice(x) for x in (*node.type_subscripts, *node.subscripts))
            )
            if size and not size.replace(", ", "").isdigit():
                raise EditFault(
                    f"the port '{inner}' has {size} elements, a number that only its part knows.",
                    hint="Wire its elements singly first.",
                )
            prefixes = (*node.prefixes, *kind.node.base_prefixes)
            direction = "in" if "input" in prefixes else "out" if "output" in prefixes else ""
            type_name = " ".join([*[p for p in node.prefixes if p in ("input", "output")], kind.qualified])
            port = ports[inner] = _Port(inner, name, type_name, size, direction, _middle(definition, end.parts[0].name))
        port.towards.append(_middle(definition, other.parts[0].name))
    for port in ports.values():
        port.side = _side(port, box)
    return list(ports.values())


def _middle(definition: Definition, name: str) -> tuple[float, float]:
    node = next((e for e in definition.node.elements if isinstance(e, s.Component) and e.name == name), None)
    placed = placement_of(node) if node is not None else None
    x1, y1, x2, y2 = placed["extent"] if placed else (0.0, 0.0, 0.0, 0.0)
    return (x1 + x2) / 2, (y1 + y2) / 2


def _side(port: _Port, box: tuple[float, float, float, float]) -> str:
    """Inputs on the left, outputs on the right; physical ports where their partners lie."""
    if port.domain_direction:
        return "left" if port.domain_direction == "in" else "right"
    x = sum(p[0] for p in port.towards) / len(port.towards) - (box[0] + box[2]) / 2
    y = sum(p[1] for p in port.towards) / len(port.towards) - (box[1] + box[3]) / 2
    width, height = max(box[2] - box[0], 1.0), max(box[3] - box[1], 1.0)
    if abs(y) / height > 1.2 * abs(x) / width:
        return "top" if y > 0 else "bottom"
    return "right" if x > 0 else "left"


def _box(nodes: list[s.Component]) -> tuple[float, float, float, float]:
    extents = [placed["extent"] for node in nodes if (placed := placement_of(node)) is not None] or [[-50.0, -50.0, 50.0, 50.0]]
    xs = [v for e in extents for v in (e[0], e[2])]
    ys = [v for e in extents for v in (e[1], e[3])]
    return min(xs), min(ys), max(xs), max(ys)


def _given(tree: ClassTree, definition: Definition, nodes: list[Any], chosen: set[str]) -> list[tuple[str, str, str]]:
    """Values that the parts take from outside: name in the assembly, what is passed, and the declaration."""
    found: dict[str, tuple[str, str, str]] = {}
    own = {node.name: (owner, node) for owner, node in components(tree, definition)}
    for node in nodes:
        for reference in free_references(node, chosen):
            first = reference.parts[0].name
            if first not in own or (isinstance(node, s.Connect) and first not in own):
                continue
            text = definition.source.slice(reference)
            if text in found:
                continue
            if len(reference.parts) == 1 and not reference.parts[0].subscripts:
                owner, element = own[first]
                modification = element.modification
                span = modification.arguments_span if modification else None
                arguments = owner.source.text[span[0] : span[1]] if span else ""
                size = ", ".join(owner.source.slice(x) for x in (*element.type_subscripts, *element.subscripts))
                words = f' "{element.comment.text}"' if element.comment and element.comment.text else ""
                kind = reach(qualified_type(tree, owner, element), definition.qualified)
                line = f"parameter {kind} {first}{f'[{size}]' if size else ''}{arguments}{words};"
                found[text] = (first, text, line)
            else:
                name = re.sub(r"\W+", "_", text).strip("_")
                found[text] = (name, text, f"parameter Real {name};")
    return list(found.values())


def _class_text(
    tree: ClassTree, definition: Definition, nodes: list[s.Component], wires: list[s.Connect], ports: list[_Port],
    given: list[tuple[str, str, str]], name: str, description: str, box: tuple[float, float, float, float],
) -> str:  # fmt: skip
    source = definition.source
    lines = [f'model {name} "{description}"' if description else f"model {name}"]
    lines += [f"  {line}" for _, _, line in given]
    lines += [f"  {_port_line(port, ports, box)}" for port in ports]
    renamed = {text: new for new, text, _ in given if text != new}
    lines += [f"  {_with_names(source, declared(source, node), renamed)};" for node in nodes]
    joins = [
        f"  connect({p.name}, {p.inner});" if p.domain_direction != "out" else f"  connect({p.inner}, {p.name});" for p in ports
    ]
    if joins or wires:
        lines.append("equation")
        lines += [f"  {source.text[w.start : edit_class.equation_end(w)]};" for w in wires]
        lines += joins
    lines += [
        f"  annotation (Icon(graphics={{\n    {TILE[0]},\n    {TILE[1]}}}));",
        f"end {name};",
    ]
    return "\n".join(lines)


def _with_names(source: Source, text: str, renamed: dict[str, str]) -> str:
    """References such as ``tank.A`` become the one name under which the value is passed."""
    for old, new in renamed.items():
        text = re.sub(rf"(?<![\w.]){re.escape(old)}(?![\w.])", new, text)
    return text


def _port_line(port: _Port, ports: list[_Port], box: tuple[float, float, float, float]) -> str:
    """The declaration of a port, placed on the border of the symbol and beside the parts on the inner sheet."""
    beside = [p for p in ports if p.side == port.side]
    along = 1 if port.side in ("left", "right") else 0
    beside.sort(key=lambda p: -p.at[along] if along else p.at[along])
    step = (beside.index(port) + 1) / (len(beside) + 1)
    if along:
        x, y = (-100.0 if port.side == "left" else 100.0), float(round(100 - 200 * step))
        inside = (box[0] - BORDER if port.side == "left" else box[2] + BORDER), port.at[1]
    else:
        x, y = float(round(-100 + 200 * step)), (100.0 if port.side == "top" else -100.0)
        inside = port.at[0], (box[3] + BORDER if port.side == "top" else box[1] - BORDER)
    # Ports of one side that come to lie on each other move apart on the inner sheet.
    same = [p for p in beside if p.at[along] == port.at[along]]
    shift = 24.0 * (same.index(port) - (len(same) - 1) / 2)
    inside = (inside[0], inside[1] - shift) if along else (inside[0] + shift, inside[1])
    size = f"[{port.size}]" if port.size else ""
    sheet = _extent(inside[0], inside[1])
    return (
        f"{port.type_name} {port.name}{size} annotation (Placement(transformation(extent={sheet}), "
        f"iconTransformation(extent={_extent(x, y)})));"
    )


def _extent(x: float, y: float) -> str:
    return "{{" + f"{x - 10:g},{y - 10:g}" + "},{" + f"{x + 10:g},{y + 10:g}" + "}}"


def _replaced(source: Source, cls: s.ClassDef, nodes: list[s.Component], part: str) -> list[Patch]:
    """The new part is declared where the first of the old ones was; the others go."""
    patches: list[Patch] = []
    gone = {n.name for n in nodes}
    clauses: dict[int, list[s.Component]] = {}
    last = -1
    for element in (e for e in cls.elements if isinstance(e, s.Component)):
        if (last >= 0 and ";" in source.text[last : element.start]) or last < 0:
            clauses[element.start] = []
        clauses[max(clauses)].append(element)
        last = element.end
    first = True
    for members in clauses.values():
        leaving = [m for m in members if m.name in gone]
        if not leaving:
            continue
        staying = [m for m in members if m.name not in gone]
        if staying:
            kept = "; ".join(declared(source, m, members[0].type_name) for m in staying)
            text = kept + ("; " + part.rstrip(";") if first else "")
            patches.append(Patch(members[0].start, members[-1].end, text))
        elif first:
            patches.append(Patch(members[0].start, members[-1].end, part.rstrip(";")))
        else:
            patches.append(edit_class.without_clause(source, members[0].start, members[-1].end))
        first = False
    return patches


def _without_bends(source: Source, cls: s.ClassDef, wire: s.Connect) -> list[Patch]:
    left, right = (edit_class.port_text(source, e) for e in (wire.left, wire.right))
    return edit_class.bend_connection(source, cls, left, right, None)


# --- dissolving ---


def dissolve(tree: ClassTree, definition: Definition, name: str) -> tuple[str, list[str]]:
    """Put the parts of an assembly in its place; gives the new text of the file and the parts' names.

    Raises :class:`EditFault` when the class of the part is more than parts, wires and equations of
    its own project.
    """
    source, cls = definition.source, definition.node
    node = edit_class.component(cls, name)
    found = class_of(tree, definition, node)
    inner = _openable(found, name)
    assert found is not None
    if node.subscripts or node.type_subscripts or node.condition is not None:
        raise EditFault(f"'{name}' is an array or conditional.", hint="Declare its elements singly first.")
    values, work = _settled(found, node, source)
    text = work.text
    body = work.tree.classes[0]
    ports = {
        e.name for e in body.elements
        if isinstance(e, s.Component) and (k := tree.lookup(e.type_name, found)) is not None and tree.is_kind(k, "connector")
    }  # fmt: skip
    figures = {e.name: e for e in body.elements if isinstance(e, s.Component) and is_figure(e)}
    parts = [e for e in body.elements if isinstance(e, s.Component) and e.name not in ports and e.name not in figures]
    names = _names_outside(cls, name, [p.name for p in parts])
    text = _rewritten(tree, found, work, body, ports, figures, names, values)
    work = parse(text, "assembly")
    body = work.tree.classes[0]
    placed = placement_of(node)
    box = _box([p for p in body.elements if isinstance(p, s.Component) and p.name in names.values()])
    at = [(placed["extent"][i] + placed["extent"][i + 2]) / 2 for i in (0, 1)] if placed else [0.0, 0.0]
    shift = round(at[0] - (box[0] + box[2]) / 2), round(at[1] - (box[1] + box[3]) / 2)
    lines = []
    for part in (e for e in body.elements if isinstance(e, s.Component) and e.name in names.values()):
        again = parse(f"model A\n{shifted(work, part, shift)};\nend A;", "assembly")
        kind = reach(qualified_type(tree, found, part), definition.qualified)
        lines.append(_restored(declared(again, again.tree.classes[0].elements[0], kind), values))
    equations = [
        _restored(shifted_wire(work, e, shift), values)
        for e in body.equations
        if isinstance(e, s.Connect) and not {e.left.parts[0].name, e.right.parts[0].name} & ports
    ]  # fmt: skip
    equations += [
        _restored(work.text[e.start : edit_class.equation_end(e)], values) for e in body.equations if not isinstance(e, s.Connect)
    ]
    direction = {p: _direction(tree, found, p) for p in ports}
    joined, gone = _rejoined(source, cls, name, work, body, ports, direction)
    patches = [edit_class.delete_equation(source, e) for e in gone]
    for reference in edit_class.references(cls, name):
        if any(e.start <= reference.start < e.end for e in gone):
            continue
        patches.append(_outside_reference(source, reference, names, figures, values, work, name))
    if _alone(source, cls, node):
        separator = f";\n{edit_class.indent_at(source, node.start)}"
        patches.append(Patch(node.start, node.end, separator.join(lines)))
    else:
        patches += edit_class.delete_declaration(source, cls, node)
        patches += edit_class.insert_elements(source, cls, [line + ";" for line in lines])
    if found.parent is definition and not _used_elsewhere(cls, inner, node):
        patches.append(edit_class.delete_class(source, inner))
    # Equations come in a second step, as the one after which they are put may have gone in the first.
    text = apply(source.text, patches)
    again = parse(text, source.file)
    own = class_in(again, definition)
    return apply(text, edit_class.insert_equations(again, own, [f"{e};" for e in [*equations, *joined]])), list(names.values())


def class_in(source: Source, definition: Definition) -> s.ClassDef:
    """The class of the same path in another text of its file."""
    path: list[str] = []
    at: Definition | None = definition
    while at is not None and at.source is definition.source:
        path.insert(0, at.name)
        at = at.parent
    nodes: list[Any] = list(source.tree.classes)
    found: s.ClassDef | None = None
    for name in path:
        found = next(n for n in nodes if isinstance(n, s.ClassDef) and n.name == name)
        nodes = found.elements
    assert found is not None
    return found


def _openable(found: Definition | None, name: str) -> s.ClassDef:
    if found is None or found.predefined or _library(found):
        raise EditFault(
            f"'{name}' is a part of the library and cannot be dissolved.", hint="Only assemblies of this project can."
        )
    node = found.node
    if node.form != "long" or any(isinstance(e, s.Extends) for e in node.elements):
        raise EditFault(f"'{name}' is built on another class and cannot be dissolved.")
    if node.algorithms or node.initial_equations or node.initial_algorithms or node.external:
        raise EditFault(f"'{name}' holds algorithms or initial equations, so it cannot be dissolved.")
    if any(e.protected for e in node.elements) or any(isinstance(e, s.ClassDef) for e in node.elements):
        raise EditFault(f"'{name}' holds classes or protected parts of its own, so it cannot be dissolved.")
    return node


def _library(found: Definition) -> bool:
    root = found
    while root.parent is not None:
        root = root.parent
    return root.folder is not None


def _settled(found: Definition, node: s.Component, source: Source) -> tuple[dict[str, str], Source]:
    """The class with the modifiers of the part written into it; values from outside stand as marks."""
    values: dict[str, str] = {}
    own = found.source.slice(found.node)
    work = parse(own + ";", "assembly")

    def write(arguments: tuple[Any, ...], path: list[str]) -> None:
        nonlocal work
        for argument in arguments:
            if not isinstance(argument, s.Modify):
                raise EditFault(f"'{node.name}' redeclares something inside, so it cannot be dissolved.")
            inner = [*path, *argument.name.split(".")]
            modification = argument.modification
            if modification is None:
                continue
            write(modification.arguments, inner)
            if modification.value is not None:
                mark = f"outside_value_{len(values)}_"
                values[mark] = source.slice(modification.value)
                work = parse(apply(work.text, set_value(work, work.tree.classes[0], inner, mark)), "assembly")

    if node.modification is not None:
        write(node.modification.arguments, [])
    return values, work


def _names_outside(cls: s.ClassDef, part: str, inner: list[str]) -> dict[str, str]:
    taken = {e.name for e in cls.elements if isinstance(e, s.Component | s.ClassDef)} - {part}
    found: dict[str, str] = {}
    for name in inner:
        new, number = name, 2
        if new in taken:
            new = f"{part}_{name}"
        while new in taken:
            new, number = f"{part}_{name}{number}", number + 1
        taken.add(new)
        found[name] = new
    return found


def _figure_text(work: Source, figures: dict[str, s.Component], name: str, depth: int = 0) -> str:
    """The value of a parameter of the assembly, written out without its other parameters."""
    node = figures[name]
    value = node.modification.value if node.modification else None
    if value is None or depth > len(figures):
        raise EditFault(f"the parameter '{name}' of the assembly has no value.", hint="Give it one first.")
    text = work.slice(value)
    offset = value.start
    patches = []
    for other in figures:
        for reference in edit_class.references(value, other):
            patches.append(Patch(reference.start - offset, reference.end - offset, _figure_text(work, figures, other, depth + 1)))
    text = apply(text, patches)
    return text if re.fullmatch(r"[\w.]+|\".*\"", text) else f"({text})"


def _rewritten(
    tree: ClassTree, found: Definition, work: Source, body: s.ClassDef, ports: set[str], figures: dict[str, s.Component],
    names: dict[str, str], values: dict[str, str],
) -> str:  # fmt: skip
    """The class with its parameters replaced by their values and its parts by their new names."""
    patches: list[Patch] = []
    own = {f.name: (f.start, f.end) for f in figures.values()}
    for name in figures:
        text = None
        for reference in edit_class.references(body, name):
            if any(a <= reference.start < b for a, b in own.values()):
                continue
            text = text or _figure_text(work, figures, name)
            patches.append(Patch(reference.start, reference.end, text))
    for old, new in names.items():
        if old == new:
            continue
        patches.append(Patch(*edit_class.component(body, old).name_span, new))
        patches += [Patch(r.parts[0].start, r.parts[0].start + len(old), new) for r in edit_class.references(body, old)]
    wired = [(e.left, e.right) for e in body.equations if isinstance(e, s.Connect)]
    ends = {r.start for pair in wired for r in pair}
    for port in ports:
        for reference in edit_class.references(body, port):
            if reference.start not in ends:
                raise EditFault(
                    f"'{found.name}' has an equation about its port '{port}', so it cannot be dissolved.",
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


def _direction(tree: ClassTree, found: Definition, port: str) -> str:
    declared_port = declaration(tree, found, [port])
    if declared_port is None:
        return ""
    kind = class_of(tree, *declared_port)
    prefixes = (*declared_port[1].prefixes, *(kind.node.base_prefixes if kind else ()))
    return "in" if "input" in prefixes else "out" if "output" in prefixes else ""


def _rejoined(
    source: Source, cls: s.ClassDef, name: str, work: Source, body: s.ClassDef, ports: set[str], direction: dict[str, str]
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
                f"|{edit_class.port_text(work, r)}" if r.parts[0].name in ports else edit_class.port_text(work, r)
                for r in (e.left, e.right)
            ]  # fmt: skip
            link(*ends)
    for e in cls.equations:
        if isinstance(e, s.Connect) and name in (e.left.parts[0].name, e.right.parts[0].name):
            gone.append(e)
            ends = []
            for r in (e.left, e.right):
                text = edit_class.port_text(source, r)
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
        outer = [e for e in group if any(e == edit_class.port_text(source, r) for c in gone for r in (c.left, c.right))]
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
        raise EditFault(f"'{part}' as a whole is used in line {place.line}.", place, "Change that place first.")
    inner = reference.parts[1]
    if inner.name in names:
        return Patch(reference.parts[0].start, inner.start + len(inner.name), names[inner.name])
    if inner.name in figures and len(reference.parts) == 2:
        return Patch(reference.start, reference.end, _restored(_figure_text(work, figures, inner.name), values))
    raise EditFault(f"the port '{inner.name}' of '{part}' is used in line {place.line}.", place, "Change that place first.")


def _alone(source: Source, cls: s.ClassDef, node: s.Component) -> bool:
    """Whether a declaration has a clause of its own."""
    others = [e for e in cls.elements if isinstance(e, s.Component)]
    i = next(k for k, e in enumerate(others) if e is node)
    before = i == 0 or ";" in source.text[others[i - 1].end : node.start]
    after = i + 1 == len(others) or ";" in source.text[node.end : others[i + 1].start]
    return before and after


def _used_elsewhere(cls: s.ClassDef, inner: s.ClassDef, node: s.Component) -> bool:
    return any(
        isinstance(e, s.Component) and e is not node and e.type_name.split(".")[-1] == inner.name for e in cls.elements
    ) or any(
        isinstance(e, s.ClassDef)
        and e is not inner
        and any(isinstance(c, s.Component) and c.type_name.split(".")[-1] == inner.name for c in e.elements)
        for e in cls.elements
    )

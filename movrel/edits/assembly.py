"""Make an assembly of parts, as patches of the text."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from movrel.edits.fragment import (
    declared,
    free_references,
    is_figure,
    only_component,
    qualified_type,
)
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import TILE
from movrel.language.clauses import equation_end, without_clause
from movrel.language.edit_wires import bend_connection, port_text
from movrel.language.names import check_name
from movrel.language.parser import Source, parse
from movrel.language.patch import Patch, apply
from movrel.language.tree_search import component, references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, components, declaration, reach
from movrel.sheet.symbols import placement_of

#: Size of a new assembly on the sheet, and the distance of its ports on the inside from the parts.
SIZE, BORDER = 60.0, 40.0
#: Room that it keeps from other parts.
CLEAR = 12.0


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


def make(
    tree: ClassTree,
    definition: Definition,
    names: list[str],
    class_name: str,
    part_name: str,
    description: str = "",
) -> list[Patch]:
    """Replace parts by one component of a new class, declared in the class itself, that holds them.

    Wires that cross the border get ports; parameters of the class that the parts use are passed on.
    Raises :class:`EditFault` when something cannot be moved, naming the line.
    """
    source, cls = definition.source, definition.node
    check_name(cls, class_name)
    if part_name != class_name:
        check_name(cls, part_name)
    else:
        raise EditFault("the class and the part need different names.")
    chosen = set(names)
    nodes = [component(cls, n) for n in names]
    nodes.sort(key=lambda n: n.start)
    if not nodes:
        raise EditFault(
            "no part is selected.", hint="Select the parts that the assembly is to hold."
        )
    for node in nodes:
        class_ = class_of(tree, definition, node)
        if is_figure(node) or class_ is None or class_.predefined:
            raise EditFault(f"'{node.name}' is not a part, so it cannot go into an assembly.")
        if tree.is_kind(class_, "connector"):
            raise EditFault(
                f"'{node.name}' is a port of the model itself.",
                hint="Leave it out of the selection.",
            )
        if node.flags:
            raise EditFault(
                f"'{node.name}' is declared {node.flags[0]}.", hint="Leave it out of the selection."
            )
    inner_wires, border = _sort_wires(source, cls, chosen)
    box = box_of_parts(nodes)
    ports = _ports(tree, definition, source, border, chosen, box)
    given = _given(tree, definition, [*nodes, *inner_wires], chosen)
    body = _class_text(
        tree, definition, nodes, inner_wires, ports, given, class_name, description, box
    )
    arguments = ", ".join(f"{name} = {text}" for name, text, _ in given)
    tallest = max(
        (sum(p.side == side for p in ports) for side in ("left", "right", "top", "bottom")),
        default=1,
    )
    half = max(SIZE, 24.0 * tallest) / 2
    x, y = _free_middle(cls, chosen, box, half)
    place = edit_class.placement(((x - half, y - half), (x + half, y + half)))
    comment = f' "{description}"' if description else ""
    part = f"{class_name} {part_name}{f'({arguments})' if arguments else ''}{comment} annotation ({place});"
    patches = edit_class.insert_elements(source, cls, [body], first=True)
    patches += _replaced(source, cls, nodes, part)
    by_inner = {p.inner: p.name for p in ports}
    for wire, (end, _) in border:
        inner = port_text(source, end)
        patches.append(Patch(end.start, end.end, f"{part_name}.{by_inner[inner]}"))
        # Its corners led to a part that is elsewhere now.
        patches += _without_bends(source, cls, wire)
    patches += [edit_class.delete_equation(source, wire) for wire in inner_wires]
    removed = [(n.start, n.end) for n in [*nodes, *inner_wires]] + [
        (end.start, end.end) for _, (end, _) in border
    ]
    for name in names:
        for reference in references(cls, name):
            if not any(a <= reference.start < b for a, b in removed):
                patches.append(Patch(reference.start, reference.start, f"{part_name}."))
    return patches


def _free_middle(
    cls: s.ClassDef, chosen: set[str], box: tuple[float, float, float, float], half: float
) -> tuple[float, float]:
    """Where the parts were, or as near to it as nothing else lies."""
    others = [
        placed.extent
        for e in cls.elements
        if isinstance(e, s.Component)
        and e.name not in chosen
        and (placed := placement_of(e)) is not None
    ]
    middle = round((box[0] + box[2]) / 2), round((box[1] + box[3]) / 2)

    def free(x: float, y: float) -> bool:
        reach = half + CLEAR
        return not any(
            min(o[0], o[2]) < x + reach
            and max(o[0], o[2]) > x - reach
            and min(o[1], o[3]) < y + reach
            and max(o[1], o[3]) > y - reach
            for o in others
        )

    steps = sorted(
        ((i, j) for i in range(-15, 16) for j in range(-15, 16)),
        key=lambda s: (s[0] ** 2 + s[1] ** 2, s),
    )
    return next(
        (
            (middle[0] + 10.0 * i, middle[1] + 10.0 * j)
            for i, j in steps
            if free(middle[0] + 10 * i, middle[1] + 10 * j)
        ),
        middle,
    )


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
                border.append(
                    (
                        equation,
                        (equation.left, equation.right)
                        if left
                        else (equation.right, equation.left),
                    )
                )
        elif isinstance(equation, s.ForEquation | s.IfEquation) and _wires_in(equation, chosen):
            raise EditFault(
                f"a selected part is wired inside the block in line {source.place(equation.start).line}.",
                source.place(equation.start), "Write these connections out first, or leave the part out.",
            )  # fmt: skip
    return inside, border


def _wires_in(node: object, chosen: set[str]) -> bool:
    from dataclasses import fields

    if isinstance(node, s.Connect):
        return node.left.parts[0].name in chosen or node.right.parts[0].name in chosen
    if isinstance(node, s.Node):
        return any(
            _wires_in(getattr(node, f.name), chosen)
            for f in fields(node)
            if f.name not in ("start", "end")
        )
    return isinstance(node, list | tuple) and any(_wires_in(item, chosen) for item in node)


def _ports(
    tree: ClassTree, definition: Definition, source: Source, border: list[tuple[s.Connect, tuple[s.Ref, s.Ref]]],
    chosen: set[str], box: tuple[float, float, float, float],
) -> list[_Port]:  # fmt: skip
    ports: dict[str, _Port] = {}
    used = set(chosen)
    for wire, (end, other) in border:
        inner = port_text(source, end)
        port = ports.get(inner)
        if port is None:
            origin = declaration(tree, definition, [p.name for p in end.parts])
            kind = class_of(tree, *origin) if origin is not None else None
            if origin is None or kind is None:
                place = source.place(wire.start)
                raise EditFault(
                    f"the port '{inner}' in line {place.line} is not known.",
                    place,
                    "Correct the connection first.",
                )
            owner, node = origin
            name = end.parts[-1].name
            if name in used:
                name = "_".join(p.name for p in end.parts)
            stem, number = name, 2
            while name in used:
                name, number = f"{stem}{number}", number + 1
            used.add(name)
            size = (
                ""
                if end.parts[-1].subscripts
                else ", ".join(
                    owner.source.slice(x) for x in (*node.type_subscripts, *node.subscripts)
                )
            )
            if size and not size.replace(", ", "").isdigit():
                raise EditFault(
                    f"the port '{inner}' has {size} elements, a number that only its part knows.",
                    hint="Wire its elements singly first.",
                )
            prefixes = (*node.prefixes, *kind.node.base_prefixes)
            direction = "in" if "input" in prefixes else "out" if "output" in prefixes else ""
            type_name = " ".join(
                [*[p for p in node.prefixes if p in ("input", "output")], kind.qualified]
            )
            port = ports[inner] = _Port(
                inner, name, type_name, size, direction, _middle(definition, end.parts[0].name)
            )
        port.towards.append(_middle(definition, other.parts[0].name))
    for port in ports.values():
        port.side = _side(port, box)
    return list(ports.values())


def _middle(definition: Definition, name: str) -> tuple[float, float]:
    node = next(
        (e for e in definition.node.elements if isinstance(e, s.Component) and e.name == name), None
    )
    placed = placement_of(node) if node is not None else None
    x1, y1, x2, y2 = placed.extent if placed else (0.0, 0.0, 0.0, 0.0)
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


def box_of_parts(nodes: list[s.Component]) -> tuple[float, float, float, float]:
    extents = [placed.extent for node in nodes if (placed := placement_of(node)) is not None] or [
        [-50.0, -50.0, 50.0, 50.0]
    ]
    xs = [v for e in extents for v in (e[0], e[2])]
    ys = [v for e in extents for v in (e[1], e[3])]
    return min(xs), min(ys), max(xs), max(ys)


def _given(
    tree: ClassTree, definition: Definition, nodes: Sequence[s.Node], chosen: set[str]
) -> list[tuple[str, str, str]]:
    """Values that the parts take from outside: name in the assembly, what is passed, and the declaration."""
    given: dict[str, tuple[str, str, str]] = {}
    own = {node.name: (owner, node) for owner, node in components(tree, definition)}
    for node in nodes:
        for reference in free_references(node, chosen):
            first = reference.parts[0].name
            if first not in own or (isinstance(node, s.Connect) and first not in own):
                continue
            text = definition.source.slice(reference)
            if text in given:
                continue
            if len(reference.parts) == 1 and not reference.parts[0].subscripts:
                owner, element = own[first]
                modification = element.modification
                span = modification.arguments_span if modification else None
                arguments = owner.source.text[span[0] : span[1]] if span else ""
                size = ", ".join(
                    owner.source.slice(x) for x in (*element.type_subscripts, *element.subscripts)
                )
                words = (
                    f' "{element.comment.text}"' if element.comment and element.comment.text else ""
                )
                kind = reach(qualified_type(tree, owner, element), definition.qualified)
                line = f"parameter {kind} {first}{f'[{size}]' if size else ''}{arguments}{words};"
                given[text] = (first, text, line)
            else:
                name = re.sub(r"\W+", "_", text).strip("_")
                given[text] = (name, text, f"parameter Real {name};")
    return list(given.values())


def _class_text(
    tree: ClassTree, definition: Definition, nodes: list[s.Component], wires: list[s.Connect], ports: list[_Port],
    given: list[tuple[str, str, str]], name: str, description: str, box: tuple[float, float, float, float],
) -> str:  # fmt: skip
    source = definition.source
    lines = [f'model {name} "{description}"' if description else f"model {name}"]
    lines += [f"  {line}" for _, _, line in given]
    lines += [f"  {_port_line(port, ports, box)}" for port in ports]
    renamed = {text: new for new, text, _ in given if text != new}
    lines += [f"  {_with_names(declared(source, node), renamed)};" for node in nodes]
    joins = [
        f"  connect({p.name}, {p.inner});"
        if p.domain_direction != "out"
        else f"  connect({p.inner}, {p.name});"
        for p in ports
    ]
    if joins or wires:
        lines.append("equation")
        lines += [f"  {source.text[w.start : equation_end(w)]};" for w in wires]
        lines += joins
    lines += [
        f"  annotation (Icon(graphics={{\n    {TILE[0]},\n    {TILE[1]}}}));",
        f"end {name};",
    ]
    return "\n".join(lines)


def _with_names(text: str, renamed: dict[str, str]) -> str:
    """A declaration in which references such as ``tank.A`` have become the one name under which the value is passed."""
    head, tail = "model A\n", ";\nend A;"
    only = parse(head + text + tail, "assembly")
    patches = []
    for old, new in renamed.items():
        names = old.split(".")
        for reference in references(only_component(only), names[0]):
            parts = reference.parts[: len(names)]
            if [part.name for part in parts] == names:
                patches.append(Patch(reference.start, parts[-1].start + len(names[-1]), new))
    return apply(only.text, patches)[len(head) : -len(tail)]


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
            patches.append(without_clause(source, members[0].start, members[-1].end))
        first = False
    return patches


def _without_bends(source: Source, cls: s.ClassDef, wire: s.Connect) -> list[Patch]:
    left, right = (port_text(source, e) for e in (wire.left, wire.right))
    return bend_connection(source, cls, left, right, None)

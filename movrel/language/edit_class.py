"""Edits of a class as patches of its text: parts and connections come, move, get other names and go.

Nothing but the edited place changes: comments and layout stay.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import fields
from typing import Any

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.margins import indented
from movrel.language.parser import Source
from movrel.language.patch import Patch

Point = tuple[float, float]
_NAME = re.compile(r"[A-Za-z_][A-Za-z_0-9]*")
RESERVED = {
    "algorithm", "and", "annotation", "block", "break", "class", "connect", "connector", "constant", "constrainedby", "der",
    "discrete", "each", "else", "elseif", "elsewhen", "encapsulated", "end", "enumeration", "equation", "expandable",
    "extends", "external", "false", "final", "flow", "for", "function", "if", "import", "impure", "in", "initial", "inner",
    "input", "loop", "model", "not", "operator", "or", "outer", "output", "package", "parameter", "partial", "protected",
    "public", "pure", "record", "redeclare", "replaceable", "return", "stream", "then", "true", "type", "when", "while",
    "within",
}  # fmt: skip


#: Names that new parts do not get, as formulae use them otherwise.
FUNCTIONS = {
    "time", "abs", "acos", "asin", "atan", "ceil", "change", "cos", "cosh", "cross", "delay", "div", "edge", "exp", "fill",
    "floor", "identity", "integer", "log", "max", "min", "mod", "ndims", "ones", "pre", "product", "rem", "sample", "scalar",
    "sign", "sin", "sinh", "size", "skew", "smooth", "sqrt", "sum", "symmetric", "tan", "tanh", "transpose", "vector", "zeros",
}  # fmt: skip


# --- names ---


def component(cls: s.ClassDef, name: str) -> s.Component:
    """The component of a name declared in this very class. Raises :class:`EditFault`."""
    for element in cls.elements:
        if isinstance(element, s.Component) and element.name == name:
            return element
    raise EditFault(
        f"'{name}' is not declared in '{cls.name}' itself.", hint="Open the class that declares it."
    )


def is_name(text: str) -> bool:
    """Whether a text can be the name of a class or component."""
    return _NAME.fullmatch(text) is not None and text not in RESERVED


def check_name(cls: s.ClassDef, name: str) -> None:
    """Refuse a name that is none, or that is taken. Raises :class:`EditFault`."""
    if not is_name(name):
        raise EditFault(
            f"'{name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    if any(isinstance(e, s.Component | s.ClassDef) and e.name == name for e in cls.elements):
        raise EditFault(f"'{cls.name}' already has a '{name}'.", hint="Choose another name.")


def free_name(cls: s.ClassDef, class_name: str) -> str:
    """A sensible name for a new component: that of its class, with a number if it is taken."""
    last = class_name.rpartition(".")[2]
    stem = last[:1].lower() + last[1:]
    if not _NAME.fullmatch(stem):
        stem = "part"
    used = {e.name for e in cls.elements if isinstance(e, s.Component | s.ClassDef)}
    spoken_for = stem in RESERVED or stem in FUNCTIONS
    if stem not in used and not spoken_for:
        return stem
    first = 1 if spoken_for else 2
    return next(f"{stem}{i}" for i in range(first, len(used) + 3) if f"{stem}{i}" not in used)


# --- parts ---


def insert_component(
    source: Source, cls: s.ClassDef, class_name: str, name: str, placement: str
) -> list[Patch]:
    """Declare a component after the last public one; ``placement`` is the text of its Placement."""
    check_name(cls, name)
    return insert_elements(source, cls, [f"{class_name} {name} annotation ({placement});"])


def insert_elements(
    source: Source, cls: s.ClassDef, lines: list[str], first: bool = False
) -> list[Patch]:
    """Put declarations, each a text of one or more lines, after the last public one, or ``first`` in the class."""
    _long(cls)
    if not lines:
        return []
    last = [e for e in cls.elements if not getattr(e, "protected", False)]
    if last and not first:
        at = _past_remark(source, _clause_end(source, last[-1].end))
        return [
            Patch(
                at,
                at,
                "".join("\n" + indented(line, _indent(source, last[-1].start)) for line in lines),
            )
        ]
    at = header_end(source, cls)
    at = _past_remark(source, at)
    inside = _indent(source, cls.start) + "  "
    return [
        Patch(
            at,
            at,
            "".join("\n" + indented(line, inside) for line in lines)
            + _after_header(source, cls, at),
        )
    ]


def insert_after(source: Source, node: s.Component, lines: list[str]) -> list[Patch]:
    """Put declarations after a given one."""
    at = _past_remark(source, _clause_end(source, node.end))
    return [
        Patch(at, at, "".join("\n" + indented(line, _indent(source, node.start)) for line in lines))
    ]


def retype(source: Source, cls: s.ClassDef, name: str, type_name: str) -> list[Patch]:
    """Give a component another class. Raises :class:`EditFault` when it shares its clause with others."""
    node = component(cls, name)
    before = source.text[node.start : node.name_span[0]]
    others = [e for e in cls.elements if isinstance(e, s.Component) and e is not node]
    shares = any(
        e.start > node.start and ";" not in source.text[node.end : e.start] for e in others
    )
    if node.type_name not in before or shares:
        raise EditFault(
            f"'{name}' is declared together with others.",
            hint="Give it a declaration of its own in the text.",
        )
    at = node.start + before.rindex(node.type_name)
    return [Patch(at, at + len(node.type_name), type_name)]


def insert_equations(source: Source, cls: s.ClassDef, lines: list[str]) -> list[Patch]:
    """Put equations after the last one, in a section of their own when there is none."""
    _long(cls)
    if not lines:
        return []
    if cls.equations:
        last = cls.equations[-1]
        at = _past_remark(source, _clause_end(source, equation_end(last)))
        return [
            Patch(
                at,
                at,
                "".join(
                    "\n" + indented(line, _indent(source, cls.equations[0].start)) for line in lines
                ),
            )
        ]
    at, indent = _before_end(source, cls)
    body = "".join(indented(line, indent + "  ") + "\n" for line in lines)
    return [Patch(at, at, f"{indent}equation\n{body}")]


def delete_equation(source: Source, equation: s.Node) -> Patch:
    """Take one equation away, and its line if nothing else stands there."""
    return _without_line(source, equation.start, _clause_end(source, equation_end(equation)))


def delete_declaration(source: Source, cls: s.ClassDef, node: s.Component) -> list[Patch]:
    """Take a declaration away, whatever uses it."""
    return _without_declaration(source, cls, node)


def without_clause(source: Source, start: int, end: int) -> Patch:
    """Take a whole clause, from its start to the end of its last declaration, away with its semicolon."""
    return _without_line(source, start, _clause_end(source, end))


def indent_at(source: Source, start: int) -> str:
    """The blanks before what begins a line."""
    return _indent(source, start)


def delete_class(source: Source, node: s.ClassDef) -> Patch:
    """Take a class that is declared inside another away."""
    return _without_line(source, node.start, _clause_end(source, node.end))


def delete_component(source: Source, cls: s.ClassDef, name: str) -> list[Patch]:
    """Take a component away with its connections. Refused while an equation or another part uses it."""
    node = component(cls, name)
    patches = []
    gone: list[s.Node] = []
    for equation in cls.equations:
        if isinstance(equation, s.Connect) and name in (
            equation.left.parts[0].name,
            equation.right.parts[0].name,
        ):
            patches.append(delete_equation(source, equation))
            gone.append(equation)
    for reference in references(cls, name):
        if (
            not any(g.start <= reference.start < g.end for g in gone)
            and not node.start <= reference.start < node.end
        ):
            raise EditFault(
                f"'{name}' is used in line {source.place(reference.start).line}.", source.place(reference.start),
                "Remove or change that place first.",
            )  # fmt: skip
    return patches + _without_declaration(source, cls, node)


def rename_component(source: Source, cls: s.ClassDef, name: str, new: str) -> list[Patch]:
    """Give a component another name, everywhere in the class."""
    node = component(cls, name)
    if new == name:
        return []
    check_name(cls, new)
    places = [
        node.name_span,
        *((r.parts[0].start, r.parts[0].start + len(name)) for r in references(cls, name)),
    ]
    return [Patch(a, b, new) for a, b in sorted(set(places))]


def place_component(source: Source, cls: s.ClassDef, name: str, placement: str) -> list[Patch]:
    """Put a component somewhere else; ``placement`` is the text of its new Placement."""
    node = component(cls, name)
    annotation = node.comment.annotation if node.comment else None
    if annotation is not None:
        for argument in annotation.arguments:
            if isinstance(argument, s.Modify) and argument.name == "Placement":
                return [Patch(argument.start, argument.end, placement)]
        at = source.text.index("(", annotation.start) + 1
        return [Patch(at, at, placement + (", " if annotation.arguments else ""))]
    return [Patch(node.end, node.end, f" annotation ({placement})")]


def place_on_symbol(
    source: Source, cls: s.ClassDef, name: str, extent: tuple[Point, Point]
) -> list[Patch]:
    """Put a port somewhere else on the symbol of its class; on the inner sheet it stays."""
    node = component(cls, name)
    (x1, y1), (x2, y2) = extent
    text = f"iconTransformation(extent={{{{{_n(x1)},{_n(y1)}}},{{{_n(x2)},{_n(y2)}}}}})"
    annotation = node.comment.annotation if node.comment else None
    for argument in annotation.arguments if annotation else ():
        if (
            isinstance(argument, s.Modify)
            and argument.name == "Placement"
            and argument.modification is not None
        ):
            inside = argument.modification.arguments
            for inner in inside:
                if isinstance(inner, s.Modify) and inner.name == "iconTransformation":
                    return [Patch(inner.start, inner.end, text)]
            at = inside[-1].end if inside else source.text.index("(", argument.start) + 1
            return [Patch(at, at, (", " if inside else "") + text)]
    return place_component(
        source, cls, name, f"Placement(transformation(extent={{{{-10,-10}},{{10,10}}}}), {text})"
    )


def placement(extent: tuple[Point, Point], rotation: float = 0.0) -> str:
    """The Placement of a component: its corners, turned about their middle."""
    (x1, y1), (x2, y2) = extent
    if not rotation:
        return f"Placement(transformation(extent={{{{{_n(x1)},{_n(y1)}}},{{{_n(x2)},{_n(y2)}}}}}))"
    cx, cy = (x1 + x2) / 2, (y1 + y2) / 2
    corners = f"{{{{{_n(x1 - cx)},{_n(y1 - cy)}}},{{{_n(x2 - cx)},{_n(y2 - cy)}}}}}"
    return f"Placement(transformation(extent={corners}, rotation={_n(rotation)}, origin={{{_n(cx)},{_n(cy)}}}))"


# --- connections ---


def add_connection(source: Source, cls: s.ClassDef, left: str, right: str) -> list[Patch]:
    """Connect two ports, given as ``part.port``, ``part.port[element]`` or ``port``."""
    if left == right:
        raise EditFault("a port cannot be connected with itself.")
    if find_connection(source, cls, left, right) is not None:
        raise EditFault(f"'{left}' and '{right}' are already connected.")
    return insert_equations(source, cls, [f"connect({left}, {right});"])


def port_text(source: Source, end: s.Ref) -> str:
    """An end of a connection with its subscripts, without blanks."""
    return "".join(source.slice(end).split())


def find_connection(source: Source, cls: s.ClassDef, left: str, right: str) -> s.Connect | None:
    for equation in cls.equations:
        if isinstance(equation, s.Connect) and {
            port_text(source, equation.left),
            port_text(source, equation.right),
        } == {
            left,
            right,
        }:
            return equation
    return None


def own_connection(source: Source, cls: s.ClassDef, left: str, right: str) -> s.Connect:
    """The connection of two ports. Raises :class:`EditFault` when this very class has none."""
    equation = find_connection(source, cls, left, right)
    if equation is None:
        raise EditFault(f"'{cls.name}' has no connection of '{left}' and '{right}' of its own.")
    return equation


def delete_connection(source: Source, cls: s.ClassDef, left: str, right: str) -> list[Patch]:
    return [delete_equation(source, own_connection(source, cls, left, right))]


def bend_connection(
    source: Source, cls: s.ClassDef, left: str, right: str, points: list[Point] | None
) -> list[Patch]:
    """Give a wire the corners through which it is drawn, or none, so that it finds its way by itself.

    ``points`` run from the first end that the text names to the second.
    """
    equation = own_connection(source, cls, left, right)
    if points is not None and port_text(source, equation.left) != left:
        points = points[::-1]
    text = (
        "points={" + ",".join(f"{{{_n(x)},{_n(y)}}}" for x, y in points) + "}"
        if points is not None
        else ""
    )
    annotation = equation.comment.annotation if equation.comment else None
    line = (
        next(
            (a for a in annotation.arguments if isinstance(a, s.Modify) and a.name == "Line"), None
        )
        if annotation
        else None
    )
    if annotation is None:
        at = equation.comment.end if equation.comment and equation.comment.text else equation.end
        return [Patch(at, at, f" annotation (Line({text}))")] if points is not None else []
    if line is None:
        at = source.text.index("(", annotation.start) + 1
        return (
            [Patch(at, at, f"Line({text})" + (", " if annotation.arguments else ""))]
            if points is not None
            else []
        )
    arguments = line.modification.arguments if line.modification else ()
    for position, argument in enumerate(arguments):
        if isinstance(argument, s.Modify) and argument.name == "points":
            if points is not None:
                return [Patch(argument.start, argument.end, text)]
            if len(arguments) == 1 and len(annotation.arguments) == 1:
                start = source.text.rindex("annotation", 0, annotation.arguments[0].start)
                return [Patch(len(source.text[:start].rstrip()), equation_end(equation), "")]
            end = arguments[position + 1].start if position + 1 < len(arguments) else argument.end
            start = (
                arguments[position - 1].end
                if position and position + 1 == len(arguments)
                else argument.start
            )
            return [Patch(start, end, "")]
    if points is None:
        return []
    at = source.text.index("(", line.start) + 1
    return [Patch(at, at, text + (", " if arguments else ""))]


# --- annotations ---


def insert_annotation(source: Source, cls: s.ClassDef, inside: str) -> list[Patch]:
    """Give a class that has none an annotation."""
    at, indent = _before_end(source, cls)
    return [Patch(at, at, f"{indent}  annotation ({inside});\n")]


def set_experiment(source: Source, cls: s.ClassDef, name: str, value: str) -> list[Patch]:
    """Give a run setting its value in the ``experiment`` annotation; ``name`` may lie in ``__Movrel(...)``."""
    _long(cls)
    path = name.split(".")
    inner = f"{path[0]}={value}" if len(path) == 1 else f"{path[0]}({path[1]}={value})"
    if cls.annotation is None:
        return insert_annotation(source, cls, f"experiment({inner})")
    arguments = cls.annotation.arguments
    experiment = next(
        (a for a in arguments if isinstance(a, s.Modify) and a.name == "experiment"), None
    )
    if experiment is None:
        at = source.text.index("(", cls.annotation.start) + 1
        return [Patch(at, at, f"experiment({inner})" + (", " if arguments else ""))]
    return _set_argument(source, experiment, path, value)


def _set_argument(source: Source, owner: s.Modify, path: list[str], value: str) -> list[Patch]:
    """Set a named value inside the parentheses of an annotation."""
    modification = owner.modification
    inner = f"{path[0]}={value}" if len(path) == 1 else f"{path[0]}({path[1]}={value})"
    if modification is None or modification.arguments_span is None:
        return [Patch(owner.end, owner.end, f"({inner})")]
    for argument in modification.arguments:
        if not isinstance(argument, s.Modify) or argument.name != path[0]:
            continue
        if len(path) > 1:
            return _set_argument(source, argument, path[1:], value)
        node = argument.modification.value if argument.modification is not None else None
        if node is not None:
            return [Patch(node.start, node.end, value)]
    last = (
        modification.arguments[-1].end
        if modification.arguments
        else modification.arguments_span[0] + 1
    )
    return [Patch(last, last, (", " if modification.arguments else "") + inner)]


# --- reading the tree ---


def class_at(tree: s.StoredFile, path: list[str]) -> s.ClassDef:
    """The class to which a path of names leads, from the top of a file. Raises :class:`EditFault`."""
    nodes: list[Any] = list(tree.classes)
    innermost: s.ClassDef | None = None
    for name in path:
        innermost = next((n for n in nodes if isinstance(n, s.ClassDef) and n.name == name), None)
        if innermost is None:
            raise EditFault(f"the text no longer holds '{'.'.join(path)}'.")
        nodes = innermost.elements
    assert innermost is not None
    return innermost


def references(node: Any, name: str) -> Iterator[s.Ref]:
    """Every reference that begins with a name, in nested parts of the tree too.

    Classes inside that declare the name themselves mean their own.
    """
    if isinstance(node, s.Ref):
        if node.parts[0].name == name and not node.absolute:
            yield node
        for part in node.parts:
            yield from references(part.subscripts, name)
    elif isinstance(node, s.Node):
        for f in fields(node):
            if f.name not in ("start", "end"):
                for child in _inside(getattr(node, f.name), name):
                    yield from references(child, name)
    elif isinstance(node, list | tuple):
        for item in _inside(node, name):
            yield from references(item, name)


def strings(node: Any) -> Iterator[s.String]:
    """Every text literal in a part of the tree."""
    if isinstance(node, s.String):
        yield node
    elif isinstance(node, s.Node):
        for f in fields(node):
            if f.name not in ("start", "end"):
                yield from strings(getattr(node, f.name))
    elif isinstance(node, list | tuple):
        for item in node:
            yield from strings(item)


def _inside(value: Any, name: str) -> Iterator[Any]:
    """What a field holds, without classes to which the name means something of their own."""
    for item in value if isinstance(value, list | tuple) else (value,):
        own = isinstance(item, s.ClassDef) and (
            item.name == name
            or any(
                isinstance(e, s.Component | s.ClassDef) and e.name == name for e in item.elements
            )
        )
        if not own:
            yield item


def _long(cls: s.ClassDef) -> None:
    if cls.form != "long":
        raise EditFault(
            f"'{cls.name}' is a short class; nothing can be put into it.",
            hint="Write it out as a class of its own.",
        )


def equation_end(node: s.Node) -> int:
    """Where an equation ends, its comment and annotation included."""
    comment = getattr(node, "comment", None)
    return max(node.end, comment.end if comment is not None else node.end)


def _clause_end(source: Source, end: int) -> int:
    """Just after the semicolon that ends a clause, past comments in between."""
    text = source.text
    while text[end] != ";":
        if text.startswith("//", end):
            end = text.index("\n", end)
        elif text.startswith("/*", end):
            end = text.index("*/", end) + 2
        else:
            end += 1
    return end + 1


def _past_remark(source: Source, at: int) -> int:
    """Behind a remark that ends the line, so that it stays beside what it is about."""
    line_end = source.text.find("\n", at)
    rest = source.text[at : line_end if line_end >= 0 else len(source.text)]
    return line_end if line_end >= 0 and rest.lstrip().startswith("//") else at


def _indent(source: Source, start: int) -> str:
    line = source.text[source.text.rfind("\n", 0, start) + 1 : start]
    return line[: len(line) - len(line.lstrip())]


def header_end(source: Source, cls: s.ClassDef) -> int:
    """After the name of a class and its description."""
    at = cls.name_span[1]
    if cls.comment:
        opening = source.text.index('"', at)
        at = opening + 1
        while source.text[at] != '"':
            at += 2 if source.text[at] == "\\" else 1
        at += 1
    return at


def _after_header(source: Source, cls: s.ClassDef, at: int) -> str:
    """A line break where something follows on the line of the header."""
    rest = source.text[
        at : source.text.find("\n", at) if "\n" in source.text[at:] else len(source.text)
    ]
    return (
        f"\n{_indent(source, cls.start)}"
        if rest.strip() and not rest.strip().startswith("//")
        else ""
    )


def _before_end(source: Source, cls: s.ClassDef) -> tuple[int, str]:
    """Where a new section begins, before the annotation or end of a class, and the indent of the class."""
    stop = (
        cls.annotation.start
        if cls.annotation is not None
        else source.text.rindex("end", 0, cls.end)
    )
    line = source.text.rfind("\n", 0, stop) + 1
    if source.text[line:stop].strip():
        return stop, ""
    return line, _indent(source, cls.start)


def _without_line(source: Source, start: int, end: int) -> Patch:
    """Take a stretch of text away, and its line if nothing else stands there."""
    text = source.text
    line = text.rfind("\n", 0, start) + 1
    after = text.find("\n", end)
    after = len(text) if after < 0 else after
    if not text[line:start].strip() and not text[end:after].strip():
        return Patch(line, min(after + 1, len(text)), "")
    return Patch(start, end, "")


def _without_declaration(source: Source, cls: s.ClassDef, node: s.Component) -> list[Patch]:
    """A declaration alone in its clause goes with it; of several in one clause only its own part."""
    others = [e for e in cls.elements if isinstance(e, s.Component)]
    position = next(i for i, e in enumerate(others) if e is node)
    before = others[position - 1] if position else None
    after = others[position + 1] if position + 1 < len(others) else None
    joined_before = before is not None and ";" not in source.text[before.end : node.start]
    joined_after = after is not None and ";" not in source.text[node.end : after.start]
    if joined_before:
        comma = source.text.rindex(",", 0, node.start)
        return [Patch(comma, node.end, "")]
    if joined_after:
        assert after is not None
        return [Patch(node.name_span[0], after.name_span[0], "")]
    return [_without_line(source, node.start, _clause_end(source, node.end))]


def _n(value: float) -> str:
    rounded = round(value, 3)
    return str(int(rounded)) if rounded == int(rounded) else str(rounded)

"""Edits of a class as patches of its text: parts come, move, get other names and go.

Nothing but the edited place changes: comments and layout stay.
"""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.clauses import (
    after_header,
    before_end,
    clause_end,
    digits,
    equation_end,
    header_end,
    line_indent,
    long_class,
    past_remark,
    without_declaration,
    without_line,
)
from movrel.language.margins import indented
from movrel.language.names import check_name
from movrel.language.parser import Source
from movrel.language.patch import Patch
from movrel.language.tree_search import component, references

Point = tuple[float, float]


def insert_component(
    source: Source,
    cls: s.ClassDef,
    class_name: str,
    name: str,
    placement: str,
    modification: str = "",
) -> list[Patch]:
    """Declare a component after the last public one; ``placement`` is the text of its Placement, ``modification``
    that of its values, in parentheses."""
    check_name(cls, name)
    line = f"{class_name} {name}{modification} annotation ({placement});"
    return insert_elements(source, cls, [line])


def insert_elements(
    source: Source, cls: s.ClassDef, lines: list[str], first: bool = False
) -> list[Patch]:
    """Put declarations, each a text of one or more lines, after the last public one, or ``first`` in the class."""
    long_class(cls)
    if not lines:
        return []
    last = [e for e in cls.elements if not getattr(e, "protected", False)]
    if last and not first:
        at = past_remark(source, clause_end(source, last[-1].end))
        return [
            Patch(
                at,
                at,
                "".join(
                    "\n" + indented(line, line_indent(source, last[-1].start)) for line in lines
                ),
            )
        ]
    at = header_end(source, cls)
    at = past_remark(source, at)
    inside = line_indent(source, cls.start) + "  "
    return [
        Patch(
            at,
            at,
            "".join("\n" + indented(line, inside) for line in lines)
            + after_header(source, cls, at),
        )
    ]


def insert_after(source: Source, node: s.Component, lines: list[str]) -> list[Patch]:
    """Put declarations after a given one."""
    at = past_remark(source, clause_end(source, node.end))
    return [
        Patch(
            at,
            at,
            "".join("\n" + indented(line, line_indent(source, node.start)) for line in lines),
        )
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
    long_class(cls)
    if not lines:
        return []
    if cls.equations:
        last = cls.equations[-1]
        at = past_remark(source, clause_end(source, equation_end(last)))
        return [
            Patch(
                at,
                at,
                "".join(
                    "\n" + indented(line, line_indent(source, cls.equations[0].start))
                    for line in lines
                ),
            )
        ]
    at, indent = before_end(source, cls)
    body = "".join(indented(line, indent + "  ") + "\n" for line in lines)
    return [Patch(at, at, f"{indent}equation\n{body}")]


def delete_equation(source: Source, equation: s.Node) -> Patch:
    """Take one equation away, and its line if nothing else stands there."""
    return without_line(source, equation.start, clause_end(source, equation_end(equation)))


def delete_class(source: Source, node: s.ClassDef) -> Patch:
    """Take a class that is declared inside another away."""
    return without_line(source, node.start, clause_end(source, node.end))


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
    return patches + without_declaration(source, cls, node)


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
    text = on_symbol(((x1, y1), (x2, y2)))
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


def on_symbol(extent: tuple[Point, Point]) -> str:
    """The part of a Placement that says where a port lies on the symbol: its corners."""
    (x1, y1), (x2, y2) = extent
    return f"iconTransformation(extent={{{{{digits(x1)},{digits(y1)}}},{{{digits(x2)},{digits(y2)}}}}})"


def placement(extent: tuple[Point, Point], rotation: float = 0.0) -> str:
    """The Placement of a component: its corners, turned about their middle."""
    (x1, y1), (x2, y2) = extent
    if not rotation:
        return f"Placement(transformation(extent={{{{{digits(x1)},{digits(y1)}}},{{{digits(x2)},{digits(y2)}}}}}))"
    cx, cy = (x1 + x2) / 2, (y1 + y2) / 2
    corners = f"{{{{{digits(x1 - cx)},{digits(y1 - cy)}}},{{{digits(x2 - cx)},{digits(y2 - cy)}}}}}"
    return f"Placement(transformation(extent={corners}, rotation={digits(rotation)}, origin={{{digits(cx)},{digits(cy)}}}))"


def insert_annotation(source: Source, cls: s.ClassDef, inside: str) -> list[Patch]:
    """Give a class that has none an annotation."""
    at, indent = before_end(source, cls)
    return [Patch(at, at, f"{indent}  annotation ({inside});\n")]


def set_experiment(source: Source, cls: s.ClassDef, name: str, value: str) -> list[Patch]:
    """Give a run setting its value in the ``experiment`` annotation; ``name`` may lie in ``__Movrel(...)``."""
    long_class(cls)
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

"""Edits of connections as patches of the text of a class."""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted, set_argument
from movrel.language.clauses import digits, equation_end
from movrel.language.edit_class import Point, delete_equation, insert_equations
from movrel.language.parser import Source
from movrel.language.patch import Patch


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
    """The connection of two ports in this very class, whichever of them the text names first, or None."""
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
        looped = any(isinstance(e, s.ForEquation) for e in cls.equations)
        hint = "A connection in a loop of its equations is changed in the text." if looped else ""
        raise EditFault(
            f"'{cls.name}' has no connection of '{left}' and '{right}' of its own.", hint=hint
        )
    return equation


def delete_connection(source: Source, cls: s.ClassDef, left: str, right: str) -> list[Patch]:
    """Take the wire between two ports out. Raises :class:`EditFault` when this very class has none."""
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
        "points={" + ",".join(f"{{{digits(x)},{digits(y)}}}" for x, y in points) + "}"
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


def cable_connection(
    source: Source, cls: s.ClassDef, left: str, right: str, cable: str, vendor: str
) -> list[Patch]:
    """Put a wire into a cable, or take it out of the one that it is in; ``vendor`` names our own annotations."""
    equation = own_connection(source, cls, left, right)
    comment = equation.comment
    annotation = comment.annotation if comment else None
    path, value = [vendor, "cable"], quoted(cable) if cable else None
    if annotation is None:
        at = comment.end if comment and comment.text else equation.end
        return [Patch(at, at, f" annotation ({vendor}(cable={value}))")] if value else []
    own = next(
        (a for a in annotation.arguments if isinstance(a, s.Modify) and a.name == vendor), None
    )
    inner = own.modification.arguments if own is not None and own.modification else ()
    if value is None and own is not None and len(inner) == 1:
        if len(annotation.arguments) == 1:
            start = source.text.rindex("annotation", 0, own.start)
            return [Patch(len(source.text[:start].rstrip()), equation_end(equation), "")]
        path = [vendor]
    opening = source.text.index("(", annotation.start)
    return set_argument(source, annotation.arguments, opening, path, value)

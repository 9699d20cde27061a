"""Annotations of a class set as patches: notes on the sheet, its symbol, description and documentation."""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.clauses import header_end
from movrel.language.parser import Source
from movrel.language.patch import Patch

#: A plain tile with the name of the part in it.
TILE = (
    "Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid)",
    'Text(extent={{-90,30},{90,-30}}, textString="%name")',
)


def quoted(text: str) -> str:
    """A Modelica string literal."""
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def set_annotation(
    source: Source, cls: s.ClassDef, path: list[str], value: str | None
) -> list[Patch]:
    """Give ``path[0](path[1](... = value))`` in the annotation of a class a value, or take it away."""
    if cls.form != "long":
        raise EditFault(
            f"'{cls.name}' is a short class.", hint="Write it out as a class of its own."
        )
    if cls.annotation is None:
        if value is None:
            return []
        return edit_class.insert_annotation(source, cls, _nested(path, value))
    return set_argument(
        source, cls.annotation.arguments, source.text.index("(", cls.annotation.start), path, value
    )


def set_description(source: Source, cls: s.ClassDef, text: str) -> list[Patch]:
    """The text in quotes after the name of a class."""
    at = cls.name_span[1]
    if cls.comment:
        start = source.text.index('"', at)
        return (
            [Patch(start, header_end(source, cls), quoted(text))]
            if text
            else [Patch(at, header_end(source, cls), "")]
        )
    return [Patch(at, at, f" {quoted(text)}")] if text else []


def graphics(source: Source, cls: s.ClassDef, layer: str) -> list[tuple[s.Node, str]]:
    """The shapes of a layer (Diagram or Icon) of the class itself, with their texts."""
    node = _graphics(cls, layer)
    return [(item, source.slice(item)) for item in node.items] if node is not None else []


def set_shape(
    source: Source, cls: s.ClassDef, layer: str, index: int | None, shape: str | None
) -> list[Patch]:
    """Add a shape to a layer (``index`` None), change one, or take one away (``shape`` None)."""
    node = _graphics(cls, layer)
    if index is None:
        assert shape is not None
        if node is None:
            return set_annotation(source, cls, [layer, "graphics"], f"{{{shape}}}")
        at = node.items[-1].end if node.items else node.start + 1
        return [Patch(at, at, (", " if node.items else "") + shape)]
    if node is None or not 0 <= index < len(node.items):
        raise EditFault("there is no such shape any more.", hint="Look at the newest state.")
    item = node.items[index]
    if shape is not None:
        return [Patch(item.start, item.end, shape)]
    if len(node.items) == 1:
        return set_annotation(source, cls, [layer, "graphics"], "{}")
    if index + 1 < len(node.items):
        return [Patch(item.start, node.items[index + 1].start, "")]
    return [Patch(node.items[index - 1].end, item.end, "")]


def _graphics(cls: s.ClassDef, layer: str) -> s.Array | None:
    for argument in cls.annotation.arguments if cls.annotation else ():
        if isinstance(argument, s.Modify) and argument.name == layer and argument.modification:
            for inner in argument.modification.arguments:
                if isinstance(inner, s.Modify) and inner.name == "graphics" and inner.modification:
                    value = inner.modification.value
                    return value if isinstance(value, s.Array) else None
    return None


def _nested(path: list[str], value: str) -> str:
    return "(".join(path) + f"={value}" + ")" * (len(path) - 1)


def set_argument(
    source: Source,
    arguments: tuple[s.Argument, ...],
    opening: int,
    path: list[str],
    value: str | None,
) -> list[Patch]:
    """The same among the arguments of any annotation, which begin behind ``opening``."""
    for position, argument in enumerate(arguments):
        if not isinstance(argument, s.Modify) or argument.name != path[0]:
            continue
        modification = argument.modification
        if len(path) == 1:
            if value is None:
                if position + 1 < len(arguments):
                    return [Patch(argument.start, arguments[position + 1].start, "")]
                start = arguments[position - 1].end if position else argument.start
                return [Patch(start, argument.end, "")]
            if modification is not None and modification.value is not None:
                return [Patch(modification.value.start, modification.value.end, value)]
            return [Patch(argument.end, argument.end, f"={value}")]
        if modification is None or modification.arguments_span is None:
            return (
                [Patch(argument.end, argument.end, f"({_nested(path[1:], value)})")]
                if value is not None
                else []
            )
        return set_argument(
            source, modification.arguments, modification.arguments_span[0], path[1:], value
        )
    if value is None:
        return []
    at = arguments[-1].end if arguments else opening + 1
    return [Patch(at, at, (", " if arguments else "") + _nested(path, value))]

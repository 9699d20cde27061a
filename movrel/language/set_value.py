"""The edit 'give a parameter another value', as patches of the text."""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch


def set_value(
    source: Source, model: s.ClassDef, path: list[str], value: str, display_unit: str | None = None
) -> list[Patch]:
    """Patches that give the parameter at ``path`` (component names, then its own) a value.

    ``value`` is Modelica text. ``display_unit`` also records the unit in which the value is shown.
    Raises :class:`EditFault` when the text has no place for it.
    """
    for element in model.elements:
        if isinstance(element, s.Component) and element.name == path[0]:
            return _in_component(source, element, path[1:], value, display_unit)
    clauses = [e for e in model.elements if isinstance(e, s.Extends)]
    if len(clauses) == 1:
        return _in_extends(source, clauses[0], path, value, display_unit)
    raise EditFault(
        f"'{path[0]}' is not declared in '{model.name}' itself.",
        hint="Open the class that declares it.",
    )


def _in_component(
    source: Source, node: s.Component, path: list[str], value: str, display_unit: str | None
) -> list[Patch]:
    modification = node.modification
    if not path:
        return _value_of(
            source, node.name, modification, _name_end(source, node), value, display_unit
        )
    if modification is None or modification.arguments_span is None:
        text = "(" + _nested(path, value, display_unit) + ")"
        at = _name_end(source, node)
        return [Patch(at, at, text)]
    return _in_arguments(
        source, modification.arguments, modification.arguments_span, path, value, display_unit
    )


def _in_extends(
    source: Source, node: s.Extends, path: list[str], value: str, display_unit: str | None
) -> list[Patch]:
    text = source.text
    if not node.arguments:
        inside = text.find("(", node.start, node.annotation.start if node.annotation else node.end)
        if inside < 0:
            at = text.index(node.type_name.split(".")[-1], node.start) + len(
                node.type_name.split(".")[-1]
            )
            return [Patch(at, at, "(" + _nested(path, value, display_unit) + ")")]
        return [Patch(inside + 1, inside + 1, _nested(path, value, display_unit))]
    opening = text.rindex("(", 0, node.arguments[0].start)
    closing = text.index(")", node.arguments[-1].end)
    return _in_arguments(source, node.arguments, (opening, closing + 1), path, value, display_unit)


def _name_end(source: Source, node: s.Component) -> int:
    """Where modifications of a declaration begin: after its name and subscripts."""
    end = node.name_span[1]
    if node.subscripts:
        end = source.text.index("]", max(x.end for x in node.subscripts)) + 1
    return end


def _in_arguments(
    source: Source,
    arguments: tuple[s.Argument, ...],
    span: tuple[int, int],
    path: list[str],
    value: str,
    display_unit: str | None,
) -> list[Patch]:
    for argument in arguments:
        if not isinstance(argument, s.Modify):
            continue
        parts = argument.name.split(".")
        if parts != path[: len(parts)]:
            continue
        if argument.final:
            raise EditFault(
                f"'{argument.name}' is final here and cannot be changed.",
                source.place(argument.start),
            )
        rest = path[len(parts) :]
        name_end = source.text.index(parts[-1], argument.start) + len(parts[-1])
        if argument.name.count("."):
            name_end = source.text.index(argument.name, argument.start) + len(argument.name)
        elif argument.each or argument.final:
            name_end = _after_word(source.text, argument.start, argument.name)
        if not rest:
            return _value_of(
                source, argument.name, argument.modification, name_end, value, display_unit
            )
        inner = argument.modification
        if inner is None or inner.arguments_span is None:
            return [Patch(name_end, name_end, "(" + _nested(rest, value, display_unit) + ")")]
        return _in_arguments(
            source, inner.arguments, inner.arguments_span, rest, value, display_unit
        )
    return [_appended(source, arguments, span, _nested(path, value, display_unit))]


def _after_word(text: str, start: int, word: str) -> int:
    import re

    match = re.compile(rf"\b{re.escape(word)}\b").search(text, start)
    assert match is not None
    return match.end()


def _nested(path: list[str], value: str, display_unit: str | None) -> str:
    shown = f'(displayUnit="{display_unit}")' if display_unit is not None else ""
    return "(".join(path) + f"{shown} = {value}" + ")" * (len(path) - 1)


def _appended(
    source: Source, arguments: tuple[s.Argument, ...], span: tuple[int, int], text: str
) -> Patch:
    """Add an argument after the last one, on a line of its own if the others have one each."""
    if not arguments:
        return Patch(span[0] + 1, span[0] + 1, text)
    last = arguments[-1]
    separator = ", "
    before = source.text[(arguments[-2].end if len(arguments) > 1 else span[0]) : last.start]
    if "\n" in before:
        separator = ",\n" + before[before.rindex("\n") + 1 :]
        if separator.strip(", \t\n"):
            separator = ", "
    return Patch(last.end, last.end, separator + text)


def _value_of(
    source: Source,
    name: str,
    modification: s.Modification | None,
    name_end: int,
    value: str,
    display_unit: str | None,
) -> list[Patch]:
    patches: list[Patch] = []
    end = name_end
    if display_unit is not None:
        patches += _display_unit(source, modification, name_end, display_unit)
    if modification is not None:
        end = modification.end
        if modification.value is not None:
            node = modification.value
            if source.text[node.start : node.end] != value:
                patches.append(Patch(node.start, node.end, value))
            return patches
    patches.append(Patch(end, end, f" = {value}"))
    return patches


def _display_unit(
    source: Source, modification: s.Modification | None, name_end: int, display_unit: str
) -> list[Patch]:
    text = f'displayUnit="{display_unit}"'
    if modification is None or modification.arguments_span is None:
        return [Patch(name_end, name_end, f"({text})")]
    for argument in modification.arguments:
        if (
            isinstance(argument, s.Modify)
            and argument.name == "displayUnit"
            and argument.modification is not None
        ):
            node = argument.modification.value
            if isinstance(node, s.String):
                if node.value == display_unit:
                    return []
                return [Patch(node.start, node.end, f'"{display_unit}"')]
    return [_appended(source, modification.arguments, modification.arguments_span, text)]

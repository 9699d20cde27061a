"""Conditions on parameters, judged on the text alone: what a dialog offers, which ports a part has."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, TypeAlias

from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.expression import Scalar, Variable

#: What a parameter of that name has as its value; None where it cannot be told.
ValueOf: TypeAlias = Callable[[str], Scalar | None]


def values_by_name(variables: Iterable[Variable], values: Mapping[Variable, Scalar]) -> ValueOf:
    """The values of parameters as conditions read them: an element of an enumeration by its name."""
    parameters = {v.name: v for v in variables if v.variability == "parameter"}

    def value_of(name: str) -> Scalar | None:
        variable = parameters.get(name)
        value = values.get(variable) if variable is not None else None
        if variable is not None and variable.enumeration and isinstance(value, int | float):
            return variable.enumeration[int(value) - 1]
        return value

    return value_of


def holds(node: s.Given | None, value_of: ValueOf) -> bool:
    """Whether a condition on parameters is true; one that cannot be judged counts as true."""
    try:
        return bool(_condition(node, value_of))
    except (KeyError, TypeError, ZeroDivisionError):
        return True


def _condition(node: s.Given | None, value_of: ValueOf) -> Any:
    match node:
        case s.Boolean():
            return node.value
        case s.Number():
            return float(node.text)
        case s.Ref():
            value = value_of(node.text)
            if value is None:
                raise KeyError(node.text)
            return value
        case s.Tuple(items=(only,)):
            return _condition(only, value_of)
        case s.Unary(operator="not"):
            return not _condition(node.operand, value_of)
        case s.Unary(operator="-"):
            return -_condition(node.operand, value_of)
        case s.Binary(operator="and"):
            return _condition(node.left, value_of) and _condition(node.right, value_of)
        case s.Binary(operator="or"):
            return _condition(node.left, value_of) or _condition(node.right, value_of)
        case s.Binary(operator="==" | "<>"):
            a, b = _compared(node.left, value_of), _compared(node.right, value_of)
            return (a == b) == (node.operator == "==")
        case s.Binary():
            a, b = _condition(node.left, value_of), _condition(node.right, value_of)
            return {
                "<": a < b, "<=": a <= b, ">": a > b, ">=": a >= b,
            }[node.operator]  # fmt: skip
    raise KeyError(type(node).__name__)


def _compared(node: s.Given, value_of: ValueOf) -> Scalar:
    """One side of a comparison; an element of an enumeration stands for its name."""
    match node:
        case s.String():
            return node.value
        case s.Ref(parts=(_, *_, last)) if value_of(node.text) is None:
            return last.name
    value: Scalar = _condition(node, value_of)
    return value.rpartition(".")[2] if isinstance(node, s.Ref) and isinstance(value, str) else value


def is_offered(node: s.Component | None, value_of: ValueOf) -> bool:
    """Whether the dialog of a part offers this parameter (Dialog(enable = …), specification 18.7)."""
    comment = node.comment if node is not None else None
    dialog = note.find(comment.annotation if comment else None, "Dialog")
    for argument in dialog.modification.arguments if dialog and dialog.modification else ():
        if (
            isinstance(argument, s.Modify)
            and argument.name == "enable"
            and argument.modification is not None
        ):
            return holds(argument.modification.value, value_of)
    return True


def written_value(node: s.Component, name: str) -> Scalar | None:
    """What the modification of a component gives one of its parameters: a literal, else None.

    Raises KeyError when it gives nothing.
    """
    for argument in node.modification.arguments if node.modification else ():
        if (
            isinstance(argument, s.Modify)
            and argument.name == name
            and argument.modification is not None
        ):
            return _literal(argument.modification.value)
    raise KeyError(name)


def own_value(node: s.Component) -> Scalar | None:
    """The default of a parameter, if it is written as a literal, else None."""
    return _literal(node.modification.value if node.modification else None)


def _literal(value: s.Given | None) -> Scalar | None:
    match value:
        case s.Boolean():
            return value.value
        case s.Number():
            return float(value.text)
        case s.Ref():
            return value.text  # an element of an enumeration is compared by its name
        case _:
            return None

"""Annotations as plain values: numbers, texts, lists, and records as dictionaries."""

from __future__ import annotations

from typing import Any

from movrel.errors import MovrelError
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.flat import Experiment

#: The annotation of ours.
VENDOR = "__Movrel"


def find(annotation: s.Annotation | None, name: str) -> s.Modify | None:
    """The annotation of that name, if it is there."""
    if annotation is not None:
        for argument in annotation.arguments:
            if isinstance(argument, s.Modify) and argument.name == name:
                return argument
    return None


def says(annotation: s.Annotation | None, name: str) -> bool:
    """Whether an annotation of that name is there and true."""
    said = find(annotation, name)
    return (
        said is not None
        and said.modification is not None
        and value(said.modification.value) is True
    )


def text_of(annotation: s.Annotation | None, name: str) -> str:
    """The text that an annotation of that name gives, or nothing."""
    given = find(annotation, name)
    if given is None or given.modification is None:
        return ""
    said = value(given.modification.value)
    return said if isinstance(said, str) else ""


def value(node: s.Given | None) -> Any:
    """A literal annotation expression as a Python value.

    Arrays become lists, record calls become ``{"is": name, ...}`` with positional values under
    ``"of"``, enumeration values their last name, ``DynamicSelect`` its static value.
    """
    match node:
        case s.Number():
            return float(node.text)
        case s.String() | s.Boolean():
            return node.value
        case s.Unary(operator="-"):
            inner = value(node.operand)
            return -inner if isinstance(inner, float) else None
        case s.Array():
            return [value(item) for item in node.items]
        case s.Tuple(items=(only,)):
            return value(only)
        case s.Ref():
            return node.parts[-1].name
        case s.Call() if node.name == "DynamicSelect" and node.arguments:
            return value(node.arguments[0])
        case s.Call():
            return {"is": node.name, "of": [value(a) for a in node.arguments]} | {
                n.name: value(n.value) for n in node.named
            }
        case s.Binary(operator="*" | "/" | "+" | "-" as operator):
            a, b = value(node.left), value(node.right)
            if not isinstance(a, float) or not isinstance(b, float) or (operator == "/" and b == 0):
                return None
            return {"*": a * b, "/": a / b if b else None, "+": a + b, "-": a - b}[operator]
        case _:
            return None


def members(modify: s.Modify | None) -> dict[str, Any]:
    """The named values inside ``Name(a=…, b(c=…))`` as a dictionary."""
    members_by_name: dict[str, Any] = {}
    if modify is None or modify.modification is None:
        return members_by_name
    for argument in modify.modification.arguments:
        if not isinstance(argument, s.Modify) or argument.modification is None:
            continue
        inner = argument.modification
        members_by_name[argument.name] = (
            value(inner.value) if inner.value is not None else members(argument)
        )
    return members_by_name


def experiment_of(definition: Definition, tree: ClassTree, _depth: int = 0) -> Experiment:
    """Run settings from the ``experiment`` annotation, own or inherited."""
    given = find(definition.node.annotation, "experiment")
    if given is None:
        for base in tree.bases(definition) if _depth < 20 else []:
            return experiment_of(base, tree, _depth + 1)
        return Experiment()
    values = members(given)
    experiment = Experiment()
    for name, attribute in (
        ("StartTime", "start"),
        ("StopTime", "stop"),
        ("Interval", "interval"),
        ("Tolerance", "tolerance"),
    ):
        if name in values:
            if not isinstance(values[name], float):
                raise MovrelError(
                    f"{name} in the experiment annotation is not a number.", definition.place(given)
                )
            setattr(experiment, attribute, values[name])
    own = values.get(VENDOR)
    if isinstance(own, dict):
        experiment.solver = own["solver"] if isinstance(own.get("solver"), str) else None
        experiment.step = own["step"] if isinstance(own.get("step"), float) else None
    if experiment.stop <= experiment.start:
        raise MovrelError(
            "the experiment annotation stops before it starts.",
            definition.place(given),
            "Correct StopTime.",
        )
    if (experiment.interval is not None and experiment.interval <= 0) or experiment.tolerance <= 0:
        raise MovrelError(
            "Interval and Tolerance in the experiment annotation must be positive.",
            definition.place(given),
        )
    return experiment

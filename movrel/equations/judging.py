"""Assertions that are about parameters only: they are judged before anything runs."""

from __future__ import annotations

from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import Assertion


def about_parameters(a: Assertion) -> bool:
    """Whether an assertion is about parameters only."""
    return all(
        node.op not in x.NEVER_FOLDED
        or node.op == "const"
        or (node.op == "var" and node.value.variability in ("parameter", "constant"))
        for node in x.walk(a.condition)
    )


def broken(
    assertions: list[Assertion], values: dict[Variable, Scalar]
) -> list[tuple[Assertion, str]]:
    """Those that do not hold for these parameters, each with its message, values put in.

    What cannot be worked out counts as broken.
    """
    violations = []
    for a in assertions:
        try:
            holds = bool(x.evaluate(a.condition, values))
        except (ArithmeticError, ValueError, KeyError, TypeError):
            holds = False
        if not holds:
            violations.append((a, f"{_message(a, values)} ('{x.show(a.condition)}' does not hold)"))
    return violations


def _message(a: Assertion, values: dict[Variable, Scalar]) -> str:
    try:
        return str(x.evaluate(a.message, values))
    except (ArithmeticError, ValueError, KeyError, TypeError):
        return x.show(a.message)

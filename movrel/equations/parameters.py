"""Values of parameters and start attributes."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.equations.starts import Starts
from movrel.errors import StructureFault
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import FlatModel

Array = npt.NDArray[np.float64]


def numeric_parameters(flat: FlatModel) -> list[Variable]:
    """Everything with a value that is the same during a run, inputs without a source included."""
    numeric = [v for v in flat.parameters() if v.type != "String"]
    return numeric + [
        v
        for v in flat.variables
        if v.causality == "input" and v.variability in ("continuous", "discrete")
    ]


def is_found_at_start(v: Variable) -> bool:
    """Whether a parameter is an unknown of the start: ``fixed = false`` and no value of its own."""
    return v.variability == "parameter" and v.fixed is False and v.binding is None


def solved_parameters(flat: FlatModel) -> list[Variable]:
    """Parameters with ``fixed = false`` and those that depend on them: the start system finds them."""
    solved = {v for v in flat.parameters() if is_found_at_start(v)}
    if not solved:
        return []
    growing = True
    while growing:
        growing = False
        for v in flat.parameters():
            if (
                v not in solved
                and v.binding is not None
                and any(u in solved for u in x.variables(v.binding))
            ):
                solved.add(v)
                growing = True
    return [v for v in flat.parameters() if v in solved]


def affected_by(flat: FlatModel, settings: dict[str, float]) -> list[Variable]:
    """The parameters that are set, and all whose bindings depend on them."""
    parameters = flat.parameters()
    affected = {v for v in parameters if v.name in settings}
    growing = True
    while growing:
        growing = False
        for v in parameters:
            if (
                v not in affected
                and v.binding is not None
                and any(u in affected for u in x.variables(v.binding))
            ):
                affected.add(v)
                growing = True
    return [v for v in parameters if v in affected]


def parameter_values(
    flat: FlatModel, settings: dict[str, float], known: dict[Variable, Scalar] | None = None
) -> dict[Variable, Scalar]:
    """The value of every parameter and constant by ``variable``, bindings worked out in order.

    Parameters that the start system finds have their start value. ``known`` holds the values that need
    not be worked out again. Raises :class:`StructureFault` for
    a parameter without a value or a cycle.
    """
    values: dict[Variable, Scalar] = dict(known or {})
    working: list[Variable] = []

    def value(v: Variable) -> Scalar:
        key = v
        if key in values:
            return values[key]
        if v.name in settings and v.variability == "parameter":
            values[key] = settings[v.name]
            return values[key]
        if v.variability not in ("parameter", "constant"):
            owner = working[-1]
            raise StructureFault(
                f"the parameter '{owner.name}' is given '{x.show(owner.binding or x.var(v))}', and '{v.name}' varies in time.",
                owner.where, "Give it a constant value, or make it a variable.",
            )  # fmt: skip
        if v in working:
            names = " → ".join(w.name for w in [*working[working.index(v) :], v])
            raise StructureFault(
                f"parameters depend on each other in a circle: {names}.",
                v.where,
                "Give one of them a number.",
            )
        source = v.binding if v.binding is not None else v.start
        if source is None:
            if v.variability == "parameter" and v.type == "String":
                values[key] = ""
                return ""
            if v.fixed is False:
                values[key] = 0.0
                return 0.0
            raise StructureFault(f"the parameter '{v.name}' has no value.", v.where, "Give it one.")
        working.append(v)
        try:
            needed = {u: value(u) for u in x.variables(source)}
            values[key] = x.evaluate(source, needed)
        except (ArithmeticError, ValueError, TypeError) as fault:
            raise StructureFault(
                f"the value of '{v.name}' cannot be worked out: {fault} in '{x.show(source)}'.",
                v.where,
            ) from None
        except KeyError as fault:
            raise StructureFault(
                f"the value of '{v.name}' needs {fault}, which is not constant.", v.where
            ) from None
        except RecursionError:
            raise StructureFault(
                f"the value of '{v.name}' is nested too deeply.", v.where
            ) from None
        finally:
            working.pop()
        return values[key]

    for v in flat.parameters():
        if v not in values:
            value(v)
    return values


def start_value(
    variable: Variable, values: dict[Variable, Scalar], starts: Starts | None = None
) -> float:
    """The start attribute as a number; without one 0, or 1 for an enumeration, moved into its limits.

    With the ``starts`` of alias removal, a start that the variable took over counts.
    """
    start = starts.of(variable).value if starts is not None else variable.start
    if start is None:
        return _default_start(variable, values)
    try:
        return float(x.evaluate(start, values))
    except (ArithmeticError, ValueError, KeyError, TypeError):
        raise StructureFault(
            f"the start value of '{variable.name}' cannot be worked out.", variable.where
        ) from None


def _default_start(variable: Variable, values: dict[Variable, Scalar]) -> float:
    if variable.type == "enumeration":
        return 1.0
    start = 0.0
    for bound, beyond in ((variable.minimum, max), (variable.maximum, min)):
        if bound is not None:
            try:
                start = beyond(start, float(x.evaluate(bound, values)))
            except (ArithmeticError, ValueError, KeyError, TypeError):
                continue
    return start


def parameter_vector(parameters: list[Variable], values: dict[Variable, Scalar]) -> Array:
    """The vector ``p`` of the functions, shape ``(len(parameters),)``."""
    return np.array(
        [float(values[v]) if v in values else start_value(v, values) for v in parameters],
        dtype=float,
    )


def broken_limit(variable: Variable, values: dict[Variable, Scalar]) -> tuple[str, float] | None:
    """``("minimum" | "maximum", bound)`` that the value of a parameter violates, or None."""
    value = values.get(variable)
    if value is None or isinstance(value, str | bool):
        return None
    if variable.minimum is not None and value < (
        bound := float(x.evaluate(variable.minimum, values))
    ):
        return "minimum", bound
    if variable.maximum is not None and value > (
        bound := float(x.evaluate(variable.maximum, values))
    ):
        return "maximum", bound
    return None

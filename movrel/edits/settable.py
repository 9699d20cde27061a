"""The values of a model that somebody may set, with what they are now."""

from __future__ import annotations

from collections.abc import Iterator

from movrel.edits.laws import laws
from movrel.equations.parameters import parameter_values
from movrel.equations.starts import Starts
from movrel.errors import StructureFault
from movrel.language.unset_value import Written
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.project.value_place import START
from movrel.session import LoadedModel


def settable(loaded: LoadedModel, texts: Written) -> Iterator[tuple[str, str]]:
    """Each place of a value with its text: parameters, laws of parts, and start values of states."""
    flat = loaded.flat
    try:
        values = parameter_values(flat, {})
    except StructureFault:
        values = {}
    for v in flat.variables:
        if v.variability == "parameter" and not (v.protected or v.generated or v.final):
            yield v.name, _parameter_text(v, values)
    for name, _, text, _ in laws(flat, texts):
        yield name, text
    starts = loaded.ordered.reduced.starts
    for v in loaded.ordered.states:
        if has_own_start(v, starts):
            yield v.name + START, str(known_start(v, values, starts))


def _parameter_text(v: Variable, values: dict[Variable, Scalar]) -> str:
    if v.binding is not None and v.binding.op != "const":
        return x.show(v.binding)
    value = values.get(v)
    if (
        v.type == "enumeration"
        and isinstance(value, int | float)
        and 1 <= value <= len(v.enumeration)
    ):
        return v.enumeration[int(value) - 1]
    if isinstance(value, bool):
        return str(value).lower()
    return str(float(value)) if isinstance(value, int | float) else str(value)


def has_own_start(v: Variable, starts: Starts) -> bool:
    """Whether a state's start value is set at the state itself and not by a parameter."""
    start = starts.of(v).value
    return start is None or not x.variables(start)


def known_start(v: Variable, values: dict[Variable, Scalar], starts: Starts) -> float:
    """The start value of a state in its declared unit; 0 where the model gives none that can be worked out."""
    start = starts.of(v).value
    try:
        return float(x.evaluate(start, values)) if start is not None else 0.0
    except (ArithmeticError, ValueError, KeyError):
        return 0.0

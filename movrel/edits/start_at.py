"""A start given by another quantity than the state: a basin by its volume."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.target import Edited, Name, Target
from movrel.edits.values import modelica_value
from movrel.errors import EditFault, MovrelError
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.model.expression import Variable
from movrel.project.snapshot import loaded_model
from movrel.project.value_place import names_of
from movrel.session import LoadedModel


@dataclass(frozen=True, slots=True)
class StartAt:
    """Let a quantity start at a value; the state that it fixes gives up its own start value.

    Refused where nothing could give way: where the quantity fixes no state, or is fixed by inputs alone.
    """

    name: Name
    text: Annotated[str, MaxLen(10_000)]
    do: Literal["start at"] = "start at"

    def apply(self, target: Target) -> Edited:
        flat = target.loaded.flat
        variable = flat.by_name().get(self.name)
        if variable is None or variable.variability != "continuous":
            raise EditFault(f"the model has no quantity '{self.name}' that varies.")
        value, _ = modelica_value(variable, self.text)
        path = names_of(self.name)
        text = _with(target, target.source.text, [*path, "start"], value)
        text = _with(target, text, [*path, "fixed"], "true")
        if _is_sound(target, text):
            return Edited(target.rewritten(text), f"{self.name} starts at {self.text.strip()}")
        for other in _fixed_starts(flat.variables, variable):
            try:
                released = _with(target, text, [*names_of(other.name), "fixed"], "false")
            except EditFault:
                continue  # it is declared where this text does not reach
            if _is_sound(target, released):
                words = (
                    f"{self.name} starts at {self.text.strip()}, and {other.name} follows from it"
                )
                return Edited(target.rewritten(released), words)
        raise EditFault(
            f"'{self.name}' does not fix the start of any state.",
            hint="Give the start of a quantity that a state follows from, such as a volume or a pressure.",
        )


def _with(target: Target, text: str, path: list[str], value: str) -> str:
    source, cls = target.again(text)
    return apply(text, set_value(source, cls, path, value))


def _is_sound(target: Target, text: str) -> bool:
    """Whether equations and unknowns of the start match, without a start value more that others must agree with."""
    changed = target.snapshot.changed(target.source.file, text)
    try:
        surplus = _surplus(loaded_model(changed, target.qualified))
    except MovrelError:
        return False
    try:
        return surplus <= _surplus(target.loaded)
    except MovrelError:
        return not surplus


def _surplus(model: LoadedModel) -> set[str]:
    """What has a fixed start that others give as well."""
    return {surplus.start.left.variable.name for surplus in model.ordered.surplus}


def _fixed_starts(variables: list[Variable], by: Variable) -> list[Variable]:
    """Quantities with a fixed start that could give way, those of the same part first."""
    fixed = [v for v in variables if v.fixed and v.variability == "continuous" and v is not by]
    return sorted(fixed, key=lambda v: (v.component != by.component, not _near(v, by)))


def _near(v: Variable, by: Variable) -> bool:
    return v.component.split(".")[0] == by.component.split(".")[0]

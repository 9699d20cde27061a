"""A quantity typed into a source of signals gives the signal its unit."""

from __future__ import annotations

from movrel.edits.figure_table import in_si_unit
from movrel.edits.target import Edited, Target
from movrel.errors import UnitFault
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.model.expression import Variable
from movrel.units import unit


def with_signal_unit(target: Target, variable: Variable, typed: str) -> Edited | None:
    """Give a parameter without a unit a typed quantity, and the output of its part the unit.

    None where nothing of the kind is meant: no unit was typed, or the part is no source of one signal. Raises
    :class:`UnitFault` where the signal has another unit already.
    """
    if variable.unit or variable.type != "Real" or not variable.component:
        return None
    own = [v for v in target.loaded.flat.variables if v.component == variable.component]
    outputs = [v for v in own if v.direction == "output"]
    if len(outputs) != 1 or any(v.direction == "input" for v in own):
        return None
    value, shown, si, _ = in_si_unit(variable.name.rpartition(".")[2], typed, "")
    if not si:
        return None
    (output,) = outputs
    if output.unit and unit(output.unit).dimension != unit(si).dimension:
        raise UnitFault(
            f"'{shown}' is {unit(shown).describe()}, but {output.name} is {unit(output.unit).describe()}.",
            hint="All values of a source count in one unit.",
        )
    path = variable.name.split(".")
    steps = [([*path], value), ([*path, "unit"], f'"{si}"')]
    if shown != si:
        steps.append(([*path, "displayUnit"], f'"{shown}"'))
    if not output.unit:
        steps.append(([*output.name.split("."), "unit"], f'"{si}"'))
    text = target.source.text
    for place, written in steps:
        source, cls = target.again(text)
        text = apply(text, set_value(source, cls, place, written))
    label = variable.name[len(variable.component) + 1 :]
    return Edited(
        target.rewritten(text),
        f"{label} of {variable.component} → {typed.strip()}; its signal is in {si}",
    )

"""What a model leaves open, in the words of a plant: inputs that nothing feeds, points whose level nothing sets."""

from __future__ import annotations

from collections.abc import Iterable

from movrel.equations.alias import Reduced
from movrel.model.expression import Variable
from movrel.model.flat import FlatModel

#: Names that a sentence lists.
SHOWN = 4


def open_quantities(
    undetermined: Iterable[Variable], reduced: Reduced, flat: FlatModel
) -> tuple[str, str] | None:
    """The likely cause why unknowns are not determined, with its cure; None where none is known."""
    names = set(undetermined)
    names |= {v for v, alias in reduced.aliases.items() if alias.of in names}
    inputs = sorted(v.name for v in names if v.direction == "input" and v.component)
    if inputs:
        what = "the input" if len(inputs) == 1 else "the inputs"
        return f"nothing feeds {what} {_listed(inputs)}.", "Connect it, or give it a value."
    ports = {v.component for v in flat.variables if v.flow}
    levels = sorted(
        v.name
        for v in names
        if v.component in ports and not (v.flow or v.stream) and v.type == "Real"
    )
    if levels:
        return (
            f"nothing sets the level of {_listed(levels)}.",
            "Connect one of these points to a ground, or to something else that holds it.",
        )
    return None


def _listed(names: list[str]) -> str:
    shown = ", ".join(f"'{n}'" for n in names[:SHOWN])
    return shown if len(names) <= SHOWN else f"{shown} and {len(names) - SHOWN} more"

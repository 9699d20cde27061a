"""What a run has to say beside its curves: where the numbers are doubtful although nothing failed."""

from __future__ import annotations

import re
from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from movrel.equations.parameters import start_value
from movrel.equations.start import wishes
from movrel.equations.system import System
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.simulate.machine import Machine
from movrel.simulate.returns import Returns

Array = npt.NDArray[np.float64]

_INDICES = re.compile(r"\[[^\]]*\]")
#: Absolute tolerances, of a state without a nominal value, below which it is said to be small, and the share of the
#: largest state that is rounding.
FEW_TOLERANCES, NOISE = 100.0, 64 * float(np.finfo(float).eps)
#: Tolerances, of the largest nominal value in a relation, within which something that came to rest stays.
AT_REST = 1e3


def small_states(system: System, largest: Array, tolerance: float) -> list[str]:
    """States that were so small that the tolerance says little about them.

    ``largest``, shape ``(states,)``, holds the largest absolute value of each. Elements of an array are one: where some
    are large, the others were only not reached.
    """
    said = []
    noise = NOISE * float(largest.max(initial=0.0))
    families: dict[str, list[tuple[float, Variable]]] = {}
    for v, size in zip(system.states, largest.tolist(), strict=True):
        families.setdefault(_INDICES.sub("[]", v.name), []).append((size, v))
    for members in families.values():
        size, v = max(members, key=lambda member: member[0])
        if (
            noise < size < FEW_TOLERANCES * tolerance
            and system.reduced.starts.attributes(v).nominal is None
        ):
            said.append(
                f"'{v.name}' stays near {size:.2g}{_unit(v)}, which the tolerance of {tolerance:g} hardly "
                "resolves: give it a nominal value."
            )
    return said


def exhausted(
    machine: Machine,
    returns: Returns,
    t: float,
    states: Array,
    tolerance: Callable[[Variable], float],
) -> list[str]:
    """Returns that came ever faster until they were overtaken, as those of a ball that comes to rest.

    ``tolerance`` gives the absolute one of a variable.
    """
    said = []
    for slot, last in returns.exhausted(t):
        relation = machine.system.slots[slot]
        rest = AT_REST * max(map(tolerance, x.variables(relation.expression)), default=0.0)
        if abs(float(machine.indicators(t, states)[slot])) >= rest:
            said.append(
                f"'{relation.text}' stayed true after the reinit at {last:g} s: its events came ever "
                "faster until they could not be told apart. From then on nothing holds what the reinit held; add a "
                "state of rest."
            )
    return said


def failed_wishes(
    system: System, parameters: dict[Variable, Scalar], values: dict[Variable, float]
) -> list[str]:
    """Parts that start elsewhere than their start values say, as rigid couplings leave only one of them.

    ``values`` are those of the start.
    """
    reduced = system.reduced
    said = []
    for v in system.once(
        "wishes", lambda: [u for u in system.flat.variables if wishes(u, reduced.starts)]
    ):
        kept = reduced.aliases.get(v)
        value = values.get(kept.of if kept is not None else v)
        if value is None:
            continue
        value *= kept.sign if kept is not None else 1
        wished = start_value(v, parameters, reduced.starts)
        if wished != 0 and abs(value - wished) > 1e-6 * max(abs(value), abs(wished)):
            said.append(
                f"'{v.name}' starts at {value:g}{_unit(v)}, not at its start value {wished:g}{_unit(v)}: "
                "what it is coupled with rigidly decides. Give both the same start."
            )
    return said


def _unit(v: Variable) -> str:
    return f" {v.unit}" if v.unit not in ("", "1") else ""

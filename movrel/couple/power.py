"""Power at pairs of signals between two units: what one side gives and the other does not get was made by the coupling.

An effort goes one way and a flow the other: force and velocity, torque and speed, pressure and volume flow, voltage
and current. Over a communication step each side computes with its own newest value and with the other's as it was
given, so the two amounts of energy differ (Sadjina, Kyllingstad, Skjong, Pedersen, Energy conservation and power bonds
in co-simulations, Engineering with Computers 33, 2017).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.couple.network import Network
from movrel.couple.partition import Connection, Partition
from movrel.errors import UnitFault
from movrel.units import unit

Array = npt.NDArray[np.float64]
_WATT = unit("W").dimension


@dataclass(frozen=True, slots=True)
class PowerPair:
    """Two connections whose product is power."""

    one: Connection
    other: Connection

    @property
    def name(self) -> str:
        """The ports between which power flows."""
        return f"{self.one.source.name} · {self.other.source.name}"


@dataclass(frozen=True, slots=True)
class PowerBalance:
    """Energy in J over a run: what flowed through a pair (of either sign, added up), and what appeared there."""

    name: str
    passed: float
    created: float

    @property
    def share(self) -> float:
        return self.created / self.passed if self.passed > 0 else 0.0


def power_pairs(rig: Partition) -> list[PowerPair]:
    """The pairs of signals between two units, one each way, whose product is power."""
    owner = {v: part for part in rig.parts for v in part.variables}
    pairs: list[PowerPair] = []
    used: set[str] = set()
    between = [c for c in rig.connections if c.source not in rig.outer]
    for k, one in enumerate(between):
        for other in between[k + 1 :]:
            there_and_back = (
                owner[one.source] is owner[other.target]
                and owner[other.source] is owner[one.target]
            )
            if (
                there_and_back
                and owner[one.source] is not owner[one.target]
                and not {one.name, other.name} & used
                and _is_power(one, other)
            ):
                pairs.append(PowerPair(one, other))
                used |= {one.name, other.name}
    return pairs


def _is_power(one: Connection, other: Connection) -> bool:
    """Whether the product of two signals is power, on both sides."""
    for a, b in ((one.source, other.target), (one.target, other.source)):
        if not a.unit or not b.unit:
            return False
        try:
            product = tuple(
                p + q for p, q in zip(unit(a.unit).dimension, unit(b.unit).dimension, strict=True)
            )
        except UnitFault:
            return False
        if product != tuple(_WATT):
            return False
    return True


class PowerMeter:
    """Adds up the energies of all pairs, step by step."""

    def __init__(self, rig: Partition, network: Network) -> None:
        self.pairs = power_pairs(rig)
        self.network = network
        #: Passed and created energy of each pair in J, shape ``(pairs, 2)``.
        self.totals = np.zeros((len(self.pairs), 2))
        self._ends = [(self._side(p.one, p.other), self._side(p.other, p.one)) for p in self.pairs]

    def _side(self, out: Connection, back: Connection) -> tuple[int, int, int, float]:
        """A unit, its output and its input of a pair, and their product in W."""
        k = next(k for k, m in enumerate(self.network.members) if out.source in m.outputs)
        member = self.network.members[k]
        factor = unit(out.source.unit).factor * unit(back.target.unit).factor
        return k, self.network.place[out.source], member.inputs.index(back.target), factor

    def note(self, before: Array, used: Sequence[Array], width: float) -> None:
        """A step is over: outputs were ``before`` at its beginning, and each unit computed with the inputs ``used``."""
        now = self.network.outputs
        for n, ends in enumerate(self._ends):
            sent, received = (
                width * factor * used[k][i] * 0.5 * (before[at] + now[at])
                for k, at, i, factor in ends
            )
            self.totals[n] += 0.5 * (abs(sent) + abs(received)), sent - received

    def balances(self) -> list[PowerBalance]:
        return [
            PowerBalance(p.name, float(passed), float(created))
            for p, (passed, created) in zip(self.pairs, self.totals, strict=True)
        ]

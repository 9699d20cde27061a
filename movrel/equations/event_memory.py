"""What is constant between events, as one vector of symbols."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import casadi as ca

from movrel.equations.symbolic import Symbolic
from movrel.model import expression as x
from movrel.model.expression import RELATIONS, Expr, Variable
from movrel.model.fingerprints import Fingerprints
from movrel.model.traits import RELATION, ROUNDING


@dataclass(slots=True)
class Slot:
    """One piece of event memory.

    A ``relation`` holds whether ``expression > 0`` (``inclusive``: ``>= 0``); a ``floor`` holds the
    whole number below ``expression``. Between events the held value is used; ``text`` names the
    relation to a person.
    """

    kind: str
    expression: Expr
    inclusive: bool
    text: str


class EventMemory:
    """The vector ``m`` of everything that is constant between events.

    It holds, in this order: the outcome of relations and roundings (``slots``), values before the
    event (``pre``), which of the samplings happen now, delayed values, what units give (these two may change
    between events), whether this is the last instant, and the share of the true system in a homotopy.
    """

    def __init__(
        self,
        size: int,
        pre: Sequence[Variable] = (),
        samples: Sequence[Expr] = (),
        delays: Sequence[Expr] = (),
        units: Sequence[tuple[int, str, int]] = (),
    ) -> None:
        self.pre_at = size
        self.sample_at = size + len(pre)
        self.delay_at = self.sample_at + len(samples)
        self.unit_at = self.delay_at + len(delays)
        self.terminal_at = self.unit_at + len(units)
        self.homotopy_at = self.terminal_at + 1
        self.symbols = ca.SX.sym("m", self.homotopy_at + 1)
        self.elements = ca.vertsplit(self.symbols)
        self.pre = list(pre)
        self.samples = list(samples)
        self.delays = list(delays)
        self.units = list(units)
        self._unit_number = {key: i for i, key in enumerate(units)}
        self.slots: list[Slot] = []
        self._number: dict[tuple[str, bool, int], int] = {}
        self._fingerprint = Fingerprints()
        self._delay_number = {self._fingerprint(e): i for i, e in enumerate(delays)}
        self._sample_number = {self._fingerprint(e): i for i, e in enumerate(samples)}

    def __getstate__(self) -> dict[str, object]:
        """Once the functions are made, places and counts are what is needed."""
        return {k: v for k, v in self.__dict__.items() if k not in ("symbols", "elements")}

    def symbol(self, kind: str, expression: Expr, inclusive: bool, text: str) -> Symbolic:
        """What a relation or a rounding reads during a step: an element of the memory, the same for equal expressions."""
        key = (kind, inclusive, self._fingerprint(expression))
        number = self._number.get(key)
        if number is None:
            number = self._number[key] = len(self.slots)
            assert number < self.pre_at, "more relations than were counted"
            self.slots.append(Slot(kind, expression, inclusive, text))
        return self.elements[number]

    def sample(self, e: Expr) -> Symbolic:
        return self.elements[self.sample_at + self.sample_number(e)]

    def sample_number(self, e: Expr) -> int:
        """Which of the samplings it is."""
        return self._sample_number[self._fingerprint(e)]

    def delay(self, e: Expr) -> Symbolic:
        return self.elements[self.delay_at + self._delay_number[self._fingerprint(e)]]

    def unit(self, e: Expr) -> Symbolic:
        return self.elements[self.unit_at + self._unit_number[e.value]]

    def pre_values(self) -> dict[Variable, Symbolic]:
        """The symbol of each value before the event, by identity of its variable."""
        return {v: self.elements[self.pre_at + i] for i, v in enumerate(self.pre)}


def count_event_nodes(expressions: Sequence[Expr]) -> int:
    """An upper bound of the memory that the expressions need."""
    wanted = RELATIONS | {"floor", "ceil", "integer", "mod", "rem", "div"}
    return sum(
        4 if node.op in ("div", "rem") else 1
        for e in expressions
        if e.traits & (RELATION | ROUNDING)
        for node in x.walk(e)
        if node.op in wanted
    )

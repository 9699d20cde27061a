"""What time alone does, as far as it reaches relations that are watched during a run.

A solver chooses its steps by the states. Where these rest, such as a body that sticks, a force that swings in time may
exceed a limit and fall back within one step. The parts of a model that depend on time alone are therefore collected, by
way of all equations that are solved between the states and a relation, whatever branch is taken just now.
"""

from __future__ import annotations

from movrel.equations.occurrence import is_held
from movrel.equations.sorting import Block
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.fingerprints import Fingerprints

_STILL = {"sample", "pre", "terminal", "initial", "previous"}
#: Kinds of expressions: constant between events, a function of time alone, anything else.
_FIXED, _TIMED, _OTHER = range(3)


class _Sources:
    """Kinds of expressions, and for those of the last kind the parts in them that time alone moves."""

    def __init__(self, states: list[Variable], blocks: list[Block]) -> None:
        #: Unknowns that are solved in blocks that were not taken yet.
        self._later = {v for block in blocks for v in block.unknowns}
        self._kinds: dict[Variable, int] = dict.fromkeys(states, _OTHER)
        self._reaching: dict[Variable, dict[Expr, None]] = {v: {} for v in states}
        self._seen: dict[Expr, tuple[int, dict[Expr, None]]] = {}

    def take(self, block: Block) -> None:
        """Take note of a block that is solved next."""
        self._later.difference_update(block.unknowns)
        if block.kind == "explicit" and block.solution is not None:
            kind, reaching = self.of(block.solution)
        else:
            kind, reaching = _OTHER, {}
            own = set(block.unknowns)
            for v in own:
                self._kinds[v], self._reaching[v] = _OTHER, {}
            for e in block.equations:
                for side in (e.left, e.right):
                    own_kind, parts = self.of(side)
                    reaching.update(
                        parts if own_kind == _OTHER else {side: None} if own_kind == _TIMED else {}
                    )
        for v in block.unknowns:
            self._kinds[v], self._reaching[v] = kind, reaching

    def of(self, e: Expr) -> tuple[int, dict[Expr, None]]:
        stack = [e]
        while stack:
            node = stack[-1]
            if node in self._seen:
                stack.pop()
                continue
            missing = [] if self._is_still(node) else [a for a in node.args if a not in self._seen]
            if missing:
                stack.extend(missing)
                continue
            self._seen[stack.pop()] = self._node(node)
        return self._seen[e]

    def _is_still(self, node: Expr) -> bool:
        """Whether a node is constant between events, whatever stands in it; parts of it may not be solved yet."""
        if node.op in _STILL or node.op == "delay":
            return True
        return is_held(node) and any(
            self._kinds.get(v, _FIXED) == _OTHER or v in self._later for v in x.variables(node)
        )

    def _node(self, node: Expr) -> tuple[int, dict[Expr, None]]:
        if node.op == "var":
            if node.value is x.TIME_VARIABLE:
                return _TIMED, {}
            return self._kinds.get(node.value, _FIXED), self._reaching.get(node.value, {})
        if not node.args or node.op in _STILL:
            return (_OTHER if node.op == "unit" else _FIXED), {}
        if node.op == "delay":
            return _OTHER, {}
        if self._is_still(node):
            return _FIXED, {}
        below = [(a, *self._seen[a]) for a in node.args]
        kind = max(k for _, k, _ in below)
        if kind != _OTHER:
            return kind, {}
        parts: dict[Expr, None] = {}
        for a, k, reaching in below:
            parts.update(reaching if k == _OTHER else {a: None} if k == _TIMED else {})
        return _OTHER, parts


def time_sources(blocks: list[Block], states: list[Variable], watched: list[Expr]) -> list[Expr]:
    """The largest parts that depend on time alone in what is ``watched``, by way of blocks in solving order."""
    sources = _Sources(states, blocks)
    for block in blocks:
        sources.take(block)
    parts: dict[Expr, None] = {}
    for e in watched:
        kind, reaching = sources.of(e)
        if kind == _OTHER:
            parts.update(reaching)
    number = Fingerprints()
    return list({number(e): e for e in parts}.values())

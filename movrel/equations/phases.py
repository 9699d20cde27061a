"""Arguments of sines and the like, and kinks, that reach relations which are watched during a run.

A state may grow evenly, so that steps over it are long, while its sine turns many times: the angle of a shaft, by which a
current is commutated. How far such arguments move bounds the steps (:mod:`movrel.simulate.phases`).

A kink is where an operand is steep on both sides and turns at once: abs(x) where x is zero, min(a, b) where a and b are equal.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from movrel.equations.sorting import Block
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.fingerprints import Fingerprints

_PERIODIC = {"sin", "cos", "tan"}


def phases(blocks: list[Block], watched: list[Expr]) -> list[Expr]:
    """The arguments of sines, by way of all blocks that what is ``watched`` depends on."""
    return _distinct(n.args[0] for n in _reaching(blocks, watched) if n.op in _PERIODIC)


def kinks(blocks: list[Block], watched: list[Expr]) -> list[Expr]:
    """What is zero where something that is ``watched``, or that it depends on, has a kink."""
    places = []
    for node in _reaching(blocks, watched):
        if node.op == "abs":
            places.append(node.args[0])
        elif node.op in ("min", "max"):
            places.append(x.subtract(*node.args))
        elif node.op == "noevent":
            places += [x.subtract(*r.args) for r in x.walk(node) if r.op in x.RELATIONS]
    return _distinct(e for e in places if e.op != "const")


def _distinct(expressions: Iterable[Expr]) -> list[Expr]:
    number = Fingerprints()
    return list({number(e): e for e in expressions}.values())


def _reaching(blocks: list[Block], watched: list[Expr]) -> Iterator[Expr]:
    """All nodes of what is watched, and of what the unknowns in it are worked out from."""
    block_of = {v: block for block in blocks for v in block.unknowns}
    seen: set[int] = set()
    waiting = list(watched)
    while waiting:
        for node in x.walk(waiting.pop()):
            yield node
            if node.op == "var":
                waiting += _behind(node.value, block_of, seen)


def _behind(v: Variable, block_of: dict[Variable, Block], seen: set[int]) -> list[Expr]:
    """What a variable is worked out from, unless that was looked at."""
    block = block_of.get(v)
    if block is None or id(block) in seen:
        return []
    seen.add(id(block))
    if block.kind == "explicit" and block.solution is not None:
        return [block.solution]
    return [side for e in block.equations for side in (e.left, e.right)]

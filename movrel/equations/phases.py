"""Arguments of sines and the like that reach relations which are watched during a run.

A state may grow evenly, so that steps over it are long, while its sine turns many times: the angle of a shaft, by which a
current is commutated. How far such arguments move bounds the steps (:mod:`movrel.simulate.phases`).
"""

from __future__ import annotations

from movrel.equations.sorting import Block
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.fingerprints import Fingerprints

_PERIODIC = {"sin", "cos", "tan"}


def phases(blocks: list[Block], watched: list[Expr]) -> list[Expr]:
    """The arguments, by way of all blocks that what is ``watched`` depends on."""
    block_of = {v: block for block in blocks for v in block.unknowns}
    seen: set[int] = set()
    waiting = list(watched)
    arguments: list[Expr] = []
    while waiting:
        e = waiting.pop()
        for node in x.walk(e):
            if node.op in _PERIODIC:
                arguments.append(node.args[0])
            elif node.op == "var":
                waiting += _behind(node.value, block_of, seen)
    number = Fingerprints()
    return list({number(e): e for e in arguments}.values())


def _behind(v: Variable, block_of: dict[Variable, Block], seen: set[int]) -> list[Expr]:
    """What a variable is worked out from, unless that was looked at."""
    block = block_of.get(v)
    if block is None or id(block) in seen:
        return []
    seen.add(id(block))
    if block.kind == "explicit" and block.solution is not None:
        return [block.solution]
    return [side for e in block.equations for side in (e.left, e.right)]

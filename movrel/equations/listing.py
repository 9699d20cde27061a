"""The solved system as data for the screen: each equation typeset, with what it determines and its origin."""

from __future__ import annotations

from typing import Any

from movrel.equations import typeset
from movrel.equations.report import counts
from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.model.flat import FlatEquation, Variable

#: Most equations that are listed; larger systems are cut and say so.
LISTED = 3_000


def listing(system: System) -> dict[str, Any]:
    """Blocks in solving order, states, removed equations and counts.

    Each block has its ``kind`` (explicit, linear, nonlinear), the marks ``state`` and ``discrete``, and
    its equations, each with ``latex``, the ``determines`` name, ``component``, ``line`` and ``file``.
    """
    states = {id(v): v for v in system.states}
    rates = {f"der({v.name})" for v in system.states}
    blocks: list[dict[str, Any]] = []
    shown = 0
    for block in system.blocks:
        shown += len(block.equations)
        if shown > LISTED:
            break
        blocks.append(_block(block, rates))
    trivial = []
    for v in system.flat.variables:
        alias = system.reduced.aliases.get(id(v))
        if alias is not None:
            sign = "-" if alias.sign < 0 else ""
            trivial.append(
                {
                    "latex": f"{typeset.name(v.name)} = {sign}{typeset.name(alias.of.name)}",
                    "name": v.name,
                    "component": v.component,
                }
            )
        elif id(v) in system.reduced.fixed:
            trivial.append(
                {"latex": f"{typeset.name(v.name)} = {system.reduced.fixed[id(v)]:.6g}", "name": v.name, "component": v.component}
            )
    return {
        "blocks": blocks,
        "cut": shown > LISTED,
        "states": [
            {"name": v.name, "latex": typeset.name(v.name), "unit": v.unit, "component": v.component} for v in states.values()
        ],
        "trivial": trivial[:LISTED],
        "counts": counts(system),
    }


def _block(block: Block, rates: set[str]) -> dict[str, Any]:
    discrete = any(v.variability == "discrete" for v in block.unknowns)
    rows: list[dict[str, Any]] = []
    if block.kind == "explicit":
        v = block.unknowns[0]
        assert block.solution is not None
        rows.append(_row(f"{typeset.name(v.name)} = {typeset.expression(block.solution)}", block.equations[0], v))
    else:
        inner = {id(v): value for v, value in block.inner}
        for v, value in block.inner:
            rows.append(_row(f"{typeset.name(v.name)} = {typeset.expression(value)}", block.equations[0], v, origin=False))
        tears = [v for v in block.unknowns if id(v) not in inner]
        for e, v in zip(block.residuals or block.equations, tears, strict=False):
            left, right = e.original or (e.left, e.right)
            rows.append(_row(typeset.equation(left, right), e, v))
    return {
        "kind": block.kind,
        "state": any(v.name in rates for v in block.unknowns),
        "discrete": discrete,
        "constraint": any(e.kind.endswith("differentiated") for e in block.equations),
        "tears": [v.name for v in block.tears],
        "unknowns": [v.name for v in block.unknowns],
        "rows": rows,
    }


def _row(latex: str, e: FlatEquation, v: Variable, origin: bool = True) -> dict[str, Any]:
    return {
        "latex": latex,
        "determines": v.name,
        "unit": v.unit,
        "component": e.component if origin else v.component,
        "kind": e.kind,
        "file": e.where.file if e.where and origin else "",
        "line": e.where.line if e.where and origin else 0,
        "text": e.as_written() if origin else "",
    }

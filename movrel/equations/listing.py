"""The solved system as data for the screen: each equation typeset, with what it determines and its origin."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.equations import typeset
from movrel.equations.report import counts
from movrel.equations.sorted_model import Sorted
from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.equations.terms import Term, names_in, terms, unit_of
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation

#: Most equations that are listed; larger systems are cut and say so.
LISTED = 3_000


@dataclass(frozen=True, slots=True)
class TermRow:
    """A term, typeset with its sign, on the left or on the right."""

    latex: str
    left: bool


@dataclass(frozen=True, slots=True)
class EquationRow:
    """An equation typeset, with the name that it ``determines`` and the place that it comes from."""

    latex: str
    determines: str
    unit: str
    component: str
    kind: str
    file: str
    line: int
    text: str
    #: The terms of the equation as it was written; none where one equation gives several rows.
    terms: list[TermRow]
    #: The unit of all terms, as far as it is plain.
    term_unit: str
    #: The variables in it, by their :func:`movrel.equations.typeset.mark_of`.
    uses: list[str]


@dataclass(frozen=True, slots=True)
class EquationBlock:
    """Equations that are solved together: explicit, linear or nonlinear."""

    kind: str
    state: bool
    discrete: bool
    constraint: bool
    tears: list[str]
    unknowns: list[str]
    rows: list[EquationRow]


@dataclass(frozen=True, slots=True)
class StateRow:
    name: str
    latex: str
    unit: str
    component: str


@dataclass(frozen=True, slots=True)
class TrivialRow:
    """A variable that is another one, or a number, throughout."""

    name: str
    latex: str
    component: str


@dataclass(frozen=True, slots=True)
class EquationList:
    """Blocks in solving order, states, removed equations and counts; ``cut`` when there are more than are listed."""

    blocks: list[EquationBlock]
    cut: bool
    states: list[StateRow]
    trivial: list[TrivialRow]
    counts: dict[str, int]


def listed_equations(ordered: Sorted) -> list[FlatEquation | None]:
    """The equation behind each row of :func:`listing`, in its order; None for a row that only tells an inner unknown."""
    listed: list[FlatEquation | None] = []
    shown = 0
    for block in ordered.blocks:
        shown += len(block.equations)
        if shown > LISTED:
            break
        if block.kind == "explicit":
            listed.append(block.equations[0])
        else:
            listed += [None] * len(block.inner)
            tears = len(block.unknowns) - len(block.inner)
            listed += (block.residuals or block.equations)[:tears]
    return listed


def listing(system: System) -> EquationList:
    """The system as it is solved."""
    rates = {f"der({v.name})" for v in system.states}
    blocks: list[EquationBlock] = []
    shown = 0
    for block in system.blocks:
        shown += len(block.equations)
        if shown > LISTED:
            break
        blocks.append(_block(block, rates))
    trivial = []
    for v in system.flat.variables:
        alias = system.reduced.aliases.get(v)
        if alias is not None:
            sign = "-" if alias.sign < 0 else ""
            trivial.append(
                TrivialRow(
                    v.name,
                    f"{_name(v)} = {sign}{_name(alias.of)}",
                    v.component,
                )
            )
        elif v in system.reduced.fixed:
            trivial.append(
                TrivialRow(
                    v.name,
                    f"{_name(v)} = {system.reduced.fixed[v]:.6g}",
                    v.component,
                )
            )
    return EquationList(
        blocks=blocks,
        cut=shown > LISTED,
        states=[StateRow(v.name, _name(v), v.unit, v.component) for v in system.states],
        trivial=trivial[:LISTED],
        counts=counts(system),
    )


def _block(block: Block, rates: set[str]) -> EquationBlock:
    rows: list[EquationRow] = []
    if block.kind == "explicit":
        v = block.unknowns[0]
        assert block.solution is not None
        rows.append(
            _row(
                f"{_name(v)} = {typeset.expression(block.solution, marked=True)}",
                block.equations[0],
                v,
            )
        )
    else:
        inner = dict(block.inner)
        for v, value in block.inner:
            rows.append(
                _row(
                    f"{_name(v)} = {typeset.expression(value, marked=True)}",
                    block.equations[0],
                    v,
                    origin=False,
                )
            )
        tears = [v for v in block.unknowns if v not in inner]
        for e, v in zip(block.residuals or block.equations, tears, strict=False):
            left, right = e.original or (e.left, e.right)
            rows.append(_row(typeset.equation(left, right, marked=True), e, v))
    return EquationBlock(
        kind=block.kind,
        state=any(v.name in rates for v in block.unknowns),
        discrete=any(v.variability == "discrete" for v in block.unknowns),
        constraint=any(e.differentiated for e in block.equations),
        tears=[v.name for v in block.tears],
        unknowns=[v.name for v in block.unknowns],
        rows=rows,
    )


def _row(latex: str, e: FlatEquation, v: Variable, origin: bool = True) -> EquationRow:
    where = e.where if origin else None
    parts = terms(e) if origin else []
    return EquationRow(
        latex=latex,
        determines=v.name,
        unit=v.unit,
        component=e.component if origin else v.component,
        kind=e.origin,
        file=where.file if where else "",
        line=where.line if where else 0,
        text=e.as_written() if origin else "",
        terms=[TermRow(_term(t), t.left) for t in parts],
        term_unit=unit_of(parts) or v.unit if len(parts) < 2 else unit_of(parts),
        uses=list(dict.fromkeys(map(typeset.mark_of, [v.name, *(names_in(e) if origin else [])]))),
    )


def _term(term: Term) -> str:
    text = typeset.expression(term.of, parent=6, marked=True)
    return f"-{text}" if term.sign < 0 else text


def _name(v: Variable) -> str:
    return typeset.name(v.name, marked=True)

"""The sorted system of a model: what is solved, in which order, and the functions that solve it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from functools import cache, partial
from typing import Any, TypeVar, cast

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.alias import Reduced
from movrel.equations.event_memory import EventMemory, Slot
from movrel.equations.graph import Graph
from movrel.equations.graphs import Graphs, graphs_of, vector
from movrel.equations.judging import about_parameters
from movrel.equations.occurrence import occurring
from movrel.equations.sliding import outcome, slide, unheld_switches
from movrel.equations.sort_model import chosen_and_sorted, resort, sort_model
from movrel.equations.sorted_model import Sorted, Switch
from movrel.equations.sorting import Block
from movrel.equations.sparse_jacobian import sparse_jacobian
from movrel.equations.start_solver import StartSolver
from movrel.equations.state_choice import Selection
from movrel.equations.symbolic import Compiled, Symbolic
from movrel.errors import MovrelError
from movrel.model.expression import Variable
from movrel.model.flat import (
    Assertion,
    FlatModel,
)

Array = npt.NDArray[np.float64]


T = TypeVar("T")

#: Above this many states the Jacobian is kept sparse.
SPARSE_FROM = 50
#: How many times the entries of the unsolved system's Jacobian that of the rates has when it counts as filled.
FILLED = 4


@dataclass(eq=False, slots=True)
class System:
    """A model ready to be initialised and integrated.

    The functions take ``(t, x, p, m, w)``: time, states, parameters, event memory and guesses for
    implicit unknowns with the sizes by which they are judged. ``solved`` lists the unknowns in the order of
    the vector that ``values`` returns; ``initial_solved`` the same for ``initial``.
    """

    ordered: Sorted
    parameters: list[Variable]
    memory: EventMemory
    solved: list[Variable]
    implicit: list[Variable]
    initial_solved: list[Variable]
    initial_implicit: list[Variable]
    derivatives: Compiled  # -> dx, the implicit unknowns, the largest share of a residual, sizes of the terms
    values: Compiled  # -> values of ``solved``, the largest share of a residual
    make_jacobian: Callable[[], Compiled]  # makes -> d dx / d x, sparse
    indicators: Compiled  # -> g of all slots, their scale |left|+|right|
    straight: npt.NDArray[np.bool_]  # slots whose g is a straight line in time between events
    timed_lines: Compiled  # -> g and d g / d t of these
    curved: npt.NDArray[np.bool_]  # other slots whose g depends on time and parameters alone
    curved_lines: Compiled  # -> g of these
    phases: Compiled  # -> arguments of sines and the like in relations that depend on states
    kinks: Compiled  # -> what is zero where relations have kinks
    swings: Compiled  # -> rates of what time alone does, otherwise than linearly, in relations on states
    initial: StartSolver  # -> values of ``initial_solved``, g of all slots
    assertion_values: Compiled  # -> truth of ``assertions``
    actions: Compiled  # -> activity and value of each reinit, activity of each termination, truth of event assertions
    constraints: Compiled  # -> entries of the matrices of all dynamic constraint blocks, row by row
    unit_inputs: Compiled  # -> inputs and states of all units, one after the other
    delayed: Compiled  # -> value, rate and delay time of every delayed expression
    judgement: Compiled  # (t, x, p, m, s) -> residuals of implicit equations, sizes of their terms, Jacobian
    open_form: Compiled  # (t, x, p, m, s) -> dx and the residuals of all implicit blocks
    switches: list[Switch]  # what jumps between events
    surfaces: Compiled  # -> the surfaces of these
    #: What is worked out once for all runs, by name; see :meth:`once`.
    kept: dict[str, object] = field(default_factory=dict)
    others: dict[Selection, System] = field(
        default_factory=dict
    )  # the same model with other states
    #: Surfaces of switches, the side whose outcome discrete variables keep, and the same model there.
    slides: list[tuple[Switch, bool, System | None]] = field(default_factory=list)
    _smallest: System | None = None
    #: What this one left for such a surface.
    origin: System | None = None

    def __getstate__(self) -> dict[str, object]:
        """What is worth keeping on disk: neither other forms of the model nor the Jacobian, which is larger than the rest
        and is as quickly made as read."""
        left_out = ("make_jacobian", "kept", "others", "slides", "_smallest", "origin")
        return {f.name: getattr(self, f.name) for f in fields(self) if f.name not in left_out} | {
            "singular": self.takes_smallest
        }

    def __setstate__(self, state: dict[str, Any]) -> None:
        singular = state.pop("singular")
        for name, value in state.items():
            setattr(self, name, value)
        self.kept, self.slides, self.origin = {}, [], None
        self.others = {} if singular else {self.ordered.selection: self}
        self._smallest = self if singular else None
        again = cache(lambda: _made(self.ordered, singular))
        self.make_jacobian = lambda: _jacobian_of(again(), self.derivatives)
        for number, step in enumerate(self.initial.steps):
            if step.untorn is not None:
                step.untorn = partial(_untorn_again, again, number)

    def once(self, name: str, make: Callable[[], T]) -> T:
        """Something that is the same for all runs of this system, made when first asked for."""
        if name not in self.kept:
            self.kept[name] = make()
        return cast(T, self.kept[name])

    @property
    def jacobian(self) -> Compiled:
        """``-> d dx / d x``, sparse; made when first asked for, as it is the largest of the functions."""
        return self.once("jacobian", self.make_jacobian)

    @property
    def fills(self) -> bool:
        """Whether solving the loops for the rates fills a Jacobian that is sparse while they are unsolved, as one node with
        hundreds of branches does: each state then acts on every other."""
        return self.once("fills", self._fills)

    def _fills(self) -> bool:
        if len(self.states) <= SPARSE_FROM or not self.implicit:
            return False
        # On which states each unknown depends, as the bits of a number.
        reached = {v: 1 << i for i, v in enumerate(self.states)}
        unsolved = 0
        for block in self.blocks:
            inside: set[Variable] = set()
            for e in block.equations:
                own = {v for side in (e.left, e.right) for v in occurring(side)}
                unsolved += len(own)
                inside |= own
            states = 0
            for v in inside:
                states |= reached.get(v, 0)
            reached.update(dict.fromkeys(block.unknowns, states))
        rates = self.ordered.reduction.chains.rates
        solved = sum(reached.get(rates[v], 0).bit_count() for v in self.states)
        return solved > FILLED * unsolved

    @property
    def timed(self) -> npt.NDArray[np.bool_]:
        """Slots whose changes are known in advance."""
        return self.straight | self.curved

    @property
    def flat(self) -> FlatModel:
        return self.ordered.flat

    @property
    def reduced(self) -> Reduced:
        return self.ordered.reduced

    @property
    def states(self) -> list[Variable]:
        return self.ordered.states

    @property
    def blocks(self) -> list[Block]:
        return self.ordered.blocks

    @property
    def initial_blocks(self) -> list[Block]:
        return self.ordered.initial_blocks

    @property
    def slots(self) -> list[Slot]:
        return self.memory.slots

    @property
    def assertions(self) -> list[Assertion]:
        """Assertions that must hold at all times, and may not."""
        return [a for a in self.ordered.assertions if not a.at_events and not about_parameters(a)]

    @property
    def start_assertions(self) -> list[Assertion]:
        """Assertions about parameters, which are judged once."""
        return [a for a in self.ordered.assertions if not a.at_events and about_parameters(a)]

    @property
    def event_assertions(self) -> list[Assertion]:
        return [a for a in self.ordered.assertions if a.at_events]

    @property
    def notes(self) -> list[str]:
        return self.ordered.notes

    def with_states(self, selection: Selection) -> System:
        """The same model with another choice of states, made once."""
        if selection not in self.others:
            self.others[selection] = build_system(self.flat, resort(self.ordered, selection))
            self.others[selection].others = self.others
            self.others[selection].origin = self.origin
        return self.others[selection]

    @property
    def takes_smallest(self) -> bool:
        """Whether this form of the model takes the smallest solution of what is left open."""
        return self._smallest is self

    def smallest(self) -> System:
        """The same model, taking the smallest of all solutions where linear blocks leave something open; made once."""
        if self._smallest is None:
            self._smallest = build_system(self.flat, self.ordered, singular=True)
            self._smallest._smallest = self._smallest
            self._smallest.origin = self.origin
        return self._smallest

    def sliding(self, switch: Switch, upper: bool) -> System | None:
        """The same model on the surface of a switch, made once; None where it cannot stay there."""
        for known, side, system in self.slides:
            if outcome(known, switch.surface, side) is upper:
                return system
        made = None
        try:
            ordered = slide(self.ordered, switch, upper)
            if ordered is not None:
                made = build_system(self.flat, chosen_and_sorted(ordered))
                made.origin = self
        except (MovrelError, RuntimeError):
            made = None  # the equations do not determine the share; the latter: a loop without it is singular
        if made is not None and not {*self.states, *self.solved} <= {*made.states, *made.solved}:
            made = None  # tables would lack a derivative
        self.slides.append((switch, upper, made))
        return made


def build_system(flat: FlatModel, ordered: Sorted | None = None, singular: bool = False) -> System:
    """Sort the equations of a flat model, unless that was done, and make its functions.

    With ``singular``, linear blocks that leave something open take the smallest of their solutions.
    """
    made = _made(ordered or sort_model(flat), singular)
    graph, start, memory = made.running, made.start, made.memory
    switches = unheld_switches(made.ordered)
    lines = made.indicators[np.nonzero(made.timed)[0].tolist()]
    derivatives = graph.function(
        "derivatives", [made.rates, graph.s, graph.worst_residual(), graph.terms()]
    )
    system = System(
        ordered=made.ordered,
        parameters=made.parameters,
        memory=memory,
        solved=graph.order,
        implicit=graph.implicit,
        initial_solved=start.order,
        initial_implicit=start.implicit,
        derivatives=derivatives,
        values=graph.function("values", [made.values, graph.worst_residual()]),
        make_jacobian=lambda: _jacobian_of(made, derivatives),
        indicators=graph.function("indicators", [made.indicators, made.scales]),
        straight=made.timed,
        curved=made.curved,
        curved_lines=graph.explicit_function(
            "curved_lines", [ca.densify(made.indicators[np.nonzero(made.curved)[0].tolist()])]
        ),
        timed_lines=graph.explicit_function(
            "timed_lines", [ca.densify(ca.vertcat(lines, ca.jacobian(lines, graph.t)))]
        ),
        initial=_start_solver(made),
        phases=graph.function(
            "phases",
            [made.phases[made.moved_by_states, :] if made.moved_by_states else ca.SX(0, 1)],
        ),
        kinks=graph.function("kinks", [made.kinks]),
        swings=graph.function("swings", [made.swings]),
        assertion_values=graph.function("assertions", [made.judged]),
        actions=graph.function("actions", [made.acting]),
        constraints=graph.function("constraints", [ca.densify(made.constraints)]),
        unit_inputs=graph.function("unit_inputs", [ca.densify(made.unit_inputs)]),
        delayed=_delayed(graph, made.rates),
        judgement=graph.judgement(),
        open_form=graph.open_form(made.rates),
        switches=switches,
        surfaces=graph.function(
            "surfaces", [vector([graph.translate(s.surface, False) for s in switches])]
        ),
    )
    system.others[made.ordered.selection] = system
    graph.translate.forget()
    start.translate.forget()
    return system


def _made(ordered: Sorted, singular: bool) -> Graphs:
    made = graphs_of(ordered)
    made.running.singular = singular
    return made


def _start_solver(made: Graphs) -> StartSolver:
    return made.start.start_solver([made.start_values, made.start_indicators])


def _untorn_again(again: Callable[[], Graphs], number: int) -> Compiled:
    """The same for a system that was read from disk, whose expressions are made again for it."""
    untorn = _start_solver(again()).steps[number].untorn
    assert untorn is not None
    return untorn()


def _delayed(graph: Graph, dx: Symbolic) -> Symbolic:
    """Value, rate and delay time of the delayed expressions, and how the values depend on other delays.

    The rate does not count that of other delays; the derivatives by them follow row by row.
    """
    nodes = graph.memory.delays
    value = vector([graph.translate(e.args[0]) for e in nodes])
    times = vector([graph.translate(e.args[1]) for e in nodes])
    inner = graph.function("delayed", [value, times, dx])
    inputs = [ca.MX.sym(f"i{k}", inner.size1_in(k)) for k in range(5)]
    value, times, dx = inner(*inputs)
    rate = ca.jacobian(value, inputs[0])
    if graph.states:
        rate = rate + ca.mtimes(ca.jacobian(value, inputs[1]), dx)
    at = graph.memory.delay_at
    by_others = ca.densify(ca.jacobian(value, inputs[3]))[:, at : at + len(nodes)]
    return ca.Function(
        "delayed", inputs, [ca.densify(ca.vertcat(value, rate, times, ca.vec(by_others.T)))]
    )


def _jacobian_of(made: Graphs, derivatives: Symbolic) -> Symbolic:
    graph = made.running
    if not graph.states:
        return None
    if not graph.implicit:
        return graph.function("jacobian", [sparse_jacobian(made.rates, graph.x)])
    sizes = [derivatives.size1_in(i) for i in range(5)]
    inputs = [ca.MX.sym(f"i{k}", n) for k, n in enumerate(sizes)]
    return ca.Function("jacobian", inputs, [ca.jacobian(derivatives(*inputs)[0], inputs[1])])

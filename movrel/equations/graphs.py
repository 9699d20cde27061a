"""A sorted model as expressions: all that happens between and at events, and its start.

What is made of them (functions for a run, C for a unit) stands in other files.
"""

from __future__ import annotations

from dataclasses import dataclass

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.event_memory import EventMemory, count_event_nodes
from movrel.equations.graph import Graph
from movrel.equations.judging import about_parameters
from movrel.equations.modes import during_run, nodes_in
from movrel.equations.parameters import numeric_parameters
from movrel.equations.phases import kinks, phases
from movrel.equations.sorted_model import Sorted
from movrel.equations.sorting import Block
from movrel.equations.symbolic import Symbolic
from movrel.equations.time_sources import time_sources
from movrel.model import expression as x
from movrel.model.expression import Variable

#: Unknowns from which on translations of the running model are not kept while the start is translated.
MANY = 2_000


@dataclass(slots=True)
class Graphs:
    """Columns over the symbols of ``running`` (``t, x, p, m, s``), and those of the start over those of ``start``.

    ``acting`` holds the activity and value of each reinit, the activity of each termination and the truth of
    each assertion that is judged at events; ``judged`` the truth of the others; ``timed`` says which
    indicators are straight lines in time between events, ``curved`` which others are relations on time and parameters
    alone; ``swings`` are the rates of what time alone does, otherwise than linearly, in relations on states;
    ``unit_inputs`` are the inputs and states of all units.
    """

    ordered: Sorted
    parameters: list[Variable]
    memory: EventMemory
    running: Graph
    start: Graph
    rates: Symbolic
    values: Symbolic
    judged: Symbolic
    acting: Symbolic
    constraints: Symbolic
    indicators: Symbolic
    scales: Symbolic
    timed: npt.NDArray[np.bool_]
    curved: npt.NDArray[np.bool_]
    swings: Symbolic
    #: Arguments of sines and the like in relations, and which of them states move.
    phases: Symbolic
    moved_by_states: list[int]
    #: What is zero where relations have kinks, as far as states or time move it.
    kinks: Symbolic
    unit_inputs: Symbolic
    start_values: Symbolic
    start_indicators: Symbolic


def graphs_of(ordered: Sorted) -> Graphs:
    """The expressions of a sorted model."""
    parameters = numeric_parameters(ordered.flat)
    now = during_run(ordered.pre)
    actions = [now(r.active) for r in ordered.reinits]
    actions += [now(r.value) for r in ordered.reinits]
    actions += [now(e.active) for e in ordered.terminations]
    always = [
        now(a.condition) for a in ordered.assertions if not a.at_events and not about_parameters(a)
    ]
    actions += [now(a.condition) for a in ordered.assertions if a.at_events]
    every = [side for block in (*ordered.blocks, *ordered.initial_blocks) for side in _sides(block)]
    given = [now(e) for u in ordered.units for e in (*(i.value for i in u.inputs), *u.states)]
    every += [*actions, *always, *given]
    memory = EventMemory(
        count_event_nodes(every),
        ordered.pre.all,
        nodes_in([*every, *sampling_of_units(ordered)], "sample"),
        nodes_in(every, "delay"),
        [
            (number, role, index)
            for number, u in enumerate(ordered.units)
            for role, count in u.counts()
            for index in range(count)
        ],
    )
    running = Graph(ordered.blocks, ordered.states, parameters, memory)
    if len(running.order) > MANY:
        running.translate.forget()  # of a large model it takes more room than the rest of the pipeline
    start = Graph(ordered.initial_blocks, [], parameters, memory, start=True)
    for slide in ordered.slides:  # nothing slides at the start
        start.translate.values[slide.share] = ca.SX(0.5)
    rates = vector([running.value(ordered.reduction.chains.rates[v]) for v in ordered.states])
    values = vector([running.value(v) for v in running.order])
    judged = vector([running.translate(a, False) for a in always])
    acting = vector([running.translate(a) for a in actions])
    unit_inputs = vector([running.translate(e) for e in given])
    constraints = vector(
        [
            running.translate(e)
            for b in ordered.reduction.constraints
            for row in b.matrix
            for e in row
        ]
    )
    indicators, scales = _indicator_vectors(memory, running)
    timed, curved = _timed_slots(indicators, running)
    angles, by_states = _phases(memory, running)
    start_indicators, _ = _indicator_vectors(memory, start)
    return Graphs(
        ordered=ordered,
        parameters=parameters,
        memory=memory,
        running=running,
        start=start,
        rates=rates,
        values=values,
        judged=judged,
        acting=acting,
        constraints=constraints,
        indicators=indicators,
        scales=scales,
        timed=timed,
        curved=curved,
        swings=_swings(memory, running),
        phases=angles,
        moved_by_states=by_states,
        kinks=_moving(kinks(running.blocks, [s.expression for s in memory.slots]), running)[0],
        unit_inputs=unit_inputs,
        start_values=vector([start.value(v) for v in start.order]),
        start_indicators=start_indicators,
    )


def sampling_of_units(ordered: Sorted) -> list[x.Expr]:
    """When units for co-simulation are stepped: a sampling for each."""
    return [x.Expr("sample", (x.ZERO, u.step)) for u in ordered.units if u.kind == "cs"]


def _sides(block: Block) -> list[x.Expr]:
    sides = [side for e in block.equations for side in (e.left, e.right)]
    return [
        *sides,
        *([block.solution] if block.solution is not None else []),
        *(value for _, value in block.inner),
    ]


def vector(items: list[Symbolic]) -> Symbolic:
    """Scalars as one column, which may be empty."""
    return ca.vertcat(*items) if items else ca.SX(0, 1)


def _indicator_vectors(memory: EventMemory, graph: Graph) -> tuple[Symbolic, Symbolic]:
    """g and |left| + |right| of every slot; translating may find further slots, so the loop rechecks."""
    g: list[Symbolic] = []
    scale: list[Symbolic] = []
    position = 0
    while position < len(memory.slots):
        slot = memory.slots[position]
        value = graph.translate(slot.expression)
        if slot.expression.op == "-" and slot.kind == "relation":
            parts = [graph.translate(a) for a in slot.expression.args]
            scale.append(ca.fabs(parts[0]) + ca.fabs(parts[1]))
        else:
            scale.append(ca.fabs(value))
        if slot.kind == "floor":
            value = value - memory.elements[position]
        g.append(value)
        position += 1
    return (ca.vertcat(*g), ca.vertcat(*scale)) if g else (ca.SX(0, 1), ca.SX(0, 1))


def _timed_slots(g: Symbolic, graph: Graph) -> tuple[npt.NDArray[np.bool_], ...]:
    """Slots that between events depend on time, parameters and memory only, and on time linearly; and relations that
    depend on time and parameters alone, but otherwise.

    No sampling happens between events, so what a when clause of one sets is what it was before.
    """
    n = g.shape[0]
    timed, curved_ones = np.zeros(n, bool), np.zeros(n, bool)
    if not n:
        return timed, curved_ones
    happening = graph.memory.elements[graph.memory.sample_at : graph.memory.delay_at]
    if happening:
        g = ca.substitute(g, ca.vertcat(*happening), ca.SX.zeros(len(happening)))
    g_t = ca.jacobian(g, graph.t)
    by_time = set(g_t.sparsity().row())
    other: set[int] = set()
    memory = graph.memory
    live = memory.elements[memory.delay_at : memory.terminal_at]
    for group in (graph.x, graph.s, vector(live)):
        if group.shape[0]:
            other |= set(ca.jacobian_sparsity(g, group).row())
    curved = set(ca.jacobian_sparsity(ca.densify(g_t), graph.t).row())
    for i in by_time - other - curved:
        timed[i] = True
    held = set(ca.jacobian_sparsity(g, memory.symbols).row()) if curved else set()
    for i in (curved & by_time) - other - held:
        curved_ones[i] = memory.slots[i].kind == "relation"
    return timed, curved_ones


def _phases(memory: EventMemory, graph: Graph) -> tuple[Symbolic, list[int]]:
    """The arguments of sines and the like that move, and the numbers of those that states move."""
    arguments, by_state = _moving(phases(graph.blocks, [s.expression for s in memory.slots]), graph)
    return arguments, by_state.nonzero()[0].tolist()


def _moving(given: list[x.Expr], graph: Graph) -> tuple[Symbolic, npt.NDArray[np.bool_]]:
    """Those of the expressions that time or states move, shape ``(n,)``, and whether states do."""
    if not given:
        return ca.SX(0, 1), np.zeros(0, bool)
    values = ca.densify(vector([graph.translate(e, False) for e in given]))
    by_state, by_time = np.zeros(len(given), bool), np.zeros(len(given), bool)
    for symbols in (graph.x, graph.s):
        if symbols.shape[0]:
            by_state[ca.jacobian_sparsity(values, symbols).row()] = True
    by_time[ca.jacobian_sparsity(values, graph.t).row()] = True
    moved = np.flatnonzero(by_state | by_time)
    return (values[moved.tolist(), :] if len(moved) else ca.SX(0, 1)), by_state[moved]


def _swings(memory: EventMemory, graph: Graph) -> Symbolic:
    """The rates of the parts of watched relations that depend on time alone, but otherwise than linearly."""
    watched = [slot.expression for slot in memory.slots]
    parts = [graph.translate(e, False) for e in time_sources(graph.blocks, graph.states, watched)]
    rates = ca.jacobian(vector(parts), graph.t)
    curved = sorted(set(ca.jacobian_sparsity(ca.densify(rates), graph.t).row())) if parts else []
    return ca.densify(rates[curved, :]) if curved else ca.SX(0, 1)

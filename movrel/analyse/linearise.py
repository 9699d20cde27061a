"""Linear models of a model, exact from its graph: about an instant of a run, or about a steady state.

The derivatives are those of the sorted equations, implicit unknowns eliminated by the implicit function theorem; the
reduction of the index and algebraic loops are in them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.analyse.linear_model import LinearModel
from movrel.equations.graphs import Graphs, graphs_of, vector
from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError, RunFault, StructureFault, did_you_mean
from movrel.model.expression import Variable
from movrel.session import LoadedModel
from movrel.simulate.machine import Machine
from movrel.simulate.run import Run

Array = npt.NDArray[np.float64]

#: A relation is at its edge when its sides differ by less than this share of them.
EDGE = 1e-9
#: Residual of a steady state: what a state changes by in the time of a run, as a share of its size.
STEADY = 1e-7
#: Share of the terms of a rate that is rounding.
ROUNDED = 64 * np.finfo(float).eps
#: Step of a difference as a share of a parameter.
DIFFERENCE = 1e-6
#: Newton steps at most, lengthened runs, and by how much each is longer.
NEWTON, LONGER, FACTOR = 40, 7, 4.0


@dataclass(slots=True)
class Point:
    """A machine with the instant and states at which it stands; ``sizes`` are the largest that the states were."""

    machine: Machine
    time: float
    states: Array
    sizes: Array
    notes: list[str]


def linearise(
    model: LoadedModel,
    inputs: Sequence[str],
    outputs: Sequence[str],
    at: float | None = None,
    steady: bool = False,
    set: Mapping[str, float | bool | str] | None = None,
) -> LinearModel:
    """The linear model from inputs (of the model itself, or parameters) to variables.

    ``at`` is an instant of the model's run in s, its start without one; ``steady`` looks for a steady state instead.
    Raises :class:`MovrelError` for names that there are not, and :class:`RunFault` where no linear model exists.
    """
    if model.ordered.units:
        raise StructureFault(
            "a model with units of others cannot be linearised: their derivatives are not known.",
            hint="Linearise the part around them.",
        )
    settings = dict(set or {})
    point = steady_state(model, settings) if steady else at_instant(model, at, settings)
    return _linear(model, point, list(inputs), list(outputs), settings)


def at_instant(
    model: LoadedModel, at: float | None, settings: Mapping[str, float | bool | str]
) -> Point:
    """The model as it is at an instant of its run. Raises whatever the run raises."""
    experiment = model.flat.experiment
    start = experiment.start
    span = (experiment.stop - start) or 1.0
    if at is not None and at < start:
        raise MovrelError(f"the run begins at {start:g} s, after {at:g} s.")
    stop = start + 1e-9 * span if at is None or at <= start else at
    run = model.prepare(settings, start=start, stop=stop, interval=stop - start)
    run.go()
    return _end_of(run, start if at is None else at)


def _end_of(run: Run, t: float) -> Point:
    end = run.ended_at()
    if end is None:
        raise RunFault("the run ended before that instant.")
    machine = run.machine
    states = np.array([end.values[v.name] for v in machine.system.states])
    largest = run.recording.largest
    sizes = np.maximum(largest, np.abs(states)) if len(largest) == len(states) else np.abs(states)
    return Point(machine, t, states, sizes, [])


def steady_state(model: LoadedModel, settings: Mapping[str, float | bool | str]) -> Point:
    """A state in which nothing changes: Newton's method from where runs of growing length end.

    Raises :class:`RunFault` naming the state that goes on changing most.
    """
    experiment = model.flat.experiment
    start = experiment.start
    span = (experiment.stop - start) or 1.0
    stop = start + span
    worst = ""
    for _ in range(LONGER):
        run = model.prepare(settings, start=start, stop=stop, interval=stop - start)
        run.go()
        point = _end_of(run, stop)
        worst = _settled(point, span)
        if not worst:
            return point
        stop = start + FACTOR * (stop - start)
    raise RunFault(
        f"no steady state was found: after {(stop - start) / FACTOR:g} s '{worst}' still changes.",
        hint="Hold what drives it, or linearise at an instant.",
    )


def _settled(point: Point, span: float) -> str:
    """Newton's method for rates of zero; the state that changes most where it does not come to rest, else nothing."""
    machine, t, n = point.machine, point.time, len(point.states)
    if not n:
        return ""
    states = point.states.copy()
    names = [v.name for v in machine.system.states]
    sizes = np.where(point.sizes > 0, point.sizes, 1.0)

    def rates(x: Array) -> Array:
        return np.array(machine.rates(t, x)[:n])

    def slopes(x: Array) -> Array:
        jacobian = machine.jacobian
        assert jacobian is not None
        return _dense(machine, jacobian(t, x), n)

    def off(f: Array, x: Array, slope: Array) -> Array:
        """What each state changes by in the time of a run, but for rounding, as a share of its size."""
        moved = np.maximum(np.abs(f) - ROUNDED * np.abs(slope) @ np.abs(x), 0.0) * span
        own = np.maximum(np.abs(x), point.sizes)
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.where(moved > 0, moved / own, 0.0)

    f, slope = rates(states), slopes(states)
    worst = names[int(np.argmax(off(f, states, slope)))]
    for _ in range(NEWTON):
        if off(f, states, slope).max() <= STEADY:
            break
        scaled = slope * sizes / sizes[:, None]
        change = sizes * np.linalg.lstsq(scaled, -f / sizes, rcond=1e-12)[0]
        share = 1.0
        while share > 1e-4:
            trial = states + share * change
            moved = rates(trial)
            if np.isfinite(moved).all() and np.linalg.norm(moved / sizes) < np.linalg.norm(
                f / sizes
            ):
                states, f = trial, moved
                slope = slopes(states)
                break
            share *= 0.5
        else:
            break
    if off(f, states, slope).max() > STEADY or machine.contradicted(t, states):
        return worst
    point.states[:] = states
    return ""


def _dense(machine: Machine, entries: Array, n: int) -> Array:
    """The Jacobian of the rates as a matrix, from its entries column by column."""
    pattern = machine.system.jacobian.sparsity_out(0)
    matrix = np.zeros((n, n))
    rows, columns = pattern.row(), pattern.get_col()
    matrix[rows, columns] = np.asarray(entries).reshape(-1)[: len(rows)]
    return matrix


# --- the matrices ---


def _linear(
    model: LoadedModel,
    point: Point,
    inputs: list[str],
    outputs: list[str],
    settings: Mapping[str, float | bool | str],
) -> LinearModel:
    machine, t, states = point.machine, point.time, point.states
    if machine.system.memory.delays:
        point.notes.append("delays stand still in the linear model.")
    _refuse_edges(machine, t, states)
    made = graphs_of(machine.system.ordered)
    graph = made.running
    wanted = [_expression(made, model, name) for name in outputs]
    seen = vector([e for e, _ in wanted])
    whole = ca.vertcat(made.rates, seen, graph.open_residuals())
    given = [graph.t, graph.x, graph.p, made.memory.symbols, graph.s]
    slopes = ca.Function(
        "slopes", given, [ca.densify(ca.jacobian(whole, ca.vertcat(graph.x, graph.s, graph.p))), ca.densify(whole)]
    )  # fmt: skip
    machine.row(t, states, None)
    s = machine.guesses.copy()
    m = machine.m[: made.memory.symbols.shape[0]]
    matrix, values = (np.array(a, dtype=float) for a in slopes(t, states, machine.p, m, s))
    values = values.reshape(-1)
    n, k, q = len(states), len(s), len(outputs)
    known = matrix[: n + q]
    if k:
        by_s = matrix[n + q :, n : n + k]
        try:
            solved = np.linalg.solve(
                by_s, np.hstack([matrix[n + q :, :n], matrix[n + q :, n + k :]])
            )
        except np.linalg.LinAlgError:
            raise RunFault(
                f"the equations are singular at {t:g} s; there is no linear model."
            ) from None
        through = known[:, n : n + k] @ solved
        whole_x, whole_p = known[:, :n] - through[:, :n], known[:, n + k :] - through[:, n:]
    else:
        whole_x, whole_p = known[:, :n], known[:, n:]
    by_inputs = whole_p @ _parameter_slopes(model, made, inputs, settings, machine.p)
    if not np.isfinite(whole_x).all() or not np.isfinite(by_inputs).all():
        raise RunFault(
            f"a derivative is not finite at {t:g} s; there is no linear model.",
            hint="Linearise at another instant.",
        )
    signs = np.array([sign for _, sign in wanted], dtype=float).reshape(-1, 1)
    a, b = whole_x[:n], by_inputs[:n]
    c, d = whole_x[n:] * signs, by_inputs[n:] * signs
    names = [v.name for v in machine.system.states]
    at_point = dict(zip(names, states.tolist(), strict=True))
    at_point |= {
        o: float(v) for o, v in zip(outputs, values[n : n + q] * signs.reshape(-1), strict=True)
    }
    place = {v.name: i for i, v in enumerate(made.parameters)}
    at_point |= {u: float(machine.p[place[u]]) for u in inputs}
    by_name = model.by_name
    units = {
        x: by_name[x].unit for x in [*names, *outputs, *inputs] if x in by_name and by_name[x].unit
    }
    return LinearModel(names, inputs, outputs, a, b, c, d, at_point, units, t, point.notes)


def _expression(made: Graphs, model: LoadedModel, name: str) -> tuple[Any, float]:
    """A variable over the symbols of the graph, and its sign. Raises :class:`MovrelError`."""
    by_name = model.by_name
    v = by_name.get(name)
    if v is None or v.type == "String":
        raise MovrelError(
            f"the model has no variable '{name}'.", hint=did_you_mean(name, by_name, "")
        )
    ordered = made.ordered
    own = next((u for u in ordered.flat.variables if u.name == name), v)
    alias = ordered.reduced.aliases.get(own)
    of, sign = (alias.of, float(alias.sign)) if alias is not None else (own, 1.0)
    if of in ordered.reduced.fixed:
        return ca.SX(float(ordered.reduced.fixed[of])), sign
    try:
        return made.running.value(of), sign
    except KeyError:
        raise MovrelError(f"'{name}' is not a variable over time.") from None


def _parameter_slopes(
    model: LoadedModel,
    made: Graphs,
    inputs: list[str],
    settings: Mapping[str, float | bool | str],
    p: Array,
) -> Array:
    """How all parameters change with each input: those that follow from it do so, too; shape ``(parameters, inputs)``."""
    place: dict[str, int] = {v.name: i for i, v in enumerate(made.parameters)}
    slopes = np.zeros((len(made.parameters), len(inputs)))
    given = model.settings(settings)
    flat = model.flat
    own = {v.name: v for v in flat.variables}
    for k, name in enumerate(inputs):
        at = place.get(name)
        v = own.get(name)
        if at is None or v is None:
            known = [u.name for u in made.parameters if _may_be_input(u)]
            raise MovrelError(
                f"'{name}' is neither an input nor a parameter of the model.",
                hint=did_you_mean(name, known, ""),
            )
        slopes[at, k] = 1.0
        if v.variability != "parameter" or v.type != "Real":
            continue
        step = DIFFERENCE * (abs(float(p[at])) or 1.0)
        sides = []
        for side in (1.0, -1.0):
            values = parameter_values(flat, given | {name: float(p[at]) + side * step})
            sides.append(parameter_vector(made.parameters, _by_name(values, made)))
        slopes[:, k] = (np.array(sides[0]) - np.array(sides[1])) / (2 * step)
    return slopes


def _by_name(values: Mapping[Variable, Any], made: Graphs) -> dict[Variable, Any]:
    """The same values for the variables of another flat model with the same names."""
    named = {v.name: value for v, value in values.items()}
    return {v: named.get(v.name, 0.0) for v in made.ordered.flat.variables if v.name in named} | {
        v: named.get(v.name, 0.0) for v in made.parameters
    }


def _may_be_input(v: Variable) -> bool:
    return v.causality == "input" or (
        v.variability == "parameter" and v.type == "Real" and not v.final
    )


def _refuse_edges(machine: Machine, t: float, states: Array) -> None:
    """Refuse an instant at which a relation is just about to change. Raises :class:`RunFault`."""
    machine.indicators(t, states)
    g, scale = machine.indicators.results[:2]
    edges = [
        slot.text
        for slot, value, size in zip(machine.system.slots, g, scale, strict=False)
        if size > 0 and abs(value) <= EDGE * size
    ]
    if edges:
        raise RunFault(
            f"there is no linear model at {t:g} s: '{edges[0]}' is just about to change.",
            hint="Take an instant a little before or after.",
        )

"""Runs of a model by its own solver, with slopes by parameters and start values that follow from its equations."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.analyse.measured_model import PREFIX, MeasuredData, driven
from movrel.analyse.tangents import NoTangent, Tangents, has_tangents
from movrel.equations.parameters import affected_by
from movrel.equations.system import System
from movrel.model import expression
from movrel.session import LoadedModel
from movrel.simulate.columns import Columns
from movrel.simulate.dense import interpolate
from movrel.simulate.run import Run
from movrel.simulate.trace import Stretch, Trace

Array = npt.NDArray[np.float64]

#: Tolerance of the runs, and the step of differences for the start and for parameters that follow from others; that of a
#: parameter that is 0.
TOLERANCE, DIFFERENCE, AT_ZERO = 1e-8, 1e-5, 1e-6
#: Runs that are kept.
KEPT = 3


@dataclass(frozen=True, slots=True)
class First:
    """The first instant of a run, its events settled: parameters, states, values before the next event, the sides of
    relations, and when samplings are."""

    parameters: Array
    states: Array
    before: Array
    relations: Array
    samplings: list[float]


class TracedRuns:
    """One experiment with a model; ``names`` are the parameters and start values (``oil.T.start``) that will be given."""

    def __init__(self, model: LoadedModel, data: MeasuredData, names: Sequence[str]) -> None:
        self.data, self.names = data, list(names)
        self._driven = driven(model, data, [n for n in names if n.endswith(".start")])
        self.system = self._driven.loaded.system
        self._tangents: Tangents | None = None
        #: The newest runs by their values: outputs and what each went through.
        self._runs: dict[tuple[tuple[str, float], ...], tuple[dict[str, Array], Trace]] = {}
        self._on_start: dict[str, bool] = {}

    # --- runs ---

    def run(self, values: Mapping[str, float]) -> dict[str, Array]:
        """The outputs at the instants of the experiment, each of shape ``(n,)``. Raises whatever a run raises."""
        key = tuple(sorted(values.items()))
        if key not in self._runs:
            d = self.data
            run = self._prepared(values, self._interval())
            run.trace = Trace()
            trajectory = run.go()
            outputs = None if self._even else self._along(run.trace, run)
            if outputs is None:
                outputs = {
                    o: np.interp(d.time, trajectory.time, trajectory[PREFIX + o]) for o in d.outputs
                }
            if len(self._runs) == KEPT:
                del self._runs[next(iter(self._runs))]
            self._runs[key] = outputs, run.trace
        return self._runs[key][0]

    def _prepared(self, values: Mapping[str, float], interval: float | None = None) -> Run:
        d = self.data
        return self._driven.loaded.prepare(
            self._settings(values), start=float(d.time[0]), stop=float(d.time[-1]), interval=interval, tolerance=TOLERANCE
        )  # fmt: skip

    def _settings(self, values: Mapping[str, float]) -> dict[str, float]:
        return {self._driven.place(k): v for k, v in values.items()}

    @property
    def _usual(self) -> float:
        return float(np.median(np.diff(self.data.time)))

    @property
    def _even(self) -> bool:
        return bool((np.abs(np.diff(self.data.time) - self._usual) <= 1e-6 * self._usual).all())

    def _interval(self) -> float:
        """The distance of output points: that of even samples, else a fraction of the usual one."""
        return self._usual if self._even else self._usual / 4

    def _along(self, trace: Trace, run: Run) -> dict[str, Array] | None:
        """The outputs at instants that are not even, from the run's own steps; None where these do not tell them."""
        system, instants = self.system, self.data.time
        if trace.systems != [system] or not trace.whole or not has_tangents(system):
            return None
        states, solved = len(system.states), len(system.solved)
        every = np.full((len(instants), states + solved), np.nan)
        rates, values = Columns(system.derivatives), Columns(system.values)
        first = 0
        for piece in (p for p in trace.pieces if isinstance(p, Stretch)):
            last = int(np.searchsorted(instants, piece.times[-1], side="right"))
            at = instants[first:last]
            if len(at):
                held = np.repeat(piece.memory[:, None], max(len(at), len(piece.times)), axis=1)
                given = run.p, held[:, : len(piece.times)], piece.guesses
                speeds = rates(piece.times, piece.states.T, *given)[:, :states]
                x = interpolate(piece.times, piece.states, speeds, np.clip(at, piece.times[0], None))  # fmt: skip
                every[first:last, :states] = x
                every[first:last, states:] = values(at, x.T, run.p, held[:, : len(at)], piece.guesses)[:, :solved]  # fmt: skip
            first = last
        outputs: dict[str, Array] = {}
        for name, (place, sign) in self._outputs().items():
            if place is None:
                return None
            outputs[name] = sign * every[:, place]
        return outputs if all(np.isfinite(y).all() for y in outputs.values()) else None

    # --- slopes ---

    def slopes(self, values: Mapping[str, float]) -> dict[str, Array]:
        """The derivatives of each output by the wanted names, shape ``(instants, names)``.

        Raises :class:`NoTangent` where they do not follow from the equations, and whatever a run raises.
        """
        if not has_tangents(self.system):
            raise NoTangent(
                "the model is large, or has units, delays, or states that change on the way."
            )
        self.run(values)
        _, trace = self._runs[tuple(sorted(values.items()))]
        outputs = self._outputs()
        rows = [place for place, _ in outputs.values() if place is not None]
        if self._tangents is None:
            self._tangents = Tangents(self.system, len(self.names), rows)
        prepared = self._prepared(values)
        if prepared.system is not self.system:
            raise NoTangent("the values change the structure of the model.")
        p = prepared.p
        moves = [self._moves(name, values, prepared) for name in self.names]
        dp, dx, dm = (np.array(part).T for part in zip(*moves, strict=True))
        along = self._tangents.along(trace, p, dp, dx, dm, self.data.time)
        still = np.zeros((len(self.data.time), len(self.names)))
        columns = iter(np.moveaxis(along, 1, 0))
        return {
            o: still if place is None else sign * next(columns)
            for o, (place, sign) in outputs.items()
        }

    def _outputs(self) -> dict[str, tuple[int | None, int]]:
        """Where each output stands among states and solved unknowns, None if it does not move, and its sign."""
        system, reduced = self.system, self.system.reduced
        place = {v: k for k, v in enumerate([*system.states, *system.solved])}
        by_name = self._driven.loaded.by_name
        outputs: dict[str, tuple[int | None, int]] = {}
        for name in self.data.outputs:
            v = by_name[PREFIX + name]
            alias = reduced.aliases.get(v)
            of, sign = (alias.of, alias.sign) if alias is not None else (v, 1)
            outputs[name] = place.get(of), sign
        return outputs

    def _moves(
        self, name: str, values: Mapping[str, float], run: Run
    ) -> tuple[Array, Array, Array]:
        """How parameters, states and values before the event at the first instant change with one name."""
        affected = self._affected(name)
        if len(affected) == 1 and not self._acts_on_start(name):
            unit = np.zeros(len(run.p))
            unit[affected] = 1.0
            return unit, np.zeros(len(self.system.states)), np.zeros(0)
        step = DIFFERENCE * abs(values[name]) or AT_ZERO
        up, down = (
            self._first({**values, name: values[name] + side * step}) for side in (1.0, -1.0)
        )
        if not np.array_equal(up.relations, down.relations) or up.samplings != down.samplings:
            raise NoTangent(
                f"'{name}' changes at which side a relation begins, or when it samples."
            )
        return (
            (up.parameters - down.parameters) / (2 * step),
            (up.states - down.states) / (2 * step),
            (up.before - down.before) / (2 * step),
        )

    def _affected(self, name: str) -> list[int]:
        """Where the parameters stand that change with a name."""
        place = {v: k for k, v in enumerate(self.system.parameters)}
        affected = affected_by(self.system.flat, {self._driven.place(name): 0.0})
        return [place[v] for v in affected if v in place]

    def _acts_on_start(self, name: str) -> bool:
        """Whether states, values before the event, or other parameters at the first instant may depend on a name."""
        if name not in self._on_start:
            system = self.system
            self._on_start[name] = bool(
                system.memory.pre
                or system.ordered.solved_parameters
                or set(self._affected(name)) & _parameters_of_start(system)
            )
        return self._on_start[name]

    def _first(self, values: Mapping[str, float]) -> First:
        run = self._prepared(values)
        trajectory = run.first_instant()
        memory, m = self.system.memory, run.machine.m
        return First(
            run.p,
            np.array([trajectory[v.name][0] for v in self.system.states]),
            m[memory.pre_at : memory.sample_at].copy(),
            m[: memory.pre_at].copy(),
            [float(expression.evaluate(a, run.parameters)) for e in memory.samples for a in e.args],
        )


def _parameters_of_start(system: System) -> set[int]:
    """The places of the parameters that the states at the start depend on."""

    def places() -> set[int]:
        solver, states = system.initial, set(system.states)
        rows = {k for k, v in enumerate(system.initial_solved) if v in states}
        pattern = solver.outputs.jac_sparsity(0, 1)
        among = {c for r, c in zip(pattern.row(), pattern.get_col(), strict=True) if r in rows}
        for step in solver.steps:
            for k in range(step.function.n_out()):
                among |= set(step.function.jac_sparsity(k, 1).get_col())
        return among

    return system.once("parameters of the start", places)

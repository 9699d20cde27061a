"""Runs of models without events that measured inputs drive, with exact sensitivities.

Inputs are straight lines, or held, between the samples. Steps go from sample to sample (:mod:`movrel.analyse.sample_steps`);
where the model is stiff or has loops, CVODES solves the forward equations together with the model, by way of CasADi
(Hindmarsh and others, ACM Trans. Math. Softw. 31, 2005); where that gives up, the model's own solver takes over.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.analyse.measured_model import PREFIX, MeasuredData, driven
from movrel.analyse.sample_steps import SampleSteps, takes_samples
from movrel.analyse.traced_runs import TracedRuns
from movrel.equations.graphs import Graphs, graphs_of, vector
from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError
from movrel.model.expression import Variable
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]

#: Tolerances of the runs, the absolute one as a share of the size of a state, and the step of differences for start values
#: and parameters that follow from others; that of a parameter that is 0.
RELATIVE, ABSOLUTE, DIFFERENCE, AT_ZERO = 1e-8, 1e-10, 1e-5, 1e-11
#: By how much a state may be larger or smaller than was thought, and how often that is thought over.
FAR, SIZINGS = 100.0, 3


def is_smooth(model: LoadedModel) -> bool:
    """Whether a model can be run here: no relations, delays, samples or units, one choice of states, and states at all."""
    ordered = model.ordered
    if (
        ordered.units
        or ordered.reinits
        or ordered.terminations
        or ordered.reduction.dynamic
        or ordered.pre.all
    ):
        return False
    system = model.system
    memory = system.memory
    return bool(system.states) and not (memory.slots or memory.samples or memory.delays)


class _NoEnd(Exception):
    """The integrator gave up, for a reason that the model's own solver tells better, if it does not get through."""


class ExactRuns:
    """One experiment of a smooth model; ``names`` are the parameters and start values whose slopes are wanted."""

    def __init__(self, model: LoadedModel, data: MeasuredData, names: Sequence[str]) -> None:
        self.model, self.data, self.names = model, data, list(names)
        self.outputs = list(data.outputs)
        made = self.made = graphs_of(model.ordered)
        self.place = {v.name: i for i, v in enumerate(made.parameters)}
        self.states = [v.name for v in model.ordered.states]
        #: Outputs that are a state but for a sign, with its number, and whether there are others.
        self._direct = _states_among(self.outputs, made)
        self._looks = len(self._direct) < len(self.outputs)
        starts = [n for n in names if n.endswith(".start")]
        first = MeasuredData(
            data.name, data.time[:2], data.outputs, {k: np.asarray(v)[:2] for k, v in data.inputs.items()}, data.held
        )  # fmt: skip
        self.at_start = driven(model, first, starts)
        self._memory = np.zeros(made.memory.symbols.shape[0])
        self._memory[-1:] = 1.0
        self._guesses = self._sizes()
        self._controls = self._controls_of_inputs()
        self._segments = self._segments_between_jumps()
        #: The size of each state, by which it is divided inside.
        self._scale = np.ones(len(self.states))
        self._sized = False
        self._last: tuple[Any, tuple[list[Any], Array, Array, Array]] | None = None
        self._rates = made.running.function("rates", [ca.densify(made.rates)])
        self._own: TracedRuns | None = None
        #: Whether the integrators here are asked, and whether they came to an end so far: those that never did are not asked
        #: again, as the model is not for them.
        self._serves, self._proved = True, False
        #: Steps from sample to sample, where they can be made; the same of these.
        self._steps: SampleSteps | None = None
        self._steps_serve, self._steps_proved = takes_samples(self._rates), False
        self._integrators: dict[bytes, Any] = {}
        self._forwards: dict[bytes, Any] = {}
        self._scale_by(self._scale)
        self._moves_start: dict[str, bool] = {}
        self._moves_others: dict[str, bool] = {}

    # --- functions ---

    def _scale_by(self, scale: Array) -> None:
        """States are divided by ``scale`` inside from now on; what was made for another one is made anew."""
        self._scale = scale
        self._integrators.clear()
        self._forwards.clear()
        if self._steps_serve:
            places = [self.place[name] for name in self.data.inputs]
            self._steps = SampleSteps(
                self._rates, scale, self.data.time, self._controls, places, self._memory, self._guesses
            )  # fmt: skip
        if self._looks:
            look, count = self._outputs_of(self.made), len(self.data.time)
            self._look_all = look.map(count)
            self._towards = look.forward(1).map(count)

    def _controls_of_inputs(self) -> Array:
        """Value, slope and beginning of each input in each interval, shape ``(3 inputs, intervals)``."""
        time = self.data.time
        values = np.zeros((3 * len(self.data.inputs), len(time) - 1))
        for k, (name, given) in enumerate(self.data.inputs.items()):
            u = _whole(time, given)
            values[3 * k] = u[:-1]
            if name not in self.data.held:
                values[3 * k + 1] = np.diff(u) / np.diff(time)
                values[3 * k + 2] = time[:-1] - time[0]
        return values

    def _segments_between_jumps(self) -> list[tuple[int, int]]:
        """The first and last instant of each stretch in which no held input jumps."""
        jumps = np.zeros(len(self.data.time), bool)
        for name in self.data.held:
            if name in self.data.inputs:
                jumps[1:] |= np.diff(_whole(self.data.time, self.data.inputs[name])) != 0
        inner = [int(k) for k in np.flatnonzero(jumps) if 0 < k < len(self.data.time) - 1]
        ends = [0, *inner, len(self.data.time) - 1]
        return list(itertools.pairwise(ends))

    def _integrator(self, segment: tuple[int, int]) -> tuple[bytes, Any]:
        """The integrator of a stretch, made once for all that have the same distances of instants."""
        a, b = segment
        grid = self.data.time[a + 1 : b + 1] - self.data.time[a]
        scale = 1e9 / max(float(grid[-1]), 1e-300)
        key = np.round(grid * scale).astype(np.int64).tobytes()
        if key not in self._integrators:
            graph, inputs = self.made.running, list(self.data.inputs)
            t, x = ca.MX.sym("t"), ca.MX.sym("x", graph.x.shape[0])
            p, begin = ca.MX.sym("p", graph.p.shape[0]), ca.MX.sym("begin")
            controls = ca.MX.sym("u", 3 * len(inputs))
            entries = ca.vertsplit(p) if p.shape[0] else []
            since = begin - float(self.data.time[0]) + t
            for k, name in enumerate(inputs):
                entries[self.place[name]] = controls[3 * k] + controls[3 * k + 1] * (
                    since - controls[3 * k + 2]
                )
            # Implicit unknowns are solved inside.
            ode = (
                self._rates(
                    begin + t, x * self._scale, ca.vertcat(*entries), self._memory, self._guesses
                )
                / self._scale
            )
            equations = {"x": x, "p": ca.vertcat(p, begin), "t": t, "ode": ode}
            if inputs:
                equations["u"] = controls
            self._integrators[key] = ca.integrator(
                "run", "cvodes", equations, 0.0, grid.tolist(),
                {"reltol": RELATIVE, "abstol": ABSOLUTE, "max_num_steps": 200_000},
            )  # fmt: skip
        return key, self._integrators[key]

    def _outputs_of(self, made: Graphs) -> Any:
        """``(t, x, p) -> outputs``."""
        graph = made.running
        y = vector([_variable(made, name) for name in self.outputs])
        look = graph.function("look", [ca.densify(y)])
        t, x, p = ca.MX.sym("t"), ca.MX.sym("x", graph.x.shape[0]), ca.MX.sym("p", graph.p.shape[0])
        return ca.Function(
            "outputs", [t, x, p], [look(t, x * self._scale, p, self._memory, self._guesses)]
        )

    # --- parameters and starts ---

    def _parameters(self, values: Mapping[str, float]) -> Array:
        flat = self.model.flat
        own = {k: v for k, v in values.items() if k in self.place}
        given = parameter_values(flat, own)
        return np.asarray(parameter_vector(self.model.ordered.parameters, given), float)

    def _sizes(self) -> Array:
        """Where the search for implicit unknowns begins, and the sizes by which they are judged: those of the model's start."""
        run = self.model.prepare()
        run.first_instant()
        return np.array(run.machine.w)

    def _begin(self, values: Mapping[str, float]) -> Array:
        """The states at the first instant, divided by their sizes."""
        t = float(self.data.time[0])
        run = self.at_start.loaded.prepare(
            {self.at_start.place(k): v for k, v in values.items()}, start=t, stop=float(self.data.time[-1]), tolerance=1e-6
        )  # fmt: skip
        trajectory = run.first_instant()
        states = np.array([trajectory[PREFIX + name][0] for name in self.states])
        return states / self._scale

    # --- runs ---

    def run(self, values: Mapping[str, float]) -> dict[str, Array]:
        """The outputs at the instants of the experiment. Raises whatever a run raises."""
        if self._serves:
            try:
                outputs = self._outputs_at(values)
                self._proved = True
                return outputs
            except _NoEnd:
                self._serves = self._proved
        return self._by_own().run(values)

    def slopes(self, values: Mapping[str, float]) -> dict[str, Array]:
        """The derivatives of each output by the wanted names, shape ``(instants, names)``. Raises whatever a run raises."""
        if self._serves:
            try:
                return self._slopes_at(values)
            except _NoEnd:
                self._serves = self._proved
        return self._by_own().slopes(values)

    def _by_own(self) -> TracedRuns:
        """The same by the model's own solver, where the integrators here give up."""
        if self._own is None:
            self._own = TracedRuns(self.model, self.data, self.names)
        return self._own

    def _outputs_at(self, values: Mapping[str, float]) -> dict[str, Array]:
        _, x, _, by_time = self._run(values)
        given = {name: sign * self._scale[k] * x[k] for name, (k, sign) in self._direct.items()}
        if self._looks:
            y = np.array(self._look_all(self.data.time, x, by_time))
            given = {n: y[k] for k, n in enumerate(self.outputs)} | given
        if not all(np.isfinite(y).all() for y in given.values()):
            raise _NoEnd
        return given

    def _run(self, values: Mapping[str, float]) -> tuple[list[Any], Array, Array, Array]:
        """What the integrators give, states at all instants, parameters, and these over time."""
        # Residuals and slopes are asked for at the same values, one after the other.
        key = tuple(sorted(values.items()))
        if self._last is None or self._last[0] != key:
            self._last = key, self._sized_run(values)
        return self._last[1]

    def _sized_run(self, values: Mapping[str, float]) -> tuple[list[Any], Array, Array, Array]:
        integrated = self._integrated(values)
        for _ in range(0 if self._sized else SIZINGS):
            largest = np.abs(integrated[1]).max(axis=1)
            far = (largest > 0) & ((largest > FAR) | (largest < 1 / FAR))
            if not far.any():
                break
            self._scale_by(self._scale * np.where(far, largest, 1.0))
            integrated = self._integrated(values)
        self._sized = True
        return integrated

    def _integrated(self, values: Mapping[str, float]) -> tuple[list[Any], Array, Array, Array]:
        p = self._parameters(values)
        x = [self._begin(values).reshape(-1, 1)]
        if self._steps is not None:
            states = self._steps.states(x[0][:, 0], p)
            if states is not None:
                self._steps_proved = True
                return [], states, p, self._p_over_time(p)
            if not self._steps_proved:
                self._steps, self._steps_serve = None, False
        segments: list[Any] = []
        for segment in self._segments:
            _, integrator = self._integrator(segment)
            try:
                segments.append(integrator(**self._given(segment, x[-1][:, -1], p)))
            except RuntimeError:
                raise _NoEnd from None
            x.append(np.array(segments[-1]["xf"]))
        return segments, np.hstack(x), p, self._p_over_time(p)

    def _given(self, segment: tuple[int, int], x0: Array, p: Array) -> dict[str, Any]:
        given: dict[str, Any] = {"x0": x0, "p": np.append(p, self.data.time[segment[0]])}
        if len(self._controls):
            given["u"] = self._controls[:, segment[0] : segment[1]]
        return given

    def _p_over_time(self, p: Array) -> Array:
        """The parameters at every instant, inputs with their values there."""
        columns = np.repeat(p.reshape(-1, 1), len(self.data.time), axis=1)
        for name, u in self.data.inputs.items():
            values = np.asarray(u, float)
            good = np.isfinite(values)
            columns[self.place[name]] = np.interp(
                self.data.time, self.data.time[good], values[good]
            )
        return columns

    def _slopes_at(self, values: Mapping[str, float]) -> dict[str, Array]:
        integrated, x, p, by_time = self._run(values)
        n, count = len(self.names), len(self.data.time)
        dp = np.array([self._parameter_slope(name, values, p) for name in self.names]).T
        dx0 = np.array([self._start_slope(name, values) for name in self.names]).T
        if not integrated and self._steps is not None:
            sx = self._steps.slopes(x[:, 0], p, dx0, dp)
        else:
            parts = [dx0.T[:, :, None]]
            for segment, by in zip(self._segments, integrated, strict=True):
                begin = parts[-1][:, :, -1].T
                parts.append(self._slopes_over(segment, by, x[:, segment[0]], p, dp, begin))
            sx = np.concatenate(parts, axis=2)
        direct = {
            name: (sign * self._scale[k] * sx[:, k, :]).T
            for name, (k, sign) in self._direct.items()
        }
        if not self._looks:
            return direct
        y = self._look_all(self.data.time, x, by_time)
        still = np.zeros((1, count))
        result = {name: np.zeros((count, n)) for name in self.outputs}
        for k in range(n):
            moved = np.repeat(dp[:, [k]], count, axis=1)
            slope = np.array(self._towards(self.data.time, x, by_time, y, still, sx[k], moved))
            for j, name in enumerate(self.outputs):
                result[name][:, k] = slope[j]
        return result | direct

    def _slopes_over(
        self, segment: tuple[int, int], given_by: Any, x0: Array, p: Array, dp: Array, dx0: Array
    ) -> Array:
        """The slopes of the states over a stretch, shape ``(names, states, instants)``."""
        key, integrator = self._integrator(segment)
        n, count = dp.shape[1], segment[1] - segment[0]
        if key not in self._forwards:
            self._forwards[key] = integrator.forward(n)
        forward = self._forwards[key]
        known = self._given(segment, x0, p)
        known |= {"fwd_x0": dx0, "fwd_p": np.vstack([dp, np.zeros((1, n))])}
        arguments: list[Any] = []
        for k, name in enumerate(forward.name_in()):
            if name in known:
                arguments.append(known[name])
            elif name.startswith("out_") and name[4:] in given_by:
                arguments.append(given_by[name[4:]])
            else:
                arguments.append(np.zeros(forward.size_in(k)))
        try:
            out = forward(*arguments)
        except RuntimeError:
            raise _NoEnd from None
        by_name = dict(zip(forward.name_out(), out, strict=True))
        # The directions stand side by side, each over all instants.
        return np.array(by_name["fwd_xf"]).reshape(len(self.states), n, count).transpose(1, 0, 2)

    def _parameter_slope(self, name: str, values: Mapping[str, float], p: Array) -> Array:
        """How all parameters change with one; those that follow from it do so, too."""
        unit = np.zeros(len(p))
        at = self.place.get(name)
        if at is None:
            return unit
        unit[at] = 1.0
        if self._moves_others.get(name) is False:
            return unit
        slope = self._difference(name, values, self._parameters)
        moved = np.flatnonzero(np.abs(slope) > 0)
        self._moves_others.setdefault(name, list(moved) != [at])
        return slope if self._moves_others[name] else unit

    def _start_slope(self, name: str, values: Mapping[str, float]) -> Array:
        """How the states at the start, divided by their sizes, change with a parameter."""
        if self._moves_start.get(name) is False:
            return np.zeros(len(self.states))
        slope = self._difference(name, values, self._begin)
        moves = bool(np.abs(slope).max(initial=0.0) > 0) or name.endswith(".start")
        self._moves_start.setdefault(name, moves)
        return slope

    @staticmethod
    def _difference(name: str, values: Mapping[str, float], function: Any) -> Array:
        step = DIFFERENCE * abs(values[name]) or AT_ZERO
        up, down = (function({**values, name: values[name] + side * step}) for side in (1.0, -1.0))
        return np.asarray((up - down) / (2 * step), float)


def _whole(time: Array, given: Any) -> Array:
    """A signal at all instants, gaps bridged by straight lines."""
    u = np.asarray(given, float)
    good = np.isfinite(u)
    return np.asarray(np.interp(time, time[good], u[good]))


def _reduced(made: Graphs, name: str) -> tuple[Variable, int]:
    """What a variable is an alias of, itself without one, and the sign. Raises :class:`MovrelError`."""
    ordered = made.ordered
    v: Variable | None = next((u for u in ordered.flat.variables if u.name == name), None)
    if v is None:
        raise MovrelError(f"the model has no variable '{name}'.")
    alias = ordered.reduced.aliases.get(v)
    return (alias.of, alias.sign) if alias is not None else (v, 1)


def _states_among(names: Sequence[str], made: Graphs) -> dict[str, tuple[int, int]]:
    """The number of the state that each variable is but for a sign, and that; others are left out."""
    place = {v: k for k, v in enumerate(made.ordered.states)}
    reduced = {name: _reduced(made, name) for name in names}
    return {name: (place[of], sign) for name, (of, sign) in reduced.items() if of in place}


def _variable(made: Graphs, name: str) -> Any:
    """A variable over the symbols of the graph. Raises :class:`MovrelError`."""
    ordered = made.ordered
    of, sign = _reduced(made, name)
    if of in ordered.reduced.fixed:
        return ca.SX(float(sign * ordered.reduced.fixed[of]))
    return sign * made.running.value(of)

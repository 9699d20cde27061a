"""Steps from sample to sample, for models whose inputs are measured: an explicit Runge-Kutta method of order five.

Dormand and Prince, J. Comp. Appl. Math. 6, 1980. Inputs have a corner at every sample, so that a method with a past would
begin anew at each of them; one with none takes each stretch in one step or a few equal ones, as its own estimate of the
error asks. The slopes are those of the steps themselves. Stiff models need another method.
"""

from __future__ import annotations

from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.symbolic import Compiled

Array = npt.NDArray[np.float64]

_NODES = (0.0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1.0, 1.0)
_MATRIX = (
    (),
    (1 / 5,),
    (3 / 40, 9 / 40),
    (44 / 45, -56 / 15, 32 / 9),
    (19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729),
    (9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656),
    (35 / 384, 0.0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84),
)
_ERROR = (71 / 57600, 0.0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40)
#: Error of a step, as a share of the size of a state, and steps within a stretch at most.
TOLERANCE, MOST_STEPS = 1e-9, 16
#: Operations of the rates up to which they are written out for every stage.
MOST_OPERATIONS = 3000


def takes_samples(rates: Compiled) -> bool:
    """Whether the steps can be made for these rates: explicit, and not too long."""
    return bool(rates.class_name() == "SXFunction" and rates.n_instructions() <= MOST_OPERATIONS)


class SampleSteps:
    """Steps of ``x' = rates(t, scale x, p, m, w)/scale`` over the stretches between samples.

    ``time`` holds the instants, ``(count + 1,)``; ``controls`` value, slope and beginning of each input in each stretch,
    ``(3 inputs, count)``, which stand at ``places`` among the parameters; ``memory`` and ``guesses`` stay.
    """

    def __init__(
        self, rates: Compiled, scale: Array, time: Array, controls: Array, places: list[int], memory: Array, guesses: Array
    ) -> None:  # fmt: skip
        self._n, self._time, self._width = len(scale), time, np.diff(time)
        inputs = len(places)
        self._slopes = controls[1::3].reshape(inputs, len(self._width))
        since = time[:-1] - time[0] - controls[2::3].reshape(inputs, len(self._width))
        self._values = controls[0::3].reshape(inputs, len(self._width)) + self._slopes * since
        x, t, h = ca.SX.sym("x", self._n), ca.SX.sym("t"), ca.SX.sym("h")
        u, du = ca.SX.sym("u", inputs), ca.SX.sym("du", inputs)
        every = ca.SX.sym("p", rates.size1_in(2))
        pattern = rates.jac_sparsity(0, 2)
        #: The parameters that the rates depend on, inputs left out.
        self._used = sorted(set(pattern.get_col()) - set(places))
        entries = ca.vertsplit(every) if every.shape[0] else []

        def f(s: Any, state: Any) -> Any:
            for k, place in enumerate(places):
                entries[place] = u[k] + du[k] * s
            given = ca.vertcat(*entries) if entries else every
            return rates(t + s, state * scale, given, memory, guesses) / scale

        stages: list[Any] = []
        state = x
        for node, row in zip(_NODES, _MATRIX, strict=True):
            state = x + h * sum((a * k for a, k in zip(row, stages, strict=True)), ca.SX.zeros(self._n))  # fmt: skip
            stages.append(f(node * h, state))
        error = h * sum((e * k for e, k in zip(_ERROR, stages, strict=True)), ca.SX.zeros(self._n))
        used = every[self._used] if self._used else ca.SX(0, 1)
        self._given = ca.vertcat(t, h, u, du)
        self._step = ca.Function("step", [x, self._given, used], [state, error])
        self._within = 1
        self._made: dict[tuple[int, int], Any] = {}

    def states(self, x: Array, p: Array) -> Array | None:
        """The states at all instants, ``(n, count + 1)``; None where the steps would have to be too short."""
        first = self._within
        while self._within <= MOST_STEPS:
            ends, error = self._run(0)(x, self._columns(), self._repeated(p[self._used]))
            states = np.array(ends)
            size = np.maximum(np.abs(states), 1.0)
            with np.errstate(invalid="ignore"):
                if float((np.abs(np.array(error)) / size).max()) <= TOLERANCE:
                    return np.hstack(
                        [x.reshape(-1, 1), states[:, self._within - 1 :: self._within]]
                    )
            self._within *= 2
        self._within = first
        return None

    def slopes(self, x: Array, p: Array, dx: Array, dp: Array) -> Array:
        """The slopes of the states in ``q`` directions, ``(q, n, count + 1)``, from ``dx`` ``(n, q)`` and ``dp`` ``(p, q)``."""
        n, q = dx.shape
        whole = np.concatenate([x, dx.T.reshape(-1)])
        moved = np.concatenate([p[self._used], dp[self._used].T.reshape(-1)])
        ends = np.array(self._run(q)(whole, self._columns(), self._repeated(moved)))
        ends = ends[n:, self._within - 1 :: self._within]
        return np.concatenate([dx.T[:, :, None], ends.reshape(q, n, -1)], axis=2)

    def _run(self, directions: int) -> Any:
        """All steps one after the other, with slopes in some directions."""
        key = (self._within, directions)
        if key not in self._made:
            step = self._step if not directions else self._moving(directions)
            self._made[key] = step.mapaccum("steps", self._within * len(self._width))
        return self._made[key]

    def _moving(self, q: int) -> Any:
        """``([x, dx], given, [p, dp]) -> [x, dx]`` after a step."""
        x, used = ca.SX.sym("x", self._n), ca.SX.sym("p", len(self._used))
        given = ca.SX.sym("g", self._given.shape[0])
        dx, dp = ca.SX.sym("dx", self._n, q), ca.SX.sym("dp", len(self._used), q)
        after = self._step(x, given, used)[0]
        columns = []
        for k in range(q):
            moved = ca.jtimes(after, x, dx[:, k])
            columns.append(moved + ca.jtimes(after, used, dp[:, k]) if self._used else moved)
        return ca.Function(
            "moving",
            [ca.vertcat(x, ca.vec(dx)), given, ca.vertcat(used, ca.vec(dp))],
            [ca.vertcat(after, *columns)],
        )

    def _columns(self) -> Array:
        """Beginning, width, and the inputs with their slopes, of every step."""
        within = self._within
        shift = np.tile(np.arange(within) / within, len(self._width))
        width = np.repeat(self._width, within)
        slopes = np.repeat(self._slopes, within, axis=1)
        values = np.repeat(self._values, within, axis=1) + slopes * shift * width
        return np.vstack([np.repeat(self._time[:-1], within) + shift * width, width / within, values, slopes])  # fmt: skip

    def _repeated(self, column: Array) -> Array:
        return np.repeat(column.reshape(-1, 1), self._within * len(self._width), axis=1)

"""Parameters from measurements: least squares with bounds, honest intervals, and what the data cannot tell.

Weighted least squares by a trust region (Branch, Coleman, Li, SIAM J. Sci. Comput. 21, 1999); outputs are weighted by their
own residuals, as is likeliest for noise of unknown size; intervals from the covariance at the optimum (Bates and Watts,
Nonlinear Regression Analysis, 1988), widened where the residual is correlated; profiles of the likelihood on demand.
"""

from __future__ import annotations

import time as clock
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, TypeAlias

import numpy as np
import numpy.typing as npt
from scipy.optimize import least_squares
from scipy.stats import f as f_distribution
from scipy.stats import qmc
from scipy.stats import t as t_distribution

from movrel.analyse.exact_runs import ExactRuns, is_smooth
from movrel.analyse.measured_model import MeasuredData, MeasuredModel, driven
from movrel.analyse.residuals import Agreement, agreement
from movrel.errors import MovrelError, RunCancelled, did_you_mean
from movrel.model.expression import Variable
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]
Scale: TypeAlias = Literal["linear", "log"]

#: Step of a difference as a share of a parameter, and the tolerance of the runs that are compared.
DIFFERENCE, TOLERANCE = 1e-4, 1e-8
#: Confidence of the intervals.
CONFIDENCE = 0.95
#: A direction is not determined when its standard deviation, in parameters scaled by their ranges, exceeds this, or its
#: effect is this share of the largest.
OPEN, WEAK = 2.0, 1e-5
#: Residual, in weighted units, that stands for a run that fails.
FAILED = 1e3
#: Rounds in which the outputs are weighted anew.
WEIGHTINGS = 2
#: Rounds in which the size of a usual residual is looked at again, where outliers are to count less.
ROBUST_ROUNDS = 4


@dataclass(frozen=True, slots=True)
class Free:
    """A parameter to find: a name of the model, ``name.start`` for the start of a state, or ``offset(column)`` for that of a
    sensor. ``each`` finds a value of its own for every experiment."""

    name: str
    low: float
    start: float
    high: float
    scale: Scale = "linear"
    each: bool = False

    def check(self) -> None:
        """Raises :class:`MovrelError` for bounds that do not go together."""
        if not self.low < self.high or not self.low <= self.start <= self.high:
            raise MovrelError(
                f"'{self.name}' begins at {self.start:g}, between {self.low:g} and {self.high:g}: that is no range.",
                hint="Give low, start and high in this order.",
            )
        if self.scale == "log" and self.low <= 0:
            raise MovrelError(f"the logarithmic range of '{self.name}' must be above zero.")

    def inner(self, value: float) -> float:
        return float(np.log(value)) if self.scale == "log" else value

    def outer(self, value: float) -> float:
        return float(np.exp(value)) if self.scale == "log" else value


@dataclass(frozen=True, slots=True)
class Fitted:
    """A parameter that was found, with its interval; ``at_bound`` says which bound it ran into."""

    name: str
    value: float
    low: float
    high: float
    deviation: float
    at_bound: str = ""
    experiment: str = ""


@dataclass(slots=True)
class FitResult:
    """What a fit found. ``before`` and ``after`` are figures by experiment and output."""

    parameters: list[Fitted]
    correlation: list[list[float]]
    before: dict[str, dict[str, Agreement]]
    after: dict[str, dict[str, Agreement]]
    #: What the data cannot determine, in words.
    undetermined: list[str]
    notes: list[str]
    runs: int
    seconds: float
    cost: float
    #: What the model gives at the start and at the end, by experiment and output.
    first_predictions: dict[str, dict[str, Array]] = field(default_factory=dict)
    predictions: dict[str, dict[str, Array]] = field(default_factory=dict)

    def values(self) -> dict[str, float]:
        """The values of parameters that are shared by all experiments."""
        return {p.name: p.value for p in self.parameters if not p.experiment}


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a fit is: runs so far, the best values and the size of the residual there."""

    runs: int
    values: dict[str, float]
    cost: float


@dataclass(slots=True)
class FitOptions:
    """``robust`` counts outliers less; ``starts`` tries so many starts; ``weights`` by output, in place of the likeliest;
    ``listen`` is told of progress and may raise :class:`RunCancelled`: then the best so far is the result."""

    robust: bool = False
    starts: int = 1
    weights: Mapping[str, float] = field(default_factory=dict)
    #: Values of other parameters, in place of the model's own.
    fixed: Mapping[str, float] = field(default_factory=dict)
    most_runs: int = 5000
    listen: Callable[[Progress], None] = lambda progress: None


def fit(
    model: LoadedModel,
    data: Sequence[MeasuredData],
    free: Sequence[Free],
    options: FitOptions | None = None,
) -> FitResult:
    """Find the free parameters by experiments that share them.

    Raises :class:`MovrelError` for names and ranges that do not fit, and where the model fails at the start.
    """
    return _Fit(model, data, free, options or FitOptions()).run()


def profile(
    model: LoadedModel,
    data: Sequence[MeasuredData],
    free: Sequence[Free],
    found: FitResult,
    name: str,
    points: int = 9,
    options: FitOptions | None = None,
) -> tuple[list[tuple[float, float]], float]:
    """The profile of the likelihood of one parameter: values with the residual that the others leave at best, and the
    residual up to which a value is within the interval."""
    at = {p.name: p for p in found.parameters}
    own = at[name]
    others = [
        Free(f.name, f.low, min(max(at[f.name].value, f.low), f.high), f.high, f.scale, f.each)
        for f in free
        if f.name != name
    ]
    (chosen,) = [f for f in free if f.name == name]
    width = max(own.high - own.value, own.value - own.low, 1e-9 * abs(own.value))
    curve: list[tuple[float, float]] = []
    solver = _Fit(model, data, free, options or FitOptions())
    for value in np.linspace(
        max(chosen.low, own.value - 2 * width), min(chosen.high, own.value + 2 * width), points
    ):
        curve.append((float(value), solver.cost_with({name: float(value)}, others)))
    n, p = solver.count, len(free)
    limit = found.cost * (
        1.0 + float(f_distribution.ppf(CONFIDENCE, 1, max(n - p, 1))) / max(n - p, 1)
    )
    return curve, limit


class _Fit:
    def __init__(
        self,
        model: LoadedModel,
        data: Sequence[MeasuredData],
        free: Sequence[Free],
        options: FitOptions,
    ) -> None:
        if not data:
            raise MovrelError("there is nothing measured to fit to.")
        for f in free:
            f.check()
        self.model, self.data, self.options = model, list(data), options
        self.free = [
            (f, d.name if f.each else "")
            for f in free
            for d in (self.data if f.each else [self.data[0]])
        ]
        self._check(free)
        starts = [f.name for f in free if f.name.endswith(".start")]
        of_model = [f.name for f in free if not f.name.startswith("offset(")]
        #: Exact runs where the model has no events; others are compared by differences.
        self.exact = [ExactRuns(model, d, of_model) for d in self.data] if is_smooth(model) else []
        self.driven: list[MeasuredModel] = (
            [] if self.exact else [driven(model, d, starts) for d in self.data]
        )
        self.outputs = list(dict.fromkeys(o for d in self.data for o in d.outputs))
        self.weights = {o: self._first_weight(o) for o in self.outputs}
        self.count = sum(int(np.isfinite(v).sum()) for d in self.data for v in d.outputs.values())
        self.runs = self.failures = 0
        self.best: tuple[float, Array] | None = None
        self.notes: list[str] = []

    def _check(self, free: Sequence[Free]) -> None:
        by_name = self.model.by_name
        for d in self.data:
            if len(d.time) < 2 or not (np.diff(d.time) > 0).all():
                raise MovrelError(f"the times of '{d.name}' do not rise.")
            for name, values in d.outputs.items():
                v = by_name.get(name)
                if v is None or v.variability in ("parameter", "constant"):
                    raise MovrelError(
                        f"the model has no variable '{name}' to compare with.",
                        hint=did_you_mean(name, [u.name for u in self.model.flat.unknowns()], ""),
                    )
                if not np.isfinite(values).any():
                    raise MovrelError(f"'{name}' of '{d.name}' holds no numbers.")
        for f in free:
            if f.name.endswith(".start") or f.name.startswith("offset("):
                continue
            v = by_name.get(f.name)
            if not isinstance(v, Variable) or v.variability != "parameter" or v.final:
                known = [
                    u.name for u in self.model.flat.parameters() if u.variability == "parameter"
                ]
                raise MovrelError(
                    f"the model has no parameter '{f.name}' to find.",
                    hint=did_you_mean(f.name, known, ""),
                )
        if self.count_of_samples() <= len(self.free):
            raise MovrelError(
                f"there are {self.count_of_samples()} samples for {len(self.free)} unknowns.",
                hint="Measure more, or find fewer parameters.",
            )

    def count_of_samples(self) -> int:
        return sum(int(np.isfinite(v).sum()) for d in self.data for v in d.outputs.values())

    def _first_weight(self, output: str) -> float:
        if output in self.options.weights:
            return self.options.weights[output]
        values = np.concatenate(
            [np.asarray(d.outputs[output], float) for d in self.data if output in d.outputs]
        )
        span = float(np.ptp(values[np.isfinite(values)]))
        return 1.0 / span if span > 0 else 1.0

    # --- runs ---

    def predicted(self, theta: Array) -> list[dict[str, Array]]:
        """The outputs of each experiment at its instants. Raises whatever a run raises."""
        found: list[dict[str, Array]] = []
        for d, exact in zip(self.data, self.exact, strict=False):
            values, offsets = self._values(theta, d.name)
            self.runs += 1
            outputs = exact.run(values)
            found.append({o: y + offsets.get(o, 0.0) for o, y in outputs.items()})
        for d, m in zip(self.data, self.driven, strict=False):
            values, offsets = self._values(theta, d.name)
            self.runs += 1
            start, stop = float(d.time[0]), float(d.time[-1])
            run = m.loaded.simulate(
                start=start, stop=stop, interval=self._interval(d), tolerance=TOLERANCE,
                set={m.place(k): v for k, v in values.items()},
            )  # fmt: skip
            found.append(
                {
                    o: np.interp(d.time, run.time, run[f"plant.{o}"]) + offsets.get(o, 0.0)
                    for o in d.outputs
                }
            )
        return found

    @staticmethod
    def _interval(d: MeasuredData) -> float:
        """The distance of output points: that of even samples, else a fraction of the usual one."""
        steps = np.diff(d.time)
        usual = float(np.median(steps))
        even = bool((np.abs(steps - usual) <= 1e-6 * usual).all())
        return usual if even else usual / 4

    def _values(self, theta: Array, experiment: str) -> tuple[dict[str, float], dict[str, float]]:
        values = dict(self.options.fixed)
        offsets: dict[str, float] = {}
        for (f, own), inner in zip(self.free, theta, strict=True):
            if own and own != experiment:
                continue
            value = f.outer(float(inner))
            if f.name.startswith("offset("):
                offsets[f.name[7:].rstrip(")")] = value
            else:
                values[f.name] = value
        return values, offsets

    def residual(self, theta: Array) -> Array:
        """Weighted residuals, shape ``(samples,)``; those of a run that fails are large, so that the search steps back."""
        try:
            predicted = self.predicted(theta)
        except RunCancelled:
            raise
        except MovrelError as fault:
            self.failures += 1
            if self.best is None:
                raise MovrelError(
                    f"the model fails with the start values: {fault.message}",
                    hint="Begin at values with which it runs.",
                ) from None
            return np.full(self.count, FAILED)
        parts = [
            self.weights[o] * (p[o] - d.outputs[o])[np.isfinite(d.outputs[o])]
            for d, p in zip(self.data, predicted, strict=True)
            for o in d.outputs
        ]
        r: Array = np.concatenate(parts)
        cost = float(r @ r)
        if not np.isfinite(cost):
            self.failures += 1
            return np.full(self.count, FAILED)
        if self.best is None or cost < self.best[0]:
            self.best = cost, theta.copy()
        names = {
            f.name: f.outer(float(v)) for (f, _), v in zip(self.free, self.best[1], strict=True)
        }
        self.options.listen(Progress(self.runs, names, float(np.sqrt(self.best[0] / self.count))))
        return r

    def slopes(self, theta: Array, r: Array | None = None) -> Array:
        """The Jacobian of the weighted residuals, shape ``(samples, unknowns)``: exact, or by differences of runs with the
        same settings where the model has events or the exact equations come to no end."""
        if self.exact:
            try:
                return self._exact_slopes(theta)
            except RunCancelled:
                raise
            except MovrelError:
                self.failures += 1
        base = self.residual(theta) if r is None else r
        columns = []
        for k, (f, _) in enumerate(self.free):
            low, high = f.inner(f.low), f.inner(f.high)
            step = DIFFERENCE * max(abs(theta[k]), 1e-2 * (high - low))
            step = -step if theta[k] + step > high else step
            moved = theta.copy()
            moved[k] += step
            columns.append((self.residual(moved) - base) / step)
        return np.array(columns).T

    def _exact_slopes(self, theta: Array) -> Array:
        blocks = []
        for d, exact in zip(self.data, self.exact, strict=True):
            values, _ = self._values(theta, d.name)
            slopes = exact.slopes(values)
            self.runs += 1
            for o in d.outputs:
                good = np.isfinite(d.outputs[o])
                columns = np.zeros((int(good.sum()), len(self.free)))
                for k, ((f, own), inner) in enumerate(zip(self.free, theta, strict=True)):
                    if own and own != d.name:
                        continue
                    # A logarithmic unknown: d/d(log v) = v d/dv.
                    factor = f.outer(float(inner)) if f.scale == "log" else 1.0
                    if f.name.startswith("offset("):
                        columns[:, k] = factor if f.name[7:].rstrip(")") == o else 0.0
                    else:
                        columns[:, k] = factor * slopes[o][good, exact.names.index(f.name)]
                blocks.append(self.weights[o] * columns)
        return np.vstack(blocks)

    # --- the search ---

    def run(self) -> FitResult:
        began = clock.perf_counter()
        bounds = (
            np.array([f.inner(f.low) for f, _ in self.free]),
            np.array([f.inner(f.high) for f, _ in self.free]),
        )
        first = np.array([f.inner(f.start) for f, _ in self.free])
        names = [d.name for d in self.data]
        before = self._figures(first)
        theta, stopped = first, False
        try:
            theta = self._from_starts(first, bounds)
            for _ in range(WEIGHTINGS if len(self.outputs) > 1 and not self.options.weights else 0):
                self._weigh(theta)
                self.best = None
                theta = self._search(theta, bounds)
        except RunCancelled:
            stopped = True
            theta = self.best[1] if self.best is not None else first
            self.notes.append("stopped; these are the best values so far.")
        self.options.listen = lambda progress: None
        r = self.residual(theta)
        result = self._result(theta, r, self.slopes(theta, r), before, bounds)
        if self.failures and not stopped:
            self.notes.append(f"{self.failures} runs failed on the way; the search stepped back.")
        result.seconds = clock.perf_counter() - began
        result.first_predictions = dict(zip(names, self.predicted(first), strict=True))
        result.predictions = dict(zip(names, self.predicted(theta), strict=True))
        return result

    def _from_starts(self, first: Array, bounds: tuple[Array, Array]) -> Array:
        best = self._search(first, bounds)
        if self.options.starts <= 1:
            return best
        cost = float(np.sum(self.residual(best) ** 2))
        sampler = qmc.Sobol(len(first), seed=1)
        for point in sampler.random(self.options.starts - 1):
            theta = bounds[0] + point * (bounds[1] - bounds[0])
            found = self._search(theta, bounds)
            other = float(np.sum(self.residual(found) ** 2))
            if other < cost * (1 - 1e-6):
                best, cost = found, other
        return best

    def _search(self, theta: Array, bounds: tuple[Array, Array]) -> Array:
        """Least squares from a start; where outliers are to count less, once more with the size of a usual residual."""
        found = self._least(theta, bounds, 0.0)
        for _ in range(ROBUST_ROUNDS if self.options.robust else 0):
            r = self.residual(found)
            usual = 1.4826 * float(np.median(np.abs(r - np.median(r))))
            found = self._least(found, bounds, max(usual, 1e-12))
        return found

    def _least(self, theta: Array, bounds: tuple[Array, Array], usual: float) -> Array:
        span = bounds[1] - bounds[0]
        answer = least_squares(
            self.residual, np.clip(theta, bounds[0] + 1e-9 * span, bounds[1] - 1e-9 * span), jac=lambda x: self.slopes(x),
            bounds=bounds, x_scale=span, loss="soft_l1" if usual > 0 else "linear", f_scale=usual or 1.0,
            max_nfev=max(3, self.options.most_runs // (len(self.free) + 1)), xtol=1e-9, ftol=1e-10, gtol=1e-12,
        )  # fmt: skip
        return np.array(answer.x, float)

    def _weigh(self, theta: Array) -> None:
        """Weight each output by its own residual."""
        predicted = self.predicted(theta)
        for o in self.outputs:
            off = np.concatenate(
                [
                    (p[o] - d.outputs[o])
                    for d, p in zip(self.data, predicted, strict=True)
                    if o in d.outputs
                ]
            )
            size = float(np.sqrt(np.nanmean(off**2)))
            if size > 0:
                self.weights[o] = 1.0 / size

    def cost_with(self, fixed: Mapping[str, float], others: Sequence[Free]) -> float:
        """The least residual with some parameters held."""
        names = [f.name for f, _ in self.free]
        keep = [k for k, n in enumerate(names) if n not in fixed]
        start = {f.name: f.inner(f.start) for f in others}
        whole = np.array(
            [f.inner(fixed[f.name]) if f.name in fixed else start[f.name] for f, _ in self.free]
        )

        def residual(part: Array) -> Array:
            theta = whole.copy()
            theta[keep] = part
            return self.residual(theta)

        if not keep:
            return float(np.sum(self.residual(whole) ** 2))
        low = np.array([self.free[k][0].inner(self.free[k][0].low) for k in keep])
        high = np.array([self.free[k][0].inner(self.free[k][0].high) for k in keep])
        answer = least_squares(
            residual, np.clip(whole[keep], low + 1e-9 * (high - low), high - 1e-9 * (high - low)), bounds=(low, high),
            x_scale=high - low, diff_step=DIFFERENCE, max_nfev=30,
        )  # fmt: skip
        return float(2.0 * answer.cost)

    # --- what was found ---

    def _figures(self, theta: Array) -> dict[str, dict[str, Agreement]]:
        try:
            predicted = self.predicted(theta)
        except MovrelError as fault:
            raise MovrelError(
                f"the model fails with the start values: {fault.message}",
                hint="Begin at values with which it runs.",
            ) from None
        return {
            d.name: {o: agreement(np.asarray(d.outputs[o], float), p[o]) for o in d.outputs}
            for d, p in zip(self.data, predicted, strict=True)
        }

    def _result(
        self, theta: Array, r: Array, slopes: Array, before: dict[str, dict[str, Agreement]], bounds: tuple[Array, Array]
    ) -> FitResult:  # fmt: skip
        n, p = len(r), len(theta)
        after = self._figures(theta)
        variance = float(r @ r) / max(n - p, 1) * self._inflation(after)
        _, singular, rows = np.linalg.svd(slopes * (bounds[1] - bounds[0]), full_matrices=False)
        open_ones = self._open_directions(singular, rows, np.sqrt(variance))
        scaled = np.where(singular > WEAK * 1e-3 * singular.max(initial=0.0), singular, np.inf)
        covariance = (rows.T / scaled**2) @ rows * variance
        covariance *= np.outer(bounds[1] - bounds[0], bounds[1] - bounds[0])
        deviations = np.sqrt(np.maximum(np.diag(covariance), 0.0))
        lost = {k for direction in open_ones for k in np.flatnonzero(np.abs(direction) > 0.1)}
        quantile = float(t_distribution.ppf(0.5 + CONFIDENCE / 2, max(n - p, 1)))
        parameters: list[Fitted] = []
        for k, ((f, own), inner) in enumerate(zip(self.free, theta, strict=True)):
            half = quantile * deviations[k]
            low, high = (
                f.outer(float(np.clip(inner + s * half, *(b[k] for b in bounds)))) for s in (-1, 1)
            )
            if k in lost:
                low, high = f.low, f.high
            span = bounds[1][k] - bounds[0][k]
            at = (
                "lower"
                if inner - bounds[0][k] < 1e-6 * span
                else "upper"
                if bounds[1][k] - inner < 1e-6 * span
                else ""
            )
            value = f.outer(float(inner))
            deviation = float(deviations[k]) * (value if f.scale == "log" else 1.0)
            parameters.append(Fitted(f.name, value, low, high, deviation, at, own))
            if at:
                self.notes.append(f"'{f.name}' ran into its {at} bound, {value:g}.")
        sizes = np.where(deviations > 0, deviations, 1.0)
        correlation = covariance / np.outer(sizes, sizes)
        return FitResult(
            parameters, np.clip(correlation, -1, 1).tolist(), before, after,
            [self._words(direction, theta, bounds) for direction in open_ones], self.notes, self.runs, 0.0, float(r @ r),
        )  # fmt: skip

    def _inflation(self, after: dict[str, dict[str, Agreement]]) -> float:
        """By how much correlated residuals make the variance of the estimates larger, with a note for each."""
        worst = 1.0
        for figures in after.values():
            for name, a in figures.items():
                if a.inflation == 1:
                    continue
                worst = max(worst, a.inflation)
                note = (
                    f"the residual of '{name}' is correlated ({a.autocorrelation[0]:.2f} from sample to sample); "
                    "the intervals are wider for that."
                )
                if note not in self.notes:
                    self.notes.append(note)
        return worst

    def _open_directions(self, singular: Array, rows: Array, sigma: float) -> list[Array]:
        """Directions in scaled parameters that the data leave open."""
        largest = float(singular.max(initial=0.0))
        return [
            rows[k]
            for k, s in enumerate(singular)
            if s <= WEAK * largest or (s > 0 and sigma / s > OPEN) or s == 0
        ]

    def _words(self, direction: Array, theta: Array, bounds: tuple[Array, Array]) -> str:
        """What a direction means: parameters that appear only together, or not at all."""
        span = bounds[1] - bounds[0]
        relative = np.array(
            [
                d * w / (1.0 if f.scale == "log" else (v if v else w))
                for d, w, v, (f, _) in zip(direction, span, theta, self.free, strict=True)
            ]
        )
        size = np.abs(relative).max()
        part = [k for k in range(len(relative)) if abs(relative[k]) > 0.1 * size]
        names = [self.free[k][0].name for k in part]
        if len(part) == 1:
            return f"'{names[0]}' has no effect on what was measured."
        listed = ", ".join(f"'{n}'" for n in names[:-1]) + f" and '{names[-1]}'"
        if len(part) == 2:
            ratio = relative[part[0]] / relative[part[1]]
            if abs(ratio + 1) < 0.1:
                return f"{listed} appear only as a product."
            if abs(ratio - 1) < 0.1:
                return f"{listed} appear only as a quotient."
        return f"the data determine only a combination of {listed}."


def as_json(result: FitResult) -> dict[str, Any]:
    """What ``movrel fit`` writes."""
    rmse: dict[str, Any] = {}
    for experiment, figures in result.after.items():
        for output, a in figures.items():
            rmse[output if len(result.after) == 1 else f"{experiment}: {output}"] = a.rmse
    return {
        "parameters": {
            p.name if not p.experiment else f"{p.name} ({p.experiment})": {
                "value": p.value, "low": p.low, "high": p.high, "deviation": p.deviation, "at_bound": p.at_bound,
            }
            for p in result.parameters
        },
        "rmse": rmse,
        "fit": {o: a.fit for figures in result.after.values() for o, a in figures.items()},
        "correlation": result.correlation, "undetermined": result.undetermined, "notes": result.notes,
        "runs": result.runs, "seconds": round(result.seconds, 3),
    }  # fmt: skip

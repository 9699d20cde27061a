"""Parameters from measurements: weighted least squares with bounds.

Weighted least squares by a trust region (Branch, Coleman, Li, SIAM J. Sci. Comput. 21, 1999); outputs are weighted by their
own residuals, as is likeliest for noise of unknown size. How sure the values are stands in
:mod:`movrel.analyse.fit_certainty`; profiles of the likelihood and a bootstrap in :mod:`movrel.analyse.fit_intervals`.
"""

from __future__ import annotations

import math
import time as clock
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt
import scipy

from movrel.analyse.experiment import check_data, experiment_with
from movrel.analyse.fit_certainty import certainty
from movrel.analyse.fit_result import FitResult
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.residuals import Agreement, agreement
from movrel.analyse.tangents import NoTangent
from movrel.errors import MovrelError, RunCancelled, did_you_mean
from movrel.model.expression import Variable
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]

#: Step of a difference as a share of a parameter.
DIFFERENCE = 1e-4
#: Largest share of the time that may be held back.
MOST_HELD_BACK = 0.9
#: Residual, in weighted units, that stands for a run that fails.
FAILED = 1e3
#: Evaluations of a search with one unknown held.
SEARCHED = 30
#: Residual, as a share of the range of an output, that is rounding.
ROUNDED_OFF = 1e-9
#: Rounds in which the outputs are weighted anew.
WEIGHTINGS = 2
#: Rounds in which the size of a usual residual is looked at again, where outliers are to count less.
ROBUST_ROUNDS = 4


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a fit is: runs so far, the best values and the size of the residual there."""

    runs: int
    values: dict[str, float]
    cost: float


@dataclass(slots=True)
class FitOptions:
    """``robust`` counts outliers less; ``starts`` tries so many starts; ``weights`` by output, in place of the likeliest;
    ``listen`` is told of progress and may raise :class:`RunCancelled`: then the best so far is the result. The last share
    ``held_back`` of the time of each experiment is not fitted to, but compared with in the end."""

    robust: bool = False
    starts: int = 1
    weights: Mapping[str, float] = field(default_factory=dict)
    #: Values of other parameters, in place of the model's own.
    fixed: Mapping[str, float] = field(default_factory=dict)
    #: Where a search ends: after so many evaluations, so many seconds, or when the sum of squares changes by less than this
    #: share of itself.
    most_runs: int = 5000
    seconds: float = math.inf
    change: float = 1e-8
    held_back: float = 0.0
    listen: Callable[[Progress], None] = lambda progress: None
    #: Searches from further places, ``(unknowns,)`` each, and gives sums of squares and values; by itself one after the other.
    spread: Callable[[Fit, list[Array]], list[tuple[float, Array]]] | None = None


def fit(
    model: LoadedModel,
    data: Sequence[MeasuredData],
    free: Sequence[Free],
    options: FitOptions | None = None,
) -> FitResult:
    """Find the free parameters by experiments that share them.

    Raises :class:`MovrelError` for names and ranges that do not fit, and where the model fails at the start.
    """
    return Fit(model, data, free, options or FitOptions()).run()


def _ends(d: MeasuredData, held_back: float) -> float:
    """The instant up to which an experiment is fitted to."""
    return float(d.time[-1] - held_back * (d.time[-1] - d.time[0]))


def _begun(d: MeasuredData, held_back: float) -> MeasuredData:
    """An experiment without the outputs at its end."""
    if not held_back:
        return d
    fitted = d.time <= _ends(d, held_back)
    return replace(
        d, outputs={o: np.where(fitted, np.asarray(y, float), np.nan) for o, y in d.outputs.items()}
    )


class Fit:
    """A fit; once it was run, ``theta`` holds what it found, shape ``(unknowns,)``, on the scales of the unknowns."""

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
        if not 0.0 <= options.held_back <= MOST_HELD_BACK:
            raise MovrelError(
                f"{100 * options.held_back:g} % of the measurements are held back.",
                hint=f"Hold back at most {100 * MOST_HELD_BACK:g} %.",
            )
        self.model, self.options, self.whole = model, options, list(data)
        self.data = [_begun(d, options.held_back) for d in data]
        self.free = [
            (f, d.name if f.each else "")
            for f in free
            for d in (self.data if f.each else [self.data[0]])
        ]
        self._check(free)
        of_model = [f.name for f in free if not f.name.startswith("offset(")]
        self.experiments = [experiment_with(model, d, of_model) for d in self.data]
        self.outputs = list(dict.fromkeys(o for d in self.data for o in d.outputs))
        self.weights = {o: self._first_weight(o) for o in self.outputs}
        self.count = sum(int(np.isfinite(v).sum()) for d in self.data for v in d.outputs.values())
        self.runs = self.failures = 0
        self.best: tuple[float, Array] | None = None
        #: What the model gives there, by experiment.
        self.best_outputs: list[dict[str, Array]] = []
        self.notes: list[str] = []

    def _check(self, free: Sequence[Free]) -> None:
        by_name = self.model.by_name
        for d in self.data:
            check_data(self.model, d)
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
        predicted: list[dict[str, Array]] = []
        for e in self.experiments:
            values, offsets = self._values(theta, e.data.name)
            self.runs += 1
            predicted.append({o: y + offsets.get(o, 0.0) for o, y in e.run(values).items()})
        return predicted

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
            self.best, self.best_outputs = (cost, theta.copy()), predicted
        names = {
            f.name: f.outer(float(v)) for (f, _), v in zip(self.free, self.best[1], strict=True)
        }
        self.options.listen(Progress(self.runs, names, float(np.sqrt(self.best[0] / self.count))))
        return r

    def slopes(self, theta: Array, r: Array | None = None) -> Array:
        """The Jacobian of the weighted residuals, shape ``(samples, unknowns)``: exact, or by differences of runs with the
        same settings where the equations do not tell it or come to no end."""
        try:
            return self._exact_slopes(theta)
        except NoTangent:
            pass
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
        for e in self.experiments:
            d = e.data
            values, _ = self._values(theta, d.name)
            slopes = e.slopes(values)
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
                        columns[:, k] = factor * slopes[o][good, e.names.index(f.name)]
                blocks.append(self.weights[o] * columns)
        return np.vstack(blocks)

    # --- the search ---

    def run(self) -> FitResult:
        began = clock.perf_counter()
        bounds = self.bounds
        first = np.array([f.inner(f.start) for f, _ in self.free])
        names = [d.name for d in self.data]
        before = self._figures(first)
        theta, stopped = first, False
        try:
            theta = self._from_starts(first, bounds)
            open_weights = len(self.outputs) > 1 and not set(self.outputs) <= set(
                self.options.weights
            )
            for _ in range(WEIGHTINGS if open_weights else 0):
                self._weigh(theta)
                self.best = None
                theta = self._search(theta, bounds)
        except RunCancelled:
            stopped = True
            theta = self.best[1] if self.best is not None else first
            self.notes.append("stopped; these are the best values so far.")
        listen, self.options.listen = self.options.listen, lambda progress: None
        self.theta = theta
        r = self.residual(theta)
        after = self._figures(theta)
        said = certainty(
            self.free, theta, *self._informative(r, self.slopes(theta, r), bounds, after)
        )
        if self.failures and not stopped:
            self.notes.append(f"{self.failures} runs failed on the way; the search stepped back.")
        self.options.listen = listen
        first_predictions, last = [
            dict(zip(names, self.predicted(x), strict=True)) for x in (first, theta)
        ]
        return FitResult(
            said.parameters, said.correlation, before, after, said.undetermined, [*self.notes, *said.notes],
            self.runs, clock.perf_counter() - began, float(r @ r), first_predictions, last, self._checked(last),
        )  # fmt: skip

    def _informative(
        self,
        r: Array,
        slopes: Array,
        bounds: tuple[Array, Array],
        after: Mapping[str, Mapping[str, Agreement]],
    ) -> tuple[Array, Array, tuple[Array, Array], dict[str, dict[str, Agreement]]]:
        """What the certainty of the values is worked out from: without outputs that do not depend on them."""
        counts = np.ones(len(r), bool)
        kept: dict[str, dict[str, Agreement]] = {}
        first = 0
        for d in self.data:
            for o, y in d.outputs.items():
                own = slice(first, first + int(np.isfinite(y).sum()))
                first = own.stop
                if slopes[own].any():
                    kept.setdefault(d.name, {})[o] = after[d.name][o]
                    continue
                counts[own] = False
                self.notes.append(
                    f"'{o}' does not depend on what is to be found; it says nothing about it."
                )
        if not counts.any():
            return r, slopes, bounds, {d: dict(figures) for d, figures in after.items()}
        return r[counts], slopes[counts], bounds, kept

    def _checked(
        self, predictions: Mapping[str, Mapping[str, Array]]
    ) -> dict[str, dict[str, Agreement]]:
        """The figures of what was held back; none where nothing was."""
        if not self.options.held_back:
            return {}
        checked: dict[str, dict[str, Agreement]] = {}
        for d in self.whole:
            later = d.time > _ends(d, self.options.held_back)
            checked[d.name] = {
                o: agreement(np.asarray(y, float)[later], predictions[d.name][o][later])
                for o, y in d.outputs.items()
            }
        return checked

    def _from_starts(self, first: Array, bounds: tuple[Array, Array]) -> Array:
        if self.options.starts <= 1:
            return self._search(first, bounds)
        cost, best = self.search(first)
        # So many that they are spread evenly, and the first of them.
        sampler = scipy.stats.qmc.Sobol(len(first), seed=1)
        exponent = math.ceil(math.log2(self.options.starts))
        places = sampler.random_base2(exponent)[: self.options.starts - 1]
        points = list(bounds[0] + places * (bounds[1] - bounds[0]))
        spread = self.options.spread
        rivals = spread(self, points) if spread else [self.search(point) for point in points]
        for other, rival in rivals:
            if other < cost * (1 - 1e-6):
                best, cost = rival, other
        return best

    def search(self, theta: Array) -> tuple[float, Array]:
        """The sum of squares and the values that a search from ``theta`` ends with; infinite where nothing runs."""
        if self.best is None:
            self.best = np.inf, theta.copy()
        best = self._search(theta, self.bounds)
        r = self.residual(best)
        return (np.inf if (r == FAILED).all() else float(r @ r)), best

    def _search(self, theta: Array, bounds: tuple[Array, Array]) -> Array:
        """Least squares from a start; where outliers are to count less, once more with the size of a usual residual."""
        theta = self._least(theta, bounds, 0.0)
        for _ in range(ROBUST_ROUNDS if self.options.robust else 0):
            r = self.residual(theta)
            usual = 1.4826 * float(np.median(np.abs(r - np.median(r))))
            theta = self._least(theta, bounds, max(usual, 1e-12))
        return theta

    def _least(self, theta: Array, bounds: tuple[Array, Array], usual: float) -> Array:
        span = bounds[1] - bounds[0]
        answer = scipy.optimize.least_squares(
            self.residual, np.clip(theta, bounds[0] + 1e-9 * span, bounds[1] - 1e-9 * span), jac=lambda x: self.slopes(x),
            bounds=bounds, x_scale=span, loss="soft_l1" if usual > 0 else "linear", f_scale=usual or 1.0,
            max_nfev=max(1, self.options.most_runs // (len(self.free) + 1)), xtol=1e-9, ftol=self.options.change, gtol=1e-12,
            callback=self._watch_clock(),
        )  # fmt: skip
        if answer.status <= 0:
            limit = (
                f"{self.options.most_runs} runs"
                if answer.status == 0
                else f"{self.options.seconds:g} s"
            )
            note = f"a search ended after {limit}, before it was at its end."
            self.notes += [note] if note not in self.notes else []
        return np.array(answer.x, float)

    def _watch_clock(self) -> Callable[[scipy.optimize.OptimizeResult], None]:
        until = clock.monotonic() + self.options.seconds

        def watch(intermediate_result: scipy.optimize.OptimizeResult) -> None:
            if clock.monotonic() > until:
                raise StopIteration

        return watch

    def _weigh(self, theta: Array) -> None:
        """Weight each output by its own residual, unless its weight is given."""
        predicted = self.predicted(theta)
        for o in (o for o in self.outputs if o not in self.options.weights):
            off = np.concatenate(
                [
                    (p[o] - d.outputs[o])
                    for d, p in zip(self.data, predicted, strict=True)
                    if o in d.outputs
                ]
            )
            size = float(np.sqrt(np.nanmean(off**2)))
            # What is met to the last digits is no better known than these.
            size = max(size, ROUNDED_OFF / self._first_weight(o))
            self.weights[o] = 1.0 / size

    def with_one_held(self, held: int, value: float, start: Array) -> tuple[float, Array]:
        """The least residual with one unknown held at a value, and the unknowns there; the search begins at ``start``."""
        low, high = self.bounds
        keep = [k for k in range(len(start)) if k != held]
        whole = start.copy()
        whole[held] = value

        def among(part: Array) -> Array:
            theta = whole.copy()
            theta[keep] = part
            return theta

        if keep:
            span = (high - low)[keep]
            answer = scipy.optimize.least_squares(
                lambda part: self.residual(among(part)),
                np.clip(whole[keep], low[keep] + 1e-9 * span, high[keep] - 1e-9 * span),
                jac=lambda part: self.slopes(among(part))[:, keep], bounds=(low[keep], high[keep]), x_scale=span,
                max_nfev=SEARCHED,
            )  # fmt: skip
            whole = among(np.asarray(answer.x, float))
        return float(np.sum(self.residual(whole) ** 2)), whole

    def found_again(self, outputs: Sequence[Mapping[str, Array]]) -> Array:
        """The unknowns that fit other outputs of the same experiments, searched from those that were found."""
        own, self.data, best = self.data, [], self.best
        self.data = [replace(d, outputs=dict(y)) for d, y in zip(own, outputs, strict=True)]
        try:
            return self._least(self.theta, self.bounds, 0.0)
        finally:
            self.data, self.best = own, best

    @property
    def bounds(self) -> tuple[Array, Array]:
        """Lower and upper bounds of the unknowns, shape ``(unknowns,)`` each."""
        return (
            np.array([f.inner(f.low) for f, _ in self.free]),
            np.array([f.inner(f.high) for f, _ in self.free]),
        )

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

"""Fits: known parameters come back within their intervals, slopes are those of differences, what is open is named."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from movrel.analyse.exact_runs import ExactRuns, is_smooth
from movrel.analyse.fit import FitOptions, Progress, fit
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.residuals import accumulated, agreement
from movrel.errors import MovrelError, RunCancelled
from movrel.session import LoadedModel, load

Array = npt.NDArray[np.float64]
LAG = """model Lag parameter Real K = 1; parameter Real T(unit="s") = 1; parameter Real h = 2; parameter Real area = 3;
input Real u(start=0); output Real y; Real x(start=0, fixed=true); Real q;
equation T*der(x) = K*u - x; y = x; q = h*area*x; end Lag;"""
ROBERTSON = """model Kinetics "A to B to C" parameter Real k1 = 0.1; parameter Real k2 = 0.1;
Real a(start=1, fixed=true); Real b(start=0, fixed=true); Real c;
equation der(a) = -k1*a; der(b) = k1*a - k2*b; c = 1 - a - b; end Kinetics;"""
BOUNCE = """model Drop parameter Real e = 0.7; parameter Real g = 9.81; Real h(start=1, fixed=true); Real v(start=0, fixed=true);
equation der(h) = v; der(v) = -g; when h < 0 then reinit(v, -e*pre(v)); end when; end Drop;"""


@pytest.fixture(scope="module")
def lag() -> LoadedModel:
    return load(text=LAG, model="Lag")


def stepped(t: Array) -> Array:
    return np.where(t % 4 < 2, 1.0, -0.5)


def lag_response(t: Array, gain: float, constant: float) -> Array:
    """The exact response to :func:`stepped` at even samples on which it jumps."""
    y = np.zeros_like(t)
    for k in range(len(t) - 1):
        decay = np.exp(-(t[k + 1] - t[k]) / constant)
        y[k + 1] = y[k] * decay + gain * stepped(t[k : k + 1])[0] * (1 - decay)
    return y


def test_slopes_are_those_of_closed_forms(lag: LoadedModel) -> None:
    assert is_smooth(lag)
    t = np.linspace(0, 6, 301)
    data = MeasuredData("step", t, {"y": np.zeros_like(t)}, {"u": np.ones_like(t)}, {"u"})
    exact = ExactRuns(lag, data, ["K", "T"])
    values = {"K": 2.0, "T": 1.5}
    decay = np.exp(-t / 1.5)
    assert np.abs(exact.run(values)["y"] - 2 * (1 - decay)).max() < 1e-7
    slopes = exact.slopes(values)["y"]
    assert np.abs(slopes[:, 0] - (1 - decay)).max() < 1e-7
    assert np.abs(slopes[:, 1] + 2 * t / 1.5**2 * decay).max() < 1e-6


def test_slopes_with_ramps_loops_and_starts_are_those_of_tight_integrations() -> None:
    text = """model M parameter Real k = 2; parameter Real x0 = 0.5; parameter Real double = 2*k; input Real u(start=0);
    Real x(start=x0, fixed=true); Real z; equation der(x) = u - k*x + 0.1*z; z + z^3 = double*x; end M;"""
    t = np.linspace(1, 4, 16)
    u = np.sin(3 * t)

    def z_of(x: float, k: float) -> float:
        return float(brentq(lambda z: z + z**3 - 2 * k * x, -10, 10, xtol=1e-15))

    def tight(k: float, x: float) -> Array:
        row = [x]
        for i in range(len(t) - 1):
            way = solve_ivp(
                lambda s, y: [np.interp(s, t, u) - k * y[0] + 0.1 * z_of(y[0], k)],
                (t[i], t[i + 1]), [row[-1]], rtol=1e-10, atol=1e-12,
            )  # fmt: skip
            row.append(float(way.y[0, -1]))
        return np.array(row)

    data = MeasuredData("ramp", t, {"x": np.zeros_like(t)}, {"u": u})
    exact = ExactRuns(load(text=text, model="M"), data, ["k", "x.start"])
    values = {"k": 1.7, "x.start": 0.8}
    assert np.abs(exact.run(values)["x"] - tight(1.7, 0.8)).max() < 1e-6
    slopes = exact.slopes(values)["x"]
    step = 1e-4
    assert (
        np.abs(slopes[:, 0] - (tight(1.7 + step, 0.8) - tight(1.7 - step, 0.8)) / (2 * step)).max()
        < 1e-6
    )
    assert (
        np.abs(slopes[:, 1] - (tight(1.7, 0.8 + step) - tight(1.7, 0.8 - step)) / (2 * step)).max()
        < 1e-6
    )
    assert slopes[:, 1].max() > 0.5


@pytest.mark.parametrize(("constant", "samples"), [(1.5, 13), (1.5, 1201), (1e-3, 13)])
def test_steps_from_sample_to_sample_are_short_enough(constant: float, samples: int) -> None:
    """Straight lines between samples, far apart, close together, and with a lag too fast for explicit steps."""
    text = """model Ramped parameter Real K = 1; parameter Real T = 1; input Real u(start=0); Real x(start=0.3, fixed=true);
    equation T*der(x) = K*u - x; end Ramped;"""
    t = np.linspace(0, 12, samples)
    u = np.interp(t, [0, 4, 6, 12], [0, 2, -1, 1])

    def exact(gain: float, lag: float) -> Array:
        x, out = 0.3, [0.3]
        for k in range(len(t) - 1):
            h, slope = t[k + 1] - t[k], (u[k + 1] - u[k]) / (t[k + 1] - t[k])
            steady = gain * (u[k] - slope * lag)
            x = (x - steady) * np.exp(-h / lag) + steady + gain * slope * h
            out.append(x)
        return np.array(out)

    runs = ExactRuns(load(text=text, model="Ramped"), MeasuredData("r", t, {"x": 0 * t}, {"u": u}), ["K", "T"])  # fmt: skip
    values = {"K": 2.0, "T": constant}
    assert np.abs(runs.run(values)["x"] - exact(2.0, constant)).max() < 2e-7
    slopes = runs.slopes(values)["x"]
    for k, (up, down) in enumerate(
        (
            (exact(2.0 + 1e-6, constant), exact(2.0 - 1e-6, constant)),
            (exact(2.0, constant * (1 + 1e-6)), exact(2.0, constant * (1 - 1e-6))),
        )
    ):
        by_hand = (up - down) / (2e-6 * (constant if k else 1.0))
        assert np.abs(slopes[:, k] - by_hand).max() < 1e-5 * max(np.abs(by_hand).max(), 1.0)


def test_states_of_any_size(lag: LoadedModel) -> None:
    # The same plant in units in which its state is 1e-13, against its closed form.
    t = np.linspace(0, 12, 241)
    data = MeasuredData("small", t, {"y": lag_response(t, 2e-13, 1.5)}, {"u": stepped(t)}, {"u"})
    exact = ExactRuns(lag, data, ["K", "T"])
    found = exact.run({"K": 2e-13, "T": 1.5})["y"]
    assert np.abs(found - data.outputs["y"]).max() < 1e-6 * 2e-13
    fitted = fit(lag, [data], [Free("K", 1e-14, 1e-13, 1e-12), Free("T", 0.1, 1, 10)])
    assert [p.value for p in fitted.parameters] == pytest.approx([2e-13, 1.5], rel=1e-5)


def test_known_parameters_lie_within_their_intervals_as_often_as_stated(lag: LoadedModel) -> None:
    t = np.linspace(0, 12, 241)
    clean = lag_response(t, 2.0, 1.5)
    inside = 0
    seeds = 50
    for seed in range(seeds):
        noisy = clean + 0.05 * np.random.default_rng(seed).standard_normal(len(t))
        data = MeasuredData("steps", t, {"y": noisy}, {"u": stepped(t)}, {"u"})
        found = fit(lag, [data], [Free("K", 0.1, 1, 10), Free("T", 0.1, 1, 10)])
        for p, true in zip(found.parameters, (2.0, 1.5), strict=True):
            inside += p.low <= true <= p.high
            assert p.value == pytest.approx(true, rel=0.05)
    # 95 of 100, give or take what 100 draws leave open.
    assert 88 <= inside <= 100


def test_an_exact_series_is_found_again() -> None:
    # Bateman's equations with k1 = 0.6, k2 = 0.25, as in textbooks of kinetics.
    model = load(text=ROBERTSON, model="Kinetics")
    t = np.linspace(0, 12, 40)
    a = np.exp(-0.6 * t)
    b = 0.6 / (0.25 - 0.6) * (np.exp(-0.6 * t) - np.exp(-0.25 * t))
    data = MeasuredData("batch", t, {"b": b, "c": 1 - a - b})
    for scale in ("linear", "log"):
        found = fit(
            model, [data], [Free("k1", 0.01, 0.1, 5, scale), Free("k2", 0.01, 0.1, 5, scale)]
        )  # type: ignore[arg-type]
        assert [p.value for p in found.parameters] == pytest.approx([0.6, 0.25], rel=1e-5)


def test_what_appears_only_together_is_named(lag: LoadedModel) -> None:
    t = np.linspace(0, 6, 121)
    noise = 0.01 * np.random.default_rng(1).standard_normal(len(t))
    y = 12.0 * lag_response(t, 1.0, 1.0) + noise
    data = MeasuredData("heat", t, {"q": y}, {"u": stepped(t)}, {"u"})
    found = fit(
        lag, [data], [Free("h", 0.5, 2, 20), Free("area", 0.5, 3, 20), Free("T", 0.2, 0.7, 5)]
    )
    assert found.undetermined == ["'h' and 'area' appear only as a product."]
    h, area, constant = found.parameters
    assert h.value * area.value == pytest.approx(12.0, rel=1e-2)
    assert (h.low, h.high) == (0.5, 20)
    assert constant.low < 1.0 < constant.high
    idle = fit(lag, [MeasuredData("y", t, {"y": y / 12}, {"u": stepped(t)}, {"u"})], [Free("K", 0.1, 2, 9), Free("h", 1, 2, 3)])  # fmt: skip
    assert idle.undetermined == ["'h' has no effect on what was measured."]


def test_several_experiments_share_parameters_and_have_their_own(lag: LoadedModel) -> None:
    t = np.linspace(0, 8, 161)
    data = []
    for k, offset in enumerate((0.2, -0.1)):
        noise = 0.01 * np.random.default_rng(k).standard_normal(len(t))
        y = lag_response(t, 2.0, 1.5) + offset + noise
        data.append(MeasuredData(f"run {k}", t, {"y": y}, {"u": stepped(t)}, {"u"}))
    free = [Free("K", 0.1, 1, 10), Free("T", 0.1, 1, 10), Free("offset(y)", -1, 0, 1, each=True)]
    found = fit(lag, data, free)
    values = {(p.name, p.experiment): p.value for p in found.parameters}
    assert values["K", ""] == pytest.approx(2.0, abs=0.01)
    assert values["offset(y)", "run 0"] == pytest.approx(0.2, abs=0.01)
    assert values["offset(y)", "run 1"] == pytest.approx(-0.1, abs=0.01)


def test_through_events() -> None:
    model = load(text=BOUNCE, model="Drop")
    t = np.linspace(0, 1.2, 121)
    true = model.simulate(stop=1.2, interval=0.01, set={"e": 0.8, "g": 9.5}, tolerance=1e-10)
    y = np.interp(t, true.time, true["h"])
    found = fit(
        model,
        [MeasuredData("film", t, {"h": y})],
        [Free("e", 0.5, 0.75, 0.95), Free("g", 9, 9.7, 10.5)],
    )
    assert [p.value for p in found.parameters] == pytest.approx([0.8, 9.5], rel=1e-5)


def test_a_correlated_residual_widens_the_intervals(lag: LoadedModel) -> None:
    t = np.linspace(0, 12, 241)
    drawn = np.random.default_rng(4).standard_normal(len(t))
    coloured = np.zeros_like(drawn)
    for k in range(1, len(t)):
        coloured[k] = 0.8 * coloured[k - 1] + 0.6 * drawn[k]
    free = [Free("K", 0.1, 1, 10)]
    widths = []
    for noise in (drawn, coloured):
        data = MeasuredData(
            "m", t, {"y": lag_response(t, 2, 1) + 0.05 * noise}, {"u": stepped(t)}, {"u"}
        )
        found = fit(lag, [data], free)
        widths.append(found.parameters[0].high - found.parameters[0].low)
    assert widths[1] > 2 * widths[0]
    assert any("correlated" in n for n in found.notes)


def test_outliers_count_less_when_asked(lag: LoadedModel) -> None:
    t = np.linspace(0, 12, 241)
    y = lag_response(t, 2.0, 1.0) + 0.01 * np.random.default_rng(6).standard_normal(len(t))
    y[::12] += 1.5
    data = [MeasuredData("m", t, {"y": y}, {"u": stepped(t)}, {"u"})]
    free = [Free("K", 0.1, 1, 10)]
    plain, robust = (
        fit(lag, data, free, FitOptions(robust=r)).parameters[0].value for r in (False, True)
    )
    assert abs(robust - 2) < 0.3 * abs(plain - 2)


def test_what_is_held_back_is_only_compared_with(lag: LoadedModel) -> None:
    """A drift in the last fifth: the fit does not feel it, its check does."""
    t = np.linspace(0, 10, 101)
    late = np.maximum(t - 8.0, 0.0)
    data = MeasuredData(
        "drift", t, {"y": lag_response(t, 2.5, 1.7) + 0.3 * late}, {"u": stepped(t)}, {"u"}
    )
    free = [Free("K", 0.1, 1, 10), Free("T", 0.1, 1, 10)]
    found = fit(lag, [data], free, FitOptions(held_back=0.2))
    assert found.values()["K"] == pytest.approx(2.5, rel=1e-4)
    checked = found.checked["drift"]["y"]
    assert found.after["drift"]["y"].rmse < 1e-4
    assert checked.rmse == pytest.approx(
        0.3 * float(np.sqrt(np.mean(late[late > 0] ** 2))), rel=1e-3
    )
    with pytest.raises(MovrelError, match="at most 90 %"):
        fit(lag, [data], free, FitOptions(held_back=0.95))


def test_deviations_that_are_known_are_the_weights(lag: LoadedModel) -> None:
    """Two outputs that contradict each other: the one that was measured a hundred times as well decides."""
    t = np.linspace(0, 10, 101)
    outputs = {"y": lag_response(t, 2.0, 1.5), "q": 6 * lag_response(t, 2.4, 1.5)}
    data = MeasuredData("both", t, outputs, {"u": stepped(t)}, {"u"})
    for weights, gain in (({"y": 100.0, "q": 1 / 6}, 2.0), ({"y": 1.0, "q": 100.0}, 2.4)):
        fitted = fit(
            lag, [data], [Free("K", 0.1, 1, 10)], FitOptions(weights=weights, fixed={"T": 1.5})
        )
        assert fitted.values()["K"] == pytest.approx(gain, rel=1e-3)


def test_an_output_that_says_nothing_changes_nothing(lag: LoadedModel) -> None:
    t = np.linspace(0, 10, 101)
    noisy = lag_response(t, 2.0, 1.5) + 0.05 * np.random.default_rng(2).standard_normal(len(t))
    free = [Free("K", 0.1, 1, 10), Free("T", 0.1, 1, 10)]
    alone, both = (
        fit(lag, [MeasuredData("m", t, outputs, {"u": stepped(t)}, {"u"})], free)
        for outputs in ({"y": noisy}, {"y": noisy, "u": stepped(t)})
    )
    for one, other in zip(alone.parameters, both.parameters, strict=True):
        assert (other.value, other.low, other.high) == pytest.approx(
            (one.value, one.low, one.high), rel=1e-5
        )
    assert any("'u' does not depend" in n for n in both.notes)


def test_a_stop_keeps_the_best(lag: LoadedModel) -> None:
    seen: list[Progress] = []

    def listen(progress: Progress) -> None:
        seen.append(progress)
        if progress.runs > 6:
            raise RunCancelled("stopped")

    t = np.linspace(0, 6, 61)
    data = [MeasuredData("m", t, {"y": lag_response(t, 2, 1.5)}, {"u": stepped(t)}, {"u"})]
    found = fit(
        lag, data, [Free("K", 0.1, 9, 10), Free("T", 0.1, 9, 10)], FitOptions(listen=listen)
    )
    assert found.notes[0].startswith("stopped")
    assert found.parameters[0].value == pytest.approx(seen[-1].values["K"])


@pytest.mark.parametrize(
    ("free", "words"),
    [
        (Free("nothing", 0, 1, 2), "no parameter 'nothing'"),
        (Free("K", 2, 1, 3), "no range"),
        (Free("K", 0, 1, 2, "log"), "above zero"),
        (Free("z.start", 0, 1, 2), "no state 'z'"),
    ],
)
def test_bad_questions_are_named(lag: LoadedModel, free: Free, words: str) -> None:
    t = np.linspace(0, 1, 11)
    data = MeasuredData("m", t, {"y": t}, {"u": t})
    with pytest.raises(MovrelError, match=words):
        fit(lag, [data], [free])


def test_data_that_cannot_bear_a_fit_are_named(lag: LoadedModel) -> None:
    t = np.array([0.0, 1.0])
    with pytest.raises(MovrelError, match="2 samples for 2 unknowns"):
        fit(
            lag,
            [MeasuredData("m", t, {"y": t}, {"u": t})],
            [Free("K", 0, 1, 2), Free("T", 0.1, 1, 2)],
        )
    with pytest.raises(MovrelError, match="no input 'v'"):
        fit(
            lag,
            [MeasuredData("m", np.arange(5.0), {"y": np.arange(5.0)}, {"v": np.arange(5.0)})],
            [Free("K", 0, 1, 2)],
        )
    with pytest.raises(MovrelError, match="do not rise"):
        fit(
            lag,
            [MeasuredData("m", np.array([0, 1, 1.0]), {"y": np.zeros(3)})],
            [Free("K", 0, 1, 2)],
        )


def test_figures_of_agreement() -> None:
    y = np.array([0.0, 1, 2, 3])
    found = agreement(y, y + np.array([0.1, -0.1, 0.1, -0.1]))
    assert found.rmse == pytest.approx(0.1)
    assert found.mean_absolute == pytest.approx(0.1)
    assert found.bias == pytest.approx(0.0, abs=1e-15)
    assert found.r2 == pytest.approx(1 - 0.04 / 5)
    assert accumulated(y, y, y + 1).tolist() == [0, 1, 2, 3]

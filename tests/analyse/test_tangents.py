"""Slopes of runs through events, against closed forms."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt
import pytest
from scipy.optimize import brentq

from movrel.analyse.experiment import experiment_with
from movrel.analyse.linear_steps import LinearSteps
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.tangents import NoTangent
from movrel.analyse.traced_runs import TracedRuns
from movrel.session import load

Array = npt.NDArray[np.float64]


def slopes_of(text: str, t: Array, values: dict[str, float], outputs: list[str]) -> dict[str, Array]:  # fmt: skip
    model = load(text=text, model=text.split()[1])
    data = MeasuredData("run", t, {o: np.zeros_like(t) for o in outputs})
    return TracedRuns(model, data, list(values)).slopes(values)


def away_from(t: Array, instants: list[float], distance: float) -> npt.NDArray[np.bool_]:
    return np.array([min(abs(x - i) for i in instants) > distance for x in t])


def test_a_ball_that_bounces() -> None:
    """h and v between bounces as polynomials, their slopes by g, e and the first height as differences of these."""

    def state(t: float, g: float, e: float, h0: float) -> tuple[float, float]:
        fall = math.sqrt(2 * h0 / g)
        if t < fall:
            return h0 - g * t * t / 2, -g * t
        at, v = fall, e * g * fall
        while t > at + 2 * v / g:
            at, v = at + 2 * v / g, e * v
        s = t - at
        return v * s - g * s * s / 2, v - g * s

    text = """model Drop parameter Real g = 9.81; parameter Real e = 0.8; Real h(start = 1, fixed = true);
    Real v(start = 0, fixed = true); equation der(h) = v; der(v) = -g;
    when h <= 0 then reinit(v, -e*pre(v)); end when; end Drop;"""
    t = np.linspace(0.0, 2.2, 221)
    values = {"g": 9.6, "e": 0.75, "h.start": 1.2}
    slopes = slopes_of(text, t, values, ["h", "v"])
    fall = math.sqrt(2 * 1.2 / 9.6)
    bounces = [fall * (1 + 2 * sum(0.75**k for k in range(1, n))) for n in range(1, 6)]
    good = away_from(t, bounces, 1e-3)
    for k, name in enumerate(values):
        step = 1e-6 * values[name]
        up, down = (
            np.array([state(x, *{**values, name: values[name] + side * step}.values()) for x in t])
            for side in (1, -1)
        )
        exact = (up - down) / (2 * step)
        for j, output in enumerate(("h", "v")):
            error = np.abs(slopes[output][:, k] - exact[:, j])[good].max()
            assert error < 1e-6 * np.abs(exact[:, j]).max(), (name, output)


def test_a_thermostat_that_counts_and_remembers() -> None:
    """Between switchings an exponential; the memory of the last switching moves with it."""

    def history(power: float, low: float, high: float) -> list[tuple[float, float, float]]:
        at, temperature, on, pieces = 0.0, 18.0, True, []
        while at < 60:
            rest = 15 + power * on
            pieces.append((at, temperature, rest))
            limit = high if on else low
            at += 10 * math.log((temperature - rest) / (limit - rest))
            temperature, on = limit, not on
        return pieces

    def temperature(t: float, pieces: list[tuple[float, float, float]]) -> float:
        at, start, rest = [p for p in pieces if p[0] <= t][-1]
        return rest + (start - rest) * math.exp(-(t - at) / 10)

    def last_off(t: float, pieces: list[tuple[float, float, float]], power: float) -> float:
        offs = [at for at, _, rest in pieces if rest == 15 and at <= t]
        return offs[-1] * power if offs else 0.0

    text = """model Thermostat parameter Real P = 12; parameter Real low = 19; parameter Real high = 21;
    Real T(start = 18, fixed = true); discrete Boolean on(start = true, fixed = true); Real heat; Real noted;
    discrete Real last(start = 0, fixed = true);
    equation 10*der(T) = 15 - T + heat; heat = if on then P else 0; noted = 2*last + T;
    when T > high then on = false; elsewhen T < low then on = true; end when;
    when not on then last = time*P; end when; end Thermostat;"""
    t = np.linspace(0, 60, 241)
    values = {"P": 12.0, "low": 19.0, "high": 21.0}
    slopes = slopes_of(text, t, values, ["T", "last", "noted"])
    good = away_from(t, [at for at, _, _ in history(**_named(values))], 1e-2)
    for k, name in enumerate(values):
        sides = []
        for side in (1e-6, -1e-6):
            own = {**values, name: values[name] + side}
            pieces = history(**_named(own))
            sides.append(
                np.array([[temperature(x, pieces), last_off(x, pieces, own["P"])] for x in t])
            )
        exact = (sides[0] - sides[1]) / 2e-6
        size = np.abs(exact).max(axis=0)
        for j, output in enumerate(("T", "last")):
            error = np.abs(slopes[output][:, k] - exact[:, j])[good].max()
            assert error < 1e-5 * size[j], (name, output)
        both = np.abs(slopes["noted"][:, k] - 2 * exact[:, 1] - exact[:, 0])[good].max()
        assert both < 1e-5 * size.max()


def _named(values: dict[str, float]) -> dict[str, float]:
    return {"power": values["P"], "low": values["low"], "high": values["high"]}


def test_a_sampled_controller() -> None:
    """A lag under a proportional controller that samples: a recurrence, in which an event in time moves nothing."""
    text = """model Sampled parameter Real K = 2; parameter Real w = 1; parameter Real T = 1.5; Real x(start = 0.3, fixed = true);
    discrete Real u(start = 0, fixed = true); equation T*der(x) = u - x;
    when sample(0, 0.25) then u = K*(w - x); end when; end Sampled;"""

    def recurrence(t: Array, gain: float, wanted: float, constant: float) -> Array:
        x, out = 0.3, []
        for instant in t:
            x, at = 0.3, 0.0
            while at + 0.25 <= instant + 1e-9:
                u = gain * (wanted - x)
                x, at = u + (x - u) * math.exp(-0.25 / constant), at + 0.25
            u = gain * (wanted - x)
            out.append(u + (x - u) * math.exp(-(instant - at) / constant))
        return np.array(out)

    t = np.linspace(0, 5.0, 51)
    values = {"K": 2.0, "w": 1.0, "T": 1.5}
    slopes = slopes_of(text, t, values, ["x"])["x"]
    for k, name in enumerate(values):
        up, down = (
            recurrence(t, *{**values, name: values[name] + side}.values()) for side in (1e-6, -1e-6)
        )
        exact = (up - down) / 2e-6
        assert np.abs(slopes[:, k] - exact).max() < 1e-6 * np.abs(exact).max(), name


def test_an_implicit_loop_and_a_limit_that_is_reached() -> None:
    """z + z^3 = c x drives x until it reaches a limit, where the law changes: quadrature by z, then a straight line."""
    text = """model Limit parameter Real c = 2; parameter Real top = 1.5; Real x(start = 0.5, fixed = true); Real z;
    equation z + z^3 = c*x; der(x) = if x < top then z else 0.25*z; end Limit;"""
    values = {"c": 2.0, "top": 1.5}
    t = np.linspace(0, 3, 61)
    slopes = slopes_of(text, t, values, ["x", "z"])

    def solution(c: float, top: float) -> Array:
        # With x = (z + z^3)/c, dt = (1 + 3 z^2)/(c z) dz: t = (ln z + 1.5 z^2)/c but for a constant, slower by four beyond.
        def of(x: float) -> float:
            return float(brentq(lambda z: z + z**3 - c * x, 0, 10, xtol=1e-15))

        def spent(z: float) -> float:
            return (math.log(z) + 1.5 * z * z) / c

        first, limit = of(0.5), of(top)
        change = spent(limit) - spent(first)
        out = []
        for instant in t:
            target = spent(first) + min(instant, change) + 0.25 * max(instant - change, 0.0)
            z = limit
            for _ in range(60):
                z -= (spent(z) - target) / ((1 / z + 3 * z) / c)
            out.append(((z + z**3) / c, z))
        return np.array(out)

    for k, name in enumerate(values):
        up, down = (solution(**{**values, name: values[name] + side}) for side in (1e-6, -1e-6))
        exact = (up - down) / 2e-6
        for j, output in enumerate(("x", "z")):
            error = np.abs(slopes[output][:, k] - exact[:, j]).max()
            assert error < 5e-6 * np.abs(exact[:, j]).max(), (name, output)


def test_uneven_samples_are_met_between_steps_and_events() -> None:
    text = """model Uneven parameter Real T = 1.5; Real x(start = 2, fixed = true); Real y; Real b(start = 0, fixed = true);
    equation T*der(x) = -x; y = x^2 + b; der(b) = if x < 1 then 1 else 0; end Uneven;"""
    t = np.concatenate([[0.0], np.geomspace(1e-3, 6, 40)])
    data = MeasuredData("log", t, {"x": 0 * t, "y": 0 * t})
    runs = TracedRuns(load(text=text, model="Uneven"), data, ["T"]).run({"T": 1.5})
    x = 2 * np.exp(-t / 1.5)
    assert np.abs(runs["x"] - x).max() < 1e-6
    assert np.abs(runs["y"] - x**2 - np.maximum(t - 1.5 * math.log(2), 0)).max() < 2e-6


@pytest.mark.parametrize("n", [3, 60])
def test_linear_steps_of_a_chain(n: int) -> None:
    """Heat along a chain with an algebraic end, dense and sparse: against its modes."""
    # s' = L s + e_1 z, 0 = z - 2 s_n + 1 written with z eliminated is s' = B s - e_1.
    chain = -2 * np.eye(n) + np.eye(n, k=1) + np.eye(n, k=-1)
    whole = np.zeros((n + 1, n + 1))
    whole[:n, :n] = chain
    whole[0, n] = 1.0
    whole[n, n - 1], whole[n, n] = -0.2, 1.0
    closed = chain.copy()
    closed[0, n - 1] += 0.2
    rows, columns = np.nonzero(whole)
    steps = LinearSteps(n, n + 1, rows, columns)
    width = np.full(40, 0.05)
    gains = np.zeros((40, 3, n + 1, 1))
    gains[:, :, n] = 1.0
    entries = np.tile(whole[rows, columns], (40, 3, 1))
    begin = np.linspace(1, 2, n).reshape(n, 1)
    s, speed = steps.go(begin, width, entries, gains)
    forced = np.zeros((n, 1))
    forced[0] = -1.0
    rest = -np.linalg.solve(closed, forced)
    rates, modes = np.linalg.eig(closed)
    there = rest + (modes * np.exp(rates * 2.0)) @ np.linalg.solve(modes, begin - rest)
    assert np.abs(s[-1] - there.real).max() < 1e-8
    assert np.abs(speed[-1] - (closed @ s[-1] + forced)).max() < 1e-12
    assert np.allclose(steps.speed(begin, entries[0, 0], gains[0, 0]), closed @ begin + forced)


@pytest.mark.parametrize("cells", [3, 520])
def test_a_chain_of_any_size_has_exact_slopes(cells: int) -> None:
    """Heat that spreads from one end: the sum over the cells falls by what leaves at the other end, and every cell is
    proportional to the temperature at the beginning; few cells and many take different ways."""
    text = f"""model Chain parameter Real g = 2; parameter Real T0 = 10; Real T[{cells}](start = T0*ones({cells}), each fixed = true);
    equation der(T[1]) = g*(T[2] - T[1]); for i in 2:{cells - 1} loop der(T[i]) = g*(T[i-1] - 2*T[i] + T[i+1]); end for;
    der(T[{cells}]) = g*(T[{cells - 1}] - 2*T[{cells}]); end Chain;"""
    model = load(text=text, model="Chain")
    t = np.linspace(0, 3, 601)
    data = MeasuredData("r", t, {f"T[{cells}]": 0 * t})
    values = {"g": 1.7, "T0": 12.0}
    runs = experiment_with(model, data, list(values))
    y, slopes = runs.run(values)[f"T[{cells}]"], runs.slopes(values)[f"T[{cells}]"]
    assert np.abs(slopes[:, 1] - y / 12.0).max() < 1e-6
    # g and time appear only as a product.
    assert np.abs(1.7 * slopes[5:-5, 0] - t[5:-5] * np.gradient(y, t)[5:-5]).max() < 2e-3


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("model Late parameter Real k=1; Real x(start=1,fixed=true); equation der(x) = -k*delay(x, 0.1); end Late;", "delays"),
        ("model Edge parameter Real k=1; Real x(start=1,fixed=true); discrete Real n(start=0,fixed=true);"
         " equation der(x) = -x; when time >= k - 1 then n = 1; end when; end Edge;", "side a relation begins"),
        ("model Paced parameter Real k=1; Real x(start=1,fixed=true); discrete Real n(start=0,fixed=true);"
         " equation der(x) = -x; when sample(0, k) then n = x; end when; end Paced;", "when it samples"),
    ],
)  # fmt: skip
def test_what_has_no_slopes_says_so(text: str, reason: str) -> None:
    t = np.linspace(0, 1, 11)
    with pytest.raises(NoTangent, match=reason):
        slopes_of(text, t, {"k": 1.0}, ["x"])

"""Process parts against closed forms, tables of the trade and independent integrations; what flows in flows out or stays."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from movrel.errors import MovrelError
from tests.library.conftest import example, run

G, P = 9.80665, "Movrel.Process."


def test_a_cone_runs_empty_with_the_power_five_halves() -> None:
    """dV/dt = -C_d A sqrt(2 g h) with the area falling in proportion to the level: h^1.5 falls at a steady rate."""
    r = example("Process.ConeTank")
    rate = 1.5 * 0.62 * math.pi * 0.05**2 / 4 * math.sqrt(2 * G)
    assert r["tank.level"] == pytest.approx((0.9**1.5 - rate * r.time) ** (2 / 3), rel=1e-3)
    assert r["gauge.level"] == pytest.approx(r["tank.level"])
    area = 0.0001 + 0.9999 * r["tank.level"]
    assert r["tank.V"] == pytest.approx(r["tank.level"] * (0.0001 + area) / 2, rel=1e-9)


def test_a_pumped_line_settles_where_the_heads_meet() -> None:
    r = example("Process.PumpedLine")
    before = np.searchsorted(r.time, 299)
    q = r["meter.q"][before]
    level = r["sump.level"][before]

    def surplus(flow: float) -> float:
        head = np.interp(flow, [0, 0.01, 0.02, 0.03], [20, 18, 12, 0])
        v = flow / (math.pi * 0.01 / 4)
        re = 1000 * v * 0.1 / 1e-3
        lam = brentq(
            lambda x: 1 / math.sqrt(x) + 2 * math.log10(2.51 / (re * math.sqrt(x)) + 0.1e-3 / 0.37),
            1e-3,
            0.2,
        )
        pipe = (lam * 800 + 4) * 1000 * v * v / 2
        opening = (50**0.7 - 1) / 49
        valve = 1e5 * (flow * 3600 / (60 * opening)) ** 2
        flap = 1e5 * (flow * 3600 / 100) ** 2
        return 1000 * G * (head + level) - pipe - 1000 * G * 5 - valve - flap

    assert q == pytest.approx(brentq(surplus, 1e-3, 0.0299), rel=5e-3)
    # At another speed head and flow follow the affinity laws.
    n = 120 / 152
    late = r["meter.q"][-1]
    assert r["pump.head"][-1] == pytest.approx(
        n**2 * np.interp(late / n, [0, 0.01, 0.02, 0.03], [20, 18, 12, 0]), rel=1e-6
    )
    assert r["pressure.p"] - r["sump.outlet.p"] == pytest.approx(
        1000 * G * r["pump.head"], rel=1e-6
    )
    # The upper tank runs over with 2/3 C_d b sqrt(2 g) h^1.5, and nothing is lost.
    over = np.clip(r["upper.level"] - 1.5, 0, None)
    assert r["upper.q_over"] == pytest.approx(
        2 / 3 * 0.6 * 0.4 * math.sqrt(2 * G) * over**1.5, abs=1e-9
    )
    water = 50 * r["sump.level"] + 4 * r["upper.level"] + r["back.discharged"]
    assert water == pytest.approx(np.full(len(water), water[0]), abs=1e-3)


@pytest.mark.parametrize(
    ("q", "rough", "lam"),
    [(1e-4, 0, None), (7.854e-3, 0, 0.0180), (7.854e-2, 0, 0.01165), (7.854e-2, 1e-3, 0.0379)],
)
def test_pipe_friction_is_that_of_the_chart(q: float, rough: float, lam: float | None) -> None:
    """Moody's chart: Re = 1e5 and 1e6 smooth, and fully rough with k/d = 0.01; laminar 64/Re."""
    r = run(
        f"{P}Inflow a; {P}Pipe p(l=10, d=0.1, k={rough}); {P}Outfall b; equation a.q = {q}; connect(a.port, p.a); connect(p.b, b.port);",
        1, 1,
    )  # fmt: skip
    v = q / (math.pi * 0.01 / 4)
    expected = lam or 64 / (1000 * v * 0.1 / 1e-3)
    assert r["p.dp"][-1] == pytest.approx(expected * 100 * 1000 * v**2 / 2, rel=1e-2)
    assert r["p.lambda"][-1] == pytest.approx(expected, rel=1e-2)


def test_a_surge_in_a_long_line() -> None:
    r = example("Process.Surge")

    def rates(t: float, s: np.ndarray) -> list[float]:
        volume, q = s
        p = (1e5 + 101325) * (1 / (2 - volume)) ** 1.2 - 101325
        v = q / (math.pi * 0.15**2 / 4)
        return [
            q,
            (2e5 - p - 0.02 * 200 / 0.15 * 1000 * v * abs(v) / 2)
            / (1000 * 200)
            * math.pi
            * 0.15**2
            / 4,
        ]

    exact = solve_ivp(rates, (0, 60), [1, 0], rtol=1e-10, atol=1e-12, dense_output=True)
    assert r["line.q"] == pytest.approx(exact.sol(r.time)[1], abs=1e-6)
    assert r["vessel.V"] == pytest.approx(exact.sol(r.time)[0], abs=1e-6)


@pytest.mark.parametrize(
    ("kind", "lift", "share"),
    [
        ("linear", 0.3, 0.3),
        ("equal_percentage", 0.5, (50**0.5 - 1) / 49),
        ("quick", 0.25, 0.5),
        ("linear", 2.0, 1.0),
    ],
)
def test_valves_by_their_characteristic(kind: str, lift: float, share: float) -> None:
    """K_v cubic metres an hour at 1 bar with water."""
    r = run(
        f"{P}Source a(p=1e5); {P}Valve v(K_v=36, characteristic={P}Characteristic.{kind}); {P}Outfall b; equation v.lift = {lift};"
        " connect(a.port, v.a); connect(v.b, b.port);", 1, 1,
    )  # fmt: skip
    assert r["v.q"][-1] == pytest.approx(0.01 * share, rel=1e-4)


def test_a_check_valve_lets_through_one_way() -> None:
    r = run(
        f"{P}CheckValve v(K_v=36, dp_open=2e4); {P}Source a(p=1.2e5); {P}Outfall b; {P}CheckValve w(K_v=36); {P}Source c(p=1e5);"
        " equation connect(a.port, v.a); connect(v.b, b.port); connect(w.a, b.port); connect(w.b, c.port);", 1, 1,
    )  # fmt: skip
    assert r["v.q"][-1] == pytest.approx(0.01, rel=1e-3) and abs(r["w.q"][-1]) < 2e-8


def test_a_reactor_with_a_law_of_ones_own() -> None:
    """A batch with the saturating rate v c1/(K + c1): K ln(c0/c) + c0 - c = v t."""
    r = run(
        f"{P}Mixtures.StirredReactor reactor(n=2, r=1, nu=[-1, 1], own_law=true, law={{0.8*reactor.c[1]/(50 + reactor.c[1])}}, c_start={{200, 0}});",
        400, 10, tolerance=1e-8,
    )  # fmt: skip
    c = r["reactor.c[1]"]
    assert 50 * np.log(200 / c) + 200 - c == pytest.approx(0.8 * r.time, rel=1e-5, abs=1e-4)
    assert r["reactor.c[2]"] == pytest.approx(200 - c, abs=1e-6)


def test_a_reactor_against_an_independent_integration() -> None:
    r = example("Process.Reactor")

    def rates(t: float, s: np.ndarray) -> list[float]:
        a, b, temperature = s
        k = 2e-3 * math.exp(-6e4 / 8.314462618 * (1 / temperature - 1 / 298.15))
        flow = 0.5 / 1000 / 0.5
        heat = (
            0.5 * 4180 * (293.15 - temperature) + 0.5 * 8e4 * k * a + 2000 * (288.15 - temperature)
        )
        return [flow * (2000 - a) - k * a, -flow * b + k * a, heat / (1000 * 4180 * 0.5)]

    exact = solve_ivp(
        rates, (0, 6000), [0, 0, 293.15], rtol=1e-9, atol=1e-9, dense_output=True, method="LSODA"
    )
    assert r["reactor.T"] == pytest.approx(exact.sol(r.time)[2], abs=1e-3)
    for j in (1, 2):
        assert r[f"reactor.c[{j}]"] == pytest.approx(exact.sol(r.time)[j - 1], abs=0.05)
    assert r["sensor.T"][-1] == pytest.approx(r["reactor.T"][-1], abs=1e-6)


def test_streams_mix_and_split() -> None:
    r = example("Process.Mixing")
    assert r["meter.T"][-1] == pytest.approx((2 * 333.15 + 283.15) / 3, abs=1e-6)
    assert r["meter.c[1]"][-1] == pytest.approx(2.0, rel=1e-9)
    assert r["r1.a.m"][-1] == pytest.approx(2.0, rel=1e-9) and r["r2.a.m"][-1] == pytest.approx(
        1.0, rel=1e-9
    )
    assert r["meter.b.p"][-1] == pytest.approx(2000)


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        (f"{P}Valve p(K_v=0)", "K_v must be positive"),
        (f"{P}Tank p(shape=[0, 1; 1, 0])", "every area in the table of the shape"),
        (f"{P}Tank p(shape=[0, 1; 2, 1; 1, 1], level_start=0.5)", "does not increase after row"),
        (f"{P}GasVessel p(V_start=2)", "V_start must be less than the vessel holds"),
    ],
)
def test_parts_guard_their_parameters(parts: str, words: str) -> None:
    if "Valve" in parts:
        text = f"{parts}; {P}Source a; {P}Outfall b; equation p.lift = 1; connect(a.port, p.a); connect(p.b, b.port);"
    elif "Tank" in parts:
        text = f"{parts}; {P}Outfall b; {P}Orifice o; equation connect(p.outlet, o.a); connect(o.b, b.port);"
    else:
        text = f"{parts};"
    with pytest.raises(MovrelError, match=words):
        run(text, 1)


def test_a_basin_fills_until_both_flows_agree() -> None:
    """q = C_d A sqrt(2 g h): h = (q/(C_d A))^2/(2 g)."""
    r = example("Process.Filling")
    area = math.pi * 0.06**2 / 4
    assert r["basin.level"][-1] == pytest.approx(
        (5e-3 / (r["outlet.C_d"][-1] * area)) ** 2 / (2 * 9.80665), rel=2e-2
    )

"""Published circuits: transistor amplifiers and ring modulator; a bridge rectifier with exponential diodes.

Source of the first two: Mazzia and Magherini, Test Set for Initial Value Problem Solvers.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

import movrel

TRANSISTOR_AMPLIFIER = """model Amplifier
  parameter Real Ub = 6, UF = 0.026, alpha = 0.99, beta = 1e-6, R0 = 1000, R = 9000, pi = 3.1415926535897932;
  parameter Real C1 = 1e-6, C2 = 2e-6, C3 = 3e-6, C4 = 4e-6, C5 = 5e-6;
  Real y1, y2, y3(start = 3, fixed = true), y4, y5, y6(start = 3, fixed = true), y7, y8(start = 0), Ue;
  Real u1(start = -3, fixed = true) "over C1", u3(start = 3, fixed = true) "over C3", u5(start = 6, fixed = true) "over C5";
  function g input Real x; output Real y; algorithm y := 1e-6*(exp(x/0.026) - 1); end g;
equation
  Ue = 0.1*sin(200*pi*time);
  u1 = y1 - y2; u3 = y4 - y5; u5 = y7 - y8;
  C1*der(u1) = Ue/R0 - y1/R0;
  C1*der(u1) = -Ub/R + y2*(1/R + 1/R) - (alpha - 1)*g(y2 - y3);
  C2*der(y3) = g(y2 - y3) - y3/R;
  C3*der(u3) = Ub/R - y4/R - alpha*g(y2 - y3);
  C3*der(u3) = -Ub/R + y5*(1/R + 1/R) - (alpha - 1)*g(y5 - y6);
  C4*der(y6) = g(y5 - y6) - y6/R;
  C5*der(u5) = Ub/R - y7/R - alpha*g(y5 - y6);
  C5*der(u5) = y8/R;
end Amplifier;"""


@pytest.mark.parametrize("solver", ["bdf", "dae"])
def test_transistor_amplifier(solver: str) -> None:
    r = movrel.load(text=TRANSISTOR_AMPLIFIER).simulate(
        stop=0.2, interval=0.001, tolerance=1e-9, solver=solver
    )
    exact = [
        -0.5562145012262709e-2, 0.3006522471903042e1, 0.2849958788608128e1, 0.2926422536206241e1, 0.2704617865010554e1,
        0.2761837778393145e1, 0.4770927631616772e1, 0.1236995868091548e1,
    ]  # fmt: skip
    assert [r[f"y{i}"][-1] for i in range(1, 9)] == pytest.approx(exact, rel=2e-5)


#: Hairer and Wanner, Solving Ordinary Differential Equations II, section VI.1.
ONE_TRANSISTOR = """model Amplifier
  parameter Real Ub = 6, UF = 0.026, R0 = 1000, R = 9000, C1 = 1e-6, C2 = 2e-6, C3 = 3e-6, pi = 3.1415926535897932;
  Real U1, U2, U3(start = 3, fixed = true), U4, U5, i;
  Real u1(start = -3, fixed = true) "over C1", u3(start = 6, fixed = true) "over C3";
equation
  u1 = U1 - U2; u3 = U4 - U5; i = 1e-6*(exp((U2 - U3)/UF) - 1);
  C1*der(u1) = (0.4*sin(200*pi*time) - U1)/R0;
  C1*der(u1) = -Ub/R + 2*U2/R + 0.01*i;
  C2*der(U3) = i - U3/R;
  C3*der(u3) = (Ub - U4)/R - 0.99*i;
  C3*der(u3) = U5/R;
end Amplifier;"""


def one_transistor(stop: float) -> np.ndarray:
    """U1 to U5 at the end, with the base voltage found by bisection and the states integrated at 1e-12."""

    def rest(t: float, y: np.ndarray) -> np.ndarray:
        u1, emitter, u3 = y
        feed = 0.4 * math.sin(200 * math.pi * t)

        def current(base: float) -> float:
            return 1e-6 * math.expm1((base - emitter) / 0.026)

        base = brentq(
            lambda v: (feed - v - u1) / 1000 + 6 / 9000 - 2 * v / 9000 - 0.01 * current(v),
            -20, emitter + 0.7, xtol=1e-15, rtol=1e-15,
        )  # fmt: skip
        collector = (6 / 9000 + u3 / 9000 - 0.99 * current(base)) * 4500
        return np.array([u1 + base, base, emitter, collector, collector - u3, current(base)])

    def rates(t: float, y: np.ndarray) -> list[float]:
        input_, _, emitter, _, output, i = rest(t, y)
        feed = 0.4 * math.sin(200 * math.pi * t)
        return [(feed - input_) / 1000 / 1e-6, (i - emitter / 9000) / 2e-6, output / 9000 / 3e-6]

    y = solve_ivp(rates, (0, stop), [-3, 3, 6], "Radau", rtol=1e-12, atol=1e-13).y[:, -1]
    return rest(stop, y)[:5]


@pytest.mark.parametrize("solver", ["bdf", "dae", "radau"])
def test_one_transistor(solver: str) -> None:
    r = movrel.load(text=ONE_TRANSISTOR).simulate(
        stop=0.02, interval=0.001, tolerance=1e-9, solver=solver
    )
    assert [r[f"U{i}"][-1] for i in range(1, 6)] == pytest.approx(one_transistor(0.02), rel=3e-6)


RING_MODULATOR = """model Ring
  parameter Real C = 1.6e-8, Cs = 2e-12, Cp = 1e-8, Lh = 4.45, Ls1 = 0.002, Ls2 = 5e-4, Ls3 = 5e-4, gam = 40.67286402e-9;
  parameter Real R = 25000, Rp = 50, Rg1 = 36.3, Rg2 = 17.3, Rg3 = 17.3, Ri = 50, Rc = 600, delta = 17.7493332, pi = 3.141592653589793238;
  Real y[15](each start = 0, each fixed = true, each nominal = 1e-4); Real UD1, UD2, UD3, UD4, Uin1, Uin2;
  function q input Real u; output Real i; algorithm i := 40.67286402e-9*(exp(17.7493332*u) - 1); end q;
equation
  UD1 = y[3] - y[5] - y[7] - Uin2; UD2 = -y[4] + y[6] - y[7] - Uin2; UD3 = y[4] + y[5] + y[7] + Uin2; UD4 = -y[3] - y[6] + y[7] + Uin2;
  Uin1 = 0.5*sin(2000*pi*time); Uin2 = 2*sin(20000*pi*time);
  der(y[1]) = 1/C*(y[8] - 0.5*y[10] + 0.5*y[11] + y[14] - y[1]/R);
  der(y[2]) = 1/C*(y[9] - 0.5*y[12] + 0.5*y[13] + y[15] - y[2]/R);
  der(y[3]) = 1/Cs*(y[10] - q(UD1) + q(UD4));
  der(y[4]) = 1/Cs*(-y[11] + q(UD2) - q(UD3));
  der(y[5]) = 1/Cs*(y[12] + q(UD1) - q(UD3));
  der(y[6]) = 1/Cs*(-y[13] - q(UD2) + q(UD4));
  der(y[7]) = 1/Cp*(-y[7]/Rp + q(UD1) + q(UD2) - q(UD3) - q(UD4));
  der(y[8]) = -1/Lh*y[1];
  der(y[9]) = -1/Lh*y[2];
  der(y[10]) = 1/Ls2*(0.5*y[1] - y[3] - Rg2*y[10]);
  der(y[11]) = 1/Ls3*(-0.5*y[1] + y[4] - Rg3*y[11]);
  der(y[12]) = 1/Ls2*(0.5*y[2] - y[5] - Rg2*y[12]);
  der(y[13]) = 1/Ls3*(-0.5*y[2] + y[6] - Rg3*y[13]);
  der(y[14]) = 1/Ls1*(-y[1] + Uin1 - (Ri + Rg1)*y[14]);
  der(y[15]) = 1/Ls1*(-y[2] - (Rc + Rg1)*y[15]);
end Ring;"""


def test_ring_modulator() -> None:
    r = movrel.load(text=RING_MODULATOR).simulate(stop=1e-3, interval=1e-5, tolerance=1e-9)
    exact = {1: -0.2339057358486745e-1, 2: -0.7367485485540825e-2, 3: 0.2582956709291169, 4: -0.4064465721283450,
             5: -0.4039455665149794, 6: 0.2607966765422943, 7: 0.1106761861269975}  # fmt: skip
    assert [r[f"y[{i}]"][-1] for i in exact] == pytest.approx(list(exact.values()), rel=1e-4)


BRIDGE = """package Bridge "full-wave rectifier with exponential diodes and a smoothing capacitor"
  connector Pin Real v(unit = "V"); flow Real i(unit = "A"); end Pin;
  partial model TwoPin Pin p, n; Real v(unit = "V"); Real i(unit = "A"); equation v = p.v - n.v; i = p.i; p.i + n.i = 0; end TwoPin;
  model Diode extends TwoPin; parameter Real Is(unit = "A") = 1e-9; parameter Real Vt(unit = "V") = 0.04;
  equation i = Is*(exp(v/Vt) - 1); end Diode;
  model Resistor extends TwoPin; parameter Real R(unit = "Ohm") = 1; equation v = R*i; end Resistor;
  model Capacitor extends TwoPin; parameter Real C(unit = "F") = 1; equation C*der(v) = i; end Capacitor;
  model Source extends TwoPin; parameter Real V = 10, f = 50; equation v = V*sin(2*3.14159265358979*f*time); end Source;
  model Ground Pin p; equation p.v = 0; end Ground;
  model Rectifier
    Source source; Resistor inner_(R = 0.5); Diode d[4]; Resistor load(R = 100); Capacitor c(C = 1e-3, v(start = 0, fixed = true)); Ground g;
  equation
    connect(source.p, inner_.p);
    connect(inner_.n, d[1].p); connect(d[1].n, c.p);
    connect(source.n, d[2].p); connect(d[2].n, c.p);
    connect(c.n, d[3].p); connect(d[3].n, inner_.n);
    connect(c.n, d[4].p); connect(d[4].n, source.n);
    connect(load.p, c.p); connect(load.n, c.n); connect(c.n, g.p);
  end Rectifier;
end Bridge;"""


def bridge_current(u: float, uc: float) -> float:
    """Current out of the source for source voltage u and capacitor voltage uc, from one scalar equation.

    Seen from the source the bridge is symmetric: with |u| the pair of conducting diodes carries i_f and
    the other pair blocks at -(uc + v_d).
    """

    def out_of_balance(i: float) -> float:
        # Node voltages: a = u + w - 0.5 i, b = w (source minus); solve w from i_b + i = 0 inside.
        w = brentq(
            lambda w: balance(w, u + w - 0.5 * i), -(abs(u) + uc + 20), abs(u) + uc + 20, xtol=1e-14
        )
        a = u + w - 0.5 * i
        return diode(a - uc) - diode(-a) - i

    def diode(v: float) -> float:
        return 1e-9 * (np.exp(min(v / 0.04, 60.0)) - 1)

    def balance(w: float, a: float) -> float:
        return diode(a - uc) - diode(-a) + diode(w - uc) - diode(-w)

    return brentq(out_of_balance, -25, 25, xtol=1e-13)


def test_bridge_rectifier() -> None:
    """Against an integration in which the diodes' equations are solved by bracketing at every step."""
    r = movrel.load(text=BRIDGE, model="Bridge.Rectifier").simulate(
        stop=0.03, interval=1e-3, tolerance=1e-8
    )

    def rate(t: float, y: np.ndarray) -> list[float]:
        return [
            (abs(bridge_current(10 * np.sin(2 * 3.14159265358979 * 50 * t), y[0])) - y[0] / 100)
            / 1e-3
        ]

    exact = solve_ivp(rate, (0, 0.03), [0.0], "LSODA", t_eval=r.time, rtol=1e-7, atol=1e-9)
    assert np.abs(r["c.v"] - exact.y[0]).max() < 2e-4
    assert 7.5 < r["c.v"][-1] < 9.5
    # Power balance: what the source gives is stored in the capacitor and lost in resistors and diodes.
    given = -r["source.v"] * r["source.i"]
    taken = r["c.v"] * r["c.i"] + r["load.v"] * r["load.i"] + r["inner_.v"] * r["inner_.i"]
    taken = taken + sum(r[f"d[{k}].v"] * r[f"d[{k}].i"] for k in range(1, 5))
    assert given == pytest.approx(taken, abs=1e-7)


IDEAL = """package Ideal "diodes that are switches: a curve with a parameter along it"
  connector Pin Real v(unit = "V"); flow Real i(unit = "A"); end Pin;
  partial model TwoPin Pin p, n; Real v(unit = "V"); Real i(unit = "A"); equation v = p.v - n.v; i = p.i; p.i + n.i = 0; end TwoPin;
  model Diode extends TwoPin; parameter Real Ron = 1e-5, Goff = 1e-5; Boolean off(start = true); Real s(start = 0);
  equation off = s < 0; v = s*(if off then 1 else Ron); i = s*(if off then Goff else 1); end Diode;
  model Resistor extends TwoPin; parameter Real R = 1; equation v = R*i; end Resistor;
  model Capacitor extends TwoPin; parameter Real C = 1; equation C*der(v) = i; end Capacitor;
  model Source extends TwoPin; parameter Real V = 10, f = 50; equation v = V*sin(2*3.14159265358979*f*time); end Source;
  model Ground Pin p; equation p.v = 0; end Ground;
  model Bridge Source source; Diode d[4]; Resistor load(R = 50); Ground g; replaceable Resistor other(R = 1e9) constrainedby TwoPin;
  equation
    connect(source.p, d[1].p); connect(d[1].n, load.p); connect(source.n, d[2].p); connect(d[2].n, load.p);
    connect(load.n, d[3].p); connect(d[3].n, source.p); connect(load.n, d[4].p); connect(d[4].n, source.n); connect(load.n, g.p);
    connect(other.p, load.p); connect(other.n, load.n);
  end Bridge;
  model Smoothed extends Bridge(redeclare Capacitor other(C = 1e-3, v(start = 0, fixed = true))); end Smoothed;
end Ideal;"""


def test_an_ideal_bridge_turns_the_voltage_up() -> None:
    """Four diodes switch at the same instant; the load sees the absolute value of the source."""
    r = movrel.load(text=IDEAL, model="Ideal.Bridge").simulate(stop=0.05, interval=1e-4)
    exact = np.abs(10 * np.sin(2 * 3.14159265358979 * 50 * r.time))
    assert r["load.v"] == pytest.approx(exact, abs=2e-2)
    away = np.abs(exact) > 0.05
    for k in (1, 4):
        assert np.array_equal(r[f"d[{k}].off"][away], (r["source.v"][away] < 0).astype(float))


def test_an_ideal_bridge_with_a_capacitor_conducts_around_the_peaks_only() -> None:
    r = movrel.load(text=IDEAL, model="Ideal.Smoothed").simulate(stop=0.1, interval=1e-4)
    late = r.time > 0.06
    level = np.abs(10 * np.sin(2 * 3.14159265358979 * 50 * r.time))
    assert r["load.v"][late].min() > 8 and r["load.v"].max() < 10.001
    assert (r["load.v"][late] >= level[late] - 1e-3).all()
    # While all diodes block, the capacitor discharges through the load with R*C = 50 ms.
    blocked = late & (r["d[1].off"] > 0.5) & (r["d[2].off"] > 0.5)
    pairs = [
        k
        for k in range(len(r.time) - 1)
        if blocked[k] and blocked[k + 1] and r.time[k + 1] > r.time[k]
    ]
    ratio = r["load.v"][[k + 1 for k in pairs]] / r["load.v"][pairs]
    assert ratio == pytest.approx(np.exp(-np.diff(r.time)[pairs] / 0.05), rel=1e-4)

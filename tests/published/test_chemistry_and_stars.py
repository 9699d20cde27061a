"""Published initial value problems with their published solutions.

Source: Mazzia and Magherini, Test Set for Initial Value Problem Solvers, release 2.4 (2008); Hairer
and Wanner, Solving Ordinary Differential Equations II.
"""

from __future__ import annotations

import numpy as np
import pytest

import movrel

ROBERTSON = """model Robertson "autocatalytic reaction"
  Real y1(start = 1, fixed = true, nominal = 1e-6), y2(start = 0, fixed = true, nominal = 1e-10), y3(start = 0, fixed = true);
equation
  der(y1) = -0.04*y1 + 1e4*y2*y3;
  der(y2) = 0.04*y1 - 1e4*y2*y3 - 3e7*y2^2;
  der(y3) = 3e7*y2^2;
end Robertson;"""

HIRES = """model Hires "high irradiance response of a plant"
  Real y[8](start = {1, 0, 0, 0, 0, 0, 0, 0.0057}, each fixed = true, each nominal = 1e-3);
equation
  der(y[1]) = -1.71*y[1] + 0.43*y[2] + 8.32*y[3] + 0.0007;
  der(y[2]) = 1.71*y[1] - 8.75*y[2];
  der(y[3]) = -10.03*y[3] + 0.43*y[4] + 0.035*y[5];
  der(y[4]) = 8.32*y[2] + 1.71*y[3] - 1.12*y[4];
  der(y[5]) = -1.745*y[5] + 0.43*y[6] + 0.43*y[7];
  der(y[6]) = -280*y[6]*y[8] + 0.69*y[4] + 1.71*y[5] - 0.43*y[6] + 0.69*y[7];
  der(y[7]) = 280*y[6]*y[8] - 1.81*y[7];
  der(y[8]) = -der(y[7]);
end Hires;"""

PLEIADES = """model Pleiades "seven stars in a plane, masses 1 to 7"
  parameter Integer n = 7;
  Real x[n](start = {3, 3, -1, -3, 2, -2, 2}, each fixed = true), y[n](start = {3, -3, 2, 0, 0, -4, 4}, each fixed = true);
  Real vx[n](start = {0, 0, 0, 0, 0, 1.75, -1.5}, each fixed = true), vy[n](start = {0, 0, 0, -1.25, 1, 0, 0}, each fixed = true);
  function pull "attraction by body j over distance" input Real d, a, b; output Real f;
  algorithm f := d/(a^2 + b^2)^1.5; end pull;
equation
  der(x) = vx; der(y) = vy;
  for i in 1:n loop
    der(vx[i]) = sum(if j == i then 0 else j*pull(x[j] - x[i], x[i] - x[j], y[i] - y[j]) for j in 1:n);
    der(vy[i]) = sum(if j == i then 0 else j*pull(y[j] - y[i], x[i] - x[j], y[i] - y[j]) for j in 1:n);
  end for;
end Pleiades;"""

VAN_DER_POL = """model VanDerPol
  parameter Real mu = 1000; Real y(start = 2, fixed = true), v(start = 0, fixed = true, nominal = 1e-3);
equation der(y) = v; der(v) = mu*(1 - y^2)*v - y; end VanDerPol;"""


@pytest.mark.parametrize("solver", ["bdf", "dae", "radau"])
def test_robertson(solver: str) -> None:
    r = movrel.load(text=ROBERTSON).simulate(
        stop=1e11, interval=1e10, tolerance=1e-9, solver=solver
    )
    exact = (0.2083340149701255e-07, 0.8333360770334713e-13, 0.9999999791665050)
    assert (r["y1"][-1], r["y2"][-1], r["y3"][-1]) == pytest.approx(exact, rel=2e-4)
    assert np.abs(r["y1"] + r["y2"] + r["y3"] - 1).max() < 1e-7


def test_hires() -> None:
    r = movrel.load(text=HIRES).simulate(stop=321.8122, interval=321.8122 / 10, tolerance=1e-9)
    exact = [
        0.7371312573325668e-3, 0.1442485726316185e-3, 0.5888729740967575e-4, 0.1175651343283149e-2, 0.2386356198831331e-2,
        0.6238968252742796e-2, 0.2849998395185769e-2, 0.2850001604814231e-2,
    ]  # fmt: skip
    assert [r[f"y[{i}]"][-1] for i in range(1, 9)] == pytest.approx(exact, rel=1e-5)


@pytest.mark.parametrize("solver", ["adams", "rk45"])
def test_pleiades(solver: str) -> None:
    r = movrel.load(text=PLEIADES).simulate(stop=3, interval=0.1, tolerance=1e-11, solver=solver)
    x = [
        0.3706139143970502, 0.3237284092057233e1, -0.3222559032418324e1, 0.6597091455775310, 0.3425581707156584,
        0.1562172101400631e1, -0.7003092922212495,
    ]  # fmt: skip
    y = [
        -0.3943437585517392e1, -0.3271380973972550e1, 0.5225081843456543e1, -0.2590612434977470e1, 0.1198213693392275e1,
        -0.2429682344935824, 0.1091449240428980e1,
    ]  # fmt: skip
    assert [r[f"x[{i}]"][-1] for i in range(1, 8)] == pytest.approx(x, rel=1e-5)
    assert [r[f"y[{i}]"][-1] for i in range(1, 8)] == pytest.approx(y, rel=1e-5)


@pytest.mark.parametrize("solver", ["bdf", "dae", "radau"])
def test_van_der_pol(solver: str) -> None:
    r = movrel.load(text=VAN_DER_POL).simulate(
        stop=2000, interval=100, tolerance=1e-9, solver=solver
    )
    assert r["y"][-1] == pytest.approx(1.706167732170469, rel=1e-5)
    assert r["v"][-1] == pytest.approx(-0.8928097010248125e-6 * 1000, rel=1e-4)


MEDICAL_AKZO = """model Medakzo "penetration of radio-labelled antibodies into tissue, semi-discretised"
  parameter Integer n = 200; parameter Real k = 100; parameter Real c = 4; final parameter Real d = 1/n;
  Real u[n](each start = 0, each fixed = true), v[n](each start = 1, each fixed = true); Real phi;
  final parameter Real alpha[n] = {2*(j*d - 1)^3/c^2 for j in 1:n}; final parameter Real beta[n] = {(j*d - 1)^4/c^2 for j in 1:n};
equation
  phi = if time <= 5 then 2 else 0;
  der(u[1]) = alpha[1]*(u[2] - phi)/(2*d) + beta[1]*(phi - 2*u[1] + u[2])/d^2 - k*u[1]*v[1];
  for j in 2:n-1 loop
    der(u[j]) = alpha[j]*(u[j+1] - u[j-1])/(2*d) + beta[j]*(u[j-1] - 2*u[j] + u[j+1])/d^2 - k*u[j]*v[j];
  end for;
  der(u[n]) = -k*u[n]*v[n];
  for j in 1:n loop der(v[j]) = -k*v[j]*u[j]; end for;
end Medakzo;"""


def test_medical_akzo() -> None:
    r = movrel.load(text=MEDICAL_AKZO).simulate(stop=20, interval=1, tolerance=1e-9)
    # y[2j-1] = u[j]: components 79, 149 and 199 of the published solution.
    exact = {40: 0.2339942217046434e-3, 75: 0.3595616017506735e-3, 100: 0.1173741304462833e-3}
    assert [r[f"u[{j}]"][-1] for j in exact] == pytest.approx(list(exact.values()), rel=1e-4)
    assert [e.time for e in r.events] == pytest.approx([5.0], abs=1e-12)

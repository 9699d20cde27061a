"""Constrained mechanisms: Andrews' squeezing mechanism, pendulum in Cartesian coordinates, gear train."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.special import ellipk

import movrel

ANDREWS = """model Andrews "squeezing mechanism; Hairer and Wanner, Solving ODEs II, VII.7"
  parameter Real m1 = 0.04325, m2 = 0.00365, m3 = 0.02373, m4 = 0.00706, m5 = 0.07050, m6 = 0.00706, m7 = 0.05498;
  parameter Real I1 = 2.194e-6, I2 = 4.410e-7, I3 = 5.255e-6, I4 = 5.667e-7, I5 = 1.169e-5, I6 = 5.667e-7, I7 = 1.912e-5;
  parameter Real xa = -0.06934, ya = -0.00227, xb = -0.03635, yb = 0.03273, xc = 0.014, yc = 0.072, d = 28e-3, da = 115e-4;
  parameter Real e = 2e-2, ea = 1421e-5, rr = 7e-3, ra = 92e-5, l0 = 7785e-5, ss = 35e-3, sa = 1874e-5, sb = 1043e-5, sc = 18e-3;
  parameter Real sd = 2e-2, ta = 2308e-5, tb = 916e-5, u = 4e-2, ua = 1228e-5, ub = 449e-5, zf = 2e-2, zt = 4e-2, fa = 1421e-5;
  parameter Real c0 = 4530, mom = 0.033;
  Real beta(start = -0.0617138900142764496), theta(start = 0, fixed = true), gamma(start = 0.455279819163070380);
  Real phi(start = 0.222668390165885884), delta(start = 0.487364979543842550), omega(start = -0.222668390165885884);
  Real epsilon(start = 1.23054744454982119);
  Real vb, vt(start = 0, fixed = true), vg, vp, vd, vo, ve; Real l[6]; Real xd, yd, lang, force, fx, fy;
equation
  der(beta) = vb; der(theta) = vt; der(gamma) = vg; der(phi) = vp; der(delta) = vd; der(omega) = vo; der(epsilon) = ve;
  xd = sd*cos(gamma) + sc*sin(gamma) + xb; yd = sd*sin(gamma) - sc*cos(gamma) + yb;
  lang = sqrt((xd - xc)^2 + (yd - yc)^2); force = -c0*(lang - l0)/lang; fx = force*(xd - xc); fy = force*(yd - yc);
  (m1*ra^2 + m2*(rr^2 - 2*da*rr*cos(theta) + da^2) + I1 + I2)*der(vb) + (m2*(da^2 - da*rr*cos(theta)) + I2)*der(vt)
    = mom - m2*da*rr*vt*(vt + 2*vb)*sin(theta) - ((-rr*sin(beta) + d*sin(beta + theta))*(l[1] + l[3] + l[5])
      + (rr*cos(beta) - d*cos(beta + theta))*(l[2] + l[4] + l[6]));
  (m2*(da^2 - da*rr*cos(theta)) + I2)*der(vb) + (m2*da^2 + I2)*der(vt)
    = m2*da*rr*vb^2*sin(theta) - (d*sin(beta + theta)*(l[1] + l[3] + l[5]) - d*cos(beta + theta)*(l[2] + l[4] + l[6]));
  (m3*(sa^2 + sb^2) + I3)*der(vg) = fx*(sc*cos(gamma) - sd*sin(gamma)) + fy*(sd*cos(gamma) + sc*sin(gamma))
    - (-ss*cos(gamma)*l[1] - ss*sin(gamma)*l[2]);
  (m4*(e - ea)^2 + I4)*der(vp) + (m4*((e - ea)^2 + zt*(e - ea)*sin(phi)) + I4)*der(vd)
    = m4*zt*(e - ea)*vd^2*cos(phi) - (-e*cos(phi + delta)*l[3] - e*sin(phi + delta)*l[4]);
  (m4*((e - ea)^2 + zt*(e - ea)*sin(phi)) + I4)*der(vp)
    + (m4*(zt^2 + 2*zt*(e - ea)*sin(phi) + (e - ea)^2) + m5*(ta^2 + tb^2) + I4 + I5)*der(vd)
    = -m4*zt*(e - ea)*vp*(vp + 2*vd)*cos(phi)
      - ((-e*cos(phi + delta) + zt*sin(delta))*l[3] + (-e*sin(phi + delta) - zt*cos(delta))*l[4]);
  (m6*(zf - fa)^2 + I6)*der(vo) + (m6*((zf - fa)^2 - u*(zf - fa)*sin(omega)) + I6)*der(ve)
    = -m6*u*(zf - fa)*ve^2*cos(omega) - (zf*sin(omega + epsilon)*l[5] - zf*cos(omega + epsilon)*l[6]);
  (m6*((zf - fa)^2 - u*(zf - fa)*sin(omega)) + I6)*der(vo)
    + (m6*((zf - fa)^2 - 2*u*(zf - fa)*sin(omega) + u^2) + m7*(ua^2 + ub^2) + I6 + I7)*der(ve)
    = m6*u*(zf - fa)*vo*(vo + 2*ve)*cos(omega)
      - ((zf*sin(omega + epsilon) - u*cos(epsilon))*l[5] + (-zf*cos(omega + epsilon) - u*sin(epsilon))*l[6]);
  rr*cos(beta) - d*cos(beta + theta) - ss*sin(gamma) - xb = 0;
  rr*sin(beta) - d*sin(beta + theta) + ss*cos(gamma) - yb = 0;
  rr*cos(beta) - d*cos(beta + theta) - e*sin(phi + delta) - zt*cos(delta) - xa = 0;
  rr*sin(beta) - d*sin(beta + theta) + e*cos(phi + delta) - zt*sin(delta) - ya = 0;
  rr*cos(beta) - d*cos(beta + theta) - zf*cos(omega + epsilon) - u*sin(epsilon) - xa = 0;
  rr*sin(beta) - d*sin(beta + theta) - zf*sin(omega + epsilon) + u*cos(epsilon) - ya = 0;
end Andrews;"""


def test_squeezing_mechanism() -> None:
    r = movrel.load(text=ANDREWS).simulate(stop=0.03, interval=0.001, tolerance=1e-9)
    exact = {"beta": 0.1581077119629904e2, "theta": -0.1575637105984298e2, "gamma": 0.4082224013073101e-1,
             "phi": -0.5347301163226948, "delta": 0.5244099658805304, "omega": 0.5347301163226948,
             "epsilon": 0.1048080741042263e1}  # fmt: skip
    assert {name: r[name][-1] for name in exact} == pytest.approx(exact, rel=1e-4)


PENDULUM = """model Pendulum "a mass on a rod, in Cartesian coordinates"
  parameter Real L = 1, g = 9.81, m = 2, x0 = 0.5, v0 = 0;
  Real x(start = x0, fixed = true), y(start = -sqrt(L^2 - x0^2)), vx, vy(start = v0, fixed = true), F;
equation der(x) = vx; der(y) = vy; m*der(vx) = -F*x/L; m*der(vy) = -F*y/L - m*g; x^2 + y^2 = L^2; end Pendulum;"""


def energy(r: movrel.simulate.trajectory.Trajectory) -> np.ndarray:
    return 0.5 * (r["vx"] ** 2 + r["vy"] ** 2) + 9.81 * r["y"]


def test_pendulum_period_by_the_elliptic_integral() -> None:
    r = movrel.load(text=PENDULUM).simulate(stop=10, interval=0.002, tolerance=1e-9)
    amplitude = np.arcsin(0.5)
    period = 4 * np.sqrt(1 / 9.81) * ellipk(np.sin(amplitude / 2) ** 2)
    up = np.nonzero((r["x"][:-1] < 0) & (r["x"][1:] >= 0))[0]
    crossings = [np.interp(0, r["x"][k : k + 2], r.time[k : k + 2]) for k in up]
    assert np.diff(crossings) == pytest.approx(period, rel=1e-5)
    assert energy(r) == pytest.approx(energy(r)[0], abs=1e-5)


def test_pendulum_swings_through_full_turns() -> None:
    """No fixed choice of states survives a full turn: both x and y stand still somewhere."""
    text = PENDULUM.replace("x0 = 0.5, v0 = 0", "x0 = 1, v0 = 6").replace(
        "y(start = -sqrt(L^2 - x0^2))", "y(start = 0)"
    )
    r = movrel.load(text=text).simulate(stop=10, interval=0.01, tolerance=1e-9)
    angle = np.unwrap(np.arctan2(r["x"], -r["y"]))
    assert abs(angle[-1] - angle[0]) > 4 * 2 * np.pi
    assert r.statistics.state_changes > 8
    assert np.abs(r["x"] ** 2 + r["y"] ** 2 - 1).max() < 1e-9
    assert energy(r) == pytest.approx(energy(r)[0], abs=2e-4)


GEARS = """package Gears "inertias, ideal gears and a spring: kinematic constraints tie the inertias together"
  connector Flange Real phi(unit = "rad"); flow Real tau(unit = "N.m"); end Flange;
  model Inertia Flange a, b; parameter Real J = 1; Real phi, w; equation
    phi = a.phi; phi = b.phi; w = der(phi); J*der(w) = a.tau + b.tau; end Inertia;
  model Gear Flange a, b; parameter Real ratio = 1; equation a.phi = ratio*b.phi; 0 = ratio*a.tau + b.tau; end Gear;
  model Spring Flange a, b; parameter Real c = 1; equation b.tau = c*(b.phi - a.phi); a.tau + b.tau = 0; end Spring;
  model Wall Flange a; equation a.phi = 0; end Wall;
  model Train
    Inertia motor(J = 0.1, phi(start = 1, fixed = true), w(start = 0, fixed = true)); Gear first(ratio = 5); Inertia middle(J = 0.5);
    Gear second(ratio = 3); Inertia drum(J = 20); Spring spring(c = 300); Wall wall;
  equation
    connect(motor.b, first.a); connect(first.b, middle.a); connect(middle.b, second.a); connect(second.b, drum.a);
    connect(drum.b, spring.a); connect(spring.b, wall.a);
  end Train;
end Gears;"""


def test_gear_train_swings_with_the_reduced_inertia() -> None:
    r = movrel.load(text=GEARS, model="Gears.Train").simulate(stop=5, interval=0.01, tolerance=1e-9)
    reduced = 0.1 * 15**2 + 0.5 * 3**2 + 20
    omega = np.sqrt(300 / reduced)
    assert r["motor.phi"] == pytest.approx(np.cos(omega * r.time), abs=1e-6)
    assert r["drum.w"] == pytest.approx(-omega / 15 * np.sin(omega * r.time), abs=1e-6)
    # The torque in the second gear accelerates the drum and holds the spring.
    assert r["drum.a.tau"] == pytest.approx(
        20 * -(omega**2) / 15 * np.cos(omega * r.time) + 300 * r["drum.phi"], abs=1e-4
    )

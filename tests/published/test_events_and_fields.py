"""Switching and distributed problems with closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel


@pytest.mark.parametrize("solver", ["bdf", "adams", "dae", "rk45", "radau", "rk4", "trapezoidal"])
def test_bouncing_ball(solver: str) -> None:
    """Bounce k happens at t1*(1 + 2 e + 2 e^2 + ...)."""
    text = """model Ball parameter Real e = 0.8; Real h(start = 1, fixed = true), v(start = 0, fixed = true);
      Integer n(start = 0, fixed = true);
    equation der(h) = v; der(v) = -9.81;
      when h <= 0 then reinit(v, -e*pre(v)); n = pre(n) + 1; end when; end Ball;"""
    r = movrel.load(text=text).simulate(
        stop=2.5, interval=0.01, tolerance=1e-8, solver=solver, step=1e-3
    )
    first = math.sqrt(2 / 9.81)
    bounces = [first * (1 + 2 * sum(0.8**j for j in range(1, k))) for k in range(1, 6)]
    found = [r.time[k] for k in range(1, len(r.time)) if r["n"][k] > r["n"][k - 1]]
    assert found[: len(bounces)] == pytest.approx([b for b in bounces if b < 2.5], abs=1e-6)
    assert r["h"].min() > -1e-8


def test_stick_slip() -> None:
    """A mass on a belt, held by a spring: it sticks until the spring force reaches the static friction."""
    text = """model Belt parameter Real m = 1, c = 4, vb = 0.5, Fs = 2, Fk = 1;
      Real x(start = 0, fixed = true), v(start = vb, fixed = true), f; Boolean sticks(start = true, fixed = true);
    equation
      der(x) = v; m*der(v) = if sticks then 0 else Fk - c*x;
      f = if sticks then c*x else Fk;
      when pre(sticks) and c*x > Fs then sticks = false;
      elsewhen not pre(sticks) and v > vb then sticks = true; reinit(v, vb); end when;
    end Belt;"""
    r = movrel.load(text=text).simulate(stop=12, interval=0.01, tolerance=1e-9)
    # It leaves at x = Fs/c with v = vb and slides about x = Fk/c with frequency 2.
    w, x0, offset = 2.0, 0.5 - 0.25, 0.25
    leave = 0.5 / 0.5
    phase = math.atan2(-0.5 / w, x0)  # x - offset = A cos(w t + ...)
    amplitude = math.hypot(x0, 0.5 / w)
    slide = (2 * math.pi - 2 * abs(phase)) / w  # until v = vb again, at the mirrored place
    back = offset - x0
    stick = (0.5 - back) / 0.5
    events = [k for k in range(1, len(r.time)) if r["sticks"][k] != r["sticks"][k - 1]]
    expected = [leave, leave + slide, leave + slide + stick, leave + 2 * slide + stick]
    assert [r.time[k] for k in events][:4] == pytest.approx(expected, abs=1e-6)
    assert r["x"].max() == pytest.approx(offset + amplitude, abs=1e-4)


def test_heat_rod_against_its_eigen_solution() -> None:
    """2 000 cells, both ends held cold, started in the first mode: it decays with the mode's eigenvalue."""
    text = """model Rod parameter Integer n = 2000; parameter Real a = 1e-2; final parameter Real dx = 1/(n + 1);
      final parameter Real pi = 3.14159265358979; Real T[n](start = {sin(pi*i*dx) for i in 1:n}, each fixed = true);
    equation
      der(T[1]) = a*(T[2] - 2*T[1])/dx^2; der(T[n]) = a*(T[n-1] - 2*T[n])/dx^2;
      for i in 2:n-1 loop der(T[i]) = a*(T[i-1] - 2*T[i] + T[i+1])/dx^2; end for;
    end Rod;"""
    r = movrel.load(text=text).simulate(stop=10, interval=1, tolerance=1e-7)
    dx = 1 / 2001
    rate = 4 * 1e-2 / dx**2 * math.sin(math.pi * dx / 2) ** 2
    i = np.array([1, 400, 1000, 1999])
    for k, t in enumerate(r.time):
        exact = np.sin(math.pi * i * dx) * math.exp(-rate * t)
        assert [r[f"T[{j}]"][k] for j in i] == pytest.approx(exact, abs=2e-6)


def test_sampled_controller_against_its_difference_equation() -> None:
    """A discrete PI controller on a first-order plant: between samples the plant is solved exactly."""
    text = """model Loop parameter Real T = 0.2, kp = 1.5, ki = 2; Real x(start = 0, fixed = true); discrete Real u(start = 0, fixed = true), s(start = 0, fixed = true);
    equation der(x) = -x + u;
      when sample(0, T) then s = pre(s) + ki*T*(1 - x); u = kp*(1 - x) + s; end when; end Loop;"""
    r = movrel.load(text=text).simulate(stop=4, interval=0.05, tolerance=1e-10)
    x = s = 0.0
    for k in range(20):
        s += 2 * 0.2 * (1 - x)
        u = 1.5 * (1 - x) + s
        at = np.nonzero(np.isclose(r.time, 0.2 * k, atol=1e-12))[0][-1]
        assert (r["x"][at], r["u"][at]) == pytest.approx((x, u), abs=1e-8)
        x = u + (x - u) * math.exp(-0.2)
    assert len(r.events) == 20 and r.statistics.time_events == 20


def test_stream_mixer_of_three_ports() -> None:
    text = """package Mix
      connector Port Real p; flow Real m_flow; stream Real h; end Port;
      model Source input Real m; parameter Real h = 1; Port port; equation port.m_flow = -m; port.h = h; end Source;
      model Sink Port port; Real h; equation port.p = 1e5; port.h = 0; h = inStream(port.h); end Sink;
      model M Source a(m = 1 + time, h = 10), b(m = 2 - time, h = 40); Sink sink;
      equation connect(a.port, b.port); connect(b.port, sink.port); end M;
    end Mix;"""
    r = movrel.load(text=text).simulate(stop=4, interval=0.01)
    # After t = 2 the flow through b turns round: then all that reaches the sink and b comes from a.
    ma, mb = 1 + r.time, 2 - r.time
    exact = np.where(mb > 0, (10 * ma + 40 * mb) / (ma + mb), 10.0)
    assert r["sink.h"] == pytest.approx(exact, abs=1e-6)
    assert r["sink.port.m_flow"] == pytest.approx(np.full(len(r.time), 3.0))

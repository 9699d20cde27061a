"""Mechanisms in Cartesian coordinates: states change on the way, energy stays."""

from __future__ import annotations

import numpy as np
import pytest

import movrel
from movrel.simulate.trajectory import Trajectory

G = 9.81


def run(text: str, stop: float, solver: str = "bdf") -> Trajectory:
    return movrel.load(text=text).simulate(stop=stop, interval=0.01, solver=solver)


def drift(energy: np.ndarray, scale: float) -> float:
    return float(np.abs(energy - energy[0]).max() / scale)


PENDULUM = f"""model Pendulum
  parameter Real v0 = 7; Real x(start = 0, fixed = true), y(start = -1), vx(start = v0, fixed = true), vy, F;
equation
  der(x) = vx; der(y) = vy; der(vx) = -F*x; der(vy) = -F*y - {G}; x^2 + y^2 = 1;
end Pendulum;"""


@pytest.mark.parametrize(
    ("speed", "solver"),
    [(3.0, "bdf"), (6.2, "bdf"), (7.0, "bdf"), (7.0, "dae"), (7.0, "rk45"), (6.2, "radau")],
)
def test_a_pendulum_swings_and_turns_through(speed: float, solver: str) -> None:
    r = movrel.load(text=PENDULUM).simulate(stop=8, interval=0.01, set={"v0": speed}, solver=solver)
    energy = 0.5 * (r["vx"] ** 2 + r["vy"] ** 2) + G * r["y"]
    assert drift(energy, 0.5 * speed**2) < 1e-4
    assert np.hypot(r["x"], r["y"]) == pytest.approx(1.0, abs=1e-9)
    # Positions and speeds are continuous: nothing turned back at a change of states.
    assert np.abs(np.diff(r["x"])).max() < 0.0101 * speed
    assert np.abs(np.diff(r["vx"])).max() < 0.011 * (speed**2 + G)
    turns = np.unwrap(np.arctan2(r["x"], -r["y"])) / (2 * np.pi)
    if speed**2 > 4 * G:
        assert (np.diff(turns) > 0).all()
        assert r.statistics.state_changes > 15
    else:
        assert np.abs(turns).max() < 0.5


def test_a_spherical_pendulum_keeps_energy_and_spin_for_a_minute() -> None:
    r = run(
        f"""model M Real x(start = 0.6, fixed = true), y(start = 0, fixed = true), z(start = -0.8);
        Real vx(start = 0, fixed = true), vy(start = 0.5, fixed = true), vz, F;
        equation der(x) = vx; der(y) = vy; der(z) = vz; der(vx) = -F*x; der(vy) = -F*y; der(vz) = -F*z - {G};
        x^2 + y^2 + z^2 = 1; end M;""",
        60.0,
    )
    energy = 0.5 * (r["vx"] ** 2 + r["vy"] ** 2 + r["vz"] ** 2) + G * r["z"]
    assert drift(energy, G * 0.2) < 1e-4
    spin = r["x"] * r["vy"] - r["y"] * r["vx"]
    assert spin == pytest.approx(0.3, rel=1e-4)


@pytest.mark.parametrize("solver", ["bdf", "rk45"])
def test_a_double_pendulum_keeps_its_energy(solver: str) -> None:
    r = run(
        f"""model M Real x1(start = 1, fixed = true), y1(start = 0), u1, v1(start = 0, fixed = true);
        Real x2(start = 2, fixed = true), y2(start = 0), u2, v2(start = 0, fixed = true), F1, F2;
        equation der(x1) = u1; der(y1) = v1; der(x2) = u2; der(y2) = v2;
        der(u1) = -F1*x1 + F2*(x2 - x1); der(v1) = -F1*y1 + F2*(y2 - y1) - {G};
        der(u2) = -F2*(x2 - x1); der(v2) = -F2*(y2 - y1) - {G};
        x1^2 + y1^2 = 1; (x2 - x1)^2 + (y2 - y1)^2 = 1; end M;""",
        20.0,
        solver,
    )
    kinetic = 0.5 * (r["u1"] ** 2 + r["v1"] ** 2 + r["u2"] ** 2 + r["v2"] ** 2)
    assert drift(kinetic + G * (r["y1"] + r["y2"]), 3 * G) < 1e-4
    assert np.hypot(r["x2"] - r["x1"], r["y2"] - r["y1"]) == pytest.approx(1.0, abs=1e-8)


def test_a_slider_crank_keeps_its_energy() -> None:
    r = run(
        """model M parameter Real r = 0.1, l = 0.3, m = 2, J = 0.05;
        Real phi(start = 0.3, fixed = true), w(start = 20, fixed = true), s, v, psi(start = 0.1), F;
        equation der(phi) = w; der(s) = v; s = r*cos(phi) + l*cos(psi); r*sin(phi) = l*sin(psi);
        m*der(v) = -F; J*der(w) = -F*(r*sin(phi) + r*cos(phi)*tan(psi)); end M;""",
        20.0,
    )
    energy = 0.5 * 2 * r["v"] ** 2 + 0.5 * 0.05 * r["w"] ** 2
    assert drift(energy, energy[0]) < 1e-4
    assert r["s"] == pytest.approx(
        0.1 * np.cos(r["phi"]) + np.sqrt(0.09 - (0.1 * np.sin(r["phi"])) ** 2), abs=1e-8
    )

"""Electrical parts against circuit theory and independent integrations; power balances of whole networks."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, solve_ivp

from movrel.errors import MovrelError
from movrel.simulate.trajectory import Trajectory
from tests.library.conftest import example, loaded, run

E = "Movrel.Electrical."


def late(r: Trajectory, name: str, since: float) -> np.ndarray:
    return r[name][r.time >= since]


def test_a_resonant_circuit_decays_as_the_textbook_says() -> None:
    r = example("Electrical.ResonantCircuit")
    t, decay = r.time, 2 / (2 * 10e-3)
    w = math.sqrt(1 / (10e-3 * 100e-6) - decay**2)
    v = 10 * np.exp(-decay * t) * (np.cos(w * t) + decay / w * np.sin(w * t))
    assert r["volts.y"] == pytest.approx(v, abs=1e-4)
    i = 10 / (w * 10e-3) * np.exp(-decay * t) * np.sin(w * t)
    assert r["meter.y"] == pytest.approx(i, abs=1e-5)
    stored = 100e-6 * r["C.v"] ** 2 / 2 + 10e-3 * r["L.i"] ** 2 / 2
    heat = cumulative_trapezoid(r["R.loss"], t, initial=0)
    assert stored + heat == pytest.approx(np.full(len(t), 5e-3), abs=2e-7)


def test_transformers_against_phasors() -> None:
    r = example("Electrical.Transformers")
    w = 2 * math.pi * 50
    m = 0.8 * math.sqrt(0.1 * 0.4)
    # V = jw L1 I1 + jw M I2, 0 = jw M I1 + (jw L2 + R) I2, with no resistance the offset never dies: look at i2.
    matrix = np.array([[1j * w * 0.1, 1j * w * m], [1j * w * m, 1j * w * 0.4 + 50]])
    _, i2 = np.linalg.solve(matrix, [10, 0])
    seen = late(r, "R2.v", 0.16)
    assert np.sqrt(np.mean(seen**2)) == pytest.approx(50 * abs(i2), rel=2e-3)
    source = math.sqrt(2) * 10 * np.sin(w * r.time)
    assert r["R3.v"] == pytest.approx(source / 5, abs=1e-6)
    assert r["watt.P"] == pytest.approx((source / 5) ** 2 / 2, abs=1e-5)


def test_rectifiers_and_clamps() -> None:
    r = example("Electrical.Rectifiers")
    peak = math.sqrt(2) * 10
    # Between its peaks the capacitor discharges through 100 ohms.
    between = (r.time > 0.0275) & (r.time < 0.0435) & (r["d1.i"] < 1e-3)
    fall = np.polyfit(r.time[between], np.log(r["C1.v"][between]), 1)[0]
    assert fall == pytest.approx(-1 / 0.1, rel=1e-2) and r["C1.v"].max() == pytest.approx(
        peak, rel=1e-3
    )
    v, i = r["d2.v"], r["d2.i"]
    forward = v > 0.1
    assert i[forward] == pytest.approx(1e-9 * (np.exp(v[forward] / 0.026) - 1), rel=1e-4)
    assert r["z.v"].min() == pytest.approx(-(5.1 + 2 * (peak - 5.1) / 102), rel=1e-4)
    assert 0.3 < r["z.v"].max() < 0.7
    on = (r.time % 0.01 > 1e-6) & (r.time % 0.01 < 3.999e-3)
    assert r["R4.i"][on] == pytest.approx(1.2) and r["R4.i"].min() == pytest.approx(-0.2)


def test_transistors_lose_what_their_characteristics_say() -> None:
    r = example("Electrical.Switching")

    def at(name: str, t: float) -> float:
        return float(r[name][np.searchsorted(r.time, t)])

    i = 48 / (4.7 + 20e-3)
    assert at("fet.i", 2e-3) == pytest.approx(i, rel=1e-5) and at(
        "fet.loss", 2e-3
    ) == pytest.approx(20e-3 * i**2, rel=1e-4)
    j = (48 - 0.9) / (4.7 + 15e-3)
    assert at("igbt.i", 2e-3) == pytest.approx(j, rel=1e-3)
    assert at("igbt.loss", 2e-3) == pytest.approx(j * (0.9 + 15e-3 * j), rel=1e-3)
    assert abs(at("fet.i", 4e-3)) < 1e-4 and at("contact.i", 2e-3) == pytest.approx(0.48, rel=1e-4)
    # On at 1 and 6 ms, off at 3 and 8 ms: 1 and 2 mJ each, scaled with voltage and current.
    assert at("fet.E_switched", 0.0085) == pytest.approx(2 * (1e-3 + 2e-3) * i / 10, rel=2e-2)
    assert at("late.i", 7.9e-3) == pytest.approx(0.12) and abs(at("late.v", 0.0085)) > 1e3


def test_body_diodes_conduct_backwards() -> None:
    for part in ("Mosfet p(V_f=0.8, R_d=5e-3)", "Igbt p(V_f=0.8, R_d=5e-3)"):
        r = run(
            f"{E}{part}; {E}Resistor R(R=2); {E}VoltageSource V(V=-10); {E}Ground g; equation p.gate = false;"
            " connect(V.a, R.a); connect(R.b, p.a); connect(p.b, g.a); connect(V.b, g.a);", 1e-3,
        )  # fmt: skip
        assert r["p.i"][-1] == pytest.approx(-(10 - 0.8) / (2 + 5e-3), rel=1e-5)


def test_a_battery_by_its_pairs() -> None:
    r = example("Electrical.BatteryDischarge")
    t = r.time
    soc = 0.9 - 2 * np.clip(t - 60, 0, 600) / 7200
    assert r["battery.soc"] == pytest.approx(soc, abs=1e-6)

    def pair(resistance: float, tau: float) -> np.ndarray:
        rising = 2 * resistance * (1 - np.exp(-np.clip(t - 60, 0, 600) / tau))
        return rising * np.exp(-np.clip(t - 660, 0, None) / tau)

    current = np.where((t >= 60) & (t < 660), 2.0, 0.0)
    ocv = np.interp(soc, [0, 0.1, 0.5, 0.9, 1], [3.0, 3.45, 3.7, 4.0, 4.2])
    v = 4 * (ocv - 5e-3 * current - pair(3e-3, 20) - pair(2e-3, 300))
    calm = (np.abs(t - 60) > 1e-6) & (np.abs(t - 660) > 1e-6)
    # It is discharged by a current out of its positive terminal.
    sign = -1 if r["battery.i"][calm][50] < 0 else 1
    assert sign == -1
    assert r["battery.v"][calm] == pytest.approx(v[calm], abs=1e-4)


def test_amplifiers_ideal_and_with_a_bandwidth() -> None:
    """Gain -10 with a gain-bandwidth product of 1 MHz: a lag of 11/(2 pi 1 MHz), and 1/(1 + 11/A_0) of the gain."""
    r = example("Electrical.Amplifiers")
    after = r.time >= 1.0001e-5
    assert r["ideal.out.v"][after] == pytest.approx(-5)
    tau = 1 / (2 * math.pi * 1e6 * (1 / 11 + 1e-5))
    exact = -5 / (1 + 11e-5) * (1 - np.exp(-(r.time[after] - 1e-5) / tau))
    assert r["real.out.v"][after] == pytest.approx(exact, abs=2e-3)
    slow = example("Electrical.Amplifiers", **{"real.slew": 1e5})
    ramp = (slow.time > 2e-5) & (slow.time < 5e-5)
    assert np.polyfit(slow.time[ramp], slow["real.out.v"][ramp], 1)[0] == pytest.approx(
        -1e5, rel=1e-3
    )
    full = example("Electrical.Amplifiers", **{"u.after": 5, "real.slew": 1e9})
    assert full["real.out.v"][-1] == pytest.approx(-15, rel=1e-4)


def test_dc_motors_run_up_as_their_equations_say() -> None:
    r = example("Electrical.DcMotors")
    a = np.array([[-0.8 / 0.4e-3, -0.05 / 0.4e-3], [0.05 / 2e-5, -1e-5 / 2e-5]])
    exact = solve_ivp(
        lambda t, s: a @ s + [24 / 0.4e-3, 0],
        (0, 1),
        [0, 0],
        rtol=1e-10,
        atol=1e-9,
        dense_output=True,
        method="LSODA",
    )
    assert r["sensor.w"] == pytest.approx(exact.sol(r.time)[1], rel=1e-4, abs=0.02)

    def shunt(t: float, s: np.ndarray) -> list[float]:
        ia, i_f, w = s
        return [
            (200 - 0.5 * ia - i_f * w) / 5e-3,
            (200 - 100 * i_f) / 10,
            (i_f * ia - 0.02 * w) / 0.05,
        ]

    exact = solve_ivp(
        shunt, (0, 1), [0, 0, 0], rtol=1e-9, atol=1e-9, dense_output=True, method="LSODA"
    )
    assert r["excited.w"] == pytest.approx(exact.sol(r.time)[2], rel=1e-4, abs=0.02)


def motor(data: str, **more: float | str) -> Trajectory:
    """A motor at its nominal voltage, first free and then held."""
    extra = "".join(f", {k}={v}" for k, v in more.items())
    text = (
        f"{E}VoltageSource V(V=24); {E}Ground g; {E}PermanentMagnetMotor m(data={E}MotorData.{data}{extra});"
        " Movrel.Rotational.Brake b(tau_max=100, w_tiny=1e-4); equation b.u = if time < 1 then 0 else 1; connect(V.a, m.a); connect(V.b, m.b);"
        " connect(V.b, g.a); connect(m.shaft, b.a);"
    )
    return run(text, 2, 0.01)


@pytest.mark.parametrize("no_load", [0.0, 0.12])
def test_motor_data_in_each_form_give_the_same_motor(no_load: float) -> None:
    """R = 0.8 ohm and k = 0.05 N.m/A, told by constants, by stall torque and speed, and by a rated point."""
    resistance, k = 0.8, 0.05
    w_0 = (24 - resistance * no_load) / k
    stall = k * (24 / resistance - no_load)
    w_n = 400.0
    i_n = (24 - k * w_n) / resistance
    forms: dict[str, dict[str, float | str]] = {
        "constants": {"R_a": resistance, "k_M": k},
        "stall_torque": {"tau_stall": stall, "w_0": w_0},
        "rated_point": {"w_0": w_0, "w_n": w_n, "I_n": i_n, "tau_n": k * (i_n - no_load)},
        "series": {
            "series": f"[12, 24; 0.3, {resistance}; 0.02, {k}; 1e-4, 5e-4; 2e-5, 1e-5; 1, {no_load}]",
            "column": 2,
        },
    }
    for form, values in forms.items():
        r = motor(form, **{"I_0": no_load} | values)
        assert r["m.R"][0] == pytest.approx(resistance, rel=1e-6) and r["m.k"][0] == pytest.approx(
            k, rel=1e-6
        ), form
        assert np.interp(0.99, r.time, r["m.w"]) == pytest.approx(w_0, rel=1e-3)
        assert -r["m.shaft.tau"][-1] == pytest.approx(stall + k * no_load, rel=1e-2)


def test_contradicting_motor_data_are_pointed_out() -> None:
    r = motor("rated_point", w_0=480, w_n=400, I_n=5, tau_n=0.25, P_n=150)
    assert any("rated power does not fit" in m for m in r.messages)
    r = motor("rated_point", w_0=480, w_n=400, I_n=5, tau_n=0.9)
    assert any("rated point does not fit" in m for m in r.messages)
    with pytest.raises(MovrelError, match="the series has no such column"):
        motor("series", column=2)
    with pytest.raises(MovrelError, match="w_n must be below the no-load speed"):
        motor("rated_point", w_0=300, w_n=400)


def test_an_induction_machine_against_an_independent_integration_and_a_synchronous_one_against_phasors() -> (
    None
):
    r = example("Electrical.ThreePhase")
    r_s, r_r, l_s, l_r, l_m, p = 1.4, 1.1, 0.17, 0.17, 0.162, 2
    inverse = np.linalg.inv([[l_s, l_m], [l_m, l_r]])

    def rates(t: float, s: np.ndarray) -> list[float]:
        psi_s, psi_r, w = s[0] + 1j * s[1], s[2] + 1j * s[3], s[4]
        i_s, i_r = inverse @ [psi_s, psi_r]
        v = math.sqrt(2 / 3) * 400 * np.exp(1j * (2 * math.pi * 50 * t - math.pi / 2))
        d_s, d_r = v - r_s * i_s, -r_r * i_r + 1j * p * w * psi_r
        torque = 1.5 * p * (np.conj(psi_s) * i_s).imag
        return [d_s.real, d_s.imag, d_r.real, d_r.imag, torque / (0.02 + 0.05)]

    exact = solve_ivp(
        rates, (0, 1), [0.0] * 5, method="RK45", rtol=1e-8, atol=1e-9, dense_output=True
    )
    assert r["machine.w"] == pytest.approx(exact.sol(r.time)[4], abs=0.02)
    assert r["machine.w"][-1] == pytest.approx(2 * math.pi * 50 / 2, rel=1e-3)
    # Turned at 100 rad/s it feeds 5 ohms: the field voltage lies over its own and the load's impedance.
    w_e = 4 * 100
    current = w_e * 0.05 / abs(5 + 0.2 + 1j * w_e * (1e-3 + 1e-4))
    seen = np.hypot(late(r, "generator.i_d", 0.5), late(r, "generator.i_q", 0.5))
    assert seen == pytest.approx(np.full(len(seen), current), rel=1e-3)
    balance = sum(late(r, f"star.line[{k}].i", 0.5) for k in (1, 2, 3))
    assert np.abs(balance).max() < 1e-6


def test_a_half_bridge_gives_its_mean_and_its_ripple() -> None:
    """With a dead time of 1 us of 50 the free-wheeling diode keeps the lower rail: 0.6 less what the dead time takes."""
    r = example("Electrical.HalfBridge")
    settled = r.time > 1.5e-3
    mean = np.trapezoid(r["L.i"][settled], r.time[settled]) / (r.time[-1] - r.time[settled][0])
    assert mean == pytest.approx(48 * (0.6 - 0.02) / 5, rel=5e-3)
    ripple = np.ptp(r["L.i"][settled])
    assert ripple == pytest.approx(48 * 0.58 * 0.42 / (1e-3 * 20e3), rel=2e-2)


def test_a_winding_warms_up_and_takes_less() -> None:
    r = example("Electrical.HeatedWinding")
    t = r["copper.T"] - 293.15
    assert r["winding.i"] == pytest.approx(12 / (2 * (1 + 3.93e-3 * t)), rel=1e-6)
    exact = solve_ivp(
        lambda _, x: [(144 / (2 * (1 + 3.93e-3 * x[0])) - 0.5 * x[0]) / 50],
        (0, 600),
        [0],
        rtol=1e-9,
        dense_output=True,
    )
    assert t == pytest.approx(exact.sol(r.time)[0], abs=2e-3)


@pytest.mark.parametrize(("n", "duty"), [(1, 0.4), (2, 0.4), (3, 0.55), (4, 0.3)])
def test_interleaving_cancels_ripple(n: int, duty: float) -> None:
    """Ripple of the sum of N phases: V_out (1 - frac) frac/(N L f) with frac = N D - floor(N D), for steady rails."""
    out = 24 / (1 - duty)
    r = run(
        f"{E}InterleavedBoost c(N={n}, f=100e3, L=22e-6, R_L=1e-4, R_on=1e-4); {E}VoltageSource a(V=24); {E}VoltageSource b(V={out}); {E}Ground g;"
        " equation connect(a.a, c.a); connect(a.b, g.a); connect(c.m, g.a); connect(c.b, b.a); connect(b.b, g.a);"
        f" c.duty = {duty};", 8e-5, 2e-8,
    )  # fmt: skip
    part = n * duty - math.floor(n * duty + 1e-9)
    settled = r.time > 5e-5
    assert np.ptp(r["c.i_in"][settled]) == pytest.approx(
        out * part * (1 - part) / (n * 22e-6 * 100e3), rel=3e-2
    )


@pytest.mark.parametrize(
    ("part", "words"),
    [
        ("IdealTransformer p(n=0)", "ratio of the turns must not be zero"),
        ("CoupledInductors p(k=1)", "the coupling must be below 1"),
    ],
)
def test_parts_guard_their_parameters(part: str, words: str) -> None:
    ends = "connect(p.a1, V.a); connect(p.b1, g.a); connect(p.a2, R.a); connect(p.b2, g.a);"
    with pytest.raises(MovrelError, match=words):
        run(
            f"{E}{part}; {E}VoltageSource V; {E}Resistor R; {E}Ground g; equation {ends} connect(V.b, g.a); connect(R.b, g.a);",
            1,
        )


def test_a_negative_resistance_is_a_warning() -> None:
    r = loaded("Electrical.ResonantCircuit").simulate(stop=1e-4, set={"R.R": -1})
    assert any("the resistance is negative" in m and "R" in m for m in r.messages)


def test_two_phases_lift_the_voltage_by_the_duty() -> None:
    """Ideal: 12 V/(1 - 0.5) = 24 V; the resistances of coils and switches take a little."""
    r = example("Electrical.StepUp")
    late = r.time > 3e-3
    assert np.mean(r["buffer.v"][late]) == pytest.approx(24, rel=0.02)
    # Half a period apart at half the duty, the ripples of both phases cancel in the sum.
    last = r.time > 3.95e-3
    total = r["converter.i[1]"] + r["converter.i[2]"]
    assert np.ptp(total[last]) < 0.1 * np.ptp(r["converter.i[1]"][last])


def test_a_buck_converter_steps_down_and_its_ripples_cancel() -> None:
    def ripple(n: int) -> tuple[float, float]:
        r = run(
            f"Movrel.Electrical.VoltageSource s(V=48); Movrel.Electrical.InterleavedBuck c(N={n}, f=50e3); Movrel.Electrical.Resistor load(R=2);"
            " Movrel.Electrical.Capacitor hold(C=100e-6, v_start=24); Movrel.Electrical.Ground g; equation c.duty = 0.5; connect(s.a, c.a); connect(s.b, g.a); connect(c.m, g.a);"
            " connect(c.b, load.a); connect(load.b, g.a); connect(c.b, hold.a); connect(hold.b, g.a);", 2e-3, 2e-7,
        )  # fmt: skip
        late = r.time > 1.9e-3
        return float(np.mean(r["load.v"][late])), float(np.ptp(r["c.i_out"][late]))

    mean, single = ripple(1)
    assert mean == pytest.approx(24, rel=0.02)
    assert single == pytest.approx(24 * 0.5 / (22e-6 * 50e3), rel=0.05)
    assert ripple(2)[1] < 0.1 * single


def test_a_triangular_carrier_lays_pulses_in_the_middle() -> None:
    r = run(
        "Movrel.Electrical.PwmGenerator p(f=10, form=Movrel.Electrical.Carrier.triangle, dead=0.005); equation p.duty = 0.4;", 0.1, 0.001
    )  # fmt: skip
    high, low = np.asarray(r["p.high"], bool), np.asarray(r["p.low"], bool)
    assert r.time[high].min() == pytest.approx(0.035, abs=2e-3)
    assert r.time[high].max() == pytest.approx(0.05 + 0.02, abs=2e-3)
    assert (
        not (high & low).any()
        and low[0]
        and r.time[low & (r.time > 0.06)].min() == pytest.approx(0.075, abs=2e-3)
    )

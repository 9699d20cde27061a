"""The examples of the harbour against the hand calculations that stand beside them."""

from __future__ import annotations

import functools
import math
import re

import numpy as np
import pytest
from scipy.optimize import brentq

import movrel
from movrel.analyse.claim_text import read
from movrel.analyse.claims import judge
from movrel.analyse.curves import RunCurves
from movrel.project.vendor_annotation import claims_of, scenarios_of
from movrel.session import LoadedModel
from tests.conftest import EXAMPLES

QUAY = EXAMPLES / "VarrowQuay"
MEMBERS = (QUAY / "package.order").read_text().split()


@functools.cache
def quay(name: str) -> LoadedModel:
    return movrel.load(str(QUAY), model=f"VarrowQuay.{name}")


def said(name: str, pattern: str) -> float:
    """A number that the text of an example gives."""
    found = re.search(pattern, (QUAY / f"{name}.mo").read_text())
    assert found is not None, pattern
    return float(found[1].replace(" ", ""))


def test_the_leaf_swings_with_its_natural_frequency_and_damping() -> None:
    r = quay("Leaf").simulate()
    k = (9000 * 6 - 26000 * 2) * 9.80665
    angle = brentq(lambda p: 2e6 * (p - 0.5320913) + k * math.cos(p), 0.3, 0.7)
    assert math.degrees(angle) == pytest.approx(30, abs=1e-4)
    c = 2e6 - k * math.sin(angle)
    w_0, damping = math.sqrt(c / 420e3), 120e3 / (2 * math.sqrt(c * 420e3))
    assert w_0 == pytest.approx(said("Leaf", r"sqrt\(c'/J\) = ([\d.]+)"), rel=2e-3)
    assert damping == pytest.approx(said("Leaf", r"damping ratio ([\d.]+)"), rel=3e-3)
    after = r.time > 10.2
    t, x = r.time[after], r["leaf.phi"][after] - angle
    cross = [t[i] for i in np.nonzero(np.diff(np.sign(x)))[0]]
    assert math.pi / np.mean(np.diff(cross[:10])) == pytest.approx(
        w_0 * math.sqrt(1 - damping**2), rel=5e-3
    )
    peaks = [
        x[i] for i in range(1, len(x) - 1) if x[i] > x[i - 1] and x[i] >= x[i + 1] and x[i] > 1e-4
    ]
    decrement = np.mean(np.diff(-np.log(peaks[:5])))
    assert decrement / math.sqrt(4 * math.pi**2 + decrement**2) == pytest.approx(damping, rel=2e-2)


def test_the_winch_settles_at_the_speed_of_the_hand_calculation() -> None:
    r = quay("WinchDrive").simulate()
    assert list(dict.fromkeys(r["controller.gear"])) == [1, 2, 3, 4]
    k, resistance = r["motor.k"][0], r["motor.R"][0]
    assert k == pytest.approx(said("WinchDrive", r"= ([\d.]+) N.m/A"), rel=1e-3)
    assert resistance == pytest.approx(said("WinchDrive", r"R = ([\d.]+) Ω"), rel=1e-3)
    w = brentq(
        lambda w: (
            k * ((48 - k * w) / resistance - 1.2) - 495 * (0.1 * w / 20) ** 2 * 0.1 / 20 / 0.9
        ),
        100,
        400,
    )
    assert (
        r["ship.v"][-1]
        == pytest.approx(0.1 * w / 20, rel=1e-4)
        == pytest.approx(said("WinchDrive", r"at ([\d.]+) m/s"), rel=2e-3)
    )


def test_the_basin_of_the_bench_rests_and_moves_as_by_hand() -> None:
    r = quay("TestBasin").simulate()
    opening = 0.62 * math.pi / 4 * 0.02**2
    low, high = ((q / 60000 / opening) ** 2 / (2 * 9.80665) for q in (25, 28))
    assert r["basin.level"][-1] == pytest.approx(high, rel=1e-3)
    assert said("TestBasin", r"level from ([\d.]+) to") == pytest.approx(1000 * low, abs=0.1)
    assert said("TestBasin", r"mm from|to ([\d.]+) mm\.") == pytest.approx(1000 * high, abs=0.1)
    for level, flow, seconds in ((low, 25, r"([\d.]+) s at 25"), (high, 28, r"([\d.]+) s at 28")):
        constant = 2 * level * 0.12 / (flow / 60000)
        assert said("TestBasin", seconds) == pytest.approx(constant, abs=0.1)
    # Late the level comes to rest with the time constant of the upper level.
    late = (r.time > 800) & (r.time < 950)
    slope = np.polyfit(r.time[late], np.log(high - r["basin.level"][late]), 1)[0]
    assert -1 / slope == pytest.approx(2 * high * 0.12 / (28 / 60000), rel=0.02)


def test_a_gearbox_of_one_speed_takes_the_place_of_four() -> None:
    text = (QUAY / "WinchDrive.mo").read_text()
    swapped = text.replace("FourSpeedGearbox gearbox", "OneSpeedGearbox gearbox").replace(
        "model WinchDrive", "model Slow"
    )
    swapped = swapped.replace("end WinchDrive", "end Slow")
    model = movrel.load(str(QUAY), text=swapped, model="VarrowQuay.Slow")
    r = model.simulate()
    k, resistance = r["motor.k"][0], r["motor.R"][0]
    w = brentq(
        lambda w: (
            k * ((48 - k * w) / resistance - 1.2) - 495 * (0.1 * w / 60) ** 2 * 0.1 / 60 / 0.9
        ),
        100,
        420,
    )
    assert r["ship.v"][-1] == pytest.approx(0.1 * w / 60, rel=1e-3)


def test_one_lump_of_oil_and_three() -> None:
    r = quay("OilCooler").simulate()
    assert r["oil.T"] == pytest.approx(288.15 + 65 * np.exp(-r.time / 2400), abs=1e-4)
    matrix = np.array(
        [
            [-216 / 84e3, 216 / 84e3, 0],
            [216 / 9e3, -366 / 9e3, 150 / 9e3],
            [0, 150 / 15e3, -185 / 15e3],
        ]
    )
    slowest = max(-1 / np.linalg.eigvals(matrix).real)
    assert slowest == pytest.approx(said("OilCoolerThree", r"three balances: ([\d.]+) s"), rel=1e-3)
    r = quay("OilCoolerThree").simulate()
    late = r.time > 3000
    for name in ("oil.T", "tubes.T", "shell.T"):
        fall = np.polyfit(r.time[late], np.log(r[name][late] - 288.15), 1)[0]
        assert -1 / fall == pytest.approx(slowest, rel=1e-3)


def test_the_reactor_fills_and_settles() -> None:
    r = quay("BilgeDosing").simulate()
    assert r["V"][0] == pytest.approx(1e-4) and np.isfinite(r["c"]).all()
    difference = (1e-5 * 380 - 2e-4 * 20) / 2.1e-4
    v = r["V"][-1]
    c = max(np.roots([2e-4 * v, 2e-4 * v * difference + 2.1e-4, -2e-4 * 20]).real)
    assert (
        r["c"][-1]
        == pytest.approx(c, rel=1e-4)
        == pytest.approx(said("BilgeDosing", r"gives c = ([\d.]+)"), rel=2e-3)
    )
    acid = r["V"] * (r["c"] - r["b"])
    before = r.time < 2000  # while it fills, acid less alkali comes in steadily
    assert acid[before] == pytest.approx((2e-4 * 20 - 1e-5 * 380) * r.time[before], abs=1e-6)


def test_the_lamp_supply_holds_its_voltage() -> None:
    model = quay("LampSupply")
    r = model.simulate()
    check_claims(model, RunCurves(r))

    def mean(name: str, since: float, until: float) -> float:
        keep = (r.time >= since) & (r.time <= until)
        return float(np.trapezoid(r[name][keep], r.time[keep]) / (until - since))

    assert mean("volts.y", 2.2e-3, 2.49e-3) == pytest.approx(48, rel=1e-2) and mean(
        "volts.y", 4.7e-3, 5e-3
    ) == pytest.approx(48, rel=1e-2)
    assert mean("amps.y", 2.2e-3, 2.49e-3) == pytest.approx(5, rel=3e-2) and mean(
        "amps.y", 4.7e-3, 5e-3
    ) == pytest.approx(10, rel=3e-2)
    settled = (r.time > 4.9e-3) & (r.time < 4.99e-3)
    assert np.ptp(r["converter.i[1]"][settled]) == pytest.approx(1.2, rel=0.1)
    assert np.ptp(r["amps.y"][settled]) < 0.3


def test_the_strain_amplifier() -> None:
    r = quay("StrainAmplifier").simulate()
    after = r.time > 1.001e-4
    exact = -5 * (1 - np.exp(-(r.time[after] - 1e-4) / 1e-4))
    assert r["volts1.y"][after] == pytest.approx(exact, abs=2e-3)
    behind = r["volts2.y"] - r["volts1.y"]
    # The real one lags by about (1 + R2/R1)/(2 pi GBW) while the output moves, and ends with a gain error of 101/A_0.
    slope = 5 / 1e-4 * np.exp(-1)
    at = np.searchsorted(r.time, 2e-4)
    assert (
        0.1 * slope * 101 / (2 * math.pi * 1e6)
        < behind[at]
        < 1.2 * slope * 101 / (2 * math.pi * 1e6)
    )
    assert abs(r["volts2.y"][-1] / r["volts1.y"][-1] - 1) < 2e-3


def test_the_loft_is_heated_as_its_losses_say() -> None:
    r = quay("RopeLoft").simulate()
    keep = r.time >= 86400
    t, q = r.time[keep], r["heater.Q"][keep]
    # Over a whole day the heat is what the losses take, but for what the loft stores.
    loss = 254 * (r["loft.T"][keep] - r["day.y"][keep])
    stored = 4.5e6 * (r["loft.T"][-1] - r["loft.T"][keep][0])
    assert np.trapezoid(-r["heater.b.Q"][keep], t) == pytest.approx(
        np.trapezoid(loss, t) + stored, rel=2e-3
    )
    assert np.trapezoid(q, t) / 86400 == pytest.approx(2540, rel=0.05)
    assert r["loft.T"][keep].min() > 289.9 and r["loft.T"][keep].max() < 292.4


@pytest.mark.parametrize(
    "name",
    [
        m
        for m in MEMBERS
        if not m.endswith(("Gearbox", "Controller", "OneSpeed", "LiftLeaf", "Pack"))
    ],
)
def test_every_example_says_what_it_shows_and_what_to_look_at(name: str) -> None:
    text = (QUAY / f"{name}.mo").read_text()
    assert "Documentation(" in text and "Text(extent=" in text
    shown = re.findall(r'"([\w.\[\]]+)"', text.partition("recorder=")[2].partition("}}")[0])
    assert shown and set(shown) <= {v.name for v in quay(name).flat.variables}


@pytest.mark.parametrize(
    "name",
    sorted(
        p.stem
        for p in (EXAMPLES / "VarrowQuay").glob("*.mo")
        if "claims=" in p.read_text(encoding="utf-8")
        and p.stem != "LampSupply"  # with its voltages above: it runs for long
    ),
)
def test_the_claims_of_a_harbour_model_hold(name: str) -> None:
    model = movrel.load(EXAMPLES / "VarrowQuay", model=f"VarrowQuay.{name}")
    check_claims(model, RunCurves(model.simulate()))


def check_claims(model: LoadedModel, run: RunCurves) -> None:
    asked = [c.text for c in claims_of(model.definition)]
    assert len(asked) >= 1
    assert {
        text: judge(read(text), run) for text in asked if not judge(read(text), run).holds
    } == {}


@pytest.mark.parametrize(
    "name",
    sorted(
        p.stem
        for p in (EXAMPLES / "VarrowQuay").glob("*.mo")
        if "scenarios=" in p.read_text(encoding="utf-8")
    ),
)
def test_the_scenarios_of_a_harbour_model_fit_it(name: str) -> None:
    model = movrel.load(EXAMPLES / "VarrowQuay", model=f"VarrowQuay.{name}")
    known = {v.name for v in model.flat.parameters()} | {
        e.name for e in model.definition.node.elements if hasattr(e, "type_name")
    }
    for scenario in scenarios_of(model.definition):
        assert scenario.changes and set(scenario.changes) <= known

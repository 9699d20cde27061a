"""Fixed start values that others already determine: they may agree, and must."""

from __future__ import annotations

import math

import pytest

from movrel.errors import StructureFault
from movrel.session import load

GEARED = """model Geared parameter Real i = 2; parameter Real b0 = 2; Real a(start=1, fixed=true); Real b(start=b0, fixed=true);
equation b = i*a; der(a) = -a; end Geared;"""
RIGID = """model Rigid "two masses on one rod" Real s1(start=0, fixed=true); Real s2(start=1, fixed=true);
Real v1(start=0, fixed=true); Real v2(start=0, fixed=true); Real f;
equation der(s1) = v1; der(s2) = v2; 2*der(v1) = f; 3*der(v2) = 5 - f; s2 = s1 + 1; end Rigid;"""
BOB = """model Bob parameter Real L = 2; parameter Real y0 = -1.6; Real x(start=1.2, fixed=true); Real y(start=y0, fixed=true);
Real vx(start=0, fixed=true); Real vy(start=0, fixed=true); Real l; equation der(x) = vx; der(y) = vy; der(vx) = -l*x;
der(vy) = -l*y - 9.81; x^2 + y^2 = L^2; end Bob;"""


def test_start_values_that_agree_are_no_contradiction() -> None:
    run = load(text=GEARED, model="Geared").simulate(stop=1, tolerance=1e-9)
    assert run["b"][-1] == pytest.approx(2 * math.exp(-1), rel=1e-6)
    run = load(text=RIGID, model="Rigid").simulate(stop=2, tolerance=1e-9)
    # 5 N on 5 kg: together they gain 1 m/s in a second.
    assert (run["s1"][-1], run["v2"][-1]) == pytest.approx((2.0, 2.0), rel=1e-6)
    assert run["f"][-1] == pytest.approx(2.0, rel=1e-9)
    run = load(text=BOB, model="Bob").simulate(stop=1, tolerance=1e-9)
    energy = 0.5 * (run["vx"] ** 2 + run["vy"] ** 2) + 9.81 * run["y"]
    assert energy == pytest.approx(energy[0], rel=1e-5)
    assert run["y"][0] == pytest.approx(-1.6, rel=1e-9)


def test_values_of_a_run_decide_whether_they_agree() -> None:
    model = load(text=GEARED, model="Geared")
    assert model.simulate(stop=1, set={"i": 4, "b0": 4})["b"][0] == pytest.approx(4)
    with pytest.raises(StructureFault, match=r"'b' is to start at 2, fixed, but .* make it 4"):
        model.simulate(stop=1, set={"i": 4})


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (GEARED.replace("b0 = 2", "b0 = 3"), "'b' is to start at 3, fixed, but .* make it 2"),
        (RIGID.replace("v2(start=0", "v2(start=0.5"), "is to start at .*, fixed, but"),
        (BOB.replace("y0 = -1.6", "y0 = -1.5"), "is to start at .*, fixed, but"),
        (BOB.replace("vy(start=0", "vy(start=0.1"), "is to start at .*, fixed, but"),
    ],
)
def test_start_values_that_disagree_are_refused(text: str, words: str) -> None:
    with pytest.raises(StructureFault, match=words):
        load(text=text, model=text.split()[1]).simulate(stop=1)


def test_what_is_not_a_start_value_too_many_stays_refused() -> None:
    text = """model Twice Real a(start=1, fixed=true); Real b; initial equation b = 3; equation b = 2*a; der(a) = -a;
    initial equation a = 1.5; end Twice;"""
    with pytest.raises(StructureFault, match="start of the model has"):
        load(text=text, model="Twice").simulate(stop=1)

"""Balances found in the equations of parts: they are the right ones, they hold, and a leak makes them fail."""

from __future__ import annotations

import numpy as np
import pytest

import movrel
from movrel.analyse.balances import balances
from movrel.analyse.claim_text import read
from movrel.analyse.claims import judge
from movrel.analyse.curves import RunCurves
from tests.conftest import EXAMPLES

HARBOUR = [
    "OilCooler",
    "OilCoolerThree",
    "Sump",
    "WinchDrive",
    "LampSupply",
    "Leaf",
    "StrainAmplifier",
    "RopeLoft",
]


def texts(text: str) -> dict[str, str]:
    return {b.text: b.kind for b in balances(movrel.load(text=text).flat)}


@pytest.mark.parametrize("name", HARBOUR)
def test_every_balance_of_the_harbour_holds(name: str) -> None:
    model = movrel.load(EXAMPLES / "VarrowQuay", model=f"VarrowQuay.{name}")
    # A balance holds over any time; thousands of switchings need not be.
    run = RunCurves(model.simulate(stop=1e-3 if name == "LampSupply" else None))
    found = balances(model.flat)
    judged = {b.text: judge(read(b.text), run) for b in found}
    assert {text: v.reason or v.margin for text, v in judged.items() if v.holds is not True} == {}
    assert found


def test_what_is_stored_is_worked_out_as_by_hand() -> None:
    model = movrel.load(EXAMPLES / "VarrowQuay", model="VarrowQuay.OilCooler")
    stored = next(b for b in balances(model.flat) if b.component == "oil")
    assert stored.kind == "energy"
    assert (
        stored.text
        == "oil.C*(final(oil.T) - initial(oil.T)) ≈ integral(oil.a.Q) ± 1e-3*integral(abs(oil.a.Q))"
    )
    verdict = judge(read(stored.text), RunCurves(model.simulate()))
    # 84 000 J/K times the fall from 80 to 15 + 65 exp(-3) °C after three time constants.
    assert verdict.value == pytest.approx(-84_000 * 65 * (1 - np.exp(-3)), rel=1e-4)


def test_kinds_and_forms() -> None:
    assert texts(
        """model M
        parameter Real C(unit="F") = 2; Real v(unit="V", start=1, fixed=true); Real i(unit="A");
        equation i = C*der(v); i = -v; end M;"""
    ) == {"C*(final(v) - initial(v)) ≈ integral(i) ± 1e-3*integral(abs(i))": "charge"}
    assert texts(
        """model M
        parameter Real m(unit="kg") = 2; Real v(unit="m/s", start=1, fixed=true); Real f(unit="N"); Real g(unit="N");
        equation m*der(v) = f - g; f = -v; g = 1; end M;"""
    ) == {
        "0.5*m*(final(v)^2 - initial(v)^2) ≈ integral((f - g)*v) ± 1e-2*integral(abs((f - g)*v))": "energy"
    }


@pytest.mark.parametrize(
    "equations",
    [
        "C*der(v) = i + 0.1; i = -v;",  # something else takes part
        "C*v*der(v) = i; i = -v;",  # what it stores is no multiple
        "der(v) = 2*i; i = -v;",  # a flow that counts twice
    ],
)
def test_what_is_no_balance_is_not_offered(equations: str) -> None:
    head = (
        'parameter Real C(unit="F") = 2; Real v(unit="V", start=1, fixed=true); Real i(unit="A");'
    )
    assert texts(f"model M {head} equation {equations} end M;") == {}


def test_a_leak_is_noticed() -> None:
    head = 'parameter Real A(unit="m2") = 2; parameter Real leak = %s; Real h(unit="m", start=1, fixed=true); Real q(unit="m3/s"), lost(unit="m3/s");'
    tight, leaking = (
        movrel.load(
            text=f"model M {head % share} equation A*der(h) = q - lost; q = -0.1*h; lost = leak*h; end M;"
        )
        for share in (0, 0.05)
    )
    claim = read("A*(final(h) - initial(h)) ≈ integral(q) ± 1e-3*integral(abs(q))")
    assert judge(claim, RunCurves(tight.simulate(stop=10))).holds is True
    assert judge(claim, RunCurves(leaking.simulate(stop=10))).holds is False
    assert "integral(q - lost)" in next(b.text for b in balances(leaking.flat))

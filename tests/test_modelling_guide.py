"""The three models of the guide are sound and agree with each other and with the hand calculation."""

from __future__ import annotations

import re

import pytest
from scipy.integrate import solve_ivp

import movrel
from movrel.language.python_code import Code, translate
from tests.conftest import ROOT

GUIDE = (ROOT / "docs" / "modelling.md").read_text(encoding="utf-8")
LEVEL = {"Typed": "level", "Wired": "basin.level", "Drawn": "level.y"}


def test_three_ways_one_answer() -> None:
    models = {
        name: text
        for text, name in re.findall(r"```modelica\n(model \w+.*?end (\w+);\n)```", GUIDE, re.S)
    }
    assert set(models) == set(LEVEL)
    k = 0.62 * 0.15**2 * 3.14159265358979 / 4
    own = solve_ivp(
        lambda t, h: [(0.02 - k * (2 * 9.80665 * h[0]) ** 0.5) / 12],
        (0, 1800),
        [0.3],
        rtol=1e-10,
        atol=1e-12,
    )
    for name, text in models.items():
        level = movrel.load(text=text, model=name).simulate()[LEVEL[name]][-1]
        assert level == pytest.approx(own.y[0, -1], rel=1e-6), name
        assert f"{level:.4f}" in GUIDE
    assert f"{(0.02 / k) ** 2 / (2 * 9.80665):.3f}" in GUIDE
    code = re.search(r"```python\n(.*?)```", GUIDE, re.S)
    assert code is not None
    line = translate(Code("Opening", code[1], ["h"], ["q"])).splitlines()[4].strip()
    assert line.replace(" ", "").replace("(", "").replace(")", "") in models["Drawn"].replace(
        " ", ""
    ).replace("(", "").replace(")", "")

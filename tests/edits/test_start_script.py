"""The start script of a project: what it works out, what it refuses, and that its results follow the other values."""

from __future__ import annotations

import math

import numpy as np
import pytest

from movrel.edits.figures import SetFigure
from movrel.edits.start_script import SetScript, renewed
from movrel.edits.target import Edit, apply_to, target_of
from movrel.errors import EditFault
from movrel.language.start_script import run_script
from movrel.project.snapshot import Snapshot, loaded_model
from movrel.views.figures import figure_table

PROJECT = Snapshot.of(
    {
        "Values.mo": 'package Values "shared"\n  constant Real D(unit="m", displayUnit="mm") = 0.1 "bore";\nend Values;\n',
        "Pipe.mo": """model Pipe
  parameter Real A = Values.A;
  parameter Real curve[:, 2] = Values.curve;
  Real y = A*curve[3, 2];
end Pipe;
""",
    }
)
SCRIPT = """import numpy as np
from math import pi
rate = np.linspace(0, 0.02, 5)
curve = [[q, 30 - 4e4*q**2] for q in rate]
lift = 30 - 4e4*rate**2  # [cm] lift at these rates
def bore_area(d, n=1):
    return n*pi*d**2/4
A = bore_area(D)  # [mm2] area of the "bore"
_root = 1
while abs(_root*_root - 2) > 1e-12:
    _root -= (_root*_root - 2)/(2*_root)
root = _root
total = 0
for k in range(1, 101):
    if k % 2 == 0:
        continue
    total += k
best, place = max(lift), [i for i, h in enumerate(lift) if h < 25][0]
"""


def kept(texts: Snapshot, edit: Edit) -> Snapshot:
    changed = renewed(texts, apply_to(target_of(texts, "Values"), edit))
    return texts.changed(changed.path, changed.text)


def test_a_script_works_out_numbers_vectors_and_tables() -> None:
    results = {r.name: r for r in run_script(SCRIPT, {"D": 0.1})}
    rate = np.linspace(0, 0.02, 5)
    assert results["lift"].value == pytest.approx(30 - 4e4 * rate**2, rel=1e-15)
    assert np.array(results["curve"].value) == pytest.approx(
        np.c_[rate, 30 - 4e4 * rate**2], rel=1e-15
    )
    assert results["A"].value == pytest.approx(math.pi * 0.01 / 4, rel=1e-15)
    assert results["A"].unit == "mm2" and results["lift"].note == "lift at these rates"
    assert results["root"].value == pytest.approx(math.sqrt(2), rel=1e-12)
    assert results["total"].value == 2500 and results["place"].value == 3
    # Counters, functions and what begins with _ serve the script alone.
    assert set(results) == {"rate", "curve", "lift", "A", "root", "total", "best", "place"}


def test_results_are_values_of_the_project_and_follow_it() -> None:
    texts = kept(PROJECT, SetScript(SCRIPT))
    rows = {row.name: row for row in figure_table(texts, "Values").figures}
    # 0.00785 mm2 in a script is 7.85e-9 m2 in the model.
    assert (
        rows["A"].value == pytest.approx(math.pi / 4 * 1e-8, rel=1e-12) and rows["A"].unit == "mm2"
    )
    assert rows["A"].scripted and not rows["D"].scripted and rows["A"].note == 'area of the "bore"'
    result = loaded_model(texts, "Pipe").simulate(stop=1.0)
    assert result["y"][-1] == pytest.approx(math.pi / 4 * 1e-8 * (30 - 4e4 * 0.01**2), rel=1e-12)
    wider = kept(texts, SetFigure("D", "200", old="D", unit="mm", note="bore"))
    area = next(row.value for row in figure_table(wider, "Values").figures if row.name == "A")
    assert area == pytest.approx(math.pi * 1e-8, rel=1e-12)
    assert wider.text("Values.mo").count("constant Real A") == 1
    # Without the script its results are gone, and nothing else.
    without = kept(wider, SetScript(""))
    assert [row.name for row in figure_table(without, "Values").figures] == ["D"]
    assert figure_table(without, "Values").script == ""


def test_a_change_that_the_script_cannot_bear_is_refused() -> None:
    texts = kept(PROJECT, SetScript("share = 1/(D - 0.2)\n"))
    with pytest.raises(EditFault, match="line 1 of the start script: it divides by zero"):
        kept(texts, SetFigure("D", "200", old="D", unit="mm"))


@pytest.mark.parametrize(
    ("script", "sentence"),
    [
        ("x = 10**(10**10)", "not a finite number"),
        ("x = [0]*10**9", "more than 100000 elements"),
        ("a = [[0]*1000]*1000", "more than 100000 elements"),
        ("a = 1\nwhile True:\n    a = 1", "more than 300000 steps"),
        ("import os", "an import is not allowed"),
        ("x = (1).__class__", "access to an attribute is not allowed"),
        ("x = 'a'*10**9", "arithmetic with texts"),
        ("a = sqrt(-1)", "not a finite number"),
        ("a = (-8)**(1/3)", "not a real number"),
        ("a = nowhere", "'nowhere' is not known"),
        ("def f(x):\n    return f(x)\na = f(1)", "calls itself too often"),
        ("a = [1]\na.append(a)", "more than three deep"),
        ("a = [1, [2]]", "rows of unequal length"),
        ("a = [1, 2][5]", "no such element"),
        ("a = 3 +", "invalid syntax"),
        ("flow = 3", "'flow' is a word of the language"),
        ("D = 3", "'D' is a value already"),
        ("break", "outside of a loop"),
    ],
)  # fmt: skip
def test_what_a_script_cannot_do_is_said_with_its_line(script: str, sentence: str) -> None:
    with pytest.raises(EditFault, match=sentence):
        run_script(script, {"D": 1.0})

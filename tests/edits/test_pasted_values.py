"""Values pasted from scripts, datasheets and spreadsheets."""

from __future__ import annotations

import pytest

from movrel.edits.figures import PasteFigures, read_pasted
from movrel.edits.target import Target, apply_to, target_of
from movrel.errors import EditFault
from movrel.project.snapshot import Snapshot
from movrel.views.figures import figure_table

DRIVE = """model Drive
  parameter Real D(unit="m", displayUnit="mm") = 0.15 "bore";
  Real y(start=0, fixed=true);
equation
  der(y) = D;
end Drive;
"""
SCRIPT = """clear all; close all
% motor, from its datasheet
R = 2.3;  % winding resistance [Ohm]
L = 0.5 mH   % inductance
Kt = 25.3 mNm/A;
a = 1; b = 2*a;
area = pi*(14 cm)^2/4
tau_e := L/R   -- time constant
n_0 <- 5800 rpm  # no load
load = 85 %;
import numpy as np
x = np.sqrt(2)**2
pump.k = 3
v = [1 2 3]
lost = nowhere + 1
lost_too = 2*lost
const double g = 9_810e-3; // gravity
parameter Real c(unit="N/m") = 3000 "spring";
y = 3
R = 3
"""


def drive(text: str = DRIVE) -> Target:
    return target_of(Snapshot.of({"Drive.mo": text}), "Drive")


def values(text: str) -> dict[str, object]:
    rows = figure_table(Snapshot.of({"Drive.mo": text}), "Drive").figures
    assert not [row for row in rows if row.fault]
    return {row.name: row.value for row in rows}


def test_a_script_gives_its_values_and_lists_what_gives_none() -> None:
    target = drive()
    read = read_pasted(target.tree, target.definition, SCRIPT)
    assert {u.line: u.reason.split(";")[0] for u in read.unread} == {
        1: "it gives no name a value",
        11: "it gives no name a value",
        13: "'pump.k' cannot be a name",
        14: "it is a row of values",
        15: "'nowhere' has no value here",
        16: "'lost' has no value here",
        19: "'y' is something else in the model",
        20: "'R' has its value in line 3 already",
    }
    text = apply_to(target, PasteFigures(SCRIPT)).text
    assert values(text) == pytest.approx({
        "D": 0.15, "R": 2.3, "L": 5e-4, "Kt": 0.0253, "a": 1, "b": 2, "area": 0.015393804, "tau_e": 2.173913e-4,
        "n_0": 607.3746, "load": 0.85, "x": 2, "g": 9.81, "c": 3000,
    }, rel=1e-6)  # fmt: skip
    assert 'L(unit="H", displayUnit="mH") = 0.0005 "inductance"' in text
    assert 'R(unit="Ohm") = 2.3 "winding resistance"' in text and 'area(unit="m2")' in text


def test_values_that_are_there_keep_what_the_text_does_not_say() -> None:
    text = apply_to(drive(), PasteFigures("D = 20 cm\nK = 3")).text
    assert 'D(unit="m", displayUnit="cm") = 0.2 "bore"' in text and "K = 3" in text
    text = apply_to(drive(text), PasteFigures("D = 30\nK\t4\t\tagain")).text
    assert 'D(unit="m", displayUnit="cm") = 0.3 "bore"' in text, "in the unit that it is shown in"
    assert 'K = 4 "again"' in text


def test_a_thousand_lines_are_one_edit() -> None:
    lines = [f"p_{k} = {k} mm; % number {k}" for k in range(1, 1001)]
    text = apply_to(drive(), PasteFigures("\n".join(lines))).text
    given = values(text)
    assert len(given) == 1001 and given["p_777"] == pytest.approx(0.777)


@pytest.mark.parametrize(
    ("text", "words"),
    [("  ", "nothing to paste"), ("hello", "line 1: it gives no name a value"), ("a = 3 +", "neither a number nor a formula")],
)  # fmt: skip
def test_a_text_without_any_value_is_refused(text: str, words: str) -> None:
    with pytest.raises(EditFault, match=words):
        apply_to(drive(), PasteFigures(text))

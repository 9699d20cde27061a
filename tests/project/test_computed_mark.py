"""The mark of what is computed: it stays with drawings and words, and goes with values, equations and files."""

from __future__ import annotations

from pathlib import Path

import pytest

from movrel.project.computed_mark import computed_mark, mark_with
from movrel.project.snapshot import Snapshot

PACKAGE = """within;
package Yard "of the quay"
  constant Real g = 9.81;
  model Pool "drains"
    extends Movrel.Icons.Part;
    parameter Real area(unit="m2") = 2 "of the surface";
    Real level(start=1, fixed=true);
    Outlet outlet(k=0.1) annotation (Placement(transformation(extent={{0,0},{20,20}})));
  equation
    area*der(level) = -outlet.k*sqrt(2*g*level);
    annotation (experiment(StopTime=10));
  end Pool;
  model Outlet
    parameter Real k = 1;
  end Outlet;
  model Crane
    Real x = time;
  end Crane;
  annotation (version="1");
end Yard;
"""


def mark(text: str, folder: str = "", **others: str) -> str:
    texts = {"Yard.mo": text} | {f"{name}.mo": other for name, other in others.items()}
    return computed_mark(Snapshot.of(texts, folder=folder), "Yard.Pool")


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("extent={{0,0},{20,20}}", "extent={{40,0},{60,20}}, rotation=90"),
        (" annotation (Placement(transformation(extent={{0,0},{20,20}})))", ""),
        ("experiment(StopTime=10)", "experiment(StopTime=10), Diagram(graphics={Line(points={{0,0},{1,1}})})"),
        ("(experiment(StopTime=10))", '(Icon, experiment(StopTime=10),\n      __Movrel(claims={"max(level) < 2"}, recorder={{"level"}}))'),
        ("experiment(StopTime=10)", '__Movrel(scenarios={Scenario(name="low", colour=1, changes={{"area", "1"}})}), experiment(StopTime=10)'),
        ("    annotation (experiment", "\n\n    annotation (experiment"),
        ("Real x = time", "Real x = 2*time"),
        ('version="1"));', 'version="1"), Documentation(info="words"));'),
    ],
)  # fmt: skip
def test_what_is_drawn_claimed_or_elsewhere_makes_no_difference(old: str, new: str) -> None:
    changed = PACKAGE.replace(old, new)
    assert mark(changed) == mark(PACKAGE)
    assert mark(PACKAGE, Berth="model Berth Real y = 1; end Berth;") == mark(PACKAGE)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("= 2 ", "= 3 "),
        ("k=0.1", "k=0.2"),
        ("sqrt(2*g*level)", "level"),
        ("start=1,", "start=2,"),
        ("g = 9.81", "g = 9.8"),
        ("parameter Real k = 1", "parameter Real k(min=0) = 1"),
        ("StopTime=10", "StopTime=20"),
        ("experiment(StopTime=10)", 'experiment(StopTime=10), __Movrel(solver="radau", claims={"level < 2"})'),
    ],
)  # fmt: skip
def test_what_is_computed_makes_the_difference(old: str, new: str) -> None:
    assert old in PACKAGE and mark(PACKAGE.replace(old, new)) != mark(PACKAGE)


def test_classes_and_files_that_are_named_belong_to_it(tmp_path: Path) -> None:
    user = PACKAGE.replace("Outlet outlet", 'parameter String data = "flow.csv"; Mouth outlet')
    mouth = "model Mouth extends Lip; end Mouth;"
    lips = ["model Lip parameter Real k = 1; end Lip;", "model Lip parameter Real k = 2; end Lip;"]
    assert mark(user, Mouth=mouth, Lip=lips[0]) != mark(user, Mouth=mouth, Lip=lips[1])
    marks = []
    for name, content in (("flow.csv", "1"), ("flow.csv", "2"), ("other.csv", "1")):
        folder = tmp_path / f"{name}{content}"
        folder.mkdir()
        (folder / name).write_text(content)
        marks.append(mark(user, str(folder)))
    assert len({*marks, mark(user)}) == 3, "only what is named counts"
    assert marks[2] == mark(user)


def test_changes_and_settings_of_a_scenario_belong_to_its_runs() -> None:
    assert mark_with("m", {"a": "1", "b": "2"}, {}) == mark_with("m", {"b": "2", "a": "1"}, {})
    assert len({mark_with("m", {}, {}), mark_with("m", {"a": "1"}, {}), mark_with("m", {}, {"a": "1"})}) == 3  # fmt: skip

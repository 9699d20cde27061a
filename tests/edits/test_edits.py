"""Edits as pure functions: a project of texts and an edit in, patches and words out, without any database."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

import movrel
from movrel.edits.arrows import DrawArrow
from movrel.edits.assemblies import Assemble, Dissolve
from movrel.edits.claims import AddClaim
from movrel.edits.clipboard import Paste, copied
from movrel.edits.every_edit import AnyEdit
from movrel.edits.figures import SetFigure
from movrel.edits.parts import Insert, Move, PartPlace, Rename
from movrel.edits.present_names import UsePresentNames
from movrel.edits.scenarios import AddScenario, KeepChanges, ScenarioFromRun, ScenarioValue
from movrel.edits.swapping import Swap, plan_swap
from movrel.edits.tables import SetTable
from movrel.edits.target import Edit, PastRun, apply_to, target_of
from movrel.edits.texts import ReplaceText, Setting
from movrel.edits.values import Parameter
from movrel.edits.wires import Connect, WireEnds
from movrel.errors import EditFault, MovrelError, NotFound
from movrel.project.snapshot import Snapshot
from tests.conftest import SUMP

ROW = """model Row "a row" // keep me
  Movrel.Signals.Constant a(value = 2) annotation (Placement(transformation(extent={{-100,0},{-60,40}})));
  Movrel.Signals.Gain b(k = 3) annotation (Placement(transformation(extent={{0,0},{40,40}})));
equation
  connect(a.y, b.u);
  annotation (experiment(StopTime = 1));
end Row;
"""


def edited(text: str, *edits: Edit, model: str = "Row") -> str:
    """The text after some edits, one after the other."""
    for edit in edits:
        text = apply_to(target_of(Snapshot.of({"Row.mo": text}), model), edit).text
    return text


def final(text: str, name: str, model: str = "Row") -> float:
    return float(movrel.load(text=text, model=model).simulate()[name][-1])


def test_every_edit_is_frozen_and_says_what_it_is_called() -> None:
    kinds = [edit.__dataclass_fields__["do"].default for edit in get_args(AnyEdit)]
    assert len(set(kinds)) == len(kinds) > 40
    assert all(edit.__dataclass_params__.frozen for edit in get_args(AnyEdit))


def test_an_edit_touches_nothing_but_its_place() -> None:
    target = target_of(Snapshot.of({"Row.mo": ROW}), "Row")
    done = Insert("Movrel.Signals.Gain", 100.0, 20.0).apply(target)
    assert done.inserted == ["gain"] and done.summary == "inserted gain"
    (patch,) = done.patches
    assert patch.start == patch.end, "only something new"
    changed = apply_to(target, Insert("Movrel.Signals.Gain", 100.0, 20.0, WireEnds("a.y", "b.u")))
    assert (
        "connect(a.y, gain.u);" in changed.text
        and "connect(gain.y, b.u);" in changed.text
        and "// keep me" in changed.text
    )
    assert target.source.text == ROW and changed.path == "Row.mo"


def test_edits_compute_what_they_say() -> None:
    text = edited(
        ROW,
        SetFigure("k_all", "3", unit="", note="Gain"),
        Parameter("b.k", "2*k_all"),
        Insert("Movrel.Signals.Integrator", 100.0, 20.0),
        Connect("b.y", "integrator.u"),
        Rename("b", "amplifier"),
        Setting("stop", "2 min"),
        Move([PartPlace("a", [-120.0, 0.0, -80.0, 40.0])]),
    )
    assert "k = 2*k_all" in text and "connect(amplifier.y, integrator.u);" in text
    assert final(text, "integrator.y") == pytest.approx(2 * 6 * 120, rel=1e-6)


def test_assembling_and_dissolving_lead_back() -> None:
    together = edited(ROW, Assemble(["a", "b"], "source of six"))
    assert "model SourceOfSix" in together and final(together, "sourceOfSix.b.y") == 6
    again = edited(together, Dissolve("sourceOfSix"))
    assert "SourceOfSix" not in again and final(again, "b.y") == 6


def test_pasted_parts_come_to_lie_about_the_point() -> None:
    turned = ROW.replace(
        "extent={{0,0},{40,40}}", "origin={20,20}, extent={{-20,-20},{20,20}}, rotation=270"
    )
    target = target_of(Snapshot.of({"Row.mo": turned}), "Row")
    pasted = apply_to(target, Paste(copied(target, ["a", "b"]), 100.0, 200.0))
    assert pasted.inserted == ["a2", "b2"]
    assert "extent={{30,180},{70,220}}" in pasted.text and "origin={150,200}" in pasted.text
    assert "connect(a2.y, b2.u)" in pasted.text


def test_a_swap_is_planned_before_it_is_made() -> None:
    target = target_of(Snapshot.of({"Row.mo": ROW}), "Row")
    plan = plan_swap(target, "b", "Movrel.Signals.Lag")
    assert plan.ports == {"u": "u"} and plan.lost == []
    assert (
        "Movrel.Signals.Lag b(k = 3)"
        in apply_to(target, Swap("b", "Movrel.Signals.Lag", plan.ports)).text
    )


def test_scenarios_and_claims_stand_in_the_text() -> None:
    text = edited(
        ROW, AddScenario("double"), ScenarioValue("double", "b.k", "6"), AddClaim("final(b.y) == 6")
    )
    assert (
        'Scenario(name="double", colour=1, changes={{"b.k", "6"}})' in text
        and 'claims={"final(b.y) == 6"}' in text
    )
    back = edited(text, ScenarioValue("double", "b.k", None))
    assert 'Scenario(name="double", colour=1)' in back


def test_a_past_run_gives_its_values_to_a_scenario() -> None:
    then = Snapshot.of({"Row.mo": ROW})
    run = PastRun(7, then, {"b.k": "5"}, {"stop": 3.0}, {"a.value": 2.0, "b.k": 5.0})
    now = ROW.replace("value = 2", "value = 4")
    target = target_of(Snapshot.of({"Row.mo": now}), "Row", {1: run}.__getitem__)
    text = apply_to(target, ScenarioFromRun(1, "as then")).text
    assert 'changes={{"b.k", "5"}, {"a.value", "2.0"}}, settings={{"stop", "3.0"}}' in text
    kept = apply_to(target, KeepChanges(1, "louder"))
    assert (
        "value = 2" in kept.text
        and 'Scenario(name="louder", colour=1, changes={{"a.value", "4"}})' in kept.text
    )
    with pytest.raises(NotFound, match="no run 9"):
        ScenarioFromRun(9, "x").apply(target_of(then, "Row"))


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (Insert("Movrel.Nothing", 0.0, 0.0), "no class 'Movrel.Nothing'"),
        (Connect("a.y", "a.y"), "cannot be connected with itself"),
        (Parameter("b.k", "30 kg"), "'kg' is a mass"),
        (Parameter("b.k", "1,200"), "can be read as 1.2 or as 1200"),
        (SetTable("b.k", "1 2"), "no table 'b.k'"),
        (DrawArrow("a", "a", "true"), "from one state to another"),
        (ReplaceText("model Other end Other;"), "no longer holds 'Row'"),
        (Setting("tolerance", "much"), "not a number"),
        (AddClaim("max(nothing) < 1"), "nothing"),
    ],
)
def test_what_cannot_be_done_says_why_and_changes_nothing(edit: Edit, words: str) -> None:
    target = target_of(Snapshot.of({"Row.mo": ROW}), "Row")
    with pytest.raises(MovrelError, match=words):
        apply_to(target, edit)
    assert target.source.text == ROW


OLD = """model Old "written with names of before"
  import Movrel.Signals.RealInput;
  Movrel.Signals.Step jump(time_of_step = 0.5) "Movrel.Signals.TimeTable in words";
  Movrel.Rotational.Torque drive; // Movrel.Rotational.Flange
  Movrel.Rotational.Inertia wheel(J = 2);
  RealInput u;
  Real late = jump.time_of_step;
equation
  connect(jump.y, drive.tau);
  connect(drive.b, wheel.a);
  annotation (experiment(StopTime = 2),
    __Movrel(scenarios={Scenario(name="later", colour=1, changes={{"jump.time_of_step", "1"}})}));
end Old;
"""


def test_old_names_of_the_library_mean_the_present_ones() -> None:
    new = edited(OLD, UsePresentNames(), model="Old")
    for present in ("import RealInput = Movrel.Signals.SignalIn;", "jump(delay = 0.5)", "Movrel.Rotational.DrivenTorque drive;",
                    '{"jump.delay", "1"}', '"Movrel.Signals.TimeTable in words"', "// Movrel.Rotational.Flange"):  # fmt: skip
        assert present in new
    with pytest.raises(EditFault, match="no old names"):
        edited(new, UsePresentNames(), model="Old")
    before = movrel.load(text=OLD).simulate()
    after = movrel.load(text=new).simulate()
    assert before["late"][-1] == after["late"][-1] == 0.5
    assert np.array_equal(before["wheel.w"], after["wheel.w"]) and after["wheel.w"][
        -1
    ] == pytest.approx(1.5 / 2, rel=1e-6)


def test_the_model_of_a_file_is_edited_as_well() -> None:
    snapshot = Snapshot.of(
        {
            "VarrowQuay/package.mo": "package VarrowQuay end VarrowQuay;",
            "VarrowQuay/Sump.mo": SUMP.read_text(),
        }
    )
    changed = apply_to(
        target_of(snapshot, "VarrowQuay.Sump"), Parameter("outlet.diameter", "20 cm")
    )
    assert (
        changed.path == "VarrowQuay/Sump.mo"
        and changed.summary == "diameter of outlet 0.15 m → 20 cm"
    )

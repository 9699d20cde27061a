"""Signals with units: typed into a source, or taken from what it feeds."""

from __future__ import annotations

import pytest

from movrel.edits.arrows import DrawArrow
from movrel.edits.target import apply_to, target_of
from movrel.edits.values import Parameter
from movrel.errors import UnitFault
from movrel.project.snapshot import Snapshot, definition_of, loaded_model
from movrel.sheet.transitions import transitions
from movrel.views.ledger import rows

PLANT = Snapshot.of(
    {
        "Plant.mo": """model Plant
  Movrel.Signals.Step step(before = 0, delay = 1);
  Movrel.Signals.Gain gain(k = 2);
  Movrel.Process.Inflow inflow;
  Movrel.Process.Basin basin;
equation
  connect(step.y, inflow.q);
  connect(step.y, gain.u);
  connect(inflow.port, basin.inlet);
end Plant;
"""
    }
)


def unit_of(texts: Snapshot, name: str) -> str:
    return next(
        c.unit for c in loaded_model(texts, "Plant").simulate(stop=2).columns if c.name == name
    )


def test_a_signal_has_the_unit_of_what_it_feeds() -> None:
    assert unit_of(PLANT, "step.y") == "m3/s" and unit_of(PLANT, "gain.u") == "m3/s"
    # What a block makes of it is another quantity.
    assert unit_of(PLANT, "gain.y") == ""
    loaded = loaded_model(PLANT, "Plant")
    listed = {row.name: row for row in rows(loaded.flat, None, loaded.ordered)}
    assert listed["step.y"].unit == "m3/s"


def test_a_quantity_typed_into_a_source_gives_its_signal_the_unit() -> None:
    changed = apply_to(target_of(PLANT, "Plant"), Parameter("step.after", "3.2 m3/min"))
    assert changed.summary == "after of step → 3.2 m3/min; its signal is in m3/s"
    texts = PLANT.changed(changed.path, changed.text)
    result = loaded_model(texts, "Plant").simulate(stop=2)
    assert result["step.y"][-1] == pytest.approx(3.2 / 60, rel=1e-12)
    after = {r.name: r for r in rows(loaded_model(texts, "Plant").flat)}["step.after"]
    assert (after.shown, after.shown_unit) == (pytest.approx(3.2), "m3/min")
    # In its new unit from now on, and in no other.
    again = apply_to(target_of(texts, "Plant"), Parameter("step.after", "6"))
    more = PLANT.changed(again.path, again.text)
    assert loaded_model(more, "Plant").simulate(stop=2)["step.y"][-1] == pytest.approx(
        0.1, rel=1e-12
    )
    with pytest.raises(UnitFault, match="kg/s"):
        apply_to(target_of(texts, "Plant"), Parameter("step.before", "1 kg/s"))


def test_what_is_no_source_keeps_its_plain_numbers() -> None:
    with pytest.raises(UnitFault, match="plain number"):
        apply_to(target_of(PLANT, "Plant"), Parameter("gain.k", "3 m"))


def test_quantities_count_in_the_conditions_of_arrows() -> None:
    machine = Snapshot.of(
        {
            "M.mo": "model M\n  block S end S;\n  S a;\n  S b;\nequation\n  initialState(a);\nend M;\n"
        }
    )
    changed = apply_to(target_of(machine, "M"), DrawArrow("a", "b", "time > 2 min and true"))
    assert "transition(a, b, time > (120 /*2 min*/) and true);" in changed.text
    (arrow,) = (
        t
        for t in transitions(definition_of(machine.changed("M.mo", changed.text), "M"))
        if t.from_state
    )
    assert arrow.condition == "time > 2 min and true"

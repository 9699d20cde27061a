"""The curves that a model shows before anybody arranged them."""

from __future__ import annotations

from pathlib import Path

from movrel.session import load
from movrel.views.first_layout import first_layout

QUAY = Path(__file__).resolve().parents[2] / "examples" / "VarrowQuay"


def test_a_state_machine_shows_what_its_text_names() -> None:
    model = load(str(QUAY), model="VarrowQuay.ShiftController")
    declared = {v.name for v in model.flat.variables if not v.generated}
    layout = first_layout(model.ordered)
    assert layout
    assert {name for strip in layout for name in strip} <= declared

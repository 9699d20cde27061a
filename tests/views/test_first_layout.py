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


PLANT = """model Plant "a drive with what somebody looks at"
  model Drive
    Real w(unit="rad/s", start=0, fixed=true);
    Real a(unit="rad/s2");
    protected Real hidden(unit="rad/s", start=1, fixed=true);
  equation
    der(w) = a; a = 10 - w; der(hidden) = -hidden;
  end Drive;
  Drive drive;
  Real speed(unit="rad/s") = drive.w;
  Real power(unit="W") = 2*drive.w;
  output Real lead(unit="rad/s") = speed - 3;
end Plant;"""


def test_first_comes_what_somebody_asked_for() -> None:
    system = load(text=PLANT).ordered
    # Outputs, named variables, states; not the same speed under its other name, nor what is protected.
    assert first_layout(system) == [["lead", "speed"], ["power"]]
    assert first_layout(system, ["drive.a", "power", "gone"]) == [
        ["drive.a"],
        ["power"],
        ["lead", "speed"],
    ]


def test_sensors_come_before_states() -> None:
    text = """model Drained
  Movrel.Process.Basin basin(level_start = 1);
  Movrel.Process.Orifice opening;
  Movrel.Process.FlowMeter meter;
  Movrel.Process.Outfall sea;
  Movrel.Signals.Integrator counted;
equation
  connect(basin.outlet, opening.a);
  connect(opening.b, meter.a);
  connect(meter.b, sea.port);
  connect(meter.q, counted.u);
end Drained;"""
    # The meter's flow first, although the integrator's is the same and its sum is a state.
    assert first_layout(load(text=text).ordered)[0] == ["meter.q"]

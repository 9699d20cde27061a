"""Forms of data: one hands its values to the next, and only the rows of the chosen one are offered."""

from __future__ import annotations

import pytest

from movrel.edits.assemblies import Expose
from movrel.edits.figures import SetFigure
from movrel.edits.tables import SetTable
from movrel.edits.target import Edit, apply_to, target_of
from movrel.edits.texts import Setting
from movrel.edits.values import Parameter
from movrel.project.snapshot import Snapshot, loaded_model
from movrel.views.ledger import Row, rows
from movrel.views.model_view import model_content

MOTOR = Snapshot.of(
    {
        "A.mo": "model A\n  Movrel.Electrical.PermanentMagnetMotor m(data = Movrel.Electrical.MotorData.stall_torque,"
        " V_n = 24, tau_stall = 1.5, w_0 = 480, I_0 = 0.1);\nend A;\n"
    }
)


def after(snapshot: Snapshot, *edits: Edit) -> Snapshot:
    for edit in edits:
        changed = apply_to(target_of(snapshot, "A"), edit)
        snapshot = snapshot.changed(changed.path, changed.text)
    return snapshot


def listed(snapshot: Snapshot) -> dict[str, Row]:
    model = loaded_model(snapshot, "A")
    return {row.name: row for row in rows(model.flat, model.definition) if row.enabled}


def test_only_the_rows_of_the_chosen_form_are_there() -> None:
    data = {
        "m.R_a",
        "m.k_M",
        "m.tau_stall",
        "m.w_0",
        "m.tau_n",
        "m.w_n",
        "m.I_n",
        "m.P_n",
        "m.column",
    }
    assert data & listed(MOTOR).keys() == {"m.tau_stall", "m.w_0"}
    assert data & listed(after(MOTOR, Parameter("m.data", "rated_point"))).keys() == {
        "m.w_0", "m.tau_n", "m.w_n", "m.I_n", "m.P_n"
    }  # fmt: skip


def test_what_a_form_determines_goes_over_to_the_next() -> None:
    constants = after(MOTOR, Parameter("m.data", "constants"))
    was, now = listed(MOTOR), listed(constants)
    # The constants make the stall torque and the speed without load of before: tau = k (V/R - I_0), V = R I_0 + k w.
    k, resistance = float(now["m.k_M"].value or 0), float(now["m.R_a"].value or 0)
    assert k * (24 / resistance - 0.1) == pytest.approx(1.5, rel=1e-9)
    assert (24 - resistance * 0.1) / k == pytest.approx(480, rel=1e-9)
    for name in ("m.k", "m.R"):
        assert now[name].value == pytest.approx(was[name].value, rel=1e-9)
    back = after(constants, Parameter("m.k_M", "0.04"), Parameter("m.data", "stall_torque"))
    assert listed(back)["m.w_0"].value == pytest.approx((24 - resistance * 0.1) / 0.04, rel=1e-9)
    summary = apply_to(target_of(MOTOR, "A"), Parameter("m.data", "constants")).summary
    assert summary == "data of m stall_torque → constants; R_a, k_M taken over"


def test_quantities_in_formulae_stay_as_they_were_typed() -> None:
    plant = Snapshot.of(
        {
            "A.mo": 'model A\n  parameter Movrel.Units.Area area = 1;\n  parameter Real v[2](each unit="m") = {1, 2};\nend A;\n'
        }
    )
    plant = after(plant, Parameter("area", "pi*(14 cm)^2/4"), SetTable("v", "{2*3 cm, 4 cm}"))
    seen = listed(plant)
    assert seen["area"].expression == "pi*(14 cm)^2/4"
    assert seen["area"].value == pytest.approx(0.0153938, rel=1e-5)
    assert (seen["v[1]"].expression, seen["v[1]"].value) == ("2*3 cm", 0.06)
    # Where the number was changed in the text, it counts, and not what stands beside it.
    other = plant.changed("A.mo", plant.text("A.mo").replace("0.14 /*14 cm*/", "0.2 /*14 cm*/"))
    assert listed(other)["area"].expression == "pi*(0.2)^2/4"


def test_values_of_named_values_have_the_unit_that_follows() -> None:
    plant = Snapshot.of({"A.mo": "model A\nend A;\n"})
    for name, text in (
        ("d", "14 cm"),
        ("area", "pi*d^2/4"),
        ("v", "2 m/s"),
        ("q", "area*v"),
        ("w", "9.81*d"),
    ):
        plant = after(plant, SetFigure(name, text))
    units = {row.name: row.unit for row in listed(plant).values()}
    # 9.81 may be anything: no unit is claimed.
    assert units == {"d": "m", "area": "m2", "v": "m/s", "q": "m3/s", "w": ""}


def test_a_vector_of_a_part_is_exposed() -> None:
    plant = Snapshot.of(
        {"A.mo": "model A\n  Movrel.Signals.TransferFunction t(b = {3, 1});\nend A;\n"}
    )
    text = after(plant, Expose("t.b"), Expose("t.a", "poles")).text("A.mo")
    assert "parameter Real b[:] = {3, 1}" in text
    assert "parameter Real poles[:] = {1, 1}" in text
    assert "t(b = b, a = poles)" in text


def test_parameters_that_the_start_finds_are_unknowns() -> None:
    plant = Snapshot.of(
        {
            "A.mo": 'model A\n  parameter Real k(unit="1/s", fixed = false, start = 2);\n  Real x(start = 1, fixed = true);\n'
            "initial equation\n  der(x) = -3;\nequation\n  der(x) = -k*x;\nend A;\n"
        }
    )
    model = loaded_model(plant, "A")
    groups = {
        row.name: (row.group, row.fixed)
        for row in rows(model.flat, model.definition, model.ordered)
    }
    assert groups["k"] == ("watch", None)
    assert groups["k.start"] == ("start", False)
    changed = after(plant, Parameter("k.start", "5 1/min"))
    assert 'displayUnit = "1/min"' in changed.text("A.mo")
    assert loaded_model(changed, "A").simulate()["k"][0] == pytest.approx(3)


def test_times_of_the_run_stay_in_the_unit_in_which_they_were_typed() -> None:
    plant = after(
        Snapshot.of({"A.mo": "model A\n  Real x = time;\nend A;\n"}),
        Setting("stop", "45 min"), Setting("interval", "0.5 min"), Setting("solver", "euler"), Setting("step", "5 ms"),
    )  # fmt: skip
    settings = model_content(plant, "A").settings
    assert settings is not None
    assert (settings.stop, settings.interval, settings.step) == (2700, 30, 0.005)
    assert (settings.time_unit, settings.interval_unit, settings.step_unit) == ("min", "min", "ms")

"""Values that are typed with a new part, and connectors and ports that a model gets by hand."""

from __future__ import annotations

import pytest

from movrel.edits.components import KeepComponent
from movrel.edits.parts import Insert, Move, PartPlace, Rename
from movrel.edits.port_order import ArrangePort, sides
from movrel.edits.target import Edit, apply_to, target_of
from movrel.edits.wires import WireEnds
from movrel.errors import EditFault, MovrelError
from movrel.project.snapshot import Snapshot, class_tree, loaded_model
from movrel.sheet.symbols import icon
from movrel.views.inspection import check_component
from movrel.views.shelf import shelf

EMPTY = Snapshot.of({"A.mo": "model A\nend A;\n"})


def after(snapshot: Snapshot, *edits: Edit, model: str = "A") -> Snapshot:
    for edit in edits:
        changed = apply_to(target_of(snapshot, model), edit)
        snapshot = snapshot.changed(changed.path, changed.text)
    return snapshot


def insert(name: str, **values: str) -> Insert:
    given = {"" if key == "main" else key: value for key, value in values.items()}
    return Insert(f"Movrel.{name}", 0, 0, None, given)


def test_values_come_with_a_new_part() -> None:
    plant = after(
        EMPTY,
        insert("Electrical.Resistor", main="10k"),
        insert("Signals.Step", main="3"),
        insert("Signals.Pulse", height="2", width="300 ms"),
        insert("Signals.TransferFunction", a="{3, 1}"),
    )
    values = loaded_model(plant, "A").by_name
    numbers = {
        name: v.binding.value
        for name, v in values.items()
        if v.binding is not None and v.binding.op == "const"
    }
    assert numbers["resistor.R"] == 10_000
    assert numbers["step.after"] == 3
    assert (numbers["pulse.height"], numbers["pulse.width"]) == (2, 0.3)
    assert (numbers["transferFunction.a[1]"], numbers["transferFunction.a[2]"]) == (3, 1)


def test_what_all_parts_of_a_kind_look_for_comes_in_once_under_its_name() -> None:
    pump = after(EMPTY, insert("Hydraulics.Chamber"))
    (warning,) = loaded_model(pump, "A").warnings
    assert "no oil" in warning and "Put the part Oil on the sheet" in warning
    plant = after(pump, insert("Hydraulics.Oil", T_start="60 degC"))
    assert "inner Movrel.Hydraulics.Oil oil(T_start = " in plant.text("A.mo")
    model = loaded_model(plant, "A")
    assert not model.warnings and model.by_name["oil.nu"]
    with pytest.raises(EditFault, match="has a part 'oil' already"):
        after(plant, insert("Hydraulics.Oil"))


def test_values_may_name_the_model_s_own_and_come_into_a_model_that_has_faults() -> None:
    plant = EMPTY.changed("A.mo", "model A\n  parameter Real k = 3;\nend A;\n")
    named = after(plant, insert("Signals.Integrator", main="k/2")).text("A.mo")
    assert "Movrel.Signals.Integrator integrator(k = k/2)" in named
    with pytest.raises(MovrelError, match="no variable 'kk'"):
        after(plant, insert("Signals.Integrator", main="kk/2"))
    broken = EMPTY.changed("A.mo", "model A\n  Nothing n;\nend A;\n")
    assert "gain(k = 2)" in after(broken, insert("Signals.Gain", main="2")).text("A.mo")


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        (insert("Electrical.Resistor", main="10 kg"), "is a resistance"),
        (insert("Electrical.Resistor", S="10"), "has no parameter 'S'"),
        (insert("Electrical.Ground", main="3"), "no number that it is known by"),
    ],
)
def test_a_value_that_does_not_fit_is_refused_with_the_part(edit: Edit, sentence: str) -> None:
    with pytest.raises(MovrelError, match=sentence):
        after(EMPTY, edit)


JOINT = """connector Joint "What is joined"
  Real p(unit="Pa") "Pressure";
  flow Real q(unit="m3/s") "Flow";
end Joint;"""


def test_a_connector_is_written_and_its_ports_are_put_in_order() -> None:
    seen = check_component(EMPTY, "A", JOINT)
    assert (seen.connector, seen.counts, seen.balance) == (True, "1 potential, 1 flow", "")
    assert [name.name for name in seen.unknowns] == ["p", "q"]
    lame = check_component(EMPTY, "A", JOINT.replace("flow Real", "Real"))
    assert "as many potentials as flows" in lame.balance
    plant = after(EMPTY, KeepComponent(JOINT, "", 0, 0))
    assert "A.Joint" in [e.class_name for e in shelf(plant, "A").entries]
    plant = after(plant, Insert("A.Joint", 50, 0), insert("Signals.SignalIn"))
    plant = after(plant, ArrangePort("u", "top", 0), ArrangePort("joint", "top", 5))
    plant = after(plant, ArrangePort("joint2", "top", 1))
    tree = class_tree(plant)
    definition = tree.find("A")
    assert definition is not None
    by_side = sides(icon(tree, definition))
    assert [port.name for port in by_side["top"]] == ["u", "joint2", "joint"]
    assert [port.extent for port in by_side["top"]] == [
        [-50, 90, -30, 110],
        [-10, 90, 10, 110],
        [30, 90, 50, 110],
    ]
    with pytest.raises(EditFault, match="no port 'v'"):
        after(plant, ArrangePort("v", "left", 0))


def test_a_renamed_port_takes_its_users_with_it() -> None:
    package = "package P\nmodel A Movrel.Rotational.Shaft a; end A;\nmodel B A a; A c; equation connect(a.a, c.a); end B;\nend P;"
    one = after(Snapshot.of({"P.mo": package}), Rename("a", "shaft"), model="P.A")
    assert "model B A a; A c; equation connect(a.shaft, c.shaft); end B;" in one.text("P.mo")
    files = {
        "A.mo": "model A Movrel.Rotational.Shaft a; end A;",
        "B.mo": "model B A x; A y; equation connect(x.a, y.a); end B;",
    }
    with pytest.raises(EditFault, match=r"B in B.mo uses the port as 'x.a'"):
        after(Snapshot.of(files), Rename("a", "shaft"))


def test_a_part_that_is_there_goes_into_a_wire() -> None:
    plant = Snapshot.of(
        {
            "A.mo": "model A\n  Movrel.Signals.Step step;\n  Movrel.Signals.Gain gain;\n  Movrel.Signals.Lag lag;\n"
            "equation\n  connect(step.y, lag.u);\nend A;\n"
        }
    )
    move = Move([PartPlace("gain", [0, 0, 40, 40])], into=WireEnds("step.y", "lag.u"))
    text = after(plant, move).text("A.mo")
    assert "connect(step.y, gain.u);" in text
    assert "connect(gain.y, lag.u);" in text
    assert "connect(step.y, lag.u);" not in text

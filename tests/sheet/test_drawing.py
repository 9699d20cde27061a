"""The sheet as plain data, from annotations."""

from __future__ import annotations

import pytest

from movrel.model.classes import ClassTree
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Sheet
from movrel.sheet.symbols import icon
from movrel.sheet.wiring import port_position

PACKAGE = """package P
  connector Pin Real v; flow Real i; annotation(__Movrel(domain = "electrical")); end Pin;
  connector Out = output Real;
  partial model Base annotation(Icon(graphics = {Line(points = {{-100, 0}, {100, 0}})})); end Base;
  model R extends Base; Pin p annotation(Placement(transformation(extent = {{-110, -10}, {-90, 10}})));
    Pin n annotation(Placement(transformation(extent = {{90, -10}, {110, 10}})));
    annotation(Icon(graphics = {Rectangle(extent = {{-60, 20}, {60, -20}}, lineColor = {1, 2, 3}), Text(extent = {{-9, 9}, {9, 5}}, textString = "%name")}));
  end R;
  model Src Out y annotation(Placement(transformation(extent = {{90, -10}, {110, 10}}))); equation y = 1; end Src;
  model M "Two of them"
    R a annotation(Placement(transformation(extent = {{0, 0}, {20, 20}})));
    R b "second" annotation(Placement(transformation(origin = {60, 10}, extent = {{-10, -10}, {10, 10}}, rotation = 90)));
    R c annotation(Placement(transformation(extent = {{120, 0}, {100, 20}})));
    R loose; parameter Real k = 1;
  equation connect(a.n, b.p) annotation(Line(points = {{21, 10}, {40, 10}, {40, -2}, {60, -2}}));
    connect(a.p, c.p);
  end M;
end P;"""


@pytest.fixture(scope="module")
def tree() -> ClassTree:
    made = ClassTree()
    made.add_text(PACKAGE, "p.mo")
    return made


def drawn(tree: ClassTree) -> Sheet:
    definition = tree.find("P.M")
    assert definition is not None
    return sheet(tree, definition)


def test_components_and_where_they_stand(tree: ClassTree) -> None:
    view = drawn(tree)
    by_name = {c.name: c for c in view.components}
    assert list(by_name) == ["a", "b", "c", "loose"], "scalars are not drawn"
    assert by_name["b"].extent == [50, 0, 70, 20] and by_name["b"].rotation == 90
    assert by_name["b"].description == "second" and by_name["c"].extent == [120, 0, 100, 20]
    assert by_name["loose"].extent[3] < 0, "what has no place stands below the others"
    assert view.extent[0] < 0 and view.extent[2] > 120


def test_ports_turn_and_mirror_with_their_component(tree: ClassTree) -> None:
    view = drawn(tree)
    by_name = {c.name: c for c in view.components}
    ports = {
        name: {p.name: port_position(c, view.icon_of(c), p) for p in view.icon_of(c).ports}
        for name, c in by_name.items()
    }
    assert ports["a"]["p"] == pytest.approx((0, 10)) and ports["a"]["n"] == pytest.approx((20, 10))
    assert ports["b"]["p"] == pytest.approx((60, 0)) and ports["b"]["n"] == pytest.approx(
        (60, 20)
    ), "turned by 90 degrees"
    assert ports["c"]["p"] == pytest.approx((120, 10)) and ports["c"]["n"] == pytest.approx(
        (100, 10)
    ), "mirrored"


def test_wires_end_in_their_ports_and_run_at_right_angles(tree: ClassTree) -> None:
    first, second = drawn(tree).connections
    assert first.points[0] == [20, 10] and first.points[-1] == [60, 0]
    assert second.points[0] == [0, 10] and second.points[-1] == [120, 10]
    for wire in (first, second):
        assert wire.domain == "electrical" and wire.direction == ""
        for (x1, y1), (x2, y2) in zip(wire.points, wire.points[1:], strict=False):
            assert x1 == pytest.approx(x2) or y1 == pytest.approx(y2)


def test_a_symbol_has_its_bases_beneath_and_its_ports(tree: ClassTree) -> None:
    symbol = icon(tree, tree.find("P.R"))
    assert [g["is"] for g in symbol.graphics] == ["Line", "Rectangle", "Text"]
    assert (
        symbol.graphics[1]["lineColor"] == [1, 2, 3] and symbol.graphics[2]["textString"] == "%name"
    )
    source = icon(tree, tree.find("P.Src"))
    assert (source.ports[0].domain, source.ports[0].direction) == ("signal", "out")


def test_every_part_of_the_library_has_a_symbol_a_description_and_placed_ports() -> None:
    tree = ClassTree()
    for package in ("Signals", "Translational", "Rotational", "Electrical", "Thermal", "Process"):
        found = tree.find(f"Movrel.{package}")
        assert found is not None
        for part in tree.members(found):
            if part.node.kind not in ("model", "block") or part.node.partial:
                continue
            assert part.node.comment, f"{part.qualified} says what it is"
            symbol = icon(tree, part)
            assert symbol.graphics, f"{part.qualified} has a symbol"
            for port in symbol.ports:
                in_the_middle = port.extent == [-10.0, -10.0, 10.0, 10.0]
                assert not in_the_middle or part.name in ("HeldRod", "HeldShaft"), (
                    f"{part.qualified}.{port.name} is placed"
                )
                fields = (
                    "signal",
                    "boolean",
                    "translational",
                    "rotational",
                    "electrical",
                    "thermal",
                    "process liquid",
                )
                assert port.domain in fields


def test_the_arrows_of_a_state_machine_are_on_its_sheet() -> None:
    tree = ClassTree()
    definition = tree.find("Movrel.Examples.Signals.Sequence")
    assert definition is not None
    said = ("from_state", "to_state", "condition", "priority", "number")
    assert [
        tuple(getattr(arrow, k) for k in said) for arrow in sheet(tree, definition).transitions
    ] == [
        ("", "idle", "", "", -1),
        ("idle", "filling", "time >= 0.95", "1", 0),
        ("filling", "draining", "level.y >= 2", "1", 1),
        ("draining", "filling", "level.y <= 0.5", "1", 2),
    ]


def test_an_array_of_parts_is_drawn_once_with_its_number_and_its_wires() -> None:
    made = ClassTree()
    made.add_text(
        """model M parameter Integer n = 4; Movrel.Electrical.Resistor r[n], pair[2, 3]; Movrel.Electrical.Ground g;
        Movrel.Electrical.VoltageSource v;
        equation for k in 1:n loop connect(v.a, r[k].a); connect(r[k].b, g.a); end for; connect(v.b, g.a); end M;""",
        "m.mo",
    )
    definition = made.find("M")
    assert definition is not None
    plan = sheet(made, definition)
    assert {c.name: c.array for c in plan.components} == {
        "r": "n",
        "pair": "2 × 3",
        "g": "",
        "v": "",
    }
    looped = next(c for c in plan.connections if c.to_port == "r[k].a")
    at = [
        port_position(c, plan.icon_of(c), port)
        for c, name in ((plan.components[3], "a"), (plan.components[0], "a"))
        if (port := plan.icon_of(c).port(name)) is not None
    ]
    assert [tuple(looped.points[0]), tuple(looped.points[-1])] == at


@pytest.mark.parametrize(
    ("part", "curves"),
    [
        ("Signals.LookUp p(table=[0, 0; 1, -2; 4, 2])", [[[0, 0.5], [0.25, 0], [1, 1]]]),
        ("Signals.LookUp p(table={{0, 1}, {2, 3}})", [[[0, 0], [1, 1]]]),
        ("Signals.PointTable p(table=[0, 3; 5, 3])", [[[0, 0.5], [1, 0.5]]]),
        (
            "Signals.LookUp2 p(table=[0, 1, 2; 0, 0, 2; 1, 1, 4])",
            [[[0, 0], [1, 0.25]], [[0, 0.5], [1, 1]]],
        ),
        ("Signals.LookUp p(table=fill(1.0, 2, 2))", []),
        ("Signals.Gain p(k=2)", []),
    ],
)
def test_a_table_is_previewed_on_its_symbol(part: str, curves: list[list[list[float]]]) -> None:
    made = ClassTree()
    made.add_text(f"model M Movrel.{part}; end M;", "m.mo")
    definition = made.find("M")
    assert definition is not None
    assert sheet(made, definition).components[0].curves == curves

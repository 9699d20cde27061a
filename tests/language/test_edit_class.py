"""Edits of parts and connections: text in, text out; nothing else changes."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from movrel.errors import EditFault
from movrel.language import edit_class as edit
from movrel.language import edit_wires
from movrel.language.names import free_name
from movrel.language.parser import parse
from movrel.language.patch import apply

PLANT = """within Quay;
model Plant "a plant" // keep me
  parameter Real a = 1 "size", b = 2, c = 3; /* and me */
  Tank t(A = 3) "tank" annotation (Placement(transformation(extent={{-10,-10},{10,10}})));
  Pump u(k = t.A + a); // pump
protected
  Real q;
equation
  // the loop
  connect(t.p, u.p) annotation (Line(points={{0,0},{1,1}})); // wire
  q = 2*t.level;
  annotation (Icon());
end Plant;
"""


def edited(text: str, what: str, *arguments: object) -> str:
    source = parse(text, "plant.mo")
    new = apply(
        text,
        getattr(edit_wires if "connection" in what else edit, what)(
            source, source.tree.classes[0], *arguments
        ),
    )
    parse(new, "plant.mo")
    return new


def lines_changed(old: str, new: str) -> tuple[list[str], list[str]]:
    a, b = old.splitlines(), new.splitlines()
    return [line for line in a if line not in b], [line for line in b if line not in a]


def test_a_part_is_declared_after_the_last_public_one() -> None:
    new = edited(
        PLANT,
        "insert_component",
        "Movrel.Process.Basin",
        "basin",
        edit.placement(((0, 0), (20, 20))),
    )
    gone, come = lines_changed(PLANT, new)
    assert gone == [] and "  Pump u(k = t.A + a); // pump" in new.splitlines()
    assert come == [
        "  Movrel.Process.Basin basin annotation (Placement(transformation(extent={{0,0},{20,20}})));"
    ]


@pytest.mark.parametrize(
    ("empty", "full"),
    [
        ("model M end M;", "model M\n  Tank tank annotation (P());\nend M;"),
        (
            'model M "a \\"b\\" c" end M;',
            'model M "a \\"b\\" c"\n  Tank tank annotation (P());\nend M;',
        ),
        ("model M\nend M;\n", "model M\n  Tank tank annotation (P());\nend M;\n"),
        ("package P\n  model M\n  equation\n  end M;\nend P;", None),
    ],
)
def test_a_part_in_an_empty_class(empty: str, full: str | None) -> None:
    if full is None:
        source = parse(empty, "m.mo")
        new = apply(
            empty,
            edit.insert_component(
                source, source.tree.classes[0].elements[0], "Tank", "tank", "P()"
            ),
        )
        assert "  model M\n    Tank tank annotation (P());\n  equation" in new
        return
    assert (
        edited(empty, "insert_component", "Tank", "tank", "P()").replace(" end M;", "end M;")
        == full
    )


def test_a_part_goes_with_its_wires() -> None:
    text = PLANT.replace("u(k = t.A + a)", "u").replace("  q = 2*t.level;\n", "  q = 2;\n")
    gone, come = lines_changed(text, edited(text, "delete_component", "t"))
    assert (
        [line.strip()[:10] for line in gone] == ["Tank t(A =", "connect(t."]
        and come == ["   // wire"]
    ) or not come


def test_one_of_several_in_a_clause() -> None:
    assert 'parameter Real a = 1 "size", c = 3; /*' in edited(PLANT, "delete_component", "b")
    assert 'parameter Real a = 1 "size", b = 2; /*' in edited(PLANT, "delete_component", "c")
    text = PLANT.replace("t.A + a", "t.A")
    assert "parameter Real b = 2, c = 3; /*" in edited(text, "delete_component", "a")


def test_what_is_in_use_is_not_taken_away() -> None:
    with pytest.raises(EditFault, match=r"'a' is used in line 5"):
        edited(PLANT, "delete_component", "a")
    with pytest.raises(EditFault, match="not declared"):
        edited(PLANT, "delete_component", "nothing")


def test_a_new_name_reaches_every_reference() -> None:
    new = edited(PLANT, "rename_component", "t", "sump")
    gone, come = lines_changed(PLANT, new)
    assert len(gone) == len(come) == 4
    assert (
        "k = sump.A + a" in new
        and "connect(sump.p, u.p)" in new
        and "2*sump.level" in new
        and '"tank"' in new
    )
    assert edited(new, "rename_component", "sump", "t") == PLANT
    for bad in ("u", "2x", "end", "a b", ""):
        with pytest.raises(EditFault):
            edited(PLANT, "rename_component", "t", bad)


def test_a_part_is_moved_turned_and_placed_for_the_first_time() -> None:
    new = edited(PLANT, "place_component", "t", edit.placement(((5, 5), (25, 30))))
    assert "extent={{5,5},{25,30}}" in new and "-10" not in new
    turned = edited(PLANT, "place_component", "t", edit.placement(((0, 0), (20, 10)), 90))
    assert "extent={{-10,-5},{10,5}}, rotation=90, origin={10,5}" in turned
    assert "Pump u(k = t.A + a) annotation (Placement(" in edited(
        PLANT, "place_component", "u", edit.placement(((0, 0), (1, 1)))
    )


def test_wires_come_and_go() -> None:
    new = edited(PLANT, "add_connection", "t.q", "u.q")
    assert "  q = 2*t.level;\n  connect(t.q, u.q);\n  annotation" in new
    assert edited(new, "delete_connection", "u.q", "t.q") == PLANT
    assert "connect" not in edited(PLANT, "delete_connection", "t.p", "u.p")
    first = edited("model M\n  A a, b;\nend M;\n", "add_connection", "a.p", "b.p")
    assert first == "model M\n  A a, b;\nequation\n  connect(a.p, b.p);\nend M;\n"
    for left, right in (("t.p", "u.p"), ("u.p", "t.p"), ("t.p", "t.p")):
        with pytest.raises(EditFault):
            edited(PLANT, "add_connection", left, right)


def test_run_settings_find_their_place() -> None:
    bare = "model M\n  Real x;\nend M;\n"
    one = edited(bare, "set_experiment", "StopTime", "10")
    assert one == "model M\n  Real x;\n  annotation (experiment(StopTime=10));\nend M;\n"
    two = edited(one, "set_experiment", "__Movrel.solver", '"radau"')
    assert 'experiment(StopTime=10, __Movrel(solver="radau"))' in two
    assert 'solver="bdf", step=0.1' in edited(
        edited(two, "set_experiment", "__Movrel.step", "0.1"),
        "set_experiment",
        "__Movrel.solver",
        '"bdf"',
    )
    assert "StopTime=3 * 60" not in edited(PLANT, "set_experiment", "StopTime", "5")
    assert "annotation (experiment(StopTime=5), Icon());" in edited(
        PLANT, "set_experiment", "StopTime", "5"
    )


def test_names_for_new_parts() -> None:
    cls = parse("model M Basin basin, basin2; end M;", "m.mo").tree.classes[0]
    assert free_name(cls, "Movrel.Process.Basin") == "basin3"
    assert free_name(cls, "Movrel.Process.Orifice") == "orifice"
    assert free_name(cls, "Model") == "model1"


OPERATIONS = st.lists(
    st.tuples(
        st.sampled_from(["insert", "delete", "rename", "place", "connect", "cut"]),
        st.integers(0, 9),
        st.integers(0, 9),
    ),
    max_size=12,
)


@settings(max_examples=120, deadline=None)
@given(OPERATIONS)
def test_any_sequence_of_edits_keeps_the_text_whole(operations: list[tuple[str, int, int]]) -> None:
    """Comments survive, the text parses, and what was put in can be taken out again."""
    text = PLANT
    for what, i, j in operations:
        cls = parse(text, "plant.mo").tree.classes[0]
        names = [e.name for e in cls.elements if hasattr(e, "type_name")]
        one, other = names[i % len(names)], names[j % len(names)]
        try:
            if what == "insert":
                text = edited(
                    text,
                    "insert_component",
                    "Tank",
                    free_name(cls, "Tank"),
                    edit.placement(((i, j), (i + 1.5, j + 2))),
                )
            elif what == "delete":
                text = edited(text, "delete_component", one)
            elif what == "rename":
                text = edited(text, "rename_component", one, f"{one}{j}")
            elif what == "place":
                text = edited(
                    text, "place_component", one, edit.placement(((i, i), (j, j)), 90.0 * (j % 4))
                )
            elif what == "connect":
                text = edited(text, "add_connection", f"{one}.p", f"{other}.q")
            else:
                text = edited(text, "delete_connection", f"{one}.p", f"{other}.q")
        except EditFault:
            continue
    assert "// keep me" in text and "// the loop" in text and "annotation (Icon());" in text


def test_classes_inside_keep_names_of_their_own() -> None:
    text = "model M\n  model N\n    Real a = k;\n    Real b = 2*a;\n  end N;\n  constant Real k = 1;\n  Real a = 3*k;\nend M;\n"
    renamed = edited(text, "rename_component", "a", "c")
    assert "Real a = k;" in renamed and "Real b = 2*a;" in renamed and "Real c = 3*k;" in renamed
    assert "Real a = kk;" in edited(text, "rename_component", "k", "kk")

"""Copies, assemblies, exposed parameters and swapped classes: text in, text out, and the same results."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

import movrel
from movrel.edits import assembly, dissolving, exposure, fragment, swapping
from movrel.errors import EditFault
from movrel.language.parser import parse
from movrel.language.patch import apply
from movrel.model.classes import ClassTree, Definition

PLANT = """model Plant "a plant" // keep me
  parameter Real A(unit="m2") = 2 "area"; // and me
  Movrel.Signals.Constant rain(value = 0.05) annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  Movrel.Process.Inflow inflow annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Process.Basin basin(area = A, level_start = 0.3) "tank"
    annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Process.Orifice outlet(diameter = 0.1) annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Process.Outfall harbour annotation (Placement(transformation(extent={{120,-20},{160,20}})));
  Real twice(unit="m") = 2*basin.level;
equation
  // the way of the water
  connect(rain.y, inflow.q);
  connect(inflow.port, basin.inlet) annotation (Line(points={{-20,0},{-10,0},{-10,12},{0,12}}));
  connect(basin.outlet, outlet.a);
  connect(outlet.b, harbour.port);
  annotation (experiment(StopTime=100));
end Plant;
"""


def loaded(text: str) -> tuple[ClassTree, Definition]:
    tree = ClassTree()
    return tree, tree.add_text(text, "plant.mo")[-1]


def assembled(text: str, *names: str) -> str:
    tree, definition = loaded(text)
    return apply(text, assembly.make(tree, definition, list(names), "Store", "store"))


def result(text: str, name: str) -> Any:
    return movrel.load(text=text, model="Plant").simulate()[name]


# --- the clipboard ---


def test_copied_parts_bring_their_wires_and_figures() -> None:
    tree, definition = loaded(PLANT)
    text = fragment.copy(tree, definition, ["basin", "outlet"])
    cls = parse(text, "t").tree.classes[0]
    assert [e.name for e in cls.elements] == ["A", "basin", "outlet"] and len(cls.equations) == 1
    assert "Movrel.Process.Basin basin(area = A, level_start = 0.3)" in text


def test_pasting_where_names_are_taken() -> None:
    tree, definition = loaded(PLANT)
    patches, names = fragment.paste(
        tree, definition, fragment.copy(tree, definition, ["basin", "outlet"]), (0, -60)
    )
    assert names == ["basin2", "outlet2"]
    new = apply(PLANT, patches)
    assert (
        "basin2(area = A" in new
        and "extent={{0,-80},{40,-40}}" in new
        and "connect(basin2.outlet, outlet2.a);" in new
    )
    for line in PLANT.splitlines():
        assert line in new.splitlines()


def test_pasting_into_another_model_brings_figures_and_classes() -> None:
    tree, definition = loaded(assembled(PLANT, "basin", "outlet"))
    text = fragment.copy(tree, definition, ["store"])
    other = 'model Other "empty"\nend Other;\n'
    tree, target = loaded(other)
    new = apply(other, fragment.paste(tree, target, text)[0])
    assert (
        "model Store" in new
        and 'parameter Real A(unit="m2") = 2 "area";' in new
        and "Store store(A = A)" in new
    )
    movrel.load(text=new + "", model="Other").flat  # noqa: B018 - whatever it names is there


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("no modelica at all", "not Modelica text"),
        ("", "no parts"),
        ("Nowhere.Pump p;", "no class 'Nowhere.Pump'"),
    ],
)
def test_what_cannot_be_pasted(text: str, words: str) -> None:
    tree, definition = loaded(PLANT)
    with pytest.raises(EditFault, match=words):
        fragment.paste(tree, definition, text)


def test_bare_declarations_can_be_pasted() -> None:
    tree, definition = loaded(PLANT)
    patches, names = fragment.paste(
        tree, definition, "Movrel.Process.Outfall harbour; // from an e-mail"
    )
    assert names == ["harbour2"] and "Movrel.Process.Outfall harbour2;" in apply(PLANT, patches)


# --- assemblies ---


@pytest.mark.parametrize(
    "names",
    [
        ("basin", "outlet"),
        ("basin",),
        ("inflow", "basin", "outlet"),
        ("rain", "inflow"),
        ("outlet", "harbour"),
    ],
)
def test_an_assembly_computes_what_its_parts_did(names: tuple[str, ...]) -> None:
    new = assembled(PLANT, *names)
    level = "store.basin.level" if "basin" in names else "basin.level"
    assert np.array_equal(result(PLANT, "basin.level"), result(new, level))
    assert np.allclose(result(PLANT, "twice"), result(new, "twice"), rtol=0, atol=0)
    for kept in ('model Plant "a plant" // keep me', "// and me", "// the way of the water"):
        assert kept in new


def test_what_an_assembly_looks_like() -> None:
    new = assembled(PLANT, "basin", "outlet")
    assert "Store store(A = A)" in new and 'parameter Real A(unit="m2") "area";' in new
    assert "Movrel.Process.LiquidPort inlet" in new and "connect(inflow.port, store.inlet);" in new
    assert "connect(store.b, harbour.port);" in new and "= 2*store.basin.level;" in new


def test_signals_get_inputs_and_outputs() -> None:
    text = """model Plant
  Movrel.Signals.Constant a;
  Movrel.Signals.Gain g(k = 3);
  Movrel.Signals.Gain h(k = g.k);
  Movrel.Signals.Sum s;
equation
  connect(a.y, g.u);
  connect(g.y, h.u);
  connect(g.y, s.u_1);
  connect(h.y, s.u_2);
end Plant;
"""
    new = assembled(text, "g", "h")
    assert "SignalIn u " in new and "connect(a.y, store.u);" in new and "SignalOut y " in new
    assert result(new, "s.y")[-1] == result(text, "s.y")[-1] == 12.0


def test_dissolving_gives_the_parts_back() -> None:
    tree, definition = loaded(assembled(PLANT, "basin", "outlet"))
    new, names = dissolving.dissolve(tree, definition, "store")
    assert names == ["basin", "outlet"] and "Store" not in new
    assert "basin(area = A, level_start = 0.3)" in new and "= 2*basin.level;" in new
    assert np.array_equal(result(PLANT, "basin.level"), result(new, "basin.level"))


def test_dissolving_puts_values_in() -> None:
    text = assembled(PLANT, "basin", "outlet").replace(
        "Store store(A = A)", "Store store(A = 2*A - 1, outlet(diameter = 0.2))"
    )
    tree, definition = loaded(text)
    new, _ = dissolving.dissolve(tree, definition, "store")
    assert "area = 2*A - 1" in new and "diameter = 0.2" in new
    assert np.array_equal(result(text, "store.basin.level"), result(new, "basin.level"))


@pytest.mark.parametrize(
    ("names", "change", "words"),
    [
        ((), ("", ""), "no part"),
        (("A",), ("", ""), "not a part, so"),
        (("nobody",), ("", ""), "not declared"),
        (
            ("basin",),
            (
                "connect(basin.outlet, outlet.a);",
                "for i in 1:1 loop connect(basin.outlet, outlet.a); end for;",
            ),
            "wired inside",
        ),
        (("store1",), ("Real twice", "Real store1; Real twice"), "not a part, so"),
    ],
)
def test_what_cannot_become_an_assembly(
    names: tuple[str, ...], change: tuple[str, str], words: str
) -> None:
    text = PLANT.replace(*change) if change[0] else PLANT
    tree, definition = loaded(text)
    with pytest.raises(EditFault, match=words):
        assembly.make(tree, definition, list(names), "Store", "store")


@pytest.mark.parametrize(
    ("part", "words"), [("basin", "part of the library"), ("nobody", "not declared")]
)
def test_what_cannot_be_dissolved(part: str, words: str) -> None:
    tree, definition = loaded(PLANT)
    with pytest.raises(EditFault, match=words):
        dissolving.dissolve(tree, definition, part)


def test_an_assembly_that_imports_names_is_not_dissolved() -> None:
    new = apply(PLANT, assembly.make(*loaded(PLANT), ["basin", "outlet"], "Store", "store"))
    new = new.replace("  model Store\n", "  model Store\n    import Movrel.Process;\n")
    assert "import" in new
    with pytest.raises(EditFault, match="classes or protected parts"):
        dissolving.dissolve(*loaded(new), "store")


# --- exposing ---


def test_exposing_and_hiding() -> None:
    tree, definition = loaded(PLANT)
    new = apply(
        PLANT,
        exposure.expose(tree, definition, ["outlet", "diameter"], "bore", "0.1", "", "Outlet"),
    )
    assert (
        "parameter Movrel.Units.Length bore" in new
        and '= 0.1 "' in new
        and 'Dialog(group="Outlet")' in new
    )
    assert "outlet(diameter = bore)" in new
    assert np.array_equal(result(PLANT, "basin.level"), result(new, "basin.level"))
    tree, definition = loaded(new)
    back = apply(new, exposure.hide(tree, definition, "bore"))
    assert back == PLANT


def test_an_exposed_value_keeps_its_limits() -> None:
    text = "model Warm Movrel.Thermal.HeatCapacity oil(C=84e3); Movrel.Thermal.HeldTemperature air; equation connect(oil.a, air.a); end Warm;"
    tree, definition = loaded(text)
    new = apply(text, exposure.expose(tree, definition, ["oil", "C"], "mass", "84e3", "", ""))
    assert "mass(min=1e-12)" in new


def test_what_is_in_use_is_not_hidden() -> None:
    text = assembled(PLANT, "basin").replace(
        'parameter Real A(unit="m2") "area"', 'parameter Real A(unit="m2") = 1 "area"'
    )
    tree, definition = loaded(text)
    with pytest.raises(EditFault, match="gives 'A' a value of its own"):
        exposure.hide(tree, definition.children["Store"], "A")


# --- swapping ---


def test_a_swap_keeps_what_both_have() -> None:
    tree, definition = loaded(PLANT)
    new_class = tree.find("Movrel.Process.Outfall")
    assert new_class is not None
    plan = swapping.plan(tree, definition, "outlet", new_class)
    assert (
        plan.lost == ["diameter = 0.1"]
        and plan.ports == {"a": "port", "b": "port"}
        and not plan.broken
    )
    new = apply(
        PLANT, swapping.swapped(tree, definition, "outlet", new_class, {"a": "port", "b": ""}, plan)
    )
    assert (
        "Movrel.Process.Outfall outlet annotation" in new
        and "connect(basin.outlet, outlet.port);" in new
    )
    assert "outlet.b" not in new and "connect(rain.y, inflow.q);" in new


def test_a_swap_that_breaks_an_equation_is_refused() -> None:
    tree, definition = loaded(PLANT)
    new_class = tree.find("Movrel.Process.Outfall")
    assert new_class is not None
    plan = swapping.plan(tree, definition, "basin", new_class)
    assert plan.broken == ["line 9: basin.level"]
    with pytest.raises(EditFault, match=r"line 9: basin.level"):
        swapping.swapped(tree, definition, "basin", new_class, {}, plan)

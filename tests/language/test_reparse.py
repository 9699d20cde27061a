"""Parsing only what changed gives the tree, spans included, that parsing everything gives."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from movrel.errors import SyntaxFault
from movrel.language import edit_class as edit
from movrel.language import syntax as s
from movrel.language.edit_wires import bend_connection
from movrel.language.parser import parse
from movrel.language.patch import Patch, apply
from movrel.language.reparse import difference, reparse

PLANT = """within Quay;
model Plant "a plant" // keep me
  model Inner "in here"
    parameter Real k = 1;
    Pump p annotation (Placement(transformation(extent={{0,0},{10,10}})));
  equation
    connect(p.a, p.b);
    annotation (Icon());
  end Inner;
  parameter Real a = 1 "size", b = 2, c = 3; /* and me */
  Tank t(A = 3, x(unit = "m")) "tank" annotation (Placement(transformation(extent={{-10,-10},{10,10}})));
  Pump u[2](k = {t.A + a, 2}) if a > 0; // pump
  Inner i;
protected
  Real q; Real z = 2*q;
equation
  // the loop
  connect(t.p, u[1].p) annotation (Line(points={{0,0},{1,1}})); // wire
  q = 2*t.level "double";
  for j in 1:2 loop connect(u[j].b, t.c[j]); end for;
  annotation (Icon(), experiment(StopTime = 10));
end Plant;
"""


def spans(node: Any) -> Any:
    """Everything that a tree says, with its places."""
    if isinstance(node, s.Node):
        return (
            type(node).__name__,
            *((f.name, spans(getattr(node, f.name))) for f in fields(node)),
        )
    if isinstance(node, list | tuple):
        return tuple(spans(item) for item in node)
    return node


def check(old: str, new: str, patches: list[Patch] | None = None) -> None:
    source = reparse(parse(old, "plant.mo"), new, patches)
    assert spans(source.tree) == spans(parse(new, "plant.mo").tree)
    assert source.text == new
    assert source.place(len(new) - 3) == parse(new, "plant.mo").place(len(new) - 3)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("A = 3", "A = 30.25"),
        ('"size", b = 2', '"size in m", bb = 2'),
        ("  Inner i;\n", "  Inner i;\n  Valve v(k = a) annotation (P());\n"),
        ("  Inner i;\n", ""),
        ("Real z = 2*q;", "Real z = 3*q, y;"),
        ("{{0,0},{1,1}}", "{{0,0},{5,0},{5,1}}"),
        ('  q = 2*t.level "double";\n', ""),
        ('"double";', '"double";\n  z = 3;'),
        ("StopTime = 10", "StopTime = 100, Interval = 1"),
        ("{{0,0},{10,10}}", "{{100,0},{110,10}}"),
        ("connect(p.a, p.b);", "connect(p.a, p.b);\n    connect(p.c, p.d);"),
        ('model Plant "a plant"', 'model Plant "another plant"'),
        ("protected\n", "public\n"),
        ("end for;", "end for;\nalgorithm\n  q := 1;"),
        ("// the loop", "// no loop"),
        ("// pump", "// pump; really"),
        ("/* and me */", "/* ; */ Real w;"),
    ],
)
def test_single_changes(old: str, new: str) -> None:
    assert PLANT.count(old) == 1
    check(PLANT, PLANT.replace(old, new))


def test_several_places_at_once() -> None:
    source = parse(PLANT, "plant.mo")
    cls = source.tree.classes[0]
    patches = edit.place_component(
        source, cls, "t", "Placement(transformation(extent={{0,0},{100,100}}))"
    )
    patches += edit.place_component(
        source, cls, "u", "Placement(transformation(extent={{0,0},{1,1}}))"
    )
    patches += bend_connection(source, cls, "t.p", "u[1].p", [(0.0, 0.0), (7.0, 0.0), (7.0, 9.0)])
    patches += edit.rename_component(source, cls, "a", "area")
    check(PLANT, apply(PLANT, patches), patches)


def test_a_fault_is_named_as_ever() -> None:
    wrong = PLANT.replace('q = 2*t.level "double"', "q = 2*t.level +")
    with pytest.raises(SyntaxFault) as whole:
        parse(wrong, "plant.mo")
    with pytest.raises(SyntaxFault) as part:
        reparse(parse(PLANT, "plant.mo"), wrong)
    assert part.value.sentence() == whole.value.sentence()


@settings(max_examples=150, deadline=None)
@given(
    st.integers(0, len(PLANT)),
    st.integers(0, 12),
    st.sampled_from(["", "x", ";", " ", "a;", "Real r;", "\n", "(", "//", "equation ", '"', "3"]),
)
def test_any_change_at_all(at: int, length: int, inserted: str) -> None:
    new = PLANT[:at] + inserted + PLANT[at + length :]
    source = parse(PLANT, "plant.mo")
    try:
        whole = parse(new, "plant.mo")
    except SyntaxFault as fault:
        with pytest.raises(SyntaxFault) as part:
            reparse(source, new)
        assert part.value.sentence() == fault.sentence()
        return
    assert spans(reparse(source, new).tree) == spans(whole.tree)


def test_where_texts_differ() -> None:
    assert difference("abcd", "abXd") == Patch(2, 3, "X")
    assert difference("aaa", "aaaa") == Patch(3, 3, "a")
    assert difference("abc", "abc") == Patch(3, 3, "")

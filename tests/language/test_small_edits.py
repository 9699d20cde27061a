"""Bends, resets, annotations, symbols and indentation: text in, text out."""

from __future__ import annotations

from typing import Any

import pytest

from movrel.errors import EditFault, SyntaxFault
from movrel.language import class_annotation as note
from movrel.language import edit_class as edit
from movrel.language.edit_wires import bend_connection
from movrel.language.indenting import indent
from movrel.language.parser import parse
from movrel.language.patch import Patch, apply
from movrel.language.unset_value import Written, unset_value

WIRES = "model M\n  P a, b, c;\nequation\n  connect(a.x, b.x); // one\n  connect(b.y[2], c.z) annotation (Line(points={{0,0},{1,1}}, color={1,2,3}));\n  connect(a.q, c.q) annotation (Line(points={{0,0},{9,9}}));\nend M;\n"


def done(text: str, function: Any, *arguments: Any) -> str:
    source = parse(text, "m.mo")
    result: list[Patch] = function(source, source.tree.classes[0], *arguments)
    new = apply(text, result)
    parse(new, "m.mo")
    return new


def test_wires_are_bent_and_straightened() -> None:
    bent = done(WIRES, bend_connection, "a.x", "b.x", [(0.0, 0.0), (5.0, 0.0)])
    assert "connect(a.x, b.x) annotation (Line(points={{0,0},{5,0}})); // one" in bent
    assert done(bent, bend_connection, "a.x", "b.x", None) == WIRES
    assert "points={{9,9},{0,0}}, color={1,2,3}" in done(
        WIRES, bend_connection, "c.z", "b.y[2]", [(0.0, 0.0), (9.0, 9.0)]
    )
    straight = done(WIRES, bend_connection, "b.y[2]", "c.z", None)
    assert "Line(color={1,2,3})" in straight
    assert "connect(a.q, c.q);" in done(WIRES, bend_connection, "a.q", "c.q", None)
    with pytest.raises(EditFault, match="no connection"):
        done(WIRES, bend_connection, "a.x", "c.z", None)


VALUES = 'model M\n  P a(k = 2, b(c = 3, d(start = 1))) "x";\n  P e(only = 1);\n  Q f(in_side(deep(v = 2*k)));\nend M;\n'


@pytest.mark.parametrize(
    ("path", "left"),
    [
        ("a.k", "a(b(c = 3, d(start = 1)))"),
        ("a.b.c", "a(k = 2, b(d(start = 1)))"),
        ("a.b.d.start", "a(k = 2, b(c = 3))"),
        ("e.only", "P e;"),
        ("f.in_side.deep.v", "Q f;"),
    ],
)
def test_resetting_a_value(path: str, left: str) -> None:
    assert left in done(VALUES, unset_value, path.split("."))


def test_values_as_they_are_written() -> None:
    source = parse(VALUES, "m.mo")
    cls = source.tree.classes[0]
    texts = Written(source, cls)
    assert texts.value("f", "in_side", "deep", "v") == "2*k" and texts.value("a", "z") is None
    with pytest.raises(EditFault, match="default already"):
        unset_value(source, cls, ["a", "z"])


def test_annotations_come_change_and_go() -> None:
    text = "model M\n  Real x; // stays\nend M;\n"
    one = done(text, note.set_annotation, ["Documentation", "info"], '"a"')
    assert 'annotation (Documentation(info="a"));' in one and "// stays" in one
    two = done(one, note.set_annotation, ["Documentation", "info"], '"b"')
    assert two == one.replace('"a"', '"b"')
    assert "info" not in done(two, note.set_annotation, ["Documentation", "info"], None)
    assert 'model M "what it is"\n' in done(text, note.set_description, "what it is")
    described = done(text, note.set_description, 'a "quoted" word')
    assert (
        'model M "a \\"quoted\\" word"' in described
        and done(described, note.set_description, "") == text
    )


def test_shapes_are_added_changed_and_taken_away() -> None:
    text = "model M\nend M;\n"
    one = done(text, note.set_shape, "Diagram", None, "Text(a=1)")
    two = done(one, note.set_shape, "Diagram", None, "Text(b=2)")
    assert "graphics={Text(a=1), Text(b=2)}" in two
    assert "graphics={Text(a=3), Text(b=2)}" in done(two, note.set_shape, "Diagram", 0, "Text(a=3)")
    assert done(two, note.set_shape, "Diagram", 1, None) == one
    assert "graphics={Text(b=2)}" in done(two, note.set_shape, "Diagram", 0, None)
    with pytest.raises(EditFault, match="no such shape"):
        done(two, note.set_shape, "Diagram", 7, None)


def test_ports_are_placed_on_the_symbol() -> None:
    text = "model M\n  P a annotation (Placement(transformation(extent={{0,0},{1,1}})));\n  P b;\nend M;\n"
    one = done(text, edit.place_on_symbol, "a", ((90.0, 0.0), (110.0, 20.0)))
    assert (
        "transformation(extent={{0,0},{1,1}}), iconTransformation(extent={{90,0},{110,20}})" in one
    )
    assert "iconTransformation(extent={{0,0},{20,20}})" in done(
        one, edit.place_on_symbol, "a", ((0.0, 0.0), (20.0, 20.0))
    )
    assert "iconTransformation" in done(text, edit.place_on_symbol, "b", ((0.0, 0.0), (20.0, 20.0)))


MESSY = """model M "m"
Real x(start = 1,
  fixed = true);
      /* left
  alone */
model N
Real q;
equation
q = 1;
end N;
   protected
Real z; // here
equation
if x > 1 then
x = 1;
elseif x > 0 then
for i in 1:3 loop
x = 2;
end for;
else
x = if z > 1 then
1 else 2;
end if;
annotation (
  Documentation(info="<html>
 kept as it is
</html>"));
end M;
"""
TIDY = """model M "m"
  Real x(start = 1,
    fixed = true);
  /* left
  alone */
  model N
    Real q;
  equation
    q = 1;
  end N;
protected
  Real z; // here
equation
  if x > 1 then
    x = 1;
  elseif x > 0 then
    for i in 1:3 loop
      x = 2;
    end for;
  else
    x = if z > 1 then
    1 else 2;
  end if;
  annotation (
    Documentation(info="<html>
 kept as it is
</html>"));
end M;
"""


def test_indenting_follows_the_structure() -> None:
    assert indent(MESSY) == TIDY and indent(TIDY) == TIDY
    with pytest.raises(SyntaxFault):
        indent("model M Real x end M;")

"""Cables: wires between two parts that are drawn as one line."""

from __future__ import annotations

import pytest

from movrel.edits.target import target_of
from movrel.edits.wires import Bundle, WireEnds
from movrel.errors import EditFault
from movrel.language.patch import apply
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import SheetConnection

TEXT = """model Pair
  block Unit
    Movrel.Signals.SignalIn u annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
    Movrel.Signals.SignalIn v annotation (Placement(transformation(extent={{-110,-70},{-90,-50}})));
    Movrel.Signals.SignalOut y annotation (Placement(transformation(extent={{90,50},{110,70}})));
    Movrel.Signals.SignalOut z annotation (Placement(transformation(extent={{90,-70},{110,-50}})));
  equation y = u; z = v;
  annotation (Icon(graphics={Rectangle(extent={{-100,100},{100,-100}})}));
  end Unit;
  Unit a annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Unit b annotation (Placement(transformation(extent={{60,0},{100,40}})));
  Unit c annotation (Placement(transformation(extent={{60,-100},{100,-60}})));
equation
  connect(a.y, b.u);
  connect(b.v, a.z) "second" annotation (Line(points={{0,0},{10,0}}));
  connect(b.y, c.u);
end Pair;
"""
BOTH = [WireEnds("a.y", "b.u"), WireEnds("a.z", "b.v")]


def after(text: str, edit: Bundle) -> tuple[str, str]:
    edited = edit.apply(target_of(Snapshot.of({"Pair.mo": text}), "Pair"))
    return apply(text, edited.patches), edited.summary


def wires(text: str) -> dict[frozenset[str], SheetConnection]:
    snapshot = Snapshot.of({"Pair.mo": text})
    drawn = sheet(class_tree(snapshot), definition_of(snapshot, "Pair"))
    return {frozenset((c.from_port, c.to_port)): c for c in drawn.connections}


def test_wires_of_a_cable_share_a_line_and_end_at_their_ports() -> None:
    text, summary = after(TEXT, Bundle(BOTH))
    assert summary == "bundled 2 wires as 'cable 1'"
    drawn = wires(text)
    first, second = drawn[frozenset(("a.y", "b.u"))], drawn[frozenset(("a.z", "b.v"))]
    assert first.cable == second.cable == "cable 1"
    assert first.trunk == second.trunk
    # It begins in front of a part in the middle of the ports there, and no part lies on its way.
    assert first.trunk[0] == [-24.0, 0.0]
    assert first.trunk[-1] == [44.0, 20.0]
    # Each way begins and ends at its ports, the second from right to left, and leads along the line.
    assert first.points[0] == [-40.0, 12.0]
    assert first.points[-1] == [60.0, 32.0]
    assert second.points[0] == [60.0, 8.0]
    assert second.points[-1] == [-40.0, -12.0]
    for wire in (first, second):
        assert all(
            a[0] == b[0] or a[1] == b[1] for a, b in zip(wire.points, wire.points[1:], strict=False)
        )
        assert wire.dots == []
    assert not drawn[frozenset(("b.y", "c.u"))].cable


def test_out_of_a_cable_a_wire_is_as_it_was() -> None:
    bundled, _ = after(TEXT, Bundle(BOTH, "supply"))
    assert '__Movrel(cable="supply")' in bundled
    renamed, _ = after(bundled, Bundle(BOTH, "control"))
    assert renamed == bundled.replace("supply", "control")
    loose, summary = after(renamed, Bundle(BOTH, ""))
    assert summary == "took 2 wires out of a cable"
    assert loose == TEXT


def test_a_cable_joins_two_parts() -> None:
    with pytest.raises(EditFault, match="joins two parts"):
        after(TEXT, Bundle([*BOTH, WireEnds("b.y", "c.u")]))
    with pytest.raises(EditFault, match=r"no connection of 'a\.y' and 'c\.u'"):
        after(TEXT, Bundle([WireEnds("a.y", "c.u")]))


def test_a_second_cable_has_a_name_of_its_own() -> None:
    text, _ = after(TEXT, Bundle(BOTH))
    _, summary = after(text, Bundle([WireEnds("b.y", "c.u")]))
    assert summary == "bundled 1 wire as 'cable 2'"

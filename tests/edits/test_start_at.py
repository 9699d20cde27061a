"""A start given by another quantity than the state."""

from __future__ import annotations

import math

import pytest

from movrel.edits.start_at import StartAt
from movrel.edits.target import apply_to, target_of
from movrel.errors import MovrelError
from movrel.project.snapshot import Snapshot, definition_of, loaded_model
from movrel.views.ledger import rows

CAN = Snapshot.of(
    {
        "Can.mo": """model Can
  Movrel.Process.Basin can(area = 0.02);
  Movrel.Process.Orifice hole(diameter = 0.01);
  Movrel.Process.Outfall floor;
equation
  connect(can.outlet, hole.a);
  connect(hole.b, floor.port);
end Can;
"""
    }
)


def test_a_can_starts_with_a_volume() -> None:
    changed = apply_to(target_of(CAN, "Can"), StartAt("can.volume", "6 l"))
    assert changed.summary == "can.volume starts at 6 l, and can.level follows from it"
    texts = CAN.changed(changed.path, changed.text)
    loaded = loaded_model(texts, "Can")
    result = loaded.simulate(stop=20, tolerance=1e-9)
    assert result["can.level"][0] == pytest.approx(0.006 / 0.02, rel=1e-12)
    # Torricelli: the square root of the level falls steadily.
    hole, area = 0.62 * math.pi * 0.01**2 / 4, 0.02
    rate = hole * math.sqrt(2 * 9.80665) / (2 * area)
    assert result["can.level"][-1] == pytest.approx((math.sqrt(0.3) - rate * 20) ** 2, rel=1e-4)


def test_the_ledger_shows_what_starts_and_hides_what_gave_way() -> None:
    changed = apply_to(target_of(CAN, "Can"), StartAt("can.volume", "6 l"))
    texts = CAN.changed(changed.path, changed.text)
    loaded = loaded_model(texts, "Can")
    listed = {r.name: r for r in rows(loaded.flat, definition_of(texts, "Can"), loaded.ordered)}
    assert listed["can.volume.start"].value == 0.006 and listed["can.volume.start"].fixed
    assert not listed["can.level_start"].enabled
    again = apply_to(target_of(texts, "Can"), StartAt("can.volume", "4 l"))
    assert again.text.count("volume(start") == 1


@pytest.mark.parametrize(
    ("name", "text", "sentence"),
    [
        ("can.nothing", "3", "no quantity 'can.nothing'"),
        ("floor.port.p", "3 bar", "does not fix the start of any state"),
        ("can.volume", "3 kg", "volume"),
    ],
)
def test_what_cannot_start_is_refused(name: str, text: str, sentence: str) -> None:
    with pytest.raises(MovrelError, match=sentence):
        apply_to(target_of(CAN, "Can"), StartAt(name, text))

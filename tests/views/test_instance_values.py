"""A class as one of its instances has it."""

from __future__ import annotations

from movrel.project.snapshot import Snapshot
from movrel.views.scenario_values import instance_values

PLANT = Snapshot.of(
    {
        "Plant.mo": """model Plant
  model Inner
    parameter Real k = 1;
    parameter Real twice = 2*k;
    parameter Real same = 5;
    Real x(start = 3, fixed = true);
  equation
    der(x) = -k*x;
  end Inner;
  model Middle
    Inner core(k = 2);
  end Middle;
  Middle one;
  Middle two(core(k = 7, x(start = 4)));
  annotation (__Movrel(scenarios={Scenario(name="strong", colour=1, changes={{"two.core.k", "9"}})}));
end Plant;
"""
    }
)


def values(cls: str, instance: str, scenario: str = "base") -> dict[str, object]:
    return {
        row.name: row.value for row in instance_values(PLANT, cls, "Plant", instance, scenario).rows
    }


def test_an_instance_tells_what_differs_from_its_class() -> None:
    assert values("Plant.Inner", "one.core") == {"k": 2.0, "twice": 4.0}
    assert values("Plant.Inner", "two.core") == {"k": 7.0, "twice": 14.0, "x.start": 4.0}
    assert values("Plant.Middle", "one") == {}
    assert values("Plant.Middle", "two") == {"core.k": 7.0, "core.twice": 14.0, "core.x.start": 4.0}


def test_an_instance_has_the_values_of_the_chosen_scenario() -> None:
    assert values("Plant.Inner", "two.core", "strong")["twice"] == 18.0

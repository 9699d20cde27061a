"""What the terms of equations are worth at an instant of a run."""

from __future__ import annotations

import math
from typing import Any

import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.workspace.tables import database
from tests.web.test_structure_api import Model

FALL = """within;
package Quay "a stone falls into water"
  model Stone
    parameter Real m(unit="kg") = 2;
    parameter Real d(unit="kg/s") = 0.5;
    Real s(unit="m", start=0, fixed=true);
    Real v(unit="m/s", start=0, fixed=true);
    Real weight(unit="N") = m*9.81;
  equation
    der(s) = v;
    m*der(v) = weight - d*v;
    annotation (experiment(StopTime=10, Interval=0.01, Tolerance=1e-9),
      __Movrel(scenarios={Scenario(name="thick", colour=1, changes={{"d", "2"}})}));
  end Stone;
end Quay;
"""


class Stone(Model):
    def __init__(self, client: FlaskClient) -> None:
        super().__init__(client, FALL, "Quay.Stone")

    def run(self, scenario: str) -> int:
        ordered = self.post("/runs", scenario=scenario)
        with database.connection_context():
            compute(ordered.json["id"])
        return int(ordered.json["id"])

    def terms(self, run: int, at: float) -> dict[str, list[float | None]]:
        rows = [
            row
            for block in self.client.get(f"/api/runs/{run}/equations").json["blocks"]
            for row in block["rows"]
        ]
        values: Any = self.client.get(f"/api/runs/{run}/terms", query_string={"at": at}).json
        assert len(values["rows"]) == len(rows)
        assert [len(r) for r in values["rows"]] == [len(row["terms"]) for row in rows]
        return {row["determines"]: v for row, v in zip(rows, values["rows"], strict=True)}


@pytest.mark.parametrize(("scenario", "d"), [("base", 0.5), ("thick", 2.0)])
def test_terms_are_those_of_the_scenario_at_the_instant(
    client: FlaskClient, scenario: str, d: float
) -> None:
    stone = Stone(client)
    run = stone.run(scenario)
    for t in (0.0, 1.0, 7.5):
        v = 2 * 9.81 / d * (1 - math.exp(-d * t / 2))  # m v' = m g - d v
        inertia, weight, drag = stone.terms(run, t)["der(v)"]
        assert inertia == pytest.approx(2 * 9.81 * math.exp(-d * t / 2), abs=1e-5)
        assert weight == pytest.approx(19.62, rel=1e-12) and drag == pytest.approx(-d * v, abs=1e-5)


def test_rows_tell_unit_and_variables_and_what_lies_outside_has_no_value(
    client: FlaskClient,
) -> None:
    stone = Stone(client)
    run = stone.run("base")
    blocks = client.get(f"/api/runs/{run}/equations").json["blocks"]
    row = next(r for b in blocks for r in b["rows"] if r["determines"] == "der(v)")
    assert row["term_unit"] == "N" and set(row["uses"]) == {"v", "m", "weight", "d"}
    assert [t["left"] for t in row["terms"]] == [True, False, False]
    assert stone.terms(run, 99.0)["der(v)"][0] is None
    assert client.get("/api/runs/999999/terms", query_string={"at": 1}).status_code == 404

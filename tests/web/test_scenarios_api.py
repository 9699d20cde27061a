"""Scenarios and claims over HTTP: written into the text, run, judged, compared."""

from __future__ import annotations

import io
import math
import zipfile
from typing import Any

import pyarrow.parquet as pq
import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.workspace.tables import database
from movrel.workspace.verdicts import judge_anew
from tests.web.test_structure_api import Model

SWING = """within;
package Gate "a gate on a spring"
  model Swing "swings and comes to rest"
    parameter Real m(unit="kg", min=0) = 2 "mass";
    final parameter Real weight(unit="N") = 9.81*m "weight";
    constant Real share = 0.05;
    Movrel.Translational.Spring spring(c=50) annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
    Movrel.Translational.Mass body(m=m, s_start=0.1) annotation (Placement(transformation(extent={{20,-20},{60,20}})));
    Movrel.Translational.Damper damper(d=2) annotation (Placement(transformation(extent={{-60,-80},{-20,-40}})));
    Movrel.Translational.HeldRod wall annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  equation
    connect(wall.a, spring.a);
    connect(wall.a, damper.a);
    connect(spring.b, body.a);
    connect(damper.b, body.a);
    annotation (experiment(StopTime=10, Interval=0.01, Tolerance=1e-8), __Movrel(recorder={{"body.s"}}));
  end Swing;
end Gate;
"""


class Gate(Model):
    """The swing, with runs that are computed at once."""

    def __init__(self, client: FlaskClient) -> None:
        super().__init__(client, SWING, "Gate.Swing")

    def run(self, scenario: str = "base", **body: Any) -> Any:
        ordered = self.post("/runs", scenario=scenario, **body)
        assert ordered.status_code == 200, ordered.json
        with database.connection_context():
            compute(ordered.json["id"])
        return self.client.get(f"/api/runs/{ordered.json['id']}").json

    def scenario(self, name: str) -> Any:
        return next(s for s in self.view["scenarios"] if s["name"] == name)


@pytest.fixture
def gate(client: FlaskClient) -> Gate:
    return Gate(client)


def test_a_scenario_is_text_of_the_model(gate: Gate) -> None:
    gate.edit("add scenario", name="stiff spring")
    gate.edit("scenario value", scenario="stiff spring", place="spring.c", text="0.2 kN/m")
    gate.edit("scenario setting", scenario="stiff spring", name="stop", text="5 s")
    assert '{"spring.c", "200"}' in gate.text and '{"stop", "5 s"}' in gate.text
    assert gate.scenario("stiff spring") == {
        "name": "stiff spring", "colour": 1, "changes": {"spring.c": "200"}, "settings": {"stop": "5 s"}, "off": [], "note": "",
    }  # fmt: skip
    gate.edit("add scenario", name="stiff and heavy", like="stiff spring")
    gate.edit("scenario value", scenario="stiff and heavy", place="m", text="8")
    gate.edit("alter scenario", name="stiff and heavy", new="heavy", colour=4, note="a second look")
    assert (
        gate.scenario("heavy")["changes"] == {"spring.c": "200", "m": "8"}
        and gate.scenario("heavy")["colour"] == 4
    )
    gate.edit("scenario value", scenario="heavy", place="spring.c", text=None)
    assert gate.scenario("heavy")["changes"] == {"m": "8"}
    gate.edit("delete scenario", name="heavy")
    gate.edit("undo")
    assert gate.scenario("heavy")["note"] == "a second look"


def test_runs_of_scenarios_name_themselves_and_keep_their_colour(gate: Gate) -> None:
    base = gate.run()
    gate.edit("add scenario", name="stiff")
    gate.edit("scenario value", scenario="stiff", place="spring.c", text="200")
    gate.edit("scenario value", scenario="stiff", place="m", text="2*spring.c/200")
    stiff = gate.run("stiff")
    assert (base["name"], base["scenario"], base["colour"]) == ("base", "base", 0)
    assert stiff["name"] == "spring.c 200 N/m" and (stiff["scenario"], stiff["colour"]) == (
        "stiff",
        1,
    )
    assert stiff["state"] == "done" and stiff["parameters"]["spring.c"] == 200
    told = gate.client.get(f"/api/runs/{base['id']}/differences/{stiff['id']}").json
    assert told["values"] == [{"name": "spring.c", "one": 50, "other": 200}]
    assert [d["file"] for d in told["texts"]] and any(
        "Scenario(" in line for line in told["texts"][0]["lines"]
    )
    # Both are answers of an oscillator whose damping is read off.
    for run, k in ((base, 50), (stiff, 200)):
        table = gate.client.post(
            f"/api/runs/{run['id']}/measures", json={"names": ["body.s"]}
        ).json["curves"][0]["measures"]
        found = {m["measure"]: m for m in table}
        w, zeta = math.sqrt(k / 2), 2 / 2 / math.sqrt(k * 2)
        assert found["period"]["value"] == pytest.approx(
            2 * math.pi / (w * math.sqrt(1 - zeta**2)), rel=2e-3
        )
        assert found["damping"]["value"] == pytest.approx(zeta, rel=0.03)
        assert found["max"]["unit"] == "m" and found["rise"]["value"] is not None


def test_a_base_run_after_one_of_a_scenario_is_still_called_base(gate: Gate) -> None:
    gate.edit("add scenario", name="stiff")
    gate.edit("scenario value", scenario="stiff", place="spring.c", text="200")
    assert [gate.run("stiff")["name"], gate.run()["name"]] == ["spring.c 200 N/m", "base"]


def test_a_part_is_swapped_in_a_scenario(gate: Gate) -> None:
    gate.edit("add scenario", name="dry")
    gate.edit(
        "scenario value",
        scenario="dry",
        place="damper",
        text="redeclare Movrel.Translational.SpringDamper",
    )
    gate.edit("scenario value", scenario="dry", place="body.s.start", text="0.2")
    run = gate.run("dry")
    assert run["state"] == "done" and run["name"].startswith("damper SpringDamper")
    names = {v["name"] for v in run["variables"]}
    assert "damper.loss" in names
    gate.refused(
        "scenario value", "no class", scenario="dry", place="damper", text="redeclare Nowhere.Part"
    )


@pytest.mark.parametrize(
    "place, text, words",
    [
        ("spring.c", "3 s", "time"),
        ("spring.cc", "3", "no 'spring.cc'"),
        ("body.v", "3", "computed"),
        ("m", "-2", "minimum"),
        ("m", "nothing*2", "nothing"),
        ("spring.c", "", "empty"),
    ],
)
def test_changes_that_do_not_fit_are_refused(gate: Gate, place: str, text: str, words: str) -> None:
    gate.edit("add scenario", name="odd")
    gate.refused("scenario value", words, scenario="odd", place=place, text=text)


def test_names_that_cannot_be(gate: Gate) -> None:
    gate.edit("add scenario", name="one")
    gate.refused("add scenario", "already is", name="one")
    gate.refused("add scenario", "already is", name="base")
    gate.refused("add scenario", "needs a name", name="  ")
    gate.refused("scenario value", "no scenario", scenario="two", place="m", text="3")
    assert gate.post("/runs", scenario="two").status_code == 404


def test_a_change_of_what_is_gone_is_shown_and_left_out(gate: Gate) -> None:
    gate.edit("add scenario", name="damped")
    gate.edit("scenario value", scenario="damped", place="damper.d", text="5")
    gate.edit("scenario value", scenario="damped", place="spring.c", text="80")
    gate.edit("delete", parts=["damper"])
    run = gate.run("damped")
    assert run["state"] == "done" and run["parameters"]["spring.c"] == 80
    assert any("damper.d" in m and "left out" in m for m in run["messages"])
    assert gate.scenario("damped")["changes"]["damper.d"] == "5"


def test_a_table_of_scenarios_is_pasted(gate: Gate) -> None:
    gate.edit("paste scenarios", text="\tlight\theavy\nm\t1\t4\nspring.c\t\t100 N/m\n")
    assert gate.scenario("light")["changes"] == {"m": "1"}
    assert gate.scenario("heavy")["changes"] == {"m": "4", "spring.c": "100"}
    gate.edit("paste scenarios", text="\tlight\nm\t\nspring.c\t60\n")
    assert gate.scenario("light")["changes"] == {"spring.c": "60"}
    gate.refused("paste scenarios", "no 'q'", text="\tlight\nq\t3\n")
    gate.refused("paste scenarios", "not a table", text="light")


def test_a_run_becomes_a_scenario(gate: Gate) -> None:
    run = gate.run(stop=4)
    gate.edit("parameter", name="m", text="3")
    gate.edit("scenario from run", run=run["id"], name="as before")
    assert gate.scenario("as before")["changes"] == {"m": "2"} and gate.scenario("as before")[
        "settings"
    ] == {"stop": "4.0"}


def test_claims_are_judged_after_the_run(gate: Gate) -> None:
    gate.edit("add claim", text="period(body.s) ≈ 2*pi*sqrt(m/spring.c) ± 2 %")
    gate.edit("add claim", text="max(body.s) < 5 cm")
    gate.edit("add claim", text="settle(body.s, 2 %) < 9 s")
    gate.edit("add scenario", name="free")
    gate.edit("scenario claim", scenario="free", claim="max(body.s) < 5 cm", off=True)
    judged = gate.run()["claims"]
    assert [c["holds"] for c in judged] == [True, False, True]
    assert (judged[1]["value"], judged[1]["unit"]) == (pytest.approx(10), "cm") and judged[1][
        "margin"
    ] == pytest.approx(-5)
    free = gate.run("free")["claims"]
    assert [c["off"] for c in free] == [False, True, False] and free[1]["holds"] is None
    gate.edit("change claim", number=1, text="max(body.s) < 12 cm")
    assert gate.view["claims"][1] == "max(body.s) < 12 cm"
    gate.edit("change claim", number=0, text=None)
    assert len(gate.view["claims"]) == 2


def test_claims_may_name_what_follows_from_parameters(gate: Gate) -> None:
    gate.edit("add claim", text="weight ≈ 4.905*m*share*40 N/kg ± 0.1 %")
    gate.edit("add scenario", name="heavy")
    gate.edit("scenario value", scenario="heavy", place="m", text="3 kg")
    gate.edit("add claim", text="weight < 20 N")
    for scenario, holds in (("base", True), ("heavy", False)):
        claims = gate.run(scenario)["claims"]
        assert [c["holds"] for c in claims] == [True, holds], claims


def test_runs_that_exist_are_judged_by_new_claims(gate: Gate) -> None:
    gate.edit("add claim", text="max(body.s) < 5 cm")
    gate.edit("add scenario", name="high")
    gate.edit("scenario value", scenario="high", place="body.s_start", text="0.2")
    runs = [gate.run()["id"], gate.run("high")["id"]]
    gate.edit("add claim", text="max(body.s) < 15 cm")
    gate.edit("scenario claim", scenario="high", claim="max(body.s) < 5 cm", off=True)

    def verdicts() -> list[list[Any]]:
        with database.connection_context():
            judge_anew(gate.project, gate.name)
        claims = [gate.client.get(f"/api/runs/{run}").json["claims"] for run in runs]
        return [[None if c["off"] else c["holds"] for c in of_run] for of_run in claims]

    assert verdicts() == [[False, True], [None, False]]
    gate.edit("undo")
    gate.edit("undo")
    assert verdicts() == [[False], [False]], "as the model claims again"
    gate.refused("change claim", "nothing", number=0, text="max(nothing) < 5 cm")
    gate.edit("change claim", number=0, text="max(body.s) < 25 cm")
    assert verdicts() == [[True], [True]]
    marks = gate.view["marks"]
    listed = {run["scenario"]: run["mark"] for run in gate.get("/runs")["runs"]}
    assert listed == marks, "claims make no run an earlier one"
    gate.edit("scenario value", scenario="high", place="body.s_start", text="0.3")
    assert gate.view["marks"]["base"] == marks["base"]
    assert gate.view["marks"]["high"] != marks["high"]


@pytest.mark.parametrize(
    "text, words",
    [
        ("max(body.x) < 1 m", "no 'body.x'"),
        ("max(body.s) < 3 kg", "do not fit"),
        ("max(body.s", "not understood"),
        ("most(m) < 1", "no measure"),
    ],
)
def test_claims_that_make_no_sense_are_refused(gate: Gate, text: str, words: str) -> None:
    gate.refused("add claim", words, text=text)


def test_renaming_a_part_follows_into_claims_scenarios_and_strips(gate: Gate) -> None:
    gate.edit("add claim", text="max(body.s) < 12 cm")
    gate.edit("add scenario", name="quick")
    gate.edit("scenario value", scenario="quick", place="body.v_start", text="1")
    gate.edit("rename", name="body", new="leaf")
    assert gate.view["claims"] == ["max(leaf.s) < 12 cm"] and gate.scenario("quick")["changes"] == {
        "leaf.v_start": "1"
    }
    assert 'recorder={{"leaf.s"}}' in gate.text
    assert gate.run("quick")["claims"][0]["holds"] is False


def test_what_a_person_says_of_a_run_is_kept(gate: Gate) -> None:
    run = gate.run(prediction="it rings for five seconds")
    said = gate.client.patch(
        f"/api/runs/{run['id']}",
        json={"name": "first try", "pinned": True, "note": "ok", "prediction_held": True},
    )
    assert said.status_code == 200
    kept = gate.client.get(f"/api/runs/{run['id']}").json
    assert (kept["name"], kept["pinned"], kept["note"], kept["prediction"]) == (
        "first try",
        True,
        "ok",
        "it rings for five seconds",
    )
    assert kept["prediction_held"] is True
    assert gate.client.patch(f"/api/runs/{run['id']}", json={"name": " "}).status_code == 422


def test_a_run_is_exported_and_read_back(gate: Gate) -> None:
    run = gate.run()
    address = f"/api/runs/{run['id']}/export?names=body.s+spring.f"
    rows = gate.client.get(f"{address}&kind=csv&interval=0.5").text.splitlines()
    assert rows[0] == "time [s],body.s [m],spring.f [N]" and len(rows) == 22
    assert float(rows[1].split(",")[1]) == pytest.approx(0.1)
    table = pq.read_table(io.BytesIO(gate.client.get(f"{address}&kind=parquet&low=2&high=4").data))
    assert (
        table.column_names == ["time", "body.s", "spring.f"]
        and table.schema.field("body.s").metadata[b"unit"] == b"m"
    )
    assert table["time"][0].as_py() == pytest.approx(2) and table["time"][
        -1
    ].as_py() == pytest.approx(4)
    sheet = zipfile.ZipFile(io.BytesIO(gate.client.get(f"{address}&kind=xlsx&interval=1").data))
    text = sheet.read("xl/worksheets/sheet1.xml").decode()
    assert text.count("<row ") == 13 and "body.s" in sheet.read("xl/sharedStrings.xml").decode()
    for bad, status, words in (
        ("kind=odt", 422, "no file kind"), ("kind=csv&names=nothing", 404, "no variable"), ("kind=csv&low=20", 422, "no rows"),
    ):  # fmt: skip
        answer = gate.client.get(f"/api/runs/{run['id']}/export?{bad}")
        assert answer.status_code == status and words in answer.json["message"]


def test_a_value_is_tried_without_keeping_anything(gate: Gate) -> None:
    revision = gate.view["revision"]
    tried = gate.post("/try", values={"spring.c": 200}, names=["body.s", "nothing"])
    assert tried.status_code == 200 and [c["name"] for c in tried.json["curves"]] == ["body.s"]
    curve = tried.json["curves"][0]
    exact = (
        0.1
        * math.exp(-0.5 * 1.0)
        * (math.cos(9.9875 * 1.0) + 0.5 / 9.9875 * math.sin(9.9875 * 1.0))
    )
    at = min(range(len(curve["time"])), key=lambda k: abs(curve["time"][k] - 1.0))
    assert curve["time"][at] == pytest.approx(1.0) and curve["values"][at] == pytest.approx(
        exact, abs=1e-5
    )
    assert gate.get("")["revision"] == revision and gate.get("/runs")["runs"] == []
    assert gate.post("/try", values={"spring.c": -1}, names=["body.s"]).status_code == 422
    assert gate.post("/try", values={"nothing": 1}, names=["body.s"]).status_code == 422


def test_a_phase_plane_and_a_spectrum(gate: Gate) -> None:
    gate.edit("parameter", name="damper.d", text="0")
    run = gate.run()
    plane = gate.client.get(f"/api/runs/{run['id']}/pair?x=body.s&y=body.v&low=2&high=6").json
    energy = [25 * x**2 + v**2 for x, v in zip(plane["x"], plane["y"], strict=True)]
    assert energy == pytest.approx([25 * 0.1**2] * len(energy), rel=1e-4) and plane["time"][
        0
    ] == pytest.approx(2)
    curve = gate.client.post(
        f"/api/runs/{run['id']}/spectrum", json={"names": ["body.s"], "window": "flattop"}
    ).json["curves"][0]
    at = max(range(len(curve["amplitude"])), key=lambda k: curve["amplitude"][k])
    assert curve["frequency"][at] == pytest.approx(5 / 2 / math.pi, abs=0.1) and curve["amplitude"][
        at
    ] == pytest.approx(0.1, rel=0.02)
    assert gate.client.get(f"/api/runs/{run['id']}/pair?x=body.s&y=nothing").status_code == 404
    assert (
        gate.client.post(
            f"/api/runs/{run['id']}/spectrum", json={"names": ["body.s"], "low": 3, "high": 3.01}
        ).status_code
        == 422
    )


def test_a_run_goes_on_from_its_end(gate: Gate) -> None:
    first = gate.run(stop=4)
    ordered = gate.client.post(f"/api/runs/{first['id']}/on", json={"stop": 10})
    assert ordered.status_code == 200 and ordered.json["name"] == "base · on to 10 s"
    with database.connection_context():
        compute(ordered.json["id"])
    whole = gate.run(stop=10)

    def position(run: int, at: float) -> float | None:
        return gate.client.post(
            f"/api/runs/{run}/values", json={"names": ["body.s"], "at": at}
        ).json["values"]["body.s"]

    for at in (4.5, 7.0, 10.0):
        on, once = (position(run, at) for run in (ordered.json["id"], whole["id"]))
        assert on == pytest.approx(once, abs=1e-6)
    assert position(ordered.json["id"], 3.9) is None
    refused = gate.client.post(f"/api/runs/{first['id']}/on", json={"stop": 3})
    assert refused.status_code == 422 and "ended at 4 s" in refused.json["message"]


TABLE = """model Fed "follows a table"
  Movrel.Signals.PointTable feed(table=[0, 0; 1, 1]);
  annotation (experiment(StopTime=2));
end Fed;
"""


def test_a_scenario_has_another_input_table(client: FlaskClient) -> None:
    model = Model(client, TABLE, "Fed")
    model.edit("add scenario", name="double")
    model.edit("scenario value", scenario="double", place="feed.table", text="0\t0\n1\t2\n")
    assert model.view["scenarios"][0]["changes"] == {"feed.table": "[0, 0; 1, 2]"}
    ordered = model.post("/runs", scenario="double").json
    with database.connection_context():
        compute(ordered["id"])
    values = client.post(
        f"/api/runs/{ordered['id']}/values", json={"names": ["feed.y"], "at": 0.5}
    ).json["values"]
    assert values["feed.y"] == pytest.approx(1.0)
    model.refused(
        "scenario value",
        "feed.table",
        scenario="double",
        place="feed.table",
        text="[0, 1; nothing]",
    )


def test_a_value_that_a_swapped_part_does_not_have_is_left_out_and_said(gate: Gate) -> None:
    gate.edit("add scenario", name="other damper")
    gate.edit("scenario value", scenario="other damper", place="damper.d", text="3")
    gate.edit("scenario value", scenario="other damper", place="m", text="4")
    gate.edit(
        "scenario value",
        scenario="other damper",
        place="damper",
        text="redeclare Movrel.Translational.Spring",
    )
    run = gate.run("other damper")
    assert run["state"] == "done", run["reason"]
    assert (
        run["parameters"]["m"] == 4
        and "damper.d" not in run["parameters"]
        and "damper.c" in run["parameters"]
    )
    assert any("damper.d" in text and "swapped in" in text for text in run["messages"])


def test_changes_since_a_run_become_a_scenario(gate: Gate) -> None:
    base = gate.run()
    gate.refused("keep changes", "no value differs", run=base["id"], name="none")
    gate.edit("parameter", name="spring.c", text="80 N/m")
    gate.edit("parameter", name="m", text="3")
    gate.edit("reset", name="body.s_start")
    gate.edit("keep changes", run=base["id"], name="stiff")
    changes = gate.scenario("stiff")["changes"]
    assert (
        changes["spring.c"] == "80" and changes["m"] == "3" and float(changes["body.s_start"]) == 0
    )
    values = {row["name"]: row["value"] for row in gate.view["rows"]}
    assert (values["m"], values["spring.c"], values["body.s_start"]) == (2, 50, 0.1)
    assert gate.run()["name"] == base["name"]
    again = gate.run("stiff")
    assert again["parameters"]["spring.c"] == 80 and again["parameters"]["m"] == 3


def test_a_failing_run_names_its_part_and_keeps_its_curves(gate: Gate) -> None:
    gate.edit(
        "text",
        text=gate.text.replace('package Gate "a gate on a spring"\n', LATE, 1).replace(
            "Movrel.Translational.Damper damper(d=2)", "Late damper(d=2)"
        ),
    )
    failed = gate.run()
    assert (
        failed["state"] == "failed"
        and failed["place"] == "damper"
        and "it broke" in failed["reason"]
    )
    assert 2.9 < failed["time_reached"] <= 3 and failed["points"] > 250


LATE = """package Gate "a gate on a spring"
  model Late
    extends Movrel.Translational.Damper;
  equation
    assert(time < 3, "it broke");
  end Late;
"""

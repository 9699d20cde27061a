"""Rigs over HTTP: coupled, wired by proposals, run, judged, swept, talked to, compared at half the step."""

from __future__ import annotations

import io
import threading
import time

import openpyxl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.jobs.sweeping import block
from movrel.workspace.announce import announce as real_announce
from movrel.workspace.tables import database
from tests.web.test_structure_api import Model

RIG = """model Bench
  model Mass parameter Real m = 2; Movrel.Signals.SignalIn force(unit="N"); Movrel.Signals.SignalOut speed(unit="m/s");
    Real v(start=0, fixed=true); equation m*der(v) = force; speed = v; end Mass;
  model Brake parameter Real d = 1; Movrel.Signals.SignalIn speed(unit="km/h"); Movrel.Signals.SignalOut drag(unit="N");
    equation drag = 5 - d*speed/3.6; end Brake;
  Mass mass; Brake brake;
  annotation(experiment(StopTime=4, Interval=0.1, Tolerance=1e-8), __Movrel(claims={"final(mass.speed) < 4.4 m/s"}));
end Bench;"""


@pytest.fixture
def bench(client: FlaskClient) -> Model:
    return Model(client, RIG, "Bench")


def finished(model: Model, run: int) -> dict[str, object]:
    with database.connection_context():
        compute(run)
    found = model.client.get(f"/api/runs/{run}").json
    assert isinstance(found, dict)
    return found


def coupled(bench: Model, **settings: object) -> None:
    bench.edit("couple", **({"step": 0.02, "inputs": "extrapolated"} | settings))
    pairs = [
        {"from": "mass.speed", "to": "brake.speed"},
        {"from": "brake.drag", "to": "mass.force"},
    ]
    bench.edit("connect pairs", pairs=pairs)


def test_a_model_becomes_a_rig(bench: Model) -> None:
    alone = bench.get("/rig")
    assert alone["settings"] is None
    assert {u["name"]: u["inputs"] for u in alone["units"]} == {
        "mass": ["mass.force"],
        "brake": ["brake.speed"],
    }
    found = {p["target"]: p for p in alone["proposals"]}
    assert found["brake.speed"]["source"] == "mass.speed"
    assert "m/s is converted to km/h" in found["brake.speed"]["reason"]
    assert found["mass.force"]["source"] == "brake.drag"
    coupled(bench)
    rig = bench.get("/rig")
    assert rig["settings"]["step"] == 0.02
    assert rig["open_inputs"] == []
    assert [s["conversion"] for s in rig["signals"] if s["target"] == "brake.speed"] == [
        "m/s → km/h: × 3.6"
    ]
    twice = [{"from": "brake.drag", "to": "brake.speed"}]
    bench.refused("connect pairs", "has its signal", pairs=twice)
    bench.edit("one model")
    assert bench.get("/rig")["settings"] is None


def test_an_open_input_keeps_the_value_that_somebody_gives_it(bench: Model) -> None:
    bench.edit("couple", step=0.02)
    bench.edit("parameter", name="mass.force.start", text="3")
    (force,) = [i for i in bench.get("/rig")["open_inputs"] if i["name"] == "mass.force"]
    assert force["start"] == 3
    done = finished(bench, bench.post("/runs").json["id"])
    assert done["state"] == "done", done["reason"]
    values = bench.client.post(
        f"/api/runs/{done['id']}/values", json={"names": ["mass.speed"], "at": 4.0}
    ).json
    assert values["values"]["mass.speed"] == pytest.approx(6.0, rel=1e-6)


def test_a_rig_runs_is_judged_and_checked_at_half_the_step(bench: Model) -> None:
    coupled(bench)
    done = finished(bench, bench.post("/runs").json["id"])
    assert done["state"] == "done", done["reason"]
    # 2 v' = 5 - v: v(4) = 5 (1 - exp(-2)) = 4.323
    assert [c["holds"] for c in done["claims"]] == [True]
    assert done["claims"][0]["value"] == pytest.approx(4.3233, abs=1e-3)
    half = bench.client.post(f"/api/runs/{done['id']}/half-step").json
    assert half["options"]["step"] == 0.01
    finished(bench, half["id"])
    found = bench.client.get(f"/api/runs/{done['id']}/step-differences/{half['id']}").json
    assert {d["source"] for d in found["differences"]} == {"mass.speed", "brake.drag"}
    assert 0 < found["differences"][0]["largest"] < 1e-3
    refused = bench.client.post(f"/api/runs/{done['id']}/command", json={"do": "pause"})
    assert "has already ended" in refused.json["message"]


def test_a_sweep_of_a_rig(bench: Model) -> None:
    coupled(bench)
    vary = {"name": "brake.d", "low": 1, "high": 2, "count": 2, "values": []}
    made = bench.post("/sweeps", varied=[vary], measures=["final(mass.speed)"])
    assert made.status_code == 200, made.json
    with database.connection_context():
        while block(made.json["id"], None):
            pass
    points = bench.client.get(f"/api/sweeps/{made.json['id']}").json["points"]
    values = [p["measures"][0] for p in points]
    assert values == pytest.approx([4.3233, 2.4542], rel=2e-3)


def test_a_running_rig_is_paused_turned_and_goes_on(
    bench: Model, monkeypatch: pytest.MonkeyPatch
) -> None:
    coupled(bench, pace=2.0)
    announced: list[object] = []

    def announce(kind: str, **fields: object) -> None:
        announced.append(fields.get("paused"))
        real_announce(kind, **fields)

    monkeypatch.setattr("movrel.jobs.rig_control.announce", announce)
    run = bench.post("/runs").json["id"]
    worker = threading.Thread(target=finished, args=(bench, run))
    worker.start()

    def look() -> dict[str, object]:
        found = bench.client.get(f"/api/runs/{run}").json
        assert isinstance(found, dict)
        return found

    def wait(condition: object, what: str) -> None:
        end = time.monotonic() + 40
        while not condition():  # type: ignore[operator]
            assert time.monotonic() < end, what
            time.sleep(0.02)

    def say(**command: object) -> None:
        answer = bench.client.post(f"/api/runs/{run}/command", json=command)
        assert answer.status_code == 200, answer.json

    wait(lambda: (look()["time_reached"] or 0) > 0.1, "it runs")
    say(do="pause")
    wait(lambda: True in announced, "it says that it is paused")
    at = look()["time_reached"]
    say(do="one step")
    wait(lambda: look()["time_reached"] == pytest.approx(at + 0.02), "one step")  # type: ignore[operator]
    assert (
        bench.client.post(
            f"/api/runs/{run}/command", json={"do": "turn", "name": "none"}
        ).status_code
        == 422
    )
    say(do="go on")
    wait(lambda: look()["state"] == "done", "it is done")
    worker.join()


def measured(kind: str) -> bytes:
    rows = [(0.0, 0.0), (1.0, 2.0), (2.0, 1.0)]
    out = io.BytesIO()
    if kind == "parquet":
        fields = [
            pa.field("time", pa.float64()),
            pa.field("force", pa.float64(), metadata={"unit": "kN"}),
        ]
        columns = [pa.array([r[k] for r in rows]) for k in (0, 1)]
        pq.write_table(pa.Table.from_arrays(columns, schema=pa.schema(fields)), out)
        return out.getvalue()
    if kind == "xlsx":
        book = openpyxl.Workbook()
        for row in [("time [s]", "force [kN]"), *rows]:
            book.active.append(row)
        book.save(out)
        return out.getvalue()
    return b"Zeit;force\ns;kN\n0;0,0\n1;2,0\nbad;x\n2;1,0\n"


@pytest.mark.parametrize("kind", ["csv", "parquet", "xlsx"])
def test_a_table_becomes_a_source(bench: Model, kind: str) -> None:
    address = f"/api/projects/{bench.project}/signal-tables/hand.{kind}"
    seen = bench.client.post(f"{address}/preview", data=measured(kind)).json
    assert [(c["name"], c["unit"], c["first"]) for c in seen["columns"]] == [
        ("force", "kN", [0.0, 2.0, 1.0])
    ]
    choices = '{"name": "Hand", "columns": {"force": "force"}, "between": "hold", "before": {"force": 0.5}, "cyclic": false}'
    made = bench.client.post(address, data=measured(kind), query_string={"choices": choices})
    assert made.status_code == 200, made.json
    bench.edit("component", text=made.json["text"], replaces="", x=0, y=0)
    bench.edit("couple", step=0.02)
    bench.edit("connect pairs", pairs=[{"from": "hand.force", "to": "mass.force"}])
    done = finished(bench, bench.post("/runs").json["id"])
    assert done["state"] == "done", done["reason"]
    values = bench.client.post(
        f"/api/runs/{done['id']}/values", json={"names": ["mass.speed"], "at": 4.0}
    ).json
    # 1 s of 0, 1 s of 2 kN, 2 s of 1 kN on 2 kg.
    assert values["values"]["mass.speed"] == pytest.approx(2000, rel=0.03)
    refused = bench.client.post(f"{address}/preview", data=b"\x00\x01")
    assert refused.status_code == 422

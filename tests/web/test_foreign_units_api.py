"""Units of others over HTTP: taken in, looked at, allowed, tried, put on a sheet, carried along, refused."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.jobs.trials import try_unit
from movrel.workspace.tables import database
from tests.exchange.conftest import hand_written  # noqa: F401  # a fixture
from tests.exchange.hand_written import SPRING
from tests.web.test_structure_api import Model

Build = Callable[..., Path]


@pytest.fixture
def rig(client: FlaskClient) -> Model:
    return Model(
        client, "model Rig Real z(start=0, fixed=true); equation der(z) = 1 - z; end Rig;", "Rig"
    )


def taken(model: Model, unit: Path, name: str = "spring.fmu") -> dict[str, object]:
    answer = model.client.post(
        f"/api/projects/{model.project}/foreign-units/{name}", data=unit.read_bytes()
    )
    assert answer.status_code == 200, answer.json
    found = answer.json
    assert isinstance(found, dict)
    return found


def test_a_unit_is_looked_at_allowed_and_tried(rig: Model, hand_written: Build) -> None:  # noqa: F811
    page = taken(rig, hand_written(2))
    number = page["unit"]["id"]
    assert page["title"] == "Spring"
    assert page["interfaces"] == ["me", "cs"]
    assert (page["states"], page["indicators"]) == (2, 1)
    assert {v["name"]: v["role"] for v in page["variables"]} == {
        "stiffness": "parameter", "wall": "parameter", "force": "input", "x": "output", "v": "state",
        "der(x)": "", "der(v)": "", "strikes": "", "touching": "",
    }  # fmt: skip
    assert not page["unit"]["allowed"]
    rig.client.post(f"/api/foreign-units/{number}/trial")
    with database.connection_context():
        try_unit(number)
    refused = rig.client.get(f"/api/foreign-units/{number}").json["trial"]
    assert refused["state"] == "failed"
    assert "nobody has allowed" in refused["reason"]
    assert rig.client.post(f"/api/foreign-units/{number}/allow").json["unit"]["allowed"]
    with database.connection_context():
        try_unit(number)
    trial = rig.client.get(f"/api/foreign-units/{number}").json["trial"]
    curve = next(c for c in trial["curves"] if c["name"] == "x")
    assert curve["unit"] == "m"
    flying = np.array(trial["time"]) < 1.0
    assert (
        np.abs(np.array(curve["values"]) - np.cos(2 * np.array(trial["time"])))[flying].max() < 1e-6
    )


def test_a_part_runs_with_the_model_once_it_is_allowed(rig: Model, hand_written: Build) -> None:  # noqa: F811
    own = SPRING.replace('modelName="Spring"', 'modelName="Spring" description="for the rig"')
    number = taken(rig, hand_written(2, text=own))["unit"]["id"]
    text = rig.client.post(
        f"/api/foreign-units/{number}/part", json={"name": "Spring", "kind": "me", "names": {"x": "place"}}
    ).json["text"]  # fmt: skip
    rig.edit("component", text=text, x=0, y=0)
    rig.edit("parameter", name="spring.wall", text="-2")
    rig.edit("text", text=rig.text.replace("equation der", "equation spring.force = 0; der"))
    ordered = rig.post("/runs", stop=1.0)
    assert ordered.status_code == 200, ordered.json
    number_of_run = ordered.json["id"]
    with database.connection_context():
        compute(number_of_run)
    state = rig.client.get(f"/api/runs/{number_of_run}").json
    assert state["state"] == "failed"
    assert "nobody has allowed" in state["reason"]
    rig.client.post(f"/api/foreign-units/{number}/allow")
    again = rig.post("/runs", stop=1.0).json["id"]
    with database.connection_context():
        compute(again)
    assert rig.client.get(f"/api/runs/{again}").json["state"] == "done"
    # It travels with the archive, and what was allowed here stays so for the same content.
    archive = rig.client.get(f"/api/projects/{rig.project}/archive").data
    assert "Units/spring.fmu" in zipfile.ZipFile(io.BytesIO(archive)).namelist()
    copy = rig.client.post("/api/archives/Copy", data=archive).json["id"]
    listed = rig.client.get(f"/api/projects/{copy}/foreign-units").json["units"]
    assert [(u["name"], u["allowed"]) for u in listed] == [("spring.fmu", True)]
    assert rig.client.delete(f"/api/foreign-units/{number}").json["units"] == []
    gone = rig.post("/runs", stop=1.0)
    with database.connection_context():
        compute(gone.json["id"])
    assert "cannot be found" in rig.client.get(f"/api/runs/{gone.json['id']}").json["reason"]


@pytest.mark.parametrize(
    ("name", "content", "sentence"),
    [
        ("notes.txt", b"", "is not a unit"),
        ("unit.fmu", b"no archive", "not a ZIP archive"),
    ],
)
def test_what_is_no_unit_is_refused_and_not_kept(
    rig: Model, name: str, content: bytes, sentence: str
) -> None:
    answer = rig.client.post(f"/api/projects/{rig.project}/foreign-units/{name}", data=content)
    assert answer.status_code == 422
    assert sentence in answer.json["message"]
    assert rig.client.get(f"/api/projects/{rig.project}/foreign-units").json["units"] == []


def test_choices_that_do_not_fit_are_refused(rig: Model, hand_written: Build) -> None:  # noqa: F811
    number = taken(rig, hand_written(3), "chain.fmu")["unit"]["id"]
    for body, sentence in (
        ({"name": "1x"}, "cannot be a name"),
        ({"name": "A", "names": {"rate": "x y"}}, "cannot be the name of 'rate'"),
        ({"name": "A", "names": {"rate": "a", "x": "a"}}, "another variable has it"),
    ):
        answer = rig.client.post(f"/api/foreign-units/{number}/part", json=body)
        assert answer.status_code == 422
        assert sentence in answer.json["message"]


def test_a_unit_is_exchanged_for_a_newer_one(rig: Model, hand_written: Build) -> None:  # noqa: F811
    old = taken(rig, hand_written(2))["unit"]["id"]
    text = rig.client.post(
        f"/api/foreign-units/{old}/part", json={"name": "Spring", "kind": "me", "names": {"x": "place"}, "hidden": ["stiffness"]}
    ).json["text"]  # fmt: skip
    rig.edit("component", text=text, x=0, y=0)
    rig.edit("parameter", name="spring.wall", text="-2")
    wires = "connect(push.y, spring.force); connect(spring.place, gauge.u); der"
    parts = "Movrel.Signals.Constant push; Movrel.Signals.Gain gauge; Real z(start"
    rig.edit("text", text=rig.text.replace("Real z(start", parts).replace("equation der", f"equation {wires}"))  # fmt: skip
    newer = (
        SPRING.replace('name="wall"', 'name="ledge"').replace('"4" causality="input"><Real unit="N/kg"', '"4" causality="input"><Real unit="m"')
        .replace('name="x" valueReference="0" causality="output"', 'name="x" valueReference="0" causality="local"')
        .replace("<Outputs><Unknown index=\"1\"/></Outputs>", "")
    )  # fmt: skip
    number = taken(rig, hand_written(2, text=newer), "spring-2.fmu")["unit"]["id"]
    (found,) = rig.client.get(f"/api/foreign-units/{number}/exchanges?model=Rig").json["exchanges"]
    assert (found["class"], found["file"]) == ("Spring", "Units/spring.fmu")
    plan = found["plan"]
    assert plan["parts"] == ["spring"]
    assert (plan["vanished"], plan["appeared"]) == (["wall"], ["ledge"])
    assert plan["changed"] == [
        "force: SignalIn in N/kg becomes SignalIn in m",
        "place: SignalOut in m becomes Real in m",
    ]
    assert plan["wires"] == ["spring.place"] and plan["lost"] == ["spring: wall = -0.002"]
    before = rig.text
    rig.edit("exchange unit", class_name="Spring", text=found["text"])
    assert "connect(push.y, spring.force)" in rig.text and "gauge.u" not in rig.text
    assert 'file="Units/spring-2.fmu"' in rig.text and "wall" not in rig.text
    assert "stiffness" not in rig.text, "what was hidden stays hidden"
    # What an equation names must not vanish.
    rig.edit("text", text=before.replace("der(z) = 1 - z", "der(z) = spring.wall - z"))
    rig.refused("exchange unit", "what vanishes is used", class_name="Spring", text=found["text"])
    assert rig.client.get(f"/api/foreign-units/{old}/exchanges?model=Rig").json["exchanges"] == []
    # A newer file of the same name takes the place of the earlier one; its classes are offered then.
    assert taken(rig, hand_written(2, text=newer))["unit"]["id"] == old
    (again,) = rig.client.get(f"/api/foreign-units/{old}/exchanges?model=Rig").json["exchanges"]
    assert (again["file"], again["plan"]["vanished"]) == ("Units/spring.fmu", ["wall"])

"""Units over HTTP: ordered, made by a worker, fetched, refused."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from movrel.fmi.archive import open_unit
from movrel.jobs.exporting import make
from movrel.workspace.tables import database
from tests.web.test_structure_api import Model

SPRING = """model Swing parameter Real k = 4; output Real x(start=1, fixed=true); Real v(start=0, fixed=true);
equation der(x) = v; der(v) = -k*x; end Swing;"""


@pytest.fixture
def swing(client: FlaskClient) -> Model:
    return Model(client, SPRING, "Swing")


def test_a_unit_has_the_values_of_its_scenario(swing: Model, tmp_path: Path) -> None:
    swing.edit("add scenario", name="stiff", like="base")
    swing.edit("scenario value", scenario="stiff", place="k", text="16")
    unit = made(swing, version=2, scenario="stiff")
    path = tmp_path / "stiff.fmu"
    path.write_bytes(swing.client.get(f"/api/model-units/{unit['id']}/file").data)
    assert open_unit(path).description.by_name()["k"].start == [16.0]
    refused = swing.post("/units", scenario="none")
    assert refused.status_code == 404
    assert "no scenario 'none'" in refused.json["message"]


def made(model: Model, **choices: object) -> dict[str, object]:
    ordered = model.post("/units", **choices)
    assert ordered.status_code == 200, ordered.json
    assert ordered.json["state"] == "waiting"
    with database.connection_context():
        make(ordered.json["id"])
    found = model.client.get(f"/api/model-units/{ordered.json['id']}").json
    assert isinstance(found, dict)
    return found


def test_a_unit_is_made_of_the_texts_it_was_ordered_with(swing: Model, tmp_path: Path) -> None:
    ordered = swing.post("/units", version=2, interfaces=["cs"])
    swing.edit("parameter", name="k", text="9")
    with database.connection_context():
        make(ordered.json["id"])
    unit = swing.client.get(f"/api/model-units/{ordered.json['id']}").json
    assert unit["state"] == "done"
    assert unit["summary"] == {
        "inputs": 0,
        "outputs": 1,
        "parameters": 1,
        "states": 2,
        "variables": 6,
    }
    answer = swing.client.get(f"/api/model-units/{unit['id']}/file")
    assert "Swing2.fmu" in answer.headers["Content-Disposition"]
    assert len(answer.data) == unit["size"]
    path = tmp_path / "swing.fmu"
    path.write_bytes(answer.data)
    assert open_unit(path).description.by_name()["k"].start == [4.0]
    listed = swing.get("/units")
    assert [u["id"] for u in listed["units"]] == [unit["id"]]
    assert "linux64" in listed["platforms"]
    assert swing.client.delete(f"/api/model-units/{unit['id']}").status_code == 200
    assert swing.get("/units")["units"] == []


def test_what_cannot_be_made_fails_with_its_reason(swing: Model) -> None:
    unit = made(swing, outputs=["nothing"])
    assert unit["state"] == "failed"
    assert "no variable 'nothing' to become an output" in str(unit["reason"])
    missing = swing.client.get(f"/api/model-units/{unit['id']}/file")
    assert missing.status_code == 404
    assert "is not made yet" in missing.json["message"]


@pytest.mark.parametrize(
    ("choices", "words"),
    [
        ({"interfaces": []}, "needs model exchange, co-simulation, or both"),
        ({"solver": "fixed"}, "a fixed step needs its size"),
        ({"version": 1}, ""),
        ({"platforms": ["amiga"]}, ""),
    ],
)
def test_choices_that_do_not_go_together_are_refused(
    swing: Model, choices: dict[str, object], words: str
) -> None:
    answer = swing.post("/units", **choices)
    if "platforms" in choices:
        with database.connection_context():
            make(answer.json["id"])
        assert (
            "there is no platform 'amiga'"
            in swing.client.get(f"/api/model-units/{answer.json['id']}").json["reason"]
        )
        return
    assert answer.status_code == 422
    assert words in answer.json["message"]

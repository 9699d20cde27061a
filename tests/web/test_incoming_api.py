"""Modelica text of others over HTTP: a report, decisions, all or nothing; and models as text for others."""

from __future__ import annotations

import io
import zipfile

import pytest
from flask.testing import FlaskClient

import movrel
from tests.web.test_structure_api import Model

LINE = """model Line
  Movrel.Process.Basin basin(level(start = 1));
  Valves.Gate gate;
equation
  connect(basin.outlet, gate.a);
end Line;"""


@pytest.fixture
def plant(client: FlaskClient) -> Model:
    return Model(client)


def test_a_missing_class_is_reported_decided_and_taken(plant: Model) -> None:
    address = f"/api/projects/{plant.project}/incoming/Line.mo"
    report = plant.client.post(f"{address}/report", data=LINE).json
    assert [(m["name"], m["line"], m["decided"]) for m in report["missing"]] == [
        ("Valves.Gate", 3, "")
    ]
    refused = plant.client.post(address, data=LINE)
    assert refused.status_code == 422
    assert "'Valves.Gate' is missing" in refused.json["message"]
    ours = "replace=Valves.Gate=Movrel.Process.Orifice"
    report = plant.client.post(f"{address}/report?{ours}", data=LINE).json
    assert report["missing"][0]["decided"] == "Movrel.Process.Orifice"
    assert plant.client.post(f"{address}?{ours}", data=LINE).json == {"files": ["Line.mo"]}
    text = plant.client.get(f"/api/projects/{plant.project}/models/Line/text").json["text"]
    assert "Movrel.Process.Orifice gate" in text


def test_a_stub_comes_along_and_a_second_time_nothing_is_left(plant: Model) -> None:
    address = f"/api/projects/{plant.project}/incoming/Line.mo"
    taken = plant.client.post(f"{address}?stub=Valves.Gate", data=LINE).json["files"]
    assert sorted(taken) == ["Line.mo", "Valves/Gate.mo"]
    assert plant.client.post(f"{address}/report", data=LINE).json["classes"] == 0
    other = LINE.replace("start = 1", "start = 2")
    assert plant.client.post(f"{address}/report", data=other).json["clashes"][0]["name"] == "Line"


def test_text_that_does_not_parse_is_refused_with_its_place(plant: Model) -> None:
    address = f"/api/projects/{plant.project}/incoming/Bad.mo/report"
    answer = plant.client.post(address, data="model Bad\n Real x\nend Bad;")
    assert answer.status_code == 422
    assert answer.json["where"]["line"] in (2, 3)


def test_a_model_leaves_as_one_file_and_as_an_archive(plant: Model) -> None:
    text = plant.client.get(f"{plant.address}/modelica").data.decode()
    assert text.index("package Movrel") < text.index("model Plant")
    assert movrel.load(text=text).name == "Plant"
    packed = plant.client.get(f"{plant.address}/modelica?form=archive").data
    names = zipfile.ZipFile(io.BytesIO(packed)).namelist()
    assert "Plant.mo" in names
    assert "Movrel/Process/Basin.mo" in names

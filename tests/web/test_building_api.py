"""Building over HTTP: each edit is a patch, a revision and a sentence when it is refused."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

EMPTY = (
    'model Plant "to build"\n  // keep me\n  annotation (experiment(StopTime=10));\nend Plant;\n'
)


@pytest.fixture
def plant(client: FlaskClient) -> dict[str, Any]:
    project = client.post("/api/projects", json={"name": "Quay"}).json["id"]
    assert (
        client.post(
            f"/api/projects/{project}/files", json={"path": "Plant.mo", "text": EMPTY}
        ).status_code
        == 200
    )
    return client.get(f"/api/projects/{project}/models/Plant").json


def post(client: FlaskClient, view: dict[str, Any], what: str, **body: Any) -> Any:
    order = {"revision": view["revision"], "edit": {"do": what, **body}}
    return client.post(f"/api/projects/{view['project']}/models/Plant/edits", json=order)


def built(client: FlaskClient, view: dict[str, Any]) -> dict[str, Any]:
    for cls, x in (("Signals.Constant", -80), ("Process.Inflow", 0), ("Process.Basin", 80)):
        view = post(client, view, "insert", **{"class": f"Movrel.{cls}", "x": x, "y": 0}).json
    view = post(client, view, "connect", **{"from": "constant1.y", "to": "inflow.q"}).json
    return post(client, view, "connect", **{"from": "inflow.port", "to": "basin.inlet"}).json


def text_of(client: FlaskClient, view: dict[str, Any]) -> str:
    return client.get(f"/api/projects/{view['project']}/models/Plant/text").json["text"]


def test_a_plant_is_built_and_taken_back_step_by_step(
    client: FlaskClient, plant: dict[str, Any]
) -> None:
    view = built(client, plant)
    assert view["problem"] is None and view["summary"] == "connected inflow.port and basin.inlet"
    text = text_of(client, view)
    assert "// keep me" in text and "connect(constant1.y, inflow.q);" in text
    assert {c["name"] for c in view["sheet"]["components"]} == {"constant1", "inflow", "basin"}
    for _ in range(5):
        view = post(client, view, "undo").json
    assert text_of(client, view) == EMPTY and not view["can_undo"]


def test_an_edit_that_is_sent_again_is_carried_out_once(
    client: FlaskClient, plant: dict[str, Any]
) -> None:
    """As after an answer that was lost on its way."""
    address = f"/api/projects/{plant['project']}/models/Plant/edits"
    edit = {"do": "insert", "class": "Movrel.Process.Basin", "x": 0, "y": 0}
    order = {"id": "mine", "revision": plant["revision"], "edit": edit}
    first, again = (client.post(address, json=order).json for _ in range(2))
    assert first["inserted"] == again["inserted"] == ["basin"]
    assert first["revision"] == again["revision"]
    assert [c["name"] for c in again["sheet"]["components"]] == ["basin"]
    stale = client.post(address, json=order | {"id": "another"})
    assert stale.status_code == 409
    gone = {"id": "undone", "revision": first["revision"], "edit": {"do": "undo"}}
    undone = [client.post(address, json=gone) for _ in range(2)]
    assert [u.status_code for u in undone] == [200, 200] and not undone[1].json["can_undo"]


def test_moving_naming_and_deleting(client: FlaskClient, plant: dict[str, Any]) -> None:
    view = built(client, plant)
    places = [
        {"name": "basin", "extent": [100, -30, 150, 20]},
        {"name": "inflow", "extent": [0, 0, 40, 40], "rotation": 90},
    ]
    view = post(client, view, "move", places=places).json
    assert view["summary"] == "moved basin, inflow"
    extents = {c["name"]: (c["extent"], c["rotation"]) for c in view["sheet"]["components"]}
    assert extents["basin"] == ([100, -30, 150, 20], 0) and extents["inflow"] == (
        [0, 0, 40, 40],
        90,
    )
    view = post(client, view, "rename", name="basin", new="sump").json
    assert view["inserted"] == ["sump"] and "connect(inflow.port, sump.inlet)" in text_of(
        client, view
    )
    view = post(client, view, "delete", parts=["inflow"], wires=[]).json
    assert view["sheet"]["connections"] == [] and view["summary"] == "deleted inflow"


@pytest.mark.parametrize(
    ("what", "body", "words"),
    [
        ("insert", {"class": "Movrel.Process.Bassin", "x": 0, "y": 0}, "no class"),
        ("insert", {"class": "Movrel.Process", "x": 0, "y": 0}, "it is a package"),
        ("insert", {"class": "Plant", "x": 0, "y": 0}, "cannot hold itself"),
        ("insert", {"class": "Movrel.Process.Basin", "x": 1e9, "y": 0}, "too far"),
        (
            "connect",
            {"from": "constant1.y", "to": "basin.inlet"},
            "'constant1.y' is a signal port and 'basin.inlet' is a process liquid port",
        ),
        ("connect", {"from": "constant1.y", "to": "inflow.nothing"}, "no port"),
        ("connect", {"from": "inflow.q", "to": "constant1.y"}, "already connected"),
        ("rename", {"name": "basin", "new": "inflow"}, "already has"),
        ("rename", {"name": "basin", "new": "2 basins"}, "cannot be a name"),
        ("move", {"places": [{"name": "nobody", "extent": [0, 0, 1, 1]}]}, "not declared"),
        ("delete", {"parts": [], "wires": [{"from": "a.b", "to": "c.d"}]}, "no connection"),
        ("text", {"text": "model Plant Real x end Plant;"}, "';'"),
        ("text", {"text": "model Other end Other;"}, "no longer holds 'Plant'"),
    ],
)
def test_what_does_not_go_is_said_and_changes_nothing(
    client: FlaskClient, plant: dict[str, Any], what: str, body: dict[str, Any], words: str
) -> None:
    view = built(client, plant)
    before = text_of(client, view)
    answer = post(client, view, what, **body)
    assert answer.status_code == 422 and words in answer.json["message"]
    assert text_of(client, view) == before


def test_an_edit_against_an_older_revision_is_refused(
    client: FlaskClient, plant: dict[str, Any]
) -> None:
    newer = built(client, plant)
    answer = post(client, plant, "insert", **{"class": "Movrel.Process.Basin", "x": 0, "y": 0})
    assert answer.status_code == 409 and answer.json["current"] == newer["revision"]


def test_the_shelf_holds_the_library_and_the_project(
    client: FlaskClient, plant: dict[str, Any]
) -> None:
    entries = client.get(f"/api/projects/{plant['project']}/shelf").json["entries"]
    by_class = {e["class"]: e for e in entries}
    assert (
        by_class["Movrel.Process.Basin"]["icon"]["ports"]
        and by_class["Movrel.Process.Basin"]["description"]
    )
    assert by_class["Plant"]["group"] == "This project"
    assert not any("Tables" in name for name in by_class)
    # Ports of the model itself stand apart, at the end of the library.
    port = by_class["Movrel.Signals.SignalIn"]
    assert port["group"] == "Ports of the model" and {"port", "input"} <= set(port["synonyms"])


def test_a_port_comes_with_a_free_place_on_the_symbol(
    client: FlaskClient, plant: dict[str, Any]
) -> None:
    view = plant
    for place in ("SignalIn", "SignalIn", "SignalOut"):
        edit = {"class": f"Movrel.Signals.{place}", "x": 0, "y": 0, "into": None}
        view = post(client, view, "insert", **edit).json
        assert len(view["inserted"]) == 1
    address = f"/api/projects/{view['project']}/models/{view['model']}"
    text = client.get(f"{address}/text").json["text"]
    for name, corners in (("u", "{{-110,-10},{-90,10}}"), ("u2", "{{-110,30},{-90,50}}"), ("y", "{{90,-10},{110,10}}")):  # fmt: skip
        assert f" {name} annotation" in text and f"iconTransformation(extent={corners})" in text


def test_run_settings_are_kept_with_the_model(client: FlaskClient, plant: dict[str, Any]) -> None:
    view = plant
    for name, text in (
        ("stop", "2 min"),
        ("interval", "0.5"),
        ("solver", "radau"),
        ("tolerance", "1e-8"),
        ("solver", "rk45"),
    ):
        view = post(client, view, "setting", name=name, text=text).json
    settings = view["settings"]
    assert (settings["stop"], settings["interval"], settings["solver"], settings["tolerance"]) == (
        120,
        0.5,
        "rk45",
        1e-8,
    )
    text = text_of(client, view)
    assert (
        'experiment(StopTime=120, Interval=0.5, __Movrel(solver="rk45"), Tolerance=1e-08)' in text
        and "// keep me" in text
    )
    for name, typed, words in (
        ("stop", "-3", "would start"), ("stop", "3 kg", "a mass"), ("solver", "magic", "no solver 'magic'"), ("stop", "soon", "not a number"),
        ("colour", "1", "no run setting"), ("tolerance", "7", "tolerance is 7"), ("interval", "0", "output interval"),
    ):  # fmt: skip
        answer = post(client, view, "setting", name=name, text=typed)
        assert answer.status_code == 422 and words in answer.json["message"], answer.json
    assert text_of(client, view) == text


def test_the_text_as_a_whole(client: FlaskClient, plant: dict[str, Any]) -> None:
    text = 'model Plant "written"\n  Real x(start = 1, fixed = true);\nequation\n  der(x) = -x;\nend Plant;\n'
    view = post(client, plant, "text", text=text).json
    assert view["summary"] == "edited the text" and text_of(client, view) == text
    assert [r["name"] for r in view["rows"] if r["group"] == "watch"] == ["x"]

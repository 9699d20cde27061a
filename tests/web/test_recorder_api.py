"""What the recorder asks for over HTTP: layouts, units of axes, pictures as PDF, pages of runs."""

from __future__ import annotations

import math
import re
import zlib
from typing import Any

import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.workspace.tables import Run, database
from tests.web.test_scenarios_api import Gate


@pytest.fixture
def gate(client: FlaskClient) -> Gate:
    return Gate(client)


def strip(
    *names: str, left: str = "", right: str = "", logarithmic: bool = False, **looks: str
) -> dict[str, Any]:
    chosen = {name.replace("_", "."): look for name, look in looks.items()}
    return {
        "names": list(names), "left": left, "right": right, "logarithmic": logarithmic, "looks": chosen,
    }  # fmt: skip


def test_layouts_are_named_and_stand_in_the_text(gate: Gate) -> None:
    assert gate.view["layouts"] == [{"name": "Standard", "strips": [strip("body.s")]}]
    gate.edit("keep layout", name="", strips=[strip("body.v", "spring.f"), strip("body.s")])
    assert 'recorder={{"body.v", "spring.f"}, {"body.s"}}' in gate.text
    fine = [
        strip("body.s", "spring.f", left="mm", right="kN"),
        strip("body.v", logarithmic=True, body_v="colour 3, dash 2"),
    ]
    gate.edit("keep layout", name="Fine", strips=fine)
    assert (
        'Layout(name="Fine", strips={Strip(curves={"body.s", "spring.f"}, units={"mm", "kN"}),'
        in gate.text
    )
    assert [item["name"] for item in gate.view["layouts"]] == ["Standard", "Fine"]
    assert gate.view["layouts"][1]["strips"] == fine
    gate.edit("rename", name="body", new="leaf")
    assert gate.view["layouts"][1]["strips"] == [
        strip("leaf.s", "spring.f", left="mm", right="kN"),
        strip("leaf.v", logarithmic=True, leaf_v="colour 3, dash 2"),
    ]
    gate.edit("delete layout", name="Standard")
    gate.edit("keep layout", name="Fine", strips=[strip("leaf.s")])
    assert gate.view["layouts"] == [{"name": "Fine", "strips": [strip("leaf.s")]}]
    gate.edit("delete layout", name="Fine")
    assert "recorder" not in gate.text and gate.view["layouts"] == []
    gate.edit("undo")
    assert gate.view["layouts"][0]["name"] == "Fine"


def test_a_layout_that_cannot_be_shown_is_refused(gate: Gate) -> None:
    gate.refused("keep layout", "no variable 'q'", name="a", strips=[strip("q")])
    gate.refused(
        "keep layout", "cannot be shown in 'kN'", name="a", strips=[strip("body.s", left="kN")]
    )
    gate.refused(
        "keep layout", "not a colour and a dash", name="a", strips=[strip("body.s", body_s="pink")]
    )
    gate.refused("keep layout", "no strip", name="a", strips=[])
    gate.refused("delete layout", "no layout 'a'", name="a")


def test_a_run_brings_the_layout_that_is_made_for_it(gate: Gate) -> None:
    assert gate.run()["layout"][0] == ["body.s"]


@pytest.mark.parametrize(
    ("unit", "shown", "value", "wanted"),
    [
        ("m", "cm", 0.5, 50.0),
        ("rad/s", "rev/min", 104.71975511965977, 1000.0),
        ("K", "degC", 300.0, 26.85),
        ("Pa", "bar", 2e5, 2.0),
        ("m3/s", "l/min", 1e-3, 60.0),
        ("l/s", "m3/h", 1.0, 3.6),
        ("A2", "A2", 3.0, 3.0),
    ],
)
def test_units_of_an_axis_convert(
    client: FlaskClient, unit: str, shown: str, value: float, wanted: float
) -> None:
    units = client.get("/api/units", query_string={"unit": unit}).json["units"]
    assert units[0] == {"unit": unit, "factor": 1.0, "offset": 0.0}
    found = next(u for u in units if u["unit"] == shown)
    assert value * found["factor"] + found["offset"] == pytest.approx(wanted)


def test_a_speed_is_not_offered_in_hertz(client: FlaskClient) -> None:
    names = [u["unit"] for u in client.get("/api/units?unit=rad/s").json["units"]]
    assert "Hz" not in names and "rad/s" not in [
        u["unit"] for u in client.get("/api/units?unit=Hz").json["units"]
    ]
    assert client.get("/api/units?unit=furlong").status_code == 422


SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="120" viewBox="0 0 300 120"><text x="10" y="20">Ω µ °C</text></svg>'


def plain(document: bytes) -> bytes:
    """What stands in the compressed pieces of a PDF."""
    pieces = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", document, re.S)
    return b"\n".join(zlib.decompress(piece) for piece in pieces if piece[:1] == b"\x78")


def test_a_picture_becomes_a_page_of_its_size(client: FlaskClient) -> None:
    made = client.post("/api/pdf", json={"document": SVG})
    assert made.status_code == 200 and made.mimetype == "application/pdf"
    # 300 by 120 pixels of 1/96 inch, in points of 1/72 inch.
    assert made.data.startswith(b"%PDF") and re.search(
        rb"/MediaBox ?\[0 0 225 90\]", plain(made.data)
    )


def test_only_documents_of_ours_become_a_pdf(client: FlaskClient) -> None:
    assert client.post("/api/pdf", json={"document": "https://example.org"}).status_code == 422
    page = '<!doctype html><title>x</title><img src="file:///etc/passwd"><p>left</p>'
    made = client.post("/api/pdf", json={"document": page})
    assert made.status_code == 200 and b"root:" not in made.data


def test_runs_are_found_page_by_page(gate: Gate, client: FlaskClient) -> None:
    gate.edit("add scenario", name="stiff")
    gate.edit("scenario value", scenario="stiff", place="spring.c", text="500")
    first, stiff = gate.run(), gate.run("stiff")
    client.patch(f"/api/runs/{first['id']}", json={"pinned": True, "note": "the calm one"})
    with database.connection_context():
        given = {k: v for k, v in Run.get_by_id(stiff["id"]).__data__.items() if k != "id"}
        for number in range(3, 253):
            Run.insert(
                given
                | {
                    "number": number,
                    "name": f"copy {number}",
                    "state": "failed" if number % 2 else "done",
                }
            ).execute()

    def page(**asked: Any) -> Any:
        return client.get(f"{gate.address}/runs/page", query_string=asked).json

    newest = client.get(f"{gate.address}/runs").json
    assert newest["count"] == 252 and len(newest["runs"]) == 200
    everything = page(limit=100)
    assert everything["count"] == 252 and everything["runs"][0]["number"] == 1  # pinned
    assert [r["number"] for r in page(offset=1, limit=3)["runs"]] == [252, 251, 250]
    assert [r["number"] for r in page(offset=250, limit=10)["runs"]] == [3, 2]
    assert page(words="calm pinned")["count"] == 1 and page(words="COPY 17")["count"] == sum(
        "17" in str(n) for n in range(3, 253)
    )
    assert page(state="failed")["count"] == 125 and page(state="failed", words="copy 3")[
        "count"
    ] == sum("3" in str(n) for n in range(3, 253, 2))
    assert page(scenario="stiff")["count"] == 251 and page(scenario="base")["count"] == 1
    assert (
        page(since="2999-01-01T00:00:00Z")["count"] == 0
        and page(since="2000-01-01T00:00:00Z")["count"] == 252
    )
    assert page(all_models="true", words="gate.swing copy 44")["count"] == 3


def test_a_large_array_is_read_at_once(client: FlaskClient) -> None:
    text = "model Long Real x[3000](each start=1, each fixed=true); equation for i in 1:3000 loop der(x[i]) = -i/3000*x[i]; end for; end Long;"
    project = client.post("/api/projects", json={"name": "Long"}).json["id"]
    client.post(f"/api/projects/{project}/files", json={"path": "Long.mo", "text": text})
    run = client.post(
        f"/api/projects/{project}/models/Long/runs", json={"stop": 1, "interval": 0.5}
    ).json["id"]
    with database.connection_context():
        compute(run)
    names = [f"x[{i}]" for i in range(1, 3001)]
    values = client.post(f"/api/runs/{run}/values", json={"names": names, "at": 1}).json["values"]
    assert list(values) == names and values["x[3000]"] == pytest.approx(math.exp(-1), rel=1e-4)
    curves = client.post(f"/api/runs/{run}/curves", json={"names": names, "width": 100}).json[
        "curves"
    ]
    assert len(curves) == 3000 and curves[2999]["values"][-1] == pytest.approx(
        math.exp(-1), rel=1e-4
    )

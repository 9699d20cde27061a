"""The HTTP interface: models, edits as patches, runs, faults as sentences."""

from __future__ import annotations

import difflib
import json
import subprocess
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from movrel.web.describe import description
from movrel.workspace import project_list
from tests.conftest import ROOT, SUMP, wait_until

MODEL = "VarrowQuay.Sump"


@pytest.fixture
def address(project: int) -> str:
    return f"/api/projects/{project}/models/{MODEL}"


def edit(client: Any, address: str, name: str, text: str, revision: int | None = None) -> Any:
    newest = client.get(address).json["revision"] if revision is None else revision
    return client.post(
        f"{address}/edits",
        json={"revision": newest, "edit": {"do": "parameter", "name": name, "text": text}},
    )


def run_to_end(client: Any, address: str, **options: Any) -> Any:
    ordered = client.post(f"{address}/runs", json=options)
    assert ordered.status_code == 200, ordered.json
    number = ordered.json["id"]
    wait_until(
        lambda: client.get(f"/api/runs/{number}").json["state"] in ("done", "failed", "stopped"),
        what="the end of the run",
    )
    return client.get(f"/api/runs/{number}").json


def test_the_description_is_current() -> None:
    assert (ROOT / "movrel/web/openapi.json").read_text() == description(), (
        "run: python -m movrel.web.describe > movrel/web/openapi.json"
    )


def test_a_project_lists_its_models_without_their_drawings(client: Any, project: int) -> None:
    found = next(p for p in client.get("/api/projects").json["projects"] if p["id"] == project)
    assert found["name"] == "Varrow Quay"
    members = (SUMP.parent / "package.order").read_text().split()
    assert {m["model"] for m in found["models"]} == {f"VarrowQuay.{m}" for m in members}
    sump = next(m for m in found["models"] if m["model"] == MODEL)
    assert "sheet" not in sump and sump["problem"] is None and not sump["part"]
    drawn = client.get(f"/api/projects/{project}/models/{MODEL}/drawing").json["sheet"]
    assert {c["name"] for c in drawn["components"]} == {
        "gusts",
        "drain",
        "basin",
        "outlet",
        "harbour",
    }
    assert sump["last_run"] is None


def test_a_model_that_cannot_be_drawn_takes_no_other_away(
    client: Any, project: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = project_list.icon

    def refusing(tree: Any, definition: Any) -> Any:
        if definition.name == "Odd":
            raise RecursionError("too deep")
        return whole(tree, definition)

    monkeypatch.setattr(project_list, "icon", refusing)
    # A text that nobody read before: a listing that is kept from elsewhere would have no fault.
    body = {"path": "Odd.mo", "text": f"model Odd Real x = 1; end Odd; // {uuid.uuid4()}"}
    client.post(f"/api/projects/{project}/files", json=body)
    found = next(p for p in client.get("/api/projects").json["projects"] if p["id"] == project)
    problems = {m["name"]: m["problem"] for m in found["models"]}
    assert "cannot be shown (RecursionError)" in problems.pop("Odd")["message"]
    assert found["problem"] is None and problems and not any(problems.values())


def test_a_model_has_sheet_rows_and_settings(client: Any, address: str) -> None:
    view = client.get(address).json
    rows = {r["name"]: r for r in view["rows"]}
    assert (
        rows["gusts.height"]["shown"],
        rows["gusts.height"]["shown_unit"],
        rows["gusts.height"]["value"],
    ) == (40, "l/s", 0.04)
    assert rows["basin.level_start"]["group"] == "start" and rows["basin.area"]["group"] == "set"
    assert rows["basin.level"]["group"] == "watch" and not rows["outlet.A"]["editable"]
    assert (view["settings"]["stop"], view["settings"]["solver"]) == (3600, "bdf")
    wires = {(c["from"], c["to"]): c for c in view["sheet"]["connections"]}
    assert wires["gusts.y", "drain.q"]["direction"] == "forward"
    assert wires["basin.outlet", "outlet.a"]["domain"] == "process liquid"
    for wire in wires.values():
        for (x1, y1), (x2, y2) in zip(wire["points"], wire["points"][1:], strict=False):
            assert x1 == x2 or y1 == y2, "wires run level or plumb"


@pytest.mark.parametrize(
    ("name", "typed", "line"),
    [
        (
            "outlet.diameter",
            "0.2",
            '  Movrel.Process.Orifice outlet(C_d = 0.62, diameter = 0.2) "Opening in the quay wall"',
        ),
        (
            "outlet.diameter",
            "30 cm",
            '  Movrel.Process.Orifice outlet(C_d = 0.62, diameter(displayUnit="cm") = 0.3) "Opening in the quay wall"',
        ),
        (
            "outlet.diameter",
            "2*0.1",
            '  Movrel.Process.Orifice outlet(C_d = 0.62, diameter = 2*0.1) "Opening in the quay wall"',
        ),
        ("gusts.height", "60", '    height(unit="m3/s", displayUnit="l/s") = 0.06,'),
        ("basin.area", "20 m2", "    area = 20 /* 3 m by 4 m */,"),
    ],
)
def test_an_edit_changes_one_place_of_the_text(
    client: Any, address: str, name: str, typed: str, line: str
) -> None:
    answer = edit(client, address, name, typed)
    assert answer.status_code == 200, answer.json
    text = client.get(f"{address}/download").text
    changed = [
        d for d in difflib.ndiff(SUMP.read_text().splitlines(), text.splitlines()) if d[0] in "+-"
    ]
    assert changed[-1] == f"+ {line}" and len(changed) == 2


@pytest.mark.parametrize(
    ("name", "typed", "words"),
    [
        ("outlet.diameter", "30 kg", ["'kg' is a mass", "a length (m)"]),
        ("outlet.diameter", "wide", ["wide"]),
        ("outlet.diameter", "1 2", ["neither a number nor an expression"]),
        ("outlet.diameter", "", ["empty"]),
        ("outlet.diameter", "   ", ["empty"]),
        ("outlet.diameter", "-1", ["below its minimum"]),
        ("outlet.C_d", "1.2", ["above its maximum"]),
        ("outlet.diameter", "1/0", ["division by zero"]),
        ("outlet.diameter", "outlet.C_d + nothing", ["nothing"]),
        ("outlet.diameter", "x" * 3000, ["too long"]),
        ("outlet.diameter", "1) annotation(", ["neither a number nor an expression"]),
        ("outlet.A", "1", ["computed from other values"]),
        ("outlet.nothing", "1", ["no parameter"]),
    ],
)
def test_a_bad_value_is_refused_with_a_sentence_and_nothing_changes(
    client: Any, address: str, name: str, typed: str, words: list[str]
) -> None:
    answer = edit(client, address, name, typed)
    assert answer.status_code == 422
    for word in words:
        assert word in f"{answer.json['message']} {answer.json['hint']}"
    assert client.get(f"{address}/download").text == SUMP.read_text()


def test_the_second_of_two_edits_against_one_revision_is_refused(client: Any, address: str) -> None:
    revision = client.get(address).json["revision"]
    first = edit(client, address, "outlet.diameter", "0.2", revision)
    second = edit(client, address, "basin.area", "20", revision)
    assert (first.status_code, second.status_code) == (200, 409)
    assert "diameter of outlet 0.15 m → 0.2 m" in second.json["message"]
    assert second.json["current"] == first.json["revision"]
    assert "area = 12" in client.get(f"{address}/download").text


def test_undo_and_redo_walk_along_the_revisions(client: Any, address: str) -> None:
    texts = [client.get(f"{address}/download").text]
    for value in ("0.2", "0.3", "0.4"):
        assert edit(client, address, "outlet.diameter", value).status_code == 200
        texts.append(client.get(f"{address}/download").text)
    for step, order in (("undo", reversed(texts[:-1])), ("redo", texts[1:])):
        for expected in order:
            revision = client.get(address).json["revision"]
            assert (
                client.post(
                    f"{address}/edits", json={"revision": revision, "edit": {"do": step}}
                ).status_code
                == 200
            )
            assert client.get(f"{address}/download").text == expected
    revision = client.get(address).json["revision"]
    assert (
        client.post(
            f"{address}/edits", json={"revision": revision, "edit": {"do": "redo"}}
        ).status_code
        == 422
    )


def test_a_run_from_order_to_curve(
    client: Any, address: str, start_worker: Callable[[], subprocess.Popen[bytes]]
) -> None:
    start_worker()
    base = run_to_end(client, address)
    assert (base["state"], base["name"], base["progress"]) == ("done", "base", 1.0), base["reason"]
    assert base["layout"] == [["basin.level"], ["basin.volume"], ["basin.q_in", "basin.q_out"]]
    edit(client, address, "outlet.diameter", "20 cm")
    wider = run_to_end(client, address)
    assert wider["name"] == "outlet.diameter 20 cm"
    levels = []
    for number in (base["id"], wider["id"]):
        curves = client.post(
            f"/api/runs/{number}/curves",
            json={"names": ["basin.level", "drain.port.q"], "width": 200},
        ).json["curves"]
        assert 100 < len(curves[0]["time"]) <= 402
        at = client.post(
            f"/api/runs/{number}/values",
            json={"names": ["basin.level", "drain.port.q", "basin.q_in"], "at": 420},
        ).json["values"]
        assert max(curves[0]["values"]) == pytest.approx(max(at["basin.level"], 0.3), rel=1e-9)
        levels.append(at["basin.level"])
        assert at["drain.port.q"] == -at["basin.q_in"]
    assert levels[0] > levels[1] > 0
    import movrel

    exact = movrel.load(str(SUMP)).simulate(tolerance=1e-7)
    assert levels[0] == pytest.approx(exact["basin.level"][exact.time == 420.0][-1], rel=1e-9)
    table = client.get(f"/api/runs/{base['id']}/table.csv").text.splitlines()
    assert len(table) == base["points"] + 1 and table[0].startswith(
        "time [s],gusts.y [m3/s],drain.q [m3/s]"
    )


def test_a_failing_run_keeps_its_reason_and_its_curve(
    client: Any, project: int, start_worker: Callable[[], subprocess.Popen[bytes]]
) -> None:
    start_worker()
    text = 'model Dry Real x(start=1,fixed=true); equation der(x)=-1; assert(x > 0.25, "ran dry"); annotation(experiment(StopTime=2)); end Dry;'
    assert (
        client.post(
            f"/api/projects/{project}/files", json={"path": "Dry.mo", "text": text}
        ).status_code
        == 200
    )
    failed = run_to_end(client, f"/api/projects/{project}/models/Dry")
    assert (
        failed["state"] == "failed"
        and "ran dry" in failed["reason"]
        and "Dry.mo:1:" in failed["reason"]
    )
    assert failed["points"] > 100 and failed["time_reached"] == pytest.approx(0.75, abs=0.01)
    curve = client.post(
        f"/api/runs/{failed['id']}/curves", json={"names": ["x"], "width": 100}
    ).json["curves"][0]
    assert curve["values"][0] == 1 and curve["values"][-1] == pytest.approx(0.25, abs=0.01)


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        ("A.mo", "model A\n  Real x\n  Real y;\nend A;", "';' is missing"),
        ("A.mo", "// nothing", "holds no class"),
        ("A.txt", "model A end A;", "not a name for a model file"),
        ("../A.mo", "model A end A;", "not a name for a model file"),
        ("A.mo", "within Nowhere; model A end A;", "does not have"),
        ("VarrowQuay/Sump.mo", "within VarrowQuay; model Sump end Sump;", "already has a file"),
        ("B.mo", "within VarrowQuay; model Sump end Sump;", "already has a class"),
    ],
)
def test_a_bad_upload_is_refused_whole(
    client: Any, project: int, path: str, text: str, words: str
) -> None:
    answer = client.post(f"/api/projects/{project}/files", json={"path": path, "text": text})
    assert answer.status_code == 422 and words in answer.json["message"]
    found = next(p for p in client.get("/api/projects").json["projects"] if p["id"] == project)
    order = ["package", *(SUMP.parent / "package.order").read_text(encoding="utf-8").split()]
    assert found["files"] == [f"VarrowQuay/{name}.mo" for name in order]
    assert [m["model"] for m in found["models"]] == [f"VarrowQuay.{name}" for name in order[1:]]


def test_an_uploaded_model_with_a_fault_is_shown_with_it(client: Any, project: int) -> None:
    text = "model Wrong parameter Real k = 2; Real x, y; equation x = k; end Wrong;"
    assert (
        client.post(
            f"/api/projects/{project}/files", json={"path": "Wrong.mo", "text": text}
        ).status_code
        == 200
    )
    view = client.get(f"/api/projects/{project}/models/Wrong").json
    ordered = client.post(f"/api/projects/{project}/models/Wrong/runs", json={})
    assert ordered.status_code == 422 and "no equation determines y" in ordered.json["message"]
    assert view["problem"] and "no equation determines y" in view["problem"]["message"]


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("get", "/api/projects/{p}/models/Nope", 404), ("get", "/api/projects/999999/models/VarrowQuay.Sump", 404),
        ("get", "/api/runs/999999", 404), ("get", "/api/nothing", 404), ("post", "/api/projects/{p}/models/Nope/runs", 404),
        ("post", "/api/runs/999999/curves", 422),
    ],
)  # fmt: skip
def test_addresses_that_lead_nowhere_say_so_in_json(
    client: Any, project: int, method: str, path: str, status: int
) -> None:
    answer = getattr(client, method)(path.format(p=project), json={} if method == "post" else None)
    assert answer.status_code == status and answer.json["message"]


def test_settings_that_are_wrong_are_refused_before_anything_is_queued(
    client: Any, address: str
) -> None:
    for options in (
        {"stop": -1},
        {"interval": 0},
        {"solver": "magic"},
        {"tolerance": 5},
        {"stop": "soon"},
    ):
        answer = client.post(f"{address}/runs", json=options)
        assert answer.status_code == 422 and answer.json["message"], options
    assert client.get(f"{address}/runs").json["runs"] == []


def test_a_deleted_run_can_come_back(
    client: Any, address: str, start_worker: Callable[[], subprocess.Popen[bytes]]
) -> None:
    start_worker()
    number = run_to_end(client, address, stop=10)["id"]
    assert client.delete(f"/api/runs/{number}").status_code == 200
    assert client.get(f"/api/runs/{number}").status_code == 404
    assert client.post(f"/api/runs/{number}/restore").json["id"] == number
    assert client.get(f"/api/runs/{number}").json["points"] > 0


def test_the_page_and_the_api_are_told_apart(client: Any) -> None:
    assert client.get("/projects/1/models/Some.Model").status_code in (200, 503)
    answer = client.get("/api/projects/x")
    assert answer.status_code == 404 and json.loads(answer.data)["message"]


def test_the_front_end_types_come_from_this_description() -> None:
    types = Path(ROOT / "frontend/src/api/schema.d.ts").read_text()
    for name in json.loads(description())["components"]["schemas"]:
        if name not in ("NewProject", "RunOrder"):
            assert f"        {name}: " in types, f"{name} is missing: run npm run types in frontend"

"""What the start page asks for: a page of models at a time, one model alone, and what uses the disk."""

from __future__ import annotations

from typing import Any

import pytest

from movrel.workspace.project_list import PAGE


def yard(count: int) -> str:
    models = (f'  model M{k} "tank {k}" Real x = {k}; end M{k};' for k in range(count))
    return "package Yard\n" + "\n".join(models) + "\nend Yard;\n"


@pytest.fixture
def project(client: Any) -> int:
    number = client.post("/api/projects", json={"name": "Yard"}).json["id"]
    body = {"path": "Yard.mo", "text": yard(PAGE + 5)}
    assert client.post(f"/api/projects/{number}/files", json=body).status_code == 200
    return int(number)


def listed(client: Any, project: int) -> Any:
    return next(p for p in client.get("/api/projects").json["projects"] if p["id"] == project)


def test_models_come_a_page_at_a_time(client: Any, project: int) -> None:
    first = listed(client, project)
    assert [m["name"] for m in first["models"]] == [f"M{k}" for k in range(PAGE)]
    assert first["more"] == 5
    rest = client.get(f"/api/projects/{project}/models?offset={PAGE}").json
    assert [m["name"] for m in rest["models"]] == [f"M{k}" for k in range(PAGE, PAGE + 5)]
    assert rest["more"] == 0
    assert client.get(f"/api/projects/{project}/models?offset=999").json == {
        "models": [],
        "more": 0,
    }
    assert client.get(f"/api/projects/{project}/models?offset=-1").status_code == 422


def test_a_tile_is_asked_for_alone(client: Any, project: int) -> None:
    address = f"/api/projects/{project}/models/Yard.M3"
    before = client.get(f"{address}/summary").json
    assert before == listed(client, project)["models"][3]
    text = yard(PAGE + 5).replace("tank 3", "tank three")
    order = {"revision": before["revision"], "edit": {"do": "text", "text": text}}
    assert client.post(f"{address}/edits", json=order).status_code == 200
    after = client.get(f"{address}/summary").json
    assert after["description"] == "tank three" and after["revision"] > before["revision"]
    assert client.get(f"/api/projects/{project}/models/Yard.Absent/summary").status_code == 404


def test_what_uses_the_disk(client: Any, project: int) -> None:
    use = client.get("/api/disk").json
    own = next(room for room in use["projects"] if room["project"] == project)
    assert own["texts"] == len(yard(PAGE + 5)) and own["results"] == own["files"] == 0
    assert use["database"] > sum(r["texts"] for r in use["projects"])
    assert use["free"] is None or use["free"] > 0
    client.delete(f"/api/projects/{project}")
    gone = next(r for r in client.get("/api/disk").json["projects"] if r["project"] == project)
    assert gone["deleted"]

"""Every kind of edit on every example gives the text and the view that were recorded.

``MOVREL_RECORD=1`` records anew; what differs then is seen in the version history. All models are
replayed with ``MOVREL_FULL=1``, else some of each kind.
"""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.conftest import EXAMPLES
from tests.replay import generated
from tests.replay.steps import digest, edits

RECORD = Path(__file__).with_name("recorded.json")
HARBOUR = (EXAMPLES / "VarrowQuay" / "package.order").read_text().split()
LIBRARY = sorted(
    f"Movrel.Examples.{p.parent.name}.{p.stem}"
    for p in (EXAMPLES.parent / "movrel" / "library" / "Movrel" / "Examples").glob("*/*.mo")
    if p.stem != "package"
)
OFTEN = ["Sump", "ShiftController", "BilgeDosing", "Signals1", "Balances1"]
ALL = [*HARBOUR, *LIBRARY, *generated.models()]
recording = bool(os.environ.get("MOVREL_RECORD"))


def opened(client: FlaskClient, name: str) -> tuple[int, str]:
    """A project of its own with the model; its number and the model's full name."""
    if name in HARBOUR:
        made = client.post("/api/examples", json={"example": "VarrowQuay", "name": name}).json
        return made["id"], f"VarrowQuay.{name}"
    project = client.post("/api/projects", json={"name": name}).json["id"]
    if name in LIBRARY:
        return project, client.post(f"/api/projects/{project}/parts/{name}/open").json["model"]
    body = {"path": f"{name}.mo", "text": generated.models()[name]}
    assert client.post(f"/api/projects/{project}/files", json=body).status_code == 200
    return project, name


def replayed(client: FlaskClient, name: str) -> list[list[str]]:
    """For each edit: its name, and hashes of the text and the view after it, or of the refusal."""
    project, model = opened(client, name)
    address = f"/api/projects/{project}/models/{model}"

    def view() -> Any:
        return client.get(address).json

    def ask(path: str, body: Any) -> Any:
        target = "/api/code" if path == "code" else f"{address}/{path}"
        return _answered(client.get(target) if body is None else client.post(target, json=body))

    found = [["opened", digest(ask("text", None)), digest(view())]]
    for path in ("figures", "hierarchy", "equations", "documentation"):
        found.append([path, "", digest(ask(path, None))])
    found.append(
        ["shelf", "", digest(client.get(f"/api/projects/{project}/shelf?model={model}").json)]
    )
    for edit in edits(view, ask):
        answer = client.post(
            f"{address}/edits", json={"revision": view()["revision"], "edit": edit}
        )
        if answer.status_code == 200:
            text = digest(ask("text", None))
            found.append(
                [
                    edit["do"],
                    text,
                    digest(view()) + digest([answer.json["summary"], answer.json["inserted"]]),
                ]
            )
        else:
            found.append([edit["do"], str(answer.status_code), digest(_answered(answer))])
    for path in ("figures", "hierarchy", "equations"):
        found.append([path, "", digest(ask(path, None))])
    found.append(["check", "", digest(ask("check", {"text": ask("text", None)["text"]}))])
    return found


def _answered(answer: Any) -> Any:
    """The body of an answer; a fault without the revision that is only told of stale edits."""
    body = answer.json
    return {k: v for k, v in body.items() if k != "current"} if answer.status_code != 200 else body


@pytest.mark.parametrize("name", ALL if recording or os.environ.get("MOVREL_FULL") else OFTEN)
def test_edits_give_what_they_gave(client: FlaskClient, name: str) -> None:
    found = replayed(client, name)
    recorded = json.loads(RECORD.read_text()) if RECORD.exists() else {}
    if recording:
        recorded[name] = [" ".join(step) for step in found]
        RECORD.write_text(json.dumps(recorded, indent=0, sort_keys=True) + "\n")
    steps = [" ".join(step) for step in found]
    different = [
        (k, now, before)
        for k, (now, before) in enumerate(zip(steps, recorded[name], strict=False))
        if now != before
    ]
    assert not different and len(steps) == len(recorded[name])
    assert sum(len(step[1]) == 12 for step in found) > 20, "most edits are to go through"

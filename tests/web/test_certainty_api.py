"""How sure the numbers of a run are: repeated more exactly, over HTTP."""

from __future__ import annotations

import math
from typing import Any

import pytest
from flask.testing import FlaskClient

from movrel.jobs.compute import compute
from movrel.workspace.tables import database
from tests.web.test_scenarios_api import Gate


@pytest.fixture
def gate(client: FlaskClient) -> Gate:
    return Gate(client)


def more_exactly(gate: Gate, run: int) -> Any:
    ordered = gate.client.post(f"/api/runs/{run}/more-exactly")
    assert ordered.status_code == 200, ordered.json
    with database.connection_context():
        compute(ordered.json["id"])
    return gate.client.get(f"/api/runs/{ordered.json['id']}").json


def lowest(gate: Gate, run: int) -> Any:
    body = {"names": ["body.s"]}
    (curve,) = gate.client.post(f"/api/runs/{run}/measures", json=body).json["curves"]
    return next(m for m in curve["measures"] if m["measure"] == "min")


def test_a_rough_run_knows_which_digits_are_certain(gate: Gate) -> None:
    # 2 kg on a spring of 50 N/m with 2 N.s/m, let go at 0.1 m: how far it swings to the other side is known.
    damping = 0.1
    edge = -0.1 * math.exp(-damping * math.pi / math.sqrt(1 - damping**2))
    rough = gate.run(tolerance=1e-3)
    peak = lowest(gate, rough["id"])
    assert peak["numerical"] is None and rough["checked_by"] is None
    exact = more_exactly(gate, rough["id"])
    assert exact["options"]["tolerance"] == pytest.approx(1e-5)
    assert exact["name"] == f"{rough['name']} · tolerance 1e-05" and exact["repeats"] == rough["id"]
    checked = gate.client.get(f"/api/runs/{rough['id']}").json
    assert checked["checked_by"] == exact["id"] and exact["scenario"] != rough["scenario"]
    sharper, peak = lowest(gate, exact["id"]), lowest(gate, rough["id"])
    assert peak["numerical"] == pytest.approx(abs(peak["value"] - sharper["value"]))
    assert abs(sharper["value"] - edge) < 0.2 * abs(peak["value"] - edge)
    assert abs(peak["value"] - edge) == pytest.approx(peak["numerical"], rel=0.2)
    # Asked again it is the same run.
    again = gate.client.post(f"/api/runs/{rough['id']}/more-exactly").json
    assert again["id"] == exact["id"]
    # Without it nothing is known; it can come back.
    gate.client.delete(f"/api/runs/{exact['id']}")
    assert gate.client.get(f"/api/runs/{rough['id']}").json["checked_by"] is None
    assert lowest(gate, rough["id"])["numerical"] is None
    gate.client.post(f"/api/runs/{exact['id']}/restore")
    assert gate.client.get(f"/api/runs/{rough['id']}").json["checked_by"] == exact["id"]


def test_a_claim_knows_what_its_numbers_leave_open(gate: Gate) -> None:
    rough = gate.run(tolerance=1e-3)
    peak = lowest(gate, rough["id"])["value"]
    gate.edit("add claim", text=f"min(body.s) > {peak * (1 + 1e-9)!r} m")
    gate.edit("add claim", text=f"min(body.s) > {2 * peak!r} m")
    rough = gate.run(tolerance=1e-3)
    close, far = rough["claims"][-2:]
    assert close["holds"] and close["numerical"] is None
    more_exactly(gate, rough["id"])
    close, far = gate.client.get(f"/api/runs/{rough['id']}").json["claims"][-2:]
    assert close["numerical"] > close["margin"] > 0
    assert far["numerical"] == pytest.approx(close["numerical"], rel=1e-6)
    assert far["numerical"] < 0.1 * far["margin"]


def test_what_cannot_be_more_exact_says_so(gate: Gate) -> None:
    sharp = gate.run(tolerance=1e-12)
    refused = gate.client.post(f"/api/runs/{sharp['id']}/more-exactly")
    assert (
        refused.status_code == 422 and "cannot be computed more exactly" in refused.json["message"]
    )
    exact = more_exactly(gate, gate.run()["id"])
    refused = gate.client.post(f"/api/runs/{exact['id']}/more-exactly")
    assert "repeats another one" in refused.json["message"]
    stepped = gate.run(solver="rk4")
    halved = more_exactly(gate, stepped["id"])
    assert halved["options"]["step"] > 0 and halved["state"] == "done"

"""What windows hear of an edit: everything, or only what differs from what they have."""

from __future__ import annotations

import random
from typing import Any

import pytest
from flask.testing import FlaskClient

from movrel.views.view_changes import list_change

TEXT = """model Row "signals in a row"
  Movrel.Signals.Constant a(value=2) annotation (Placement(transformation(extent={{-100,0},{-60,40}})));
  Movrel.Signals.Gain b(k=3) annotation (Placement(transformation(extent={{0,0},{40,40}})));
  Movrel.Signals.Gain c(k=3) annotation (Placement(transformation(extent={{100,0},{140,40}})));
equation
  connect(a.y, b.u);
  connect(b.y, c.u);
end Row;
"""


LISTS = ("components", "connections", "rows")


def key_of(item: dict[str, Any]) -> str:
    """What tells the items of a list apart: the name, or both ends of a wire."""
    return item["name"] if "name" in item else f"{item['from']} {item['to']}"


def completed(told: dict[str, Any], known: dict[str, Any]) -> dict[str, Any]:
    """What a window makes of an answer."""
    sheet = told["sheet"] | {"icons": known["sheet"]["icons"] | told["sheet"]["icons"]}
    whole = told | {"sheet": sheet, "changes": None}
    for name in LISTS:
        change = told["changes"][name]
        then, new = ((v if name == "rows" else v["sheet"])[name] for v in (known, told))
        items = {key_of(i): i for i in then if key_of(i) not in change["gone"]} | {
            key_of(i): i for i in new
        }
        (whole if name == "rows" else sheet)[name] = [items[k] for k in change["order"] or items]
    sheet["icons"] = {c["symbol"]: sheet["icons"][c["symbol"]] for c in sheet["components"]}
    return whole


@pytest.fixture
def row(client: FlaskClient) -> dict[str, Any]:
    project = client.post("/api/projects", json={"name": "Quay"}).json["id"]
    client.post(f"/api/projects/{project}/files", json={"path": "Row.mo", "text": TEXT})
    return client.get(f"/api/projects/{project}/models/Row").json


EDITS: list[dict[str, Any]] = [
    {"do": "insert", "class": "Movrel.Signals.Sum", "x": 200, "y": 100},
    {"do": "move", "places": [{"name": "b", "extent": [0, 60, 40, 100]}]},
    {"do": "connect", "from": "a.y", "to": "sum1.u_1"},
    {"do": "rename", "name": "c", "new": "last"},
    {"do": "parameter", "name": "b.k", "text": "7"},
    {"do": "delete", "parts": ["b"], "wires": []},
    {"do": "undo"},
    {"do": "undo"},
    {"do": "redo"},
]


def test_what_differs_makes_the_same_as_everything(
    client: FlaskClient, row: dict[str, Any]
) -> None:
    address = f"/api/projects/{row['project']}/models/Row"
    known = row
    for edit in EDITS:
        order = {"revision": known["revision"], "known": known["mark"], "edit": edit}
        told = client.post(f"{address}/edits", json=order).json
        assert told["changes"] is not None and len(told["sheet"]["components"]) < 4
        inserted = told.pop("inserted")
        whole = completed(told, known)
        fresh = client.get(address).json
        fresh.pop("inserted")
        assert whole == fresh, edit
        known = fresh | {"inserted": inserted}


def test_an_unknown_mark_and_none_get_everything(client: FlaskClient, row: dict[str, Any]) -> None:
    address = f"/api/projects/{row['project']}/models/Row"
    for mark in ("", "ffffffffffffffff"):
        told = client.get(address, query_string={"known": mark}).json
        assert told["changes"] is None and len(told["sheet"]["components"]) == 3 and told == row
    same = client.get(address, query_string={"known": row["mark"]}).json
    assert (
        same["changes"]
        and not same["sheet"]["components"]
        and not same["rows"]
        and not same["sheet"]["icons"]
    )


def test_lists_in_any_order_come_out_right() -> None:
    chance = random.Random(4)
    for _ in range(300):
        before, after = (
            [(n, chance.randint(0, 2)) for n in chance.sample("abcdefgh", chance.randint(0, 8))]
            for _ in range(2)
        )
        change = list_change(before, after, lambda item: item[0])
        assert change is not None
        how, new = change
        items = {i[0]: i for i in before if i[0] not in how.gone} | {i[0]: i for i in new}
        assert [items[k] for k in how.order or items] == after
        assert all(i not in before for i in new), "only what differs"


def test_items_that_cannot_be_told_apart_are_all_sent() -> None:
    assert (
        list_change(["a", "a"], ["a"], str) is None and list_change(["a"], ["a", "a"], str) is None
    )

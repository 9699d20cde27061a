"""Pages of other sites, and names that others point at this machine, can neither read nor change anything."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from movrel.delimited import delimited
from movrel.edits.typed_figures import read_figures

HERE = "http://localhost"
MARK = {"X-Movrel": "page"}


def names(client: FlaskClient) -> set[str]:
    answer: Any = client.get("/api/projects").json
    return {project["name"] for project in answer["projects"]}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),  # a program on this machine
        (MARK | {"Origin": HERE, "Sec-Fetch-Site": "same-origin"}, 200),
        (MARK | {"Origin": "https://quay.example", "Sec-Fetch-Site": "cross-site"}, 403),
        (MARK | {"Origin": "http://localhost:3000", "Sec-Fetch-Site": "same-site"}, 403),
        (MARK | {"Origin": "null"}, 403),
        ({"Origin": HERE, "Sec-Fetch-Site": "same-origin"}, 403),  # without the mark of our pages
        (MARK | {"Host": "quay.example"}, 421),
        (MARK | {"Host": "127.0.0.1:8420", "Origin": "http://127.0.0.1:8420"}, 200),
    ],
)
def test_only_this_server_s_own_pages_change_anything(
    client: FlaskClient, headers: dict[str, str], status: int
) -> None:
    before = names(client)
    name = f"Admitted {sorted(headers.items())}"[:150]
    answer = client.post("/api/projects", json={"name": name}, headers=headers)
    assert answer.status_code == status, answer.json
    assert (names(client) - before == {name}) == (status == 200)
    if status != 200:
        assert answer.json["message"].endswith("."), "a sentence"


@pytest.mark.parametrize(
    "kind", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"]
)
def test_a_form_cannot_send_an_archive(client: FlaskClient, kind: str) -> None:
    before = names(client)
    answer = client.post("/api/archives/Stolen", data=b"PK", content_type=kind)
    assert answer.status_code == 403 and names(client) == before


def test_what_is_read_from_elsewhere_is_refused_and_names_can_be_added(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    foreign = {"Sec-Fetch-Site": "cross-site"}
    assert client.get("/api/projects", headers=foreign).status_code == 403
    assert client.get("/", headers=foreign).status_code != 403, "a link may lead to the page"
    assert client.get("/api/projects", headers={"Host": "movrel.quay.example"}).status_code == 421
    monkeypatch.setenv("MOVREL_HOSTS", "movrel.quay.example, other")
    assert client.get("/api/projects", headers={"Host": "movrel.quay.example"}).status_code == 200


def test_pages_run_no_code_but_ours_and_stand_in_no_frame(client: FlaskClient) -> None:
    headers = client.get("/").headers
    policy = dict(part.split(" ", 1) for part in headers["Content-Security-Policy"].split("; "))
    assert policy["script-src"] == "'self'" and policy["frame-ancestors"] == "'none'"
    assert headers["X-Content-Type-Options"] == "nosniff"


def test_whoever_watches_the_server_is_answered(client: FlaskClient) -> None:
    for probe in ("/healthz", "/readyz"):
        assert client.get(probe, headers={"Host": "10.1.2.3"}).status_code == 200


def test_a_table_for_spreadsheets_holds_no_formulae() -> None:
    rows = [["k", "-2*b", -3.5], ["@sum", "=1+1", True], ["d", "-4", None]]
    text = delimited(["name", "+value", "x"], rows)
    assert text.splitlines() == ["name,'+value,x", "k,'-2*b,-3.5", "'@sum,'=1+1,true", "d,-4,"]
    read = read_figures("b\t2\nk\t'-2*b\n", lambda _: False)
    assert [(f.name, f.expression) for f in read.figures] == [("b", "2"), ("k", "-2*b")]

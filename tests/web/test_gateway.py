"""One person's model never stops the others: requests are answered by children with limits."""

from __future__ import annotations

import os
import signal
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest
from werkzeug.test import Client, TestResponse

from movrel.web.gateway import Gateway
from movrel.web.pool.limits import Limits
from movrel.workspace.cluster import Cluster
from tests.conftest import wait_until

MANY = """model Many Real x[%s](each start=1, each fixed=true);
equation for i in 1:size(x, 1) loop der(x[i]) = -x[i]; end for; end Many;"""
SECONDS = 3.0


@pytest.fixture(scope="module")
def gateway(database_url: str) -> Iterator[Gateway]:
    made = Gateway(database_url, Limits(60.0, SECONDS, 10**9))
    yield made
    made.pool.end()


@pytest.fixture
def outside(gateway: Gateway, project: int) -> Client:
    return Client(gateway)


class Asked(threading.Thread):
    """A request that is answered beside others."""

    def __init__(self, client: Client, path: str) -> None:
        super().__init__()
        self.client, self.path = client, path
        self.answer: TestResponse | None = None
        self.start()

    def run(self) -> None:
        self.answer = self.client.get(self.path)

    def ended(self) -> TestResponse:
        self.join()
        assert self.answer is not None
        return self.answer


def add(client: Client, project: int, file: str, text: str) -> None:
    answer = client.post(f"/api/projects/{project}/files", json={"path": file, "text": text})
    assert answer.status_code == 200, answer.text


def test_the_others_are_answered_until_a_limit_ends_what_is_too_large(
    outside: Client, project: int
) -> None:
    add(outside, project, "Many.mo", MANY % 80_000)
    large = Asked(outside, f"/api/projects/{project}/models/Many")
    answered = 0
    while large.is_alive():
        answer = outside.get(f"/api/projects/{project}/models/VarrowQuay.Sump")
        assert answer.status_code == 200
        answered += 1
        large.join(0.1)
    assert answered > 3
    refused = large.ended()
    assert refused.status_code == 422
    assert refused.json["message"] == (
        f"this request about 'Many' took more than {SECONDS:g} s of processor time and was ended; nothing was changed."
    )
    assert outside.get("/api/units?unit=m").status_code == 200


def test_a_killed_child_costs_its_own_request_one_sentence(
    outside: Client, gateway: Gateway, project: int
) -> None:
    add(outside, project, "Many.mo", MANY % 40_000)
    large = Asked(outside, f"/api/projects/{project}/models/Many")
    wait_until(gateway.pool.working, 30, "a child at work")
    for pid in gateway.pool.working():
        os.kill(pid, signal.SIGKILL)
    refused = large.ended()
    assert refused.status_code == 503 and "'Many' ended; nothing was changed" in refused.text
    assert outside.get(f"/api/projects/{project}/models/VarrowQuay.Sump").status_code == 200


def test_children_that_ended_unnoticed_are_replaced(
    outside: Client, gateway: Gateway, project: int
) -> None:
    """All of them at once, as when the process ends that made them."""
    path = f"/api/projects/{project}/models/VarrowQuay.Sump"
    assert outside.get(path).status_code == 200
    template = gateway.pool.template_process()
    assert template is not None
    copies = children_of(template)
    assert copies
    os.kill(template, signal.SIGKILL)
    wait_until(lambda: not any(map(lives, [template, *copies])), 10, "the end of all")
    assert [outside.get(path).status_code for _ in range(6)] == [200] * 6
    assert gateway.pool.template_process() != template


def status(pid: int) -> list[str]:
    """State, parent, … of a process; a dead one's where there is none."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    except OSError:
        return ["X", "0"]


def lives(pid: int) -> bool:
    return status(pid)[0] not in ("Z", "X")


def children_of(pid: int) -> list[int]:
    every = [int(p.name) for p in Path("/proc").iterdir() if p.name.isdigit()]
    return [one for one in every if status(one)[1] == str(pid)]


def test_a_restarted_database_is_found_again(
    outside: Client, project: int, cluster: Cluster
) -> None:
    path = f"/api/projects/{project}/models/VarrowQuay.Sump"
    assert outside.get(path).status_code == 200
    with psycopg.connect(cluster.url, autocommit=True) as connection:
        connection.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid <> pg_backend_pid() "
            "AND datname = current_database()"
        )
    assert [outside.get(path).status_code for _ in range(4)] == [200] * 4


def test_memory_is_limited(
    outside: Client, gateway: Gateway, project: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(gateway.pool, "limits", Limits(60.0, 60.0, 20 * 10**6))
    add(outside, project, "Many.mo", MANY % 30_000)
    refused = outside.get(f"/api/projects/{project}/models/Many")
    assert (
        refused.status_code == 422 and "took more than 20 MB of memory" in refused.json["message"]
    )


def test_what_children_answer_is_what_the_application_answers(
    outside: Client, client: Any, project: int
) -> None:
    for path in (
        f"/api/projects/{project}/models/VarrowQuay.Sump",
        f"/api/projects/{project}/models/VarrowQuay.Sump/download",
        f"/api/projects/{project}/models/NoSuch",
        "/api/nowhere",
        "/api/units?unit=bar",
    ):
        ours, theirs = outside.get(path), client.get(path)
        assert (ours.status_code, ours.data) == (theirs.status_code, theirs.data)
        assert dict(ours.headers) == dict(theirs.headers)
    with_foreign_name = outside.get("/api/units?unit=m", headers={"Host": "elsewhere.example"})
    assert with_foreign_name.status_code == 421
    assert outside.get("/api/health").status_code == 200
    too_long = outside.post("/api/pdf", data=b"x" * 20_000_001, content_type="application/json")
    assert too_long.status_code == 413

"""What the server announces reaches everybody, by one stream a browser, and streams keep nobody waiting."""

from __future__ import annotations

import socket
from collections.abc import Iterator

import pytest

from tests.browser.conftest import Page

pytestmark = pytest.mark.browser
STREAMS = 500
OPEN = b"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\nAccept: text/event-stream\r\n\r\n"


@pytest.fixture
def streams(page: Page) -> Iterator[list[socket.socket]]:
    """Many open streams, as of many people."""
    made = []
    for _ in range(STREAMS):
        one = socket.create_connection(("127.0.0.1", page.server.port), timeout=60)
        one.sendall(OPEN)
        made.append(one)
    yield made
    for one in made:
        one.close()


def read_until(client: socket.socket, words: bytes) -> bytes:
    heard = b""
    while words not in heard:
        piece = client.recv(4096)
        assert piece, heard
        heard += piece
    return heard


def new_project(page: Page, name: str) -> int:
    project = int(page.server.ask("/projects", {"name": name})["id"])
    text = "model Heard Real x = 1; end Heard;"
    page.server.ask(f"/projects/{project}/files", {"path": "Heard.mo", "text": text})
    return project


def test_five_hundred_streams_hear_and_keep_nobody_waiting(
    page: Page, streams: list[socket.socket]
) -> None:
    for one in streams:
        assert b"HTTP/1.1 200 OK" in read_until(one, b"event: ready")
    project = new_project(page, "Heard")
    for one in streams:
        assert b'"project":%d' % project in read_until(one, b'"kind":"project"')


def test_tabs_share_one_stream_and_the_next_one_takes_over(page: Page) -> None:
    page.open("/")
    page.find("new-model")
    first = page.driver.current_window_handle
    seconds = []
    for _ in range(6):  # more than a browser opens connections to one server
        page.driver.switch_to.new_window("tab")
        page.open("/")
        page.find("new-model")
        seconds.append(page.driver.current_window_handle)

    new_project(page, "Told")
    page.until(lambda: page.all("project-Told"), "a tab without a stream hears of it")
    page.driver.switch_to.window(first)
    page.driver.close()
    page.driver.switch_to.window(seconds[-1])
    new_project(page, "Told again")
    page.until(lambda: page.all("project-Told again"), "another tab has taken over")
    held = page.driver.execute_async_script(
        "navigator.locks.query().then((q) => arguments[0]([q.held.length, q.pending.length]))"
    )
    assert held == [1, 5]


def test_a_stream_that_is_refused_says_so(page: Page) -> None:
    with socket.create_connection(("127.0.0.1", page.server.port), timeout=60) as one:
        one.sendall(OPEN.replace(b"127.0.0.1", b"elsewhere.example"))
        assert b"421" in read_until(one, b"MOVREL_HOSTS")


def test_a_long_list_comes_in_pages_and_one_tile_follows_an_edit(page: Page) -> None:
    server = page.server
    project = int(server.ask("/projects", {"name": "Stock"})["id"])
    models = "".join(f'  model S{k} "shelf {k}" Real x = {k}; end S{k};\n' for k in range(130))
    body = {"path": "Stock.mo", "text": f"package Stock\n{models}end Stock;\n"}
    server.ask(f"/projects/{project}/files", body)
    page.open("/")
    page.find("model-Stock.S119")
    assert not page.all("model-Stock.S129")
    page.click("more-Stock")
    page.find("model-Stock.S129")
    assert not page.all("more-Stock")
    asked = "return performance.getEntriesByType('resource').filter((e) => /projects$/.test(e.name)).length"
    lists = page.driver.execute_script(asked)
    model = f"/projects/{project}/models/Stock.S129"
    text = body["text"].replace("shelf 129", "the last shelf")
    revision = server.ask(f"{model}/summary")["revision"]
    server.ask(f"{model}/edits", {"revision": revision, "edit": {"do": "text", "text": text}})
    page.until(lambda: "the last shelf" in page.text("project-Stock"), "the tile follows")
    assert page.driver.execute_script(asked) == lists, "the list was not asked for again"
    page.click("to-disk-use")
    page.until(lambda: "Stock" in page.text("disk-table"), "the table")
    assert "kB" in page.text("disk-Stock") and "are free" in page.text("disk-sentence")
    assert not page.violations() and not page.severe()

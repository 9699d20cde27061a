"""A page of another site, open in the same browser, can neither read nor change anything."""

from __future__ import annotations

import json
import threading
import urllib.request
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest

from tests.browser.conftest import Page

pytestmark = pytest.mark.browser

TRIES = """<!doctype html><title>another site</title>
<iframe name="hidden"></iframe>
<form method="post" enctype="text/plain" target="hidden" action="{target}/api/projects">
<input name='{{"name": "Stolen by form", "x": "' value='"}}'></form>
<script>
window.outcome = (async () => {{
  const body = JSON.stringify({{name: "Stolen by script"}});
  const tries = [
    () => fetch("{target}/api/projects").then((r) => r.text()),
    () => fetch("{target}/api/projects", {{method: "POST", headers: {{"Content-Type": "application/json"}}, body}}).then((r) => r.text()),
    () => fetch("{target}/api/projects", {{method: "POST", headers: {{"X-Movrel": "page"}}, body}}).then((r) => r.text()),
    () => fetch("{target}/api/projects", {{method: "POST", mode: "no-cors", body}}).then((r) => r.type),
  ];
  const said = [];
  for (const attempt of tries) said.push(await attempt().catch(() => "refused"));
  document.forms[0].submit();
  return said;
}})();
</script>"""


@pytest.fixture
def foreign(page: Page) -> Iterator[str]:
    """The address of a page of another site that tries to use this server."""

    class Site(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.end_headers()
            self.wfile.write(TRIES.format(target=page.server.address).encode())

        def log_message(self, *_: object) -> None:
            pass

    # A browser keeps connections open that it does not use: each has a thread.
    site = ThreadingHTTPServer(("127.0.0.1", 0), Site)
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield f"http://localhost:{site.server_port}/"
    site.shutdown()


def project_names(page: Page) -> set[str]:
    with urllib.request.urlopen(page.server.address + "/api/projects") as answer:
        return {project["name"] for project in json.load(answer)["projects"]}


def test_another_site_reads_and_changes_nothing(page: Page, foreign: str) -> None:
    before = project_names(page)
    page.driver.get(foreign)
    said = page.driver.execute_async_script("window.outcome.then(arguments[0])")
    assert said == ["refused", "refused", "refused", "opaque"]
    page.until(
        lambda: page.driver.execute_script(
            "return performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/api/projects')).length >= 4"
        ),
        "all tries were made",
    )
    assert project_names(page) == before


def test_under_another_name_the_server_says_how_to_open_it(page: Page) -> None:
    """What a rebound name of somebody else's site would come to."""
    page.driver.get(page.server.address.replace("127.0.0.1", "movrel.localhost"))
    body = page.driver.find_element("tag name", "body").text
    assert "not known as 'movrel.localhost'" in body

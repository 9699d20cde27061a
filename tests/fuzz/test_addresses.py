"""Every address of the server, asked with whatever its description allows and with what it does not: never a 5xx."""

from __future__ import annotations

import json
import math
import os
import random
import time
from typing import Any
from urllib.parse import quote

import pytest
from flask.testing import FlaskClient

from tests.conftest import ROOT

DESCRIPTION = json.loads((ROOT / "movrel/web/openapi.json").read_text())
SCHEMAS = DESCRIPTION["components"]["schemas"]
OPERATIONS = sorted(
    (method == "delete" or path.endswith("/delete"), path, method)  # what takes away comes last
    for path, operations in DESCRIPTION["paths"].items()
    for method in operations
    if path != "/api/events"  # a stream has no end
)
#: Projects among which the addresses are shared out.
GROUPS = 6
#: Requests of each address.
TIMES = 60 if os.environ.get("MOVREL_FULL") else 4
#: Seconds of processor time that none may take.
LONGEST = 5.0
TEXTS = (
    "", "a\0b", "\ud800", "x" * 501, "[" * 50_000, "{{{", "1e999", "NaN", "10^(10^10)", "../../etc/passwd", "é ü ∂", "%s %d",
    "VarrowQuay.Sump", "Sump.mo", "basin", "basin.level", "outlet.diameter", "base", "max(basin.level)", "1 m", "model A end A;",
    "2026-02-31T25:61:00", "-1", "9" * 400,
)  # fmt: skip
NUMBERS = (
    0,
    1,
    -1,
    3,
    0.5,
    -0.0,
    1e308,
    5e-324,
    2**31,
    2**63,
    -(2**63) - 1,
    10**400,
    math.nan,
    math.inf,
)
WRONG = (None, True, 7, 1.5, "text", [], {}, [[]], [None], {"": None})


class Caller:
    """Makes requests by their description; ``known`` are values of parameters that mean something here."""

    def __init__(self, chance: random.Random, known: dict[str, list[Any]]) -> None:
        self.chance, self.known = chance, known

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        if "$ref" in schema:
            schema = SCHEMAS[schema["$ref"].rpartition("/")[2]]
        if self.chance.random() < 0.06:
            return self.chance.choice(WRONG)
        for choice in ("anyOf", "oneOf", "allOf"):
            if choice in schema:
                return self.value(self.chance.choice(schema[choice]), depth)
        if "const" in schema or "enum" in schema:
            return self.chance.choice([schema["const"]] if "const" in schema else schema["enum"])
        kind = schema.get("type", "string")
        if kind == "object":
            return self._object(schema, depth)
        if kind == "array":
            count = 0 if depth > 4 else self.chance.choice((0, 1, 1, 2, 5))
            return [self.value(schema.get("items", {}), depth + 1) for _ in range(count)]
        if kind in ("number", "integer"):
            return self.chance.choice(NUMBERS)
        return self.chance.choice((True, False)) if kind == "boolean" else self.text()

    def _object(self, schema: dict[str, Any], depth: int) -> dict[str, Any]:
        wanted = set(schema.get("required", ()))
        made = {
            name: self.value(of, depth + 1)
            for name, of in schema.get("properties", {}).items()
            if self.chance.random() < (0.97 if name in wanted else 0.5)
        }
        more = schema.get("additionalProperties")
        if isinstance(more, dict) and depth < 4:
            made |= {
                self.text(): self.value(more, depth + 1)
                for _ in range(self.chance.choice((0, 1, 2)))
            }
        return made

    def text(self) -> str:
        return self.chance.choice(TEXTS)

    def parameter(self, name: str, schema: dict[str, Any]) -> str:
        if name in self.known and self.chance.random() < 0.8:
            return str(self.chance.choice(self.known[name]))
        value = self.value(schema)
        return value if isinstance(value, str) else json.dumps(value)


def encoded(text: str) -> str:
    return quote(text.encode("utf-8", "surrogatepass"), safe="")


@pytest.fixture
def known(client: FlaskClient, project: int) -> dict[str, list[Any]]:
    model = f"/api/projects/{project}/models/VarrowQuay.Sump"
    run = client.post(f"{model}/runs", json={"stop": 60}).json["id"]
    sweep = {
        "varied": [{"name": "outlet.diameter", "low": 0.1, "high": 0.2, "count": 2}],
        "measures": ["max(basin.level)"],
    }
    return {
        "project": [project], "model": ["VarrowQuay.Sump", "VarrowQuay.WinchDrive"], "run": [run], "other": [run],
        "sweep": [client.post(f"{model}/sweeps", json=sweep).json["id"]], "name": ["A.mo", "a.csv", "unit.fmu", "basin.level"],
        "part": ["Movrel.Process.Basin"], "unit": ["m", "bar"], "kind": ["csv", "xlsx"], "form": ["file"], "what": ["pause", "resume"],
    }  # fmt: skip


@pytest.mark.parametrize("group", range(GROUPS))
def test_no_request_breaks_the_server(
    client: FlaskClient, known: dict[str, list[Any]], group: int
) -> None:
    for _, path, method in OPERATIONS[group::GROUPS]:
        ask(client, known, path, method)


def ask(client: FlaskClient, known: dict[str, list[Any]], path: str, method: str) -> None:
    """Ask an address in several ways; no answer may be a 5xx, take long, or refuse without a word."""
    described = DESCRIPTION["paths"][path][method]
    for seed in range(TIMES):
        caller = Caller(random.Random(f"{path} {method} {seed}"), known)
        address, query = path, []
        for parameter in described.get("parameters", ()):
            text = caller.parameter(parameter["name"], parameter.get("schema", {}))
            if parameter["in"] == "path":
                address = address.replace("{" + parameter["name"] + "}", encoded(text) or "-")
            elif caller.chance.random() < 0.7:
                query.append(f"{encoded(parameter['name'])}={encoded(text)}")
        bodies = described.get("requestBody", {}).get("content", {})
        data: bytes | None = None
        if "application/json" in bodies:
            data = json.dumps(caller.value(bodies["application/json"]["schema"])).encode()
        elif method == "post":
            data = caller.text().encode("utf-8", "surrogatepass")
        began = time.process_time()
        answer = client.open(
            f"{address}?{'&'.join(query)}", method=method.upper(), data=data, headers={"X-Movrel": "test"},
            content_type="application/json" if bodies else "application/octet-stream",
        )  # fmt: skip
        asked = f"{method} {address[:300]}?{'&'.join(query)[:300]} {(data or b'')[:3000]!r}"
        assert answer.status_code < 500, f"{asked}: {answer.text[:500]!a}"
        assert time.process_time() - began < LONGEST, asked
        if answer.status_code >= 400:
            assert answer.json["message"], asked

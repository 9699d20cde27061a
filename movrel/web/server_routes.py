"""How the server is, and what it announces."""

from __future__ import annotations

import platform
from importlib import metadata

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

import movrel
from movrel.web import schema as s
from movrel.web.wire import answer, schema
from movrel.workspace.retention import DiskUse, disk_use

api = APIBlueprint("server", __name__, url_prefix="/api")


@api.get("/health", operation_id="health", responses={200: s.Health})
def health() -> Response:
    return answer(s.Health(version=movrel.__version__))


@api.get("/disk", operation_id="diskUse", responses={200: schema(DiskUse)})
def disk_use_of_projects() -> Response:
    return answer(disk_use())


@api.get("/events", operation_id="events")
def events() -> Response:
    stream = current_app.extensions["switchboard"].stream()
    return Response(
        stream,
        content_type="text/event-stream",
        headers={"Cache-Control": "no-cache", "X-Accel-Buffering": "no"},
    )


@api.get("/versions", operation_id="versions", responses={200: s.Versions})
def versions() -> Response:
    packages = ("movrel", "casadi", "scikit-sundae", "numpy", "scipy")
    numbers = {name: metadata.version(name) for name in packages}
    return answer(s.Versions(versions=numbers | {"python": platform.python_version()}))

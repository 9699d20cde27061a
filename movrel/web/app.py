"""The whole web application."""

from __future__ import annotations

import os

from flask_openapi3 import OpenAPI

from movrel.errors import MovrelError
from movrel.web import (
    analysis_routes,
    edit_routes,
    foreign_unit_routes,
    incoming_routes,
    measurement_routes,
    model_routes,
    rig_routes,
    routes,
    signal_table_routes,
    sweep_routes,
    unit_routes,
)
from movrel.web.base_app import attach, base_app


def create_app(url: str | None = None) -> OpenAPI:
    """The application on a database (default: the environment's ``MOVREL_DATABASE``)."""
    address = url or os.environ.get("MOVREL_DATABASE", "")
    if not address:
        raise MovrelError("no database is named.", hint="Set MOVREL_DATABASE.")
    app = bare_app()
    attach(app, address, connections=80)
    return app


def bare_app() -> OpenAPI:
    """The routes without a database, enough to describe them."""
    app = base_app()
    for room in (
        routes,
        edit_routes,
        model_routes,
        sweep_routes,
        unit_routes,
        foreign_unit_routes,
        incoming_routes,
        measurement_routes,
        rig_routes,
        signal_table_routes,
        analysis_routes,
    ):
        app.register_api(room.api)
    return app

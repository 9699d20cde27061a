"""Saying to everybody who listens that something changed, with PostgreSQL's NOTIFY."""

from __future__ import annotations

import orjson

from movrel.workspace.tables import database

CHANNEL = "movrel"


def announce(kind: str, **facts: object) -> None:
    """Announce small facts (ids and states, never data: a payload holds at most 8000 bytes)."""
    database.execute_sql(
        "SELECT pg_notify(%s, %s)", (CHANNEL, orjson.dumps({"kind": kind, **facts}).decode())
    )

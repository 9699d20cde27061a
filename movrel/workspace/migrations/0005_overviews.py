"""Pieces of trajectories have an overview, so that long runs are shown without reading all of them."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "result_overview" (
        "run_id" BIGINT NOT NULL REFERENCES "run" ("id") ON DELETE CASCADE,
        "column" INTEGER NOT NULL,
        "chunk" INTEGER NOT NULL,
        "low" DOUBLE PRECISION NOT NULL,
        "high" DOUBLE PRECISION NOT NULL,
        "data" BYTEA NOT NULL,
        PRIMARY KEY ("run_id", "column", "chunk"))"""
        )
    )


def down(migrator, db):
    db.execute(SQL('DROP TABLE "result_overview"'))

"""Sweeps: one model at many points."""

from peewee import SQL

TABLES = [
    """CREATE TABLE "sweep" (
        "id" BIGSERIAL PRIMARY KEY,
        "project_id" INTEGER NOT NULL REFERENCES "project" ("id") ON DELETE CASCADE,
        "model" VARCHAR(400) NOT NULL,
        "name" TEXT NOT NULL,
        "scenario" VARCHAR(100) NOT NULL DEFAULT 'base',
        "revisions" JSONB NOT NULL,
        "changes" JSONB NOT NULL DEFAULT '{}',
        "options" JSONB NOT NULL DEFAULT '{}',
        "varied" JSONB NOT NULL,
        "sample" VARCHAR(20) NOT NULL,
        "measures" JSONB NOT NULL,
        "curves" JSONB NOT NULL DEFAULT '[]',
        "units" JSONB NOT NULL DEFAULT '{}',
        "count" INTEGER NOT NULL,
        "start" DOUBLE PRECISION NOT NULL,
        "stop" DOUBLE PRECISION NOT NULL,
        "state" VARCHAR(20) NOT NULL,
        "created" TIMESTAMP NOT NULL,
        "ended" TIMESTAMP,
        "deleted" TIMESTAMP)""",
    """CREATE INDEX "sweep_model" ON "sweep" ("project_id", "model")""",
    """CREATE TABLE "sweep_point" (
        "sweep_id" BIGINT NOT NULL REFERENCES "sweep" ("id") ON DELETE CASCADE,
        "number" INTEGER NOT NULL,
        "values" JSONB NOT NULL,
        "state" VARCHAR(10) NOT NULL,
        "measures" JSONB NOT NULL DEFAULT '[]',
        "reason" TEXT NOT NULL DEFAULT '',
        "job" BIGINT,
        "worker" VARCHAR(200) NOT NULL DEFAULT '',
        "attempts" INTEGER NOT NULL DEFAULT 0,
        "data" BYTEA,
        PRIMARY KEY ("sweep_id", "number"))""",
    """CREATE INDEX "sweep_point_state" ON "sweep_point" ("sweep_id", "state")""",
]


def up(migrator, db):
    for statement in TABLES:
        db.execute(SQL(statement))


def down(migrator, db):
    db.execute(SQL('DROP TABLE "sweep_point"'))
    db.execute(SQL('DROP TABLE "sweep"'))

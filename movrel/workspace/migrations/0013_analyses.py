"""Fits and linear models that were ordered of a model."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "analysis" (
        "id" BIGSERIAL PRIMARY KEY,
        "project_id" INTEGER NOT NULL REFERENCES "project" ("id") ON DELETE CASCADE,
        "model" VARCHAR(400) NOT NULL,
        "kind" VARCHAR(10) NOT NULL,
        "scenario" VARCHAR(100) NOT NULL DEFAULT 'base',
        "revisions" JSONB NOT NULL,
        "asked" JSONB NOT NULL,
        "state" VARCHAR(10) NOT NULL,
        "reason" TEXT NOT NULL DEFAULT '',
        "progress" JSONB NOT NULL DEFAULT '{}',
        "result" JSONB NOT NULL DEFAULT '{}',
        "created" TIMESTAMP NOT NULL)"""
        )
    )
    db.execute(SQL('CREATE INDEX "analysis_model" ON "analysis" ("project_id", "model")'))


def down(migrator, db):
    db.execute(SQL('DROP TABLE "analysis"'))

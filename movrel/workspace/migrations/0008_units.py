"""Units that are made of models."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "unit_export" (
        "id" BIGSERIAL PRIMARY KEY,
        "project_id" INTEGER NOT NULL REFERENCES "project" ("id") ON DELETE CASCADE,
        "model" VARCHAR(400) NOT NULL,
        "revisions" JSONB NOT NULL,
        "choices" JSONB NOT NULL,
        "state" VARCHAR(10) NOT NULL,
        "reason" TEXT NOT NULL DEFAULT '',
        "notes" JSONB NOT NULL DEFAULT '[]',
        "summary" JSONB NOT NULL DEFAULT '{}',
        "content" BYTEA,
        "created" TIMESTAMP NOT NULL)"""
        )
    )
    db.execute(SQL('CREATE INDEX "unit_export_model" ON "unit_export" ("project_id", "model")'))


def down(migrator, db):
    db.execute(SQL('DROP TABLE "unit_export"'))

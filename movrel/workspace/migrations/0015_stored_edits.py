"""Edits by the id that their sender gave them, so that one is never carried out twice."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "stored_edit" (
        "id" VARCHAR(40) NOT NULL,
        "file_id" INTEGER NOT NULL REFERENCES "model_file" ("id") ON DELETE CASCADE,
        "revision_id" BIGINT NOT NULL REFERENCES "revision" ("id") ON DELETE CASCADE,
        "inserted" JSONB NOT NULL DEFAULT '[]',
        "created" TIMESTAMP NOT NULL,
        PRIMARY KEY ("file_id", "id"))"""
        )
    )
    db.execute(SQL('CREATE INDEX "stored_edit_created" ON "stored_edit" ("created")'))


def down(migrator, db):
    db.execute(SQL('DROP TABLE "stored_edit"'))

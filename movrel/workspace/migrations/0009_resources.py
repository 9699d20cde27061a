"""Files beside the models of a project."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "content" (
        "digest" VARCHAR(64) PRIMARY KEY,
        "data" BYTEA NOT NULL,
        "allowed" TIMESTAMP,
        "allowed_by" VARCHAR(200) NOT NULL DEFAULT '')"""
        )
    )
    db.execute(
        SQL(
            """CREATE TABLE "project_resource" (
        "id" SERIAL PRIMARY KEY,
        "project_id" INTEGER NOT NULL REFERENCES "project" ("id") ON DELETE CASCADE,
        "path" VARCHAR(400) NOT NULL,
        "digest" VARCHAR(64) NOT NULL REFERENCES "content" ("digest"),
        "size" BIGINT NOT NULL,
        "trial" JSONB NOT NULL DEFAULT '{}',
        "created" TIMESTAMP NOT NULL,
        UNIQUE ("project_id", "path"))"""
        )
    )


def down(migrator, db):
    db.execute(SQL('DROP TABLE "project_resource"'))
    db.execute(SQL('DROP TABLE "content"'))

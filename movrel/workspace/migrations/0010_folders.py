"""Projects that live in a folder on the disk."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "project" ADD COLUMN "folder" TEXT'))
    db.execute(
        SQL(
            """CREATE TABLE "folder_file" (
        "project_id" INTEGER NOT NULL REFERENCES "project" ("id") ON DELETE CASCADE,
        "path" VARCHAR(400) NOT NULL,
        "digest" VARCHAR(64) NOT NULL,
        "revision" BIGINT,
        "fault" TEXT NOT NULL DEFAULT '',
        PRIMARY KEY ("project_id", "path"))"""
        )
    )


def down(migrator, db):
    db.execute(SQL('DROP TABLE "folder_file"'))
    db.execute(SQL('ALTER TABLE "project" DROP COLUMN "folder"'))

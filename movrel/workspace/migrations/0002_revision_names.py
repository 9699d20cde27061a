"""Revisions may have a name."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "revision" ADD COLUMN "name" VARCHAR(200) NOT NULL DEFAULT \'\''))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "revision" DROP COLUMN "name"'))

"""Runs keep where they stand, so that another worker can take them up."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "interim" JSONB'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "interim"'))

"""Runs keep the state at which they ended, so that another can go on from there."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "final" JSONB'))
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "goes_on" BIGINT'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "final"'))
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "goes_on"'))

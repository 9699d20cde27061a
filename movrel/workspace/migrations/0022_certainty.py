"""Runs that repeat others more exactly, and sweeps over what a fit left uncertain."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "repeats" BIGINT, ADD COLUMN "checked_by" BIGINT'))
    db.execute(SQL('ALTER TABLE "sweep" ADD COLUMN "fit" BIGINT'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "repeats", DROP COLUMN "checked_by"'))
    db.execute(SQL('ALTER TABLE "sweep" DROP COLUMN "fit"'))

"""Runs keep the parameters that follow from others, so that claims about them can be judged."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "worked_out" JSONB NOT NULL DEFAULT \'{}\''))
    db.execute(SQL('ALTER TABLE "run" ALTER COLUMN "worked_out" DROP DEFAULT'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "worked_out"'))

"""Runs keep how columns follow from others, in place of the columns."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "recipes" JSONB NOT NULL DEFAULT \'{}\''))
    db.execute(SQL('ALTER TABLE "run" ALTER COLUMN "recipes" DROP DEFAULT'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "recipes"'))

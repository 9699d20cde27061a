"""Runs know by a mark whether their model would still compute the same."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "mark" VARCHAR(32) NOT NULL DEFAULT \'\''))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "mark"'))

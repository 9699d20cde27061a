"""Runs that fail know the part of the model in which they did."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "run" ADD COLUMN "place" VARCHAR(400) NOT NULL DEFAULT \'\''))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "run" DROP COLUMN "place"'))

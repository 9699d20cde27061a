"""Points of a sweep are made by a worker: how they were drawn, and whether they are there."""

from peewee import SQL


def up(migrator, db):
    db.execute(SQL('ALTER TABLE "sweep" ADD COLUMN "seed" INTEGER NOT NULL DEFAULT 1'))
    db.execute(SQL('ALTER TABLE "sweep" ADD COLUMN "made" BOOLEAN NOT NULL DEFAULT TRUE'))
    db.execute(SQL('ALTER TABLE "sweep" ALTER COLUMN "made" SET DEFAULT FALSE'))


def down(migrator, db):
    db.execute(SQL('ALTER TABLE "sweep" DROP COLUMN "made"'))
    db.execute(SQL('ALTER TABLE "sweep" DROP COLUMN "seed"'))

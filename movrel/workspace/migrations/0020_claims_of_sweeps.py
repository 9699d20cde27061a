"""Sweeps judge the claims of their model at every point."""

from peewee import SQL


def up(migrator, db):
    for table in ("sweep", "sweep_point"):
        db.execute(SQL(f'ALTER TABLE "{table}" ADD COLUMN "claims" JSONB NOT NULL DEFAULT \'[]\''))
    # Points are copied in by the thousand without what they get later.
    db.execute(SQL('ALTER TABLE "sweep" ALTER COLUMN "claims" DROP DEFAULT'))


def down(migrator, db):
    for table in ("sweep", "sweep_point"):
        db.execute(SQL(f'ALTER TABLE "{table}" DROP COLUMN "claims"'))

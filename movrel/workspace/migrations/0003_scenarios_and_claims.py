"""Runs know their scenario, what was claimed about them, and what people noted."""

from peewee import SQL

COLUMNS = {
    "scenario": "VARCHAR(100) NOT NULL DEFAULT 'base'",
    "colour": "INTEGER NOT NULL DEFAULT 0",
    "changes": "JSONB NOT NULL DEFAULT '{}'",
    "parameter_units": "JSONB NOT NULL DEFAULT '{}'",
    "claims": "JSONB NOT NULL DEFAULT '[]'",
    "pinned": "BOOLEAN NOT NULL DEFAULT FALSE",
    "renamed": "BOOLEAN NOT NULL DEFAULT FALSE",
    "note": "TEXT NOT NULL DEFAULT ''",
    "prediction": "TEXT NOT NULL DEFAULT ''",
    "prediction_held": "BOOLEAN",
}


def up(migrator, db):
    for name, kind in COLUMNS.items():
        db.execute(SQL(f'ALTER TABLE "run" ADD COLUMN "{name}" {kind}'))


def down(migrator, db):
    for name in COLUMNS:
        db.execute(SQL(f'ALTER TABLE "run" DROP COLUMN "{name}"'))

"""Files of measurements keep the steps that prepare them."""

from peewee import SQL


def up(migrator, db):
    for name in ("steps", "undone"):
        db.execute(
            SQL(f'ALTER TABLE "project_resource" ADD COLUMN "{name}" JSONB NOT NULL DEFAULT \'[]\'')
        )


def down(migrator, db):
    for name in ("steps", "undone"):
        db.execute(SQL(f'ALTER TABLE "project_resource" DROP COLUMN "{name}"'))

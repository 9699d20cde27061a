"""What somebody wants of a run while it goes on."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "run_command" (
        "id" BIGSERIAL PRIMARY KEY,
        "run_id" BIGINT NOT NULL REFERENCES "run" ("id") ON DELETE CASCADE,
        "what" JSONB NOT NULL,
        "created" TIMESTAMP NOT NULL)"""
        )
    )
    db.execute(SQL('CREATE INDEX "run_command_run" ON "run_command" ("run_id", "id")'))


def down(migrator, db):
    db.execute(SQL('DROP TABLE "run_command"'))

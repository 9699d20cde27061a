"""Places at which a fit begins, searched by several workers."""

from peewee import SQL


def up(migrator, db):
    db.execute(
        SQL(
            """CREATE TABLE "fit_start" (
            "analysis_id" BIGINT NOT NULL REFERENCES "analysis" ("id") ON DELETE CASCADE,
            "number" INTEGER NOT NULL, "theta" JSONB NOT NULL, "state" VARCHAR(10) NOT NULL, "job" BIGINT,
            "cost" DOUBLE PRECISION, "runs" INTEGER NOT NULL, PRIMARY KEY ("analysis_id", "number"))"""
        )
    )


def down(migrator, db):
    db.execute(SQL('DROP TABLE "fit_start"'))

"""Projects, files, revisions, runs and their results."""

from peewee import (
    SQL,
    AutoField,
    BigAutoField,
    BigIntegerField,
    BlobField,
    CharField,
    CompositeKey,
    DateTimeField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)
from playhouse.postgres_ext import BinaryJSONField


def _tables(db):
    class Table(Model):
        class Meta:
            database = db
            legacy_table_names = False

    class Project(Table):
        id = AutoField()
        name = CharField(max_length=200)
        example = CharField(max_length=200, null=True, unique=True)
        created = DateTimeField()
        deleted = DateTimeField(null=True)

    class ModelFile(Table):
        id = AutoField()
        project = ForeignKeyField(Project, on_delete="CASCADE")
        path = CharField(max_length=400)
        head = BigIntegerField(null=True)
        created = DateTimeField()
        deleted = DateTimeField(null=True)

        class Meta:
            indexes = ((("project", "path"), False),)

    class Revision(Table):
        id = BigAutoField()
        file = ForeignKeyField(ModelFile, on_delete="CASCADE")
        parent = ForeignKeyField("self", null=True, on_delete="CASCADE")
        text = TextField()
        summary = TextField()
        author = CharField(max_length=200)
        created = DateTimeField()

    class Run(Table):
        id = BigAutoField()
        project = ForeignKeyField(Project, on_delete="CASCADE")
        model = CharField(max_length=400)
        number = IntegerField()
        name = TextField()
        revisions = BinaryJSONField(index=False)
        options = BinaryJSONField(index=False)
        parameters = BinaryJSONField(index=False)
        state = CharField(max_length=20, index=True)
        progress = DoubleField()
        time_reached = DoubleField(null=True)
        reason = TextField()
        messages = BinaryJSONField(index=False)
        events = BinaryJSONField(index=False)
        statistics = BinaryJSONField(index=False)
        catalogue = BinaryJSONField(index=False)
        layout = BinaryJSONField(index=False)
        points = BigIntegerField()
        attempts = IntegerField()
        job = BigIntegerField(null=True)
        created = DateTimeField()
        started = DateTimeField(null=True)
        ended = DateTimeField(null=True)
        deleted = DateTimeField(null=True)

        class Meta:
            indexes = ((("project", "model", "number"), False),)

    class ResultColumn(Table):
        run = ForeignKeyField(Run, on_delete="CASCADE")
        column = IntegerField()
        chunk = IntegerField()
        count = IntegerField()
        data = BlobField()

        class Meta:
            primary_key = CompositeKey("run", "column", "chunk")

    return [Project, ModelFile, Revision, Run, ResultColumn]


def up(migrator, db):
    db.create_tables(_tables(db))
    # Already compressed: keep PostgreSQL from trying again.
    db.execute(SQL('ALTER TABLE "result_column" ALTER COLUMN "data" SET STORAGE EXTERNAL'))
    # One live file per path in a project.
    db.execute(
        SQL(
            'CREATE UNIQUE INDEX "model_file_live" ON "model_file" ("project_id", "path") WHERE "deleted" IS NULL'
        )
    )


def down(migrator, db):
    db.drop_tables(_tables(db))

"""The tables of a workspace."""

from __future__ import annotations

import datetime
from typing import Any

import orjson
from peewee import (
    AutoField,
    BigAutoField,
    BigIntegerField,
    BlobField,
    BooleanField,
    CharField,
    CompositeKey,
    DatabaseProxy,
    DateTimeField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)  # fmt: skip
from playhouse.postgres_ext import BinaryJSONField

#: Bound to a connection pool by :func:`movrel.workspace.database.connect`.
database = DatabaseProxy()


def now() -> datetime.datetime:
    return datetime.datetime.now(datetime.UTC).replace(tzinfo=None)


def dumps(value: Any) -> str:
    """JSON for the database; what is not finite becomes null."""
    return orjson.dumps(value, option=orjson.OPT_SERIALIZE_NUMPY).decode()


class Table(Model):
    class Meta:
        database = database
        legacy_table_names = False


class Project(Table):
    id = AutoField()
    name = CharField(max_length=200)
    #: Name of the bundled example this project was made from, so that it is loaded only once.
    example = CharField(max_length=200, null=True, unique=True)
    #: The folder on the disk in which its files live, too.
    folder = TextField(null=True)
    created = DateTimeField(default=now)
    deleted = DateTimeField(null=True)


class ModelFile(Table):
    """A Modelica file of a project; its text is that of its head revision."""

    id = AutoField()
    project = ForeignKeyField(Project, backref="files", on_delete="CASCADE")
    path = CharField(max_length=400)
    head = BigIntegerField(null=True)
    created = DateTimeField(default=now)
    deleted = DateTimeField(null=True)

    class Meta:
        indexes = ((("project", "path"), False),)


class Revision(Table):
    """One state of a file, never altered; ``parent`` is the revision it was made from."""

    id = BigAutoField()
    file = ForeignKeyField(ModelFile, backref="revisions", on_delete="CASCADE")
    parent = ForeignKeyField("self", null=True, on_delete="CASCADE")
    text = TextField()
    summary = TextField()
    #: Given by a person who wants to find it again.
    name = CharField(max_length=200, default="")
    author = CharField(max_length=200, default="")
    created = DateTimeField(default=now)


class StoredEdit(Table):
    """An edit that was carried out, by the id that its sender gave it: one that is sent again is not carried out again."""

    id = CharField(max_length=40)
    file = ForeignKeyField(ModelFile, on_delete="CASCADE")
    revision = ForeignKeyField(Revision, on_delete="CASCADE")
    inserted = BinaryJSONField(dumps=dumps, default=list)
    created = DateTimeField(default=now)

    class Meta:
        primary_key = CompositeKey("file", "id")


class Run(Table):
    """A computed (or waiting, failed, stopped) run with everything it depended on."""

    id = BigAutoField()
    project = ForeignKeyField(Project, backref="runs", on_delete="CASCADE")
    model = CharField(max_length=400)
    number = IntegerField()
    name = TextField()
    #: {file path: revision id}
    revisions = BinaryJSONField(dumps=dumps)
    #: Changes only with what is computed; empty where it was never worked out.
    mark = CharField(max_length=32, default="")
    #: Solver settings that differ from the model's own.
    options = BinaryJSONField(dumps=dumps, default=dict)
    #: {flat parameter name: value} as used.
    parameters = BinaryJSONField(dumps=dumps, default=dict)
    #: The scenario it is of, with its colour and its changes as they were.
    scenario = CharField(max_length=100, default="base")
    colour = IntegerField(default=0)
    changes = BinaryJSONField(dumps=dumps, default=dict)
    #: The claims that are judged, after the run with their verdicts.
    claims = BinaryJSONField(dumps=dumps, default=list)
    pinned = BooleanField(default=False)
    #: Whether a person gave it its name.
    renamed = BooleanField(default=False)
    note = TextField(default="")
    #: What a person expected before it ran, and whether it came true.
    prediction = TextField(default="")
    prediction_held = BooleanField(null=True)
    #: {flat parameter name: [unit, display unit]} of those that have one.
    parameter_units = BinaryJSONField(dumps=dumps, default=dict)
    #: {flat name: [value, unit, display unit]} of constants and of parameters that nobody may set.
    worked_out = BinaryJSONField(dumps=dumps, default=dict)
    state = CharField(max_length=20, default="queued", index=True)
    progress = DoubleField(default=0.0)
    time_reached = DoubleField(null=True)
    reason = TextField(default="")
    #: The part in which it failed, as far as that is known.
    place = CharField(max_length=400, default="")
    messages = BinaryJSONField(dumps=dumps, default=list)
    events = BinaryJSONField(dumps=dumps, default=list)
    statistics = BinaryJSONField(dumps=dumps, default=dict)
    #: Every variable with its column, sign, unit.
    catalogue = BinaryJSONField(dumps=dumps, default=list)
    #: How columns follow from others, by their number; see :mod:`movrel.simulate.recipes`.
    recipes = BinaryJSONField(dumps=dumps, default=dict)
    #: Strips that are shown when nobody has arranged any.
    layout = BinaryJSONField(dumps=dumps, default=list)
    points = BigIntegerField(default=0)
    #: Time, values and relations at its end; null unless it reached it.
    final = BinaryJSONField(dumps=dumps, null=True)
    #: Where it stands while it goes on, for the case that its worker is lost.
    interim = BinaryJSONField(dumps=dumps, null=True)
    #: The run from whose end this one goes on.
    goes_on = BigIntegerField(null=True)
    #: The run that this one repeats more exactly; and the one that did so with this one.
    repeats = BigIntegerField(null=True)
    checked_by = BigIntegerField(null=True)
    #: How often its worker was lost.
    attempts = IntegerField(default=0)
    job = BigIntegerField(null=True)
    created = DateTimeField(default=now)
    started = DateTimeField(null=True)
    ended = DateTimeField(null=True)
    deleted = DateTimeField(null=True)

    class Meta:
        indexes = ((("project", "model", "number"), False),)


class ResultColumn(Table):
    """A piece of one trajectory: little-endian doubles, compressed; empty where the run's recipe gives it to the last bit.

    Column -1 is the time."""

    run = ForeignKeyField(Run, backref="pieces", on_delete="CASCADE")
    column = IntegerField()
    chunk = IntegerField()
    count = IntegerField()
    data = BlobField()

    class Meta:
        primary_key = CompositeKey("run", "column", "chunk")


class ResultOverview(Table):
    """The extremes of a long piece of a trajectory: instants, then values, little-endian doubles, compressed."""

    run = ForeignKeyField(Run, backref="overviews", on_delete="CASCADE")
    column = IntegerField()
    chunk = IntegerField()
    #: The first and last instant of the piece.
    low = DoubleField()
    high = DoubleField()
    data = BlobField()

    class Meta:
        primary_key = CompositeKey("run", "column", "chunk")


class RunCommand(Table):
    """Something that somebody wanted of a run while it went on."""

    id = BigAutoField()
    run = ForeignKeyField(Run, backref="commands", on_delete="CASCADE")
    what = BinaryJSONField(dumps=dumps)
    created = DateTimeField(default=now)


class Sweep(Table):
    """One model at many points, frozen with everything it depends on."""

    id = BigAutoField()
    project = ForeignKeyField(Project, backref="sweeps", on_delete="CASCADE")
    model = CharField(max_length=400)
    name = TextField()
    scenario = CharField(max_length=100, default="base")
    revisions = BinaryJSONField(dumps=dumps)
    changes = BinaryJSONField(dumps=dumps, default=dict)
    options = BinaryJSONField(dumps=dumps, default=dict)
    #: How each parameter varies.
    varied = BinaryJSONField(dumps=dumps)
    sample = CharField(max_length=20)
    #: Expressions of measures.
    measures = BinaryJSONField(dumps=dumps)
    #: What was claimed of the model: ``text``, and of all points how many ``hold``, ``fail`` or are ``open``.
    claims = BinaryJSONField(dumps=dumps, default=list)
    #: Variables whose curves are kept, thinned.
    curves = BinaryJSONField(dumps=dumps, default=list)
    #: {name: unit} of parameters, measures and curves, as they are stored.
    units = BinaryJSONField(dumps=dumps, default=dict)
    count = IntegerField()
    #: What a random sample begins with.
    seed = IntegerField(default=1)
    #: The fit that left uncertain what varies, if it is a sweep of one.
    fit = BigIntegerField(null=True)
    #: Whether its points are on record.
    made = BooleanField(default=False)
    start = DoubleField()
    stop = DoubleField()
    #: running, paused, stopped or done
    state = CharField(max_length=20)
    created = DateTimeField(default=now)
    ended = DateTimeField(null=True)
    deleted = DateTimeField(null=True)


class SweepPoint(Table):
    """One point of a sweep: waiting, running, done or failed."""

    sweep = ForeignKeyField(Sweep, backref="points", on_delete="CASCADE")
    number = IntegerField()
    values = BinaryJSONField(dumps=dumps)
    state = CharField(max_length=10)
    measures = BinaryJSONField(dumps=dumps, default=list)
    #: Whether each claim holds; null where it cannot be judged.
    claims = BinaryJSONField(dumps=dumps, default=list)
    reason = TextField(default="")
    job = BigIntegerField(null=True)
    #: Machine and process that computes it, or did.
    worker = CharField(max_length=200, default="")
    attempts = IntegerField(default=0)
    #: The kept curves on an even grid: little-endian floats, compressed.
    data = BlobField(null=True)

    class Meta:
        primary_key = CompositeKey("sweep", "number")


class UnitExport(Table):
    """A unit that was ordered of a model, frozen with its texts and choices; its archive once it is made."""

    id = BigAutoField()
    project = ForeignKeyField(Project, backref="units", on_delete="CASCADE")
    model = CharField(max_length=400)
    revisions = BinaryJSONField(dumps=dumps)
    choices = BinaryJSONField(dumps=dumps)
    #: waiting, running, done or failed
    state = CharField(max_length=10)
    reason = TextField(default="")
    notes = BinaryJSONField(dumps=dumps, default=list)
    summary = BinaryJSONField(dumps=dumps, default=dict)
    content = BlobField(null=True)
    created = DateTimeField(default=now)


class Analysis(Table):
    """A fit, a step test or a linear model that was ordered of a model, frozen with its texts."""

    id = BigAutoField()
    project = ForeignKeyField(Project, backref="analyses", on_delete="CASCADE")
    model = CharField(max_length=400)
    #: fit, step or linear
    kind = CharField(max_length=10)
    scenario = CharField(max_length=100, default="base")
    revisions = BinaryJSONField(dumps=dumps)
    asked = BinaryJSONField(dumps=dumps)
    #: waiting, running, stopping, done or failed
    state = CharField(max_length=10)
    reason = TextField(default="")
    progress = BinaryJSONField(dumps=dumps, default=dict)
    result = BinaryJSONField(dumps=dumps, default=dict)
    created = DateTimeField(default=now)


class FitStart(Table):
    """A place at which a fit begins, then the best that was found from there: waiting, running or done."""

    analysis = ForeignKeyField(Analysis, backref="starts", on_delete="CASCADE", index=False)
    number = IntegerField()
    #: On the scales of the unknowns.
    theta = BinaryJSONField(dumps=dumps)
    state = CharField(max_length=10)
    #: The job of the queue that searches from it.
    job = BigIntegerField(null=True)
    #: Sum of squares; null where no run came to an end.
    cost = DoubleField(null=True)
    runs = IntegerField(default=0)

    class Meta:
        primary_key = CompositeKey("analysis", "number")


class Content(Table):
    """The bytes of files beside models, each kept once; ``allowed`` when somebody said that its code may run."""

    digest = CharField(max_length=64, primary_key=True)
    data = BlobField()
    allowed = DateTimeField(null=True)
    allowed_by = CharField(max_length=200, default="")


class ProjectResource(Table):
    """A file that lies beside the models of a project: a unit of others, or measurements."""

    id = AutoField()
    project = ForeignKeyField(Project, backref="resources", on_delete="CASCADE")
    path = CharField(max_length=400)
    content = ForeignKeyField(Content, column_name="digest", on_delete="RESTRICT")
    size = BigIntegerField()
    #: A run of it alone: state, reason, messages, time, curves.
    trial = BinaryJSONField(dumps=dumps, default=dict)
    #: What prepares measurements, in order, and what of it was undone, the last one last.
    steps = BinaryJSONField(dumps=dumps, default=list)
    undone = BinaryJSONField(dumps=dumps, default=list)
    created = DateTimeField(default=now)

    class Meta:
        indexes = ((("project", "path"), True),)


class FolderFile(Table):
    """A file of a project that lives in a folder, as it was when both sides were last the same."""

    project = ForeignKeyField(Project, backref="folder_files", on_delete="CASCADE")
    path = CharField(max_length=400)
    #: Of the bytes on the disk.
    digest = CharField(max_length=64)
    #: The revision of a model file; null for others.
    revision = BigIntegerField(null=True)
    #: Why the text on the disk cannot be read; empty when it was.
    fault = TextField(default="")

    class Meta:
        primary_key = CompositeKey("project", "path")


TABLES = [
    Project,
    ModelFile,
    Revision,
    Run,
    ResultColumn,
    ResultOverview,
    RunCommand,
    Sweep,
    SweepPoint,
    UnitExport,
    Analysis,
    FitStart,
    Content,
    ProjectResource,
    FolderFile,
]

"""What travels over HTTP; the front end's types are generated from these."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, Field


class Place(BaseModel):
    file: str
    line: int
    column: int


class Fault(BaseModel):
    """A fault in plain words: what, where, and what to do."""

    message: str
    hint: str
    where: Place | None
    #: The newest revision, when an edit was made against an older one.
    current: int | None = None


class Port(BaseModel):
    name: str
    class_name: str = Field(alias="class")
    domain: str
    direction: str
    #: The sizes of an array of ports, as they are written; empty for a single one.
    array: str
    extent: list[float]
    rotation: float
    description: str
    #: The condition under which it exists, as it is written; empty for a port that always does.
    condition: str


class Icon(BaseModel):
    extent: list[float]
    graphics: list[dict[str, Any]]
    ports: list[Port]


class SheetComponent(BaseModel):
    name: str
    class_name: str = Field(alias="class")
    #: Which of the icons shows it.
    symbol: str
    description: str
    extent: list[float]
    rotation: float
    #: Whether its class belongs to the project, so that it can be opened.
    opens: bool
    #: For a port of the model itself: what kind.
    port: Port | None = None
    labels: dict[str, str]
    numbers: dict[str, float]


class SheetConnection(BaseModel):
    from_port: str = Field(alias="from")
    to_port: str = Field(alias="to")
    points: list[list[float]]
    domain: str
    direction: str
    #: Whether its corners were chosen by hand.
    bent: bool
    #: Where it branches off others.
    dots: list[list[float]]


class StateTransition(BaseModel):
    """An arrow of a state machine; without ``from`` it points to the initial state."""

    from_state: str = Field(alias="from")
    to_state: str = Field(alias="to")
    condition: str
    priority: str
    immediate: bool
    reset: bool
    #: By which it is edited; -1 for one that cannot be.
    number: int


class Sheet(BaseModel):
    name: str
    qualified: str
    description: str
    extent: list[float]
    graphics: list[dict[str, Any]]
    #: The symbol of each class of which there are components.
    icons: dict[str, Icon]
    components: list[SheetComponent]
    connections: list[SheetConnection]
    transitions: list[StateTransition]


class Row(BaseModel):
    """A row of the ledger; ``value`` in ``unit``, ``shown`` in ``shown_unit``."""

    name: str
    label: str
    component: str
    description: str
    type: str
    unit: str
    shown_unit: str
    group: str
    value: float | bool | str | None
    shown: float | None
    expression: str | None
    editable: bool
    choices: list[str]
    #: Whether the model's own text gives the value, so that it can be reset to the default.
    modified: bool
    minimum: float | None
    maximum: float | None
    #: The value that the class gives, as it is written, where that is a number.
    default: str
    section: str
    tab: str
    enabled: bool
    #: For a start value: whether it must hold, or only helps.
    fixed: bool | None


class Settings(BaseModel):
    start: float
    stop: float
    interval: float
    solver: str
    solver_name: str
    tolerance: float
    #: What can be chosen: the name for the text and the words for the screen.
    solvers: dict[str, str]


class ListChange(BaseModel):
    """How a list differs from the known one, beyond the items told anew."""

    gone: list[str]
    #: All keys in their order, where it is not that of the known list with new items at the end.
    order: list[str] | None


class ViewChanges(BaseModel):
    components: ListChange
    connections: ListChange
    rows: ListChange


class ScenarioView(BaseModel):
    """Changes against the base model: the text of each value by its place."""

    name: str
    colour: int
    changes: dict[str, str]
    settings: dict[str, str]
    off: list[str]
    note: str


class Doubt(BaseModel):
    """What a part says about values that do not fit."""

    component: str
    level: str
    message: str


class ModelView(BaseModel):
    """A model in its newest state; ``inserted`` names the parts that the edit just made."""

    inserted: list[str] = []
    #: Names this state, so that a later answer can tell only what differs.
    mark: str
    #: Given when components, connections, rows and symbols hold only what is not in the known state.
    changes: ViewChanges | None = None
    project: int
    project_name: str
    model: str
    #: The models around it, outermost first, when it is declared inside another one.
    inside: list[str]
    file: str
    revision: int
    #: The same as long as only the drawing changes: then rows and problem stay too.
    meaning: str
    summary: str
    can_undo: bool
    can_redo: bool
    sheet: Sheet
    #: How the model looks as a part of others.
    symbol: Icon
    rows: list[Row]
    #: Whether rows and problem are there; a large model's are asked for after an edit.
    analysed: bool
    settings: Settings | None
    problem: Fault | None
    doubts: list[Doubt]
    claims: list[str]
    scenarios: list[ScenarioView]


class JudgedClaim(BaseModel):
    """A claim with its verdict on a run; ``holds`` is None while or where it cannot be judged."""

    text: str
    off: bool
    holds: bool | None
    value: float | None = None
    limit: float | None = None
    margin: float | None = None
    unit: str = ""
    #: Where a claim about curves is closest to failing, in s.
    instant: float | None = None
    reason: str = ""


class RunView(BaseModel):
    id: int
    project: int
    model: str
    number: int
    name: str
    state: str
    progress: float
    time_reached: float | None
    reason: str
    points: int
    created: str
    ended: str | None
    revisions: dict[str, int]
    #: The scenario it is of, as it was called then, with its colour.
    scenario: str
    colour: int
    claims: list[JudgedClaim]
    pinned: bool
    note: str
    prediction: str
    prediction_held: bool | None


class RunVariable(BaseModel):
    """``shown value = value * factor + offset`` in ``shown_unit``."""

    name: str
    unit: str
    shown_unit: str
    factor: float
    offset: float
    description: str


class RunEvent(BaseModel):
    time: float
    cause: str


class RunDetail(RunView):
    variables: list[RunVariable]
    layout: list[list[str]]
    events: list[RunEvent]
    messages: list[str]
    statistics: dict[str, Any]
    parameters: dict[str, Any]
    changes: dict[str, str]
    options: dict[str, Any]


class RunList(BaseModel):
    runs: list[RunView]


class Curve(BaseModel):
    name: str
    unit: str
    time: list[float]
    values: list[float]


class Curves(BaseModel):
    run: int
    curves: list[Curve]


class Values(BaseModel):
    run: int
    time: float
    values: dict[str, float | None]


class ModelSummary(BaseModel):
    model: str
    name: str
    description: str
    file: str
    sheet: Sheet
    last_run: RunView | None


class ProjectView(BaseModel):
    id: int
    name: str
    created: str
    files: list[str]
    models: list[ModelSummary]
    problem: Fault | None


class ProjectList(BaseModel):
    projects: list[ProjectView]


class TextView(BaseModel):
    file: str
    revision: int
    text: str
    first_line: int
    last_line: int


class ProjectPath(BaseModel):
    project: int


class ModelPath(BaseModel):
    project: int
    model: str


class RunPath(BaseModel):
    run: int


class NewProject(BaseModel):
    name: str


class NewFile(BaseModel):
    path: str
    text: str


class ShelfEntry(BaseModel):
    class_name: str = Field(alias="class")
    name: str
    group: str
    description: str
    synonyms: list[str]
    icon: Icon


class Shelf(BaseModel):
    entries: list[ShelfEntry]


class KnownQuery(BaseModel):
    known: str = Field(default="", max_length=40, description="the mark of a state that the asker has")


class ShelfQuery(BaseModel):
    model: str = Field(default="", max_length=400, description="the model whose own assemblies are shown too")


class RunOrder(BaseModel):
    start: float | None = None
    stop: float | None = None
    interval: float | None = None
    solver: str | None = None
    tolerance: float | None = None
    scenario: str = Field(default="base", max_length=100)
    #: What is expected of it, in plain words.
    prediction: str = Field(default="", max_length=10_000)


class TryOrder(BaseModel):
    """Values to look at while a slider moves."""

    scenario: str = Field(default="base", max_length=100)
    values: dict[str, float]
    names: list[Annotated[str, Field(max_length=400)]] = Field(max_length=40)


class TriedCurves(BaseModel):
    curves: list[Curve]


class PairQuery(BaseModel):
    x: str
    y: str
    width: int = Field(default=800, ge=1, le=10_000)
    low: float | None = None
    high: float | None = None


class Pair(BaseModel):
    """One variable against another, in declared units."""

    x: list[float]
    y: list[float]
    time: list[float]
    x_unit: str
    y_unit: str


class SpectrumQuery(BaseModel):
    names: str
    low: float | None = None
    high: float | None = None
    window: str = "hann"


class SpectrumCurve(BaseModel):
    name: str
    unit: str
    #: In Hz.
    frequency: list[float]
    amplitude: list[float]


class Spectra(BaseModel):
    curves: list[SpectrumCurve]


class Versions(BaseModel):
    """What computed a result: the program and the libraries that decide about numbers."""

    versions: dict[str, str]


class ScenarioQuery(BaseModel):
    scenario: str = "base"


class EffectQuery(ScenarioQuery):
    parameter: str


class Candidates(BaseModel):
    parameters: list[str]


class EffectView(BaseModel):
    """What a parameter does to the margin of a claim; ``slope`` for the whole of the parameter, ``turns`` relative."""

    claim: str
    margin: float | None
    slope: float | None
    turns: float | None
    unit: str
    reason: str


class Effects(BaseModel):
    parameter: str
    effects: list[EffectView]


class GoOn(BaseModel):
    #: The later time, in s.
    stop: float


class RunWords(BaseModel):
    """What a person says of a run; what is left out stays as it is."""

    name: str | None = Field(default=None, max_length=1000)
    pinned: bool | None = None
    note: str | None = Field(default=None, max_length=10_000)
    prediction_held: bool | None = None


class Difference(BaseModel):
    name: str
    one: Any
    other: Any


class TextDifference(BaseModel):
    file: str
    lines: list[str]


class Differences(BaseModel):
    """What two runs differ in."""

    values: list[Difference]
    settings: list[Difference]
    changes: list[Difference]
    texts: list[TextDifference]


class TwoRunsPath(BaseModel):
    run: int
    other: int


class VaryOrder(BaseModel):
    """How a parameter varies, in its declared unit: over values, or between bounds."""

    name: str = Field(max_length=400)
    low: float = 0.0
    high: float = 1.0
    count: int = Field(default=5, ge=1, le=100_000)
    values: list[float] = Field(default=[], max_length=100_000)
    distribution: str = "uniform"


class SweepOrder(BaseModel):
    scenario: str = Field(default="base", max_length=100)
    varied: list[VaryOrder] = Field(max_length=50)
    sample: str = "grid"
    points: int = Field(default=100, ge=1, le=100_000)
    seed: int = 1
    measures: list[Annotated[str, Field(max_length=2000)]] = Field(default=[], max_length=50)
    #: Variables whose curves are kept.
    curves: list[Annotated[str, Field(max_length=400)]] = Field(default=[], max_length=50)


class SweepView(BaseModel):
    id: int
    project: int
    model: str
    name: str
    scenario: str
    state: str
    sample: str
    varied: list[VaryOrder]
    measures: list[str]
    curves: list[str]
    units: dict[str, str]
    count: int
    waiting: int
    running: int
    done: int
    failed: int
    created: str
    ended: str | None


class SweepList(BaseModel):
    sweeps: list[SweepView]


class PointView(BaseModel):
    number: int
    values: dict[str, float]
    state: str
    measures: list[float | None]
    reason: str


class SweepDetail(SweepView):
    points: list[PointView]


class BandCurve(BaseModel):
    point: int
    values: list[float | None]


class Bands(BaseModel):
    """A family of curves: percentiles at each instant, and some of the curves."""

    name: str
    unit: str
    time: list[float]
    percentiles: dict[str, list[float | None]]
    curves: list[BandCurve]


class SweepPath(BaseModel):
    sweep: int


class SteerPath(BaseModel):
    sweep: int
    what: str = Field(description="pause, resume, stop or retry")


class BandQuery(BaseModel):
    name: str


class ExportQuery(BaseModel):
    kind: str = Field(default="csv", description="csv, parquet or xlsx")
    names: str = Field(default="", description="variable names, separated by spaces; all without any")
    interval: float | None = Field(default=None, gt=0, description="distance of even instants, in s; the stored ones without it")
    low: float | None = None
    high: float | None = None


class MeasureQuery(BaseModel):
    names: str = Field(description="variable names, separated by spaces")
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class Measured(BaseModel):
    """One measure of a curve in a unit that people see; without a value for the reason given."""

    measure: str
    words: str
    value: float | None
    unit: str
    reason: str


class MeasuredCurve(BaseModel):
    name: str
    measures: list[Measured]


class MeasureTable(BaseModel):
    run: int
    curves: list[MeasuredCurve]


class CurveQuery(BaseModel):
    names: str = Field(description="variable names, separated by spaces")
    width: int = Field(default=1000, ge=1, le=10_000, description="pixels across")
    low: float | None = Field(default=None, description="from this time, in s")
    high: float | None = Field(default=None, description="to this time, in s")


class ValueQuery(BaseModel):
    at: float = Field(description="time in s")


class Health(BaseModel):
    version: str

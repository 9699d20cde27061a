"""What travels over HTTP; the front end's types are generated from these."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, Field

from movrel.web.run_schema import RunView


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
    #: Whether it flows through a port, counted into the part.
    flow: bool
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


class StripPlan(BaseModel):
    """A strip of a layout: its curves, the units of its axes ("" as declared)."""

    names: list[Annotated[str, Field(max_length=300)]] = Field(min_length=1, max_length=20)
    left: str = Field(max_length=50)
    right: str = Field(max_length=50)
    logarithmic: bool


class LayoutView(BaseModel):
    """A named arrangement of the recorder."""

    name: str
    strips: list[StripPlan]


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
    layouts: list[LayoutView]


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


class Health(BaseModel):
    version: str

"""The edits of a model as they travel over HTTP: one class per edit, told apart by ``do``."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from movrel.web.schema import StripPlan

Name = Annotated[str, Field(max_length=400)]
Text = Annotated[str, Field(max_length=5_000_000)]
Coordinate = Annotated[float, Field(allow_inf_nan=False)]
Corner = Annotated[list[Coordinate], Field(min_length=2, max_length=2)]


class PartPlace(BaseModel):
    name: Name
    extent: list[Coordinate] = Field(min_length=4, max_length=4)
    rotation: float = 0.0


class WireEnds(BaseModel):
    from_port: Name = Field(alias="from")
    to_port: Name = Field(alias="to")


class Insert(BaseModel):
    """Put a part with its middle at a point, perhaps into a wire."""

    do: Literal["insert"]
    class_name: Name = Field(alias="class")
    x: Coordinate
    y: Coordinate
    into: WireEnds | None = None


class Move(BaseModel):
    do: Literal["move"]
    places: list[PartPlace] = Field(min_length=1, max_length=5000)
    #: The word for what was done: moved, turned, mirrored, aligned, distributed, arranged.
    what: Literal["moved", "turned", "mirrored", "aligned", "distributed", "arranged the sheet"] = "moved"
    straighten: bool = False


class Rename(BaseModel):
    do: Literal["rename"]
    name: Name
    new: Name


class Delete(BaseModel):
    do: Literal["delete"]
    parts: list[Name] = Field(default=[], max_length=5000)
    wires: list[WireEnds] = Field(default=[], max_length=5000)
    cut: bool = False


class Connect(WireEnds):
    do: Literal["connect"]
    points: list[Corner] | None = Field(default=None, max_length=200)


class Bend(WireEnds):
    """Lead a wire through corners, or with none let it find its way."""

    do: Literal["bend"]
    points: list[Corner] | None = Field(default=None, max_length=200)


class DrawArrow(BaseModel):
    """Lead from one state of a state machine to another."""

    do: Literal["draw arrow"]
    start: Name
    end: Name
    condition: str = Field(max_length=2000)
    priority: str = Field(default="1", max_length=20)
    immediate: bool = True
    reset: bool = True


class ChangeArrow(BaseModel):
    """Write an arrow anew."""

    do: Literal["change arrow"]
    number: int
    start: Name
    end: Name
    condition: str = Field(max_length=2000)
    priority: str = Field(default="1", max_length=20)
    immediate: bool = True
    reset: bool = True


class DeleteArrow(BaseModel):
    do: Literal["delete arrow"]
    number: int


class BeginIn(BaseModel):
    """Have a state machine begin in a state."""

    do: Literal["begin in"]
    name: Name


class Setting(BaseModel):
    """A run setting (start, stop, interval, tolerance, solver or step) as somebody typed it."""

    do: Literal["setting"]
    name: Name
    text: str = Field(max_length=200)


class Parameter(BaseModel):
    """``text`` is what was typed into the row of a parameter or start value."""

    do: Literal["parameter"]
    name: Name
    text: str = Field(max_length=10_000)


class SetTable(BaseModel):
    """``text`` holds the rows of a vector or matrix, as typed or pasted from a spreadsheet."""

    do: Literal["table"]
    name: Name
    text: str = Field(max_length=1_000_000)


class Reset(BaseModel):
    do: Literal["reset"]
    name: Name


class ReplaceText(BaseModel):
    do: Literal["text"]
    text: Text


class Paste(BaseModel):
    do: Literal["paste"]
    text: Text
    x: Coordinate | None = None
    y: Coordinate | None = None


class Duplicate(BaseModel):
    do: Literal["duplicate"]
    parts: list[Name] = Field(min_length=1, max_length=2000)
    dx: Coordinate
    dy: Coordinate


class Assemble(BaseModel):
    do: Literal["assemble"]
    parts: list[Name] = Field(min_length=1, max_length=2000)
    name: Name
    description: str = Field(default="", max_length=1000)


class Dissolve(BaseModel):
    do: Literal["dissolve"]
    name: Name


class Expose(BaseModel):
    do: Literal["expose"]
    parameter: Name
    name: Name = ""
    description: str = Field(default="", max_length=1000)
    group: str = Field(default="", max_length=200)


class Hide(BaseModel):
    do: Literal["hide"]
    name: Name


class Swap(BaseModel):
    do: Literal["swap"]
    name: Name
    class_name: Name = Field(alias="class")
    ports: dict[str, str] = {}


class KeepComponent(BaseModel):
    """A component's class, to be declared in the model or (``replaces``) to change one there."""

    do: Literal["component"]
    text: Text
    replaces: Name = ""
    x: Coordinate = 0.0
    y: Coordinate = 0.0


class SetFigure(BaseModel):
    do: Literal["figure"]
    #: The name before; empty for a new figure.
    old: Name = ""
    name: Name
    expression: str = Field(max_length=10_000)
    unit: str = Field(default="", max_length=100)
    note: str = Field(default="", max_length=2000)


class DeleteFigure(BaseModel):
    do: Literal["delete figure"]
    name: Name


class PasteFigures(BaseModel):
    """Rows of name, value, unit and note from a spreadsheet or CSV file."""

    do: Literal["figures"]
    text: Text


class AddNote(BaseModel):
    do: Literal["note"]
    text: str = Field(max_length=20_000)
    x: Coordinate
    y: Coordinate


class ChangeNote(BaseModel):
    """Another text or place for a note; no text takes it away."""

    do: Literal["change note"]
    index: int
    text: str | None = Field(default=None, max_length=20_000)
    x: Coordinate
    y: Coordinate


class Describe(BaseModel):
    do: Literal["describe"]
    text: str = Field(max_length=2000)


class Document(BaseModel):
    do: Literal["document"]
    text: str = Field(max_length=200_000)


class SymbolShape(BaseModel):
    kind: Literal["Rectangle", "Ellipse", "Line", "Polygon", "Text"] = Field(alias="is")
    points: list[Corner] = Field(min_length=2, max_length=200)
    text: str = Field(default="", max_length=200)
    filled: bool = False


class SetSymbol(BaseModel):
    do: Literal["symbol"]
    shapes: list[SymbolShape] = Field(max_length=200)


class PlacePort(BaseModel):
    do: Literal["place port"]
    name: Name
    x: Coordinate
    y: Coordinate


class Restore(BaseModel):
    """Bring the text of an earlier revision back."""

    do: Literal["restore"]
    revision: int


class Undo(BaseModel):
    do: Literal["undo"]


class Redo(BaseModel):
    do: Literal["redo"]


class AddScenario(BaseModel):
    """A new scenario, empty or a copy of another."""

    do: Literal["add scenario"]
    name: Name
    like: Name = "base"


class AlterScenario(BaseModel):
    do: Literal["alter scenario"]
    name: Name
    new: Name
    colour: int
    note: str = Field(default="", max_length=10_000)


class DeleteScenario(BaseModel):
    do: Literal["delete scenario"]
    name: Name


class ScenarioValue(BaseModel):
    """Change a value in a scenario; with no text it is that of the base again."""

    do: Literal["scenario value"]
    scenario: Name
    place: Name
    text: str | None = Field(max_length=2000)


class ScenarioSetting(BaseModel):
    do: Literal["scenario setting"]
    scenario: Name
    name: Name
    text: str = Field(max_length=200)


class ScenarioClaim(BaseModel):
    """Have a claim be judged in a scenario or not."""

    do: Literal["scenario claim"]
    scenario: Name
    claim: str = Field(max_length=2000)
    off: bool


class PasteScenarios(BaseModel):
    """Take over a table from a spreadsheet: scenarios as columns."""

    do: Literal["paste scenarios"]
    text: str = Field(max_length=1_000_000)


class ScenarioFromRun(BaseModel):
    do: Literal["scenario from run"]
    run: int
    name: Name


class KeepChanges(BaseModel):
    """Make a scenario of the values that were changed since a run, and give the base those of then."""

    do: Literal["keep changes"]
    run: int
    name: Name


class KeepLayout(BaseModel):
    """Keep an arrangement of the recorder with the model, in place of one of that name."""

    do: Literal["keep layout"]
    name: str = Field(default="", max_length=100)
    strips: list[StripPlan] = Field(max_length=40)


class DeleteLayout(BaseModel):
    do: Literal["delete layout"]
    name: str = Field(max_length=100)


class AddClaim(BaseModel):
    do: Literal["add claim"]
    text: str = Field(max_length=2000)


class ChangeClaim(BaseModel):
    """Write a claim anew; with no text it goes."""

    do: Literal["change claim"]
    number: int
    text: str | None = Field(max_length=2000)


AnyEdit = Annotated[
    Insert
    | Move
    | Rename
    | Delete
    | Connect
    | Bend
    | DrawArrow
    | ChangeArrow
    | DeleteArrow
    | BeginIn
    | Setting
    | Parameter
    | SetTable
    | Reset
    | ReplaceText
    | Paste
    | Duplicate
    | Assemble
    | Dissolve
    | Expose
    | Hide
    | Swap
    | KeepComponent
    | SetFigure
    | DeleteFigure
    | PasteFigures
    | AddNote
    | ChangeNote
    | Describe
    | Document
    | SetSymbol
    | PlacePort
    | AddScenario
    | AlterScenario
    | DeleteScenario
    | ScenarioValue
    | ScenarioSetting
    | ScenarioClaim
    | PasteScenarios
    | ScenarioFromRun
    | KeepChanges
    | KeepLayout
    | DeleteLayout
    | DeleteLayout
    | AddClaim
    | ChangeClaim
    | Restore
    | Undo
    | Redo,
    Field(discriminator="do"),
]


class EditOrder(BaseModel):
    """An edit and the revision of the model against which it is made."""

    revision: int
    #: The mark of the state that the sender has; then only what differs is answered.
    known: str = ""
    edit: AnyEdit

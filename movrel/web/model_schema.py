"""What is asked about models, and answered, beyond their view."""

from __future__ import annotations

from pydantic import BaseModel, Field

from movrel.web.edit_schema import Name, Text
from movrel.web.schema import Fault, Icon, Port, Sheet


class PartNames(BaseModel):
    parts: list[Name] = Field(min_length=1, max_length=5000)


class TextOnly(BaseModel):
    text: Text


class Finding(BaseModel):
    severity: str
    message: str
    hint: str
    line: int
    column: int


class Findings(BaseModel):
    findings: list[Finding]


class ComponentText(BaseModel):
    text: Text
    replaces: Name = ""


class Named(BaseModel):
    name: str
    unit: str
    description: str


class PortSummary(BaseModel):
    name: str
    class_name: str = Field(alias="class")
    domain: str
    direction: str


class TypesetEquation(BaseModel):
    latex: str
    line: int


class ComponentCheck(BaseModel):
    name: str
    ports: list[PortSummary]
    parameters: list[Named]
    unknowns: list[Named]
    equations: list[TypesetEquation]
    #: What is open or too much, in words; empty when all is well.
    balance: str
    counts: str
    faults: list[Fault]
    warnings: list[str]
    icon: Icon | None


class PartParameter(BaseModel):
    name: str
    description: str
    unit: str
    #: The value as the text gives it.
    default: str
    minimum: str
    maximum: str
    choices: list[str]
    #: Whether it follows from others and cannot be set.
    derived: bool


class PartExample(BaseModel):
    class_name: str = Field(alias="class")
    name: str
    description: str


class PartPage(BaseModel):
    """A class looked up: what it is for, its ports, parameters and equations, where they come from."""

    class_name: str = Field(alias="class")
    name: str
    package: str
    description: str
    info: str
    source: str
    synonyms: list[str]
    icon: Icon
    ports: list[Port]
    parameters: list[PartParameter]
    equations: list[str]
    #: Why equations and parameters cannot be shown; empty when they are.
    fault: str
    examples: list[PartExample]


class PartPath(BaseModel):
    project: int
    part: str


class CodeComponent(BaseModel):
    """A component whose inside is written in a small part of Python."""

    name: Name
    source: str = Field(max_length=100_000)
    inputs: list[Name] = Field(default=[], max_length=100)
    outputs: list[Name] = Field(default=[], max_length=100)
    memory: dict[str, float] = {}
    period: str = Field(default="", max_length=100)
    description: str = Field(default="", max_length=1000)


class ClassQuery(BaseModel):
    name: str = Field(max_length=400)


class ClassText(BaseModel):
    text: str
    code: CodeComponent | None


class SwapQuery(BaseModel):
    part: Name
    class_name: Name = Field(alias="class")


class SwapPlan(BaseModel):
    #: For each port in use the port of the new class that takes over, or nothing.
    ports: dict[str, str]
    choices: dict[str, list[str]]
    lost: list[str]
    broken: list[str]


class FigureRow(BaseModel):
    name: str
    expression: str
    unit: str
    si: str
    note: str
    value: float | bool | str | None
    fault: str
    uses: list[str]


class FigureTable(BaseModel):
    figures: list[FigureRow]


class EquationRow(BaseModel):
    latex: str
    determines: str
    unit: str
    component: str
    kind: str
    file: str
    line: int
    text: str


class EquationBlock(BaseModel):
    kind: str
    state: bool
    discrete: bool
    constraint: bool
    tears: list[str]
    unknowns: list[str]
    rows: list[EquationRow]


class StateRow(BaseModel):
    name: str
    latex: str
    unit: str
    component: str


class TrivialRow(BaseModel):
    name: str
    latex: str
    component: str


class EquationList(BaseModel):
    blocks: list[EquationBlock]
    cut: bool
    states: list[StateRow]
    trivial: list[TrivialRow]
    counts: dict[str, int]


class Branch(BaseModel):
    name: str
    class_name: str = Field(alias="class")
    description: str
    #: Whether it can be stepped into.
    opens: bool
    parts: list[Branch]


class Hierarchy(BaseModel):
    model: str
    parts: list[Branch]


class RevisionSummary(BaseModel):
    id: int
    summary: str
    name: str
    author: str
    created: str
    current: bool
    undone: bool


class RevisionList(BaseModel):
    revisions: list[RevisionSummary]
    more: bool


class RevisionsBefore(BaseModel):
    before: int | None = None


class RevisionName(BaseModel):
    id: int
    name: str = Field(max_length=1000)


class TwoRevisions(BaseModel):
    a: int
    b: int


class TextLine(BaseModel):
    kind: str
    text: str


class Change(BaseModel):
    what: str
    name: str


class Comparison(BaseModel):
    lines: list[TextLine]
    before: Sheet | None
    after: Sheet | None
    changes: list[Change]


class CopyOrder(BaseModel):
    name: Name
    project: int | None = None


class MoveOrder(BaseModel):
    project: int


class ModelAddress(BaseModel):
    project: int
    model: str


class DeletedFile(BaseModel):
    file: int


class FilePath(BaseModel):
    file: int


class ProjectName(BaseModel):
    name: str = Field(max_length=400)


class Example(BaseModel):
    name: str
    title: str
    description: str


class ExampleList(BaseModel):
    examples: list[Example]


class FromExample(BaseModel):
    example: str = Field(max_length=200)
    name: str = Field(max_length=400)


class SearchQuery(BaseModel):
    words: str = Field(max_length=400)


class Found(BaseModel):
    file: str
    line: int
    text: str
    model: str


class SearchResult(BaseModel):
    found: list[Found]


class DocumentationView(BaseModel):
    description: str
    info: str

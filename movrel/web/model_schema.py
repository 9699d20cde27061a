"""What is asked about models, and small answers beyond the views of the core."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from movrel.language.python_code import Code
from movrel.web.schema import Name, Text
from movrel.web.wire import WIRE


class PartNames(BaseModel):
    parts: list[Name] = Field(min_length=1, max_length=5000)


class TextOnly(BaseModel):
    text: Text


class ComponentText(BaseModel):
    text: Text
    replaces: Name = ""


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
    parameters: dict[Name, Annotated[str, Field(max_length=1000)]] = {}
    units: dict[Name, Annotated[str, Field(max_length=100)]] = {}

    def code(self) -> Code:
        return Code(**self.model_dump())


class ClassQuery(BaseModel):
    name: str = Field(max_length=400)


class ClassText(BaseModel):
    """The text of a class, and the Python text from which it was made, if it was."""

    model_config = WIRE

    text: str
    code: Code | None


class SwapQuery(BaseModel):
    model_config = WIRE

    part: Name
    class_name: Name


class RevisionsBefore(BaseModel):
    before: int | None = None


class RevisionName(BaseModel):
    id: int
    name: str = Field(max_length=1000)


class TwoRevisions(BaseModel):
    a: int
    b: int


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

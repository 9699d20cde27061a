"""What is asked over HTTP about projects and models; what is answered are the dataclasses of the core."""

from __future__ import annotations

from typing import Annotated, TypeAlias

from pydantic import BaseModel, Field

Name: TypeAlias = Annotated[str, Field(max_length=400)]
Text: TypeAlias = Annotated[str, Field(max_length=5_000_000)]


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


class KnownQuery(BaseModel):
    known: str = Field(
        default="", max_length=40, description="the mark of a state that the asker has"
    )


class OffsetQuery(BaseModel):
    offset: int = Field(default=0, ge=0, le=1_000_000)


class ScenarioQuery(BaseModel):
    scenario: str = Field(default="base", max_length=100)


class InstanceQuery(ScenarioQuery):
    whole: str = Field(max_length=400, description="the model that is run")
    instance: str = Field(max_length=400, description="the part of it, with dots where deeper")


class ShelfQuery(BaseModel):
    model: str = Field(
        default="", max_length=400, description="the model whose own assemblies are shown too"
    )


class Health(BaseModel):
    version: str


class Versions(BaseModel):
    """What computed a result: the program and the libraries that decide about numbers."""

    versions: dict[str, str]

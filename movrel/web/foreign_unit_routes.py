"""The addresses of units of others (FMI) in a project."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from flask import Response, current_app, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.errors import MovrelError
from movrel.exchange.fmi.unit_class import PartChoices
from movrel.fmi.description import Interface
from movrel.jobs.queue import order_trial
from movrel.views.fault_view import Fault
from movrel.web import schema as s
from movrel.web.wire import answer, schema
from movrel.workspace import foreign_units, permissions, resources
from movrel.workspace.announce import announce
from movrel.workspace.foreign_units import Exchange, ForeignUnit, ForeignUnitPage

api = APIBlueprint(
    "foreign units",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)

Name = Annotated[str, Field(max_length=400)]


class NewUnitPath(BaseModel):
    project: int
    name: Name


class ForeignUnitPath(BaseModel):
    unit: int


class ModelQuery(BaseModel):
    model: Name


class PartOrder(BaseModel):
    """How a unit becomes a part."""

    name: Annotated[str, Field(max_length=200)]
    kind: Interface = "cs"
    names: dict[Name, Name] = Field(default={}, max_length=5_000)
    hidden: list[Name] = Field(default=[], max_length=100_000)
    shown: list[Name] = Field(default=[], max_length=100_000)
    #: Headings of inputs and outputs on the symbol.
    groups: dict[Name, Annotated[str, Field(max_length=200)]] = Field(
        default={}, max_length=100_000
    )
    step: float | None = Field(default=None, gt=0)


@dataclass(frozen=True, slots=True)
class ForeignUnits:
    """The units of others in a project."""

    units: list[ForeignUnit]


@dataclass(frozen=True, slots=True)
class Exchanges:
    """What could be exchanged for a unit."""

    exchanges: list[Exchange]


@dataclass(frozen=True, slots=True)
class PartText:
    """The text of the class by which a unit becomes a part."""

    text: str


@api.get(
    "/projects/<int:project>/foreign-units",
    operation_id="foreignUnits",
    responses={200: schema(ForeignUnits)},
)
def list_units(path: s.ProjectPath) -> Response:
    return answer(ForeignUnits(foreign_units.foreign_units(path.project)))


@api.post(
    "/projects/<int:project>/foreign-units/<name>",
    operation_id="importUnit",
    responses={200: schema(ForeignUnitPage)},
)
def import_unit(path: NewUnitPath) -> Response:
    """Take in the unit in the body of the request."""
    request.max_content_length = resources.SIZE_LIMIT
    if (request.content_length or 0) > resources.SIZE_LIMIT:
        raise MovrelError(
            f"'{path.name}' is larger than {resources.SIZE_LIMIT // 1_000_000} MB.",
            hint="Ask for a smaller unit.",
        )
    kept = foreign_units.add(path.project, path.name, request.get_data())
    announce("foreign unit", unit=kept.id, project=path.project, state="new")
    return answer(foreign_units.page(kept.id))


@api.get(
    "/foreign-units/<int:unit>",
    operation_id="foreignUnit",
    responses={200: schema(ForeignUnitPage)},
)
def one_unit(path: ForeignUnitPath) -> Response:
    return answer(foreign_units.page(path.unit))


@api.post(
    "/foreign-units/<int:unit>/allow",
    operation_id="allowUnit",
    responses={200: schema(ForeignUnitPage)},
)
def allow(path: ForeignUnitPath) -> Response:
    """Its code may run from now on."""
    kept = resources.resource(path.unit)
    permissions.allow(kept.digest)
    announce("foreign unit", unit=path.unit, project=kept.project_id, state="allowed")
    return answer(foreign_units.page(path.unit))


@api.post(
    "/foreign-units/<int:unit>/trial",
    operation_id="tryUnit",
    responses={200: schema(ForeignUnitPage)},
)
def trial(path: ForeignUnitPath) -> Response:
    """Have it run by itself with its default experiment."""
    resources.resource(path.unit)
    foreign_units.keep_trial(path.unit, state="waiting")
    order_trial(current_app.config["MOVREL_DATABASE"], path.unit)
    return answer(foreign_units.page(path.unit))


@api.post(
    "/foreign-units/<int:unit>/part",
    operation_id="unitPart",
    responses={200: schema(PartText)},
)
def part(path: ForeignUnitPath, body: PartOrder) -> Response:
    """The class by which it becomes a part; the edit 'component' puts it on a sheet."""
    choices = PartChoices(
        body.name, body.kind, "", body.names, frozenset(body.hidden), frozenset(body.shown), body.groups, body.step,
    )  # fmt: skip
    return answer(PartText(foreign_units.class_text(path.unit, choices)))


@api.get(
    "/foreign-units/<int:unit>/exchanges",
    operation_id="unitExchanges",
    responses={200: schema(Exchanges)},
)
def exchanges(path: ForeignUnitPath, query: ModelQuery) -> Response:
    """The units of a model that could be exchanged for this one; the edit 'exchange unit' does it."""
    return answer(Exchanges(foreign_units.exchanges(path.unit, query.model)))


@api.delete(
    "/foreign-units/<int:unit>",
    operation_id="deleteForeignUnit",
    responses={200: schema(ForeignUnits)},
)
def delete(path: ForeignUnitPath) -> Response:
    project = resources.resource(path.unit).project_id
    resources.delete(path.unit)
    announce("foreign unit", unit=path.unit, project=project, state="gone")
    return answer(ForeignUnits(foreign_units.foreign_units(project)))

"""The addresses of units (FMI) that are made of models."""

from __future__ import annotations

from typing import Annotated, Literal

from flask import Response, current_app
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.exchange.fmi.export_options import LogKind, UnitSolver
from movrel.fmi.description import Interface
from movrel.jobs.queue import order_unit
from movrel.project.vendor_annotation import BASE
from movrel.views.fault_view import Fault
from movrel.web import schema as s
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import unit_exports
from movrel.workspace.unit_exports import UnitChoices, Units, UnitView, unit_view

api = APIBlueprint(
    "units",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)

Name = Annotated[str, Field(max_length=400)]


class UnitOrder(BaseModel):
    """The choices of an export."""

    version: int = Field(default=3, ge=2, le=3)
    interfaces: list[Interface] = Field(default=["me", "cs"], max_length=2)
    #: Parameters that stay visible; all without it.
    parameters: list[Name] | None = Field(default=None, max_length=10_000)
    outputs: list[Name] = Field(default=[], max_length=10_000)
    sealed: bool = False
    solver: UnitSolver = "variable"
    step: float = Field(default=0.0, ge=0)
    documentation: bool = True
    symbol: bool = True
    #: Messages that an importer can ask for; errors are always told.
    log: list[LogKind] = Field(default=["events", "steps", "warnings"], max_length=3)
    #: Platforms to compile for; this machine's without it.
    platforms: list[Annotated[str, Field(max_length=40)]] | None = Field(
        default=None, max_length=20
    )
    scenario: Annotated[str, Field(max_length=100)] = BASE
    #: ``1.0`` or ``2.0`` has the whole rig written as an SSP archive.
    ssp: Literal["", "1.0", "2.0"] = ""


class UnitPath(BaseModel):
    unit: int


@api.get(
    "/projects/<int:project>/models/<model>/units",
    operation_id="modelUnits",
    responses={200: schema(Units)},
)
def list_units(path: s.ModelPath) -> Response:
    return answer(unit_exports.units(path.project, path.model))


@api.post(
    "/projects/<int:project>/models/<model>/units",
    operation_id="orderUnit",
    responses={200: schema(UnitView)},
)
def order(path: s.ModelPath, body: UnitOrder) -> Response:
    made = unit_exports.order(path.project, path.model, UnitChoices(**body.model_dump()))
    order_unit(current_app.config["MOVREL_DATABASE"], made.id)
    return answer(unit_view(made))


@api.get("/model-units/<int:unit>", operation_id="modelUnit", responses={200: schema(UnitView)})
def one_unit(path: UnitPath) -> Response:
    return answer(unit_view(unit_exports.unit_export(path.unit)))


@api.get("/model-units/<int:unit>/file", operation_id="unitFile")
def unit_file(path: UnitPath) -> Response:
    name, content = unit_exports.archive(path.unit)
    return download(content, name, "application/octet-stream")


@api.delete("/model-units/<int:unit>", operation_id="deleteUnit", responses={200: schema(UnitView)})
def delete_unit(path: UnitPath) -> Response:
    gone = unit_view(unit_exports.unit_export(path.unit))
    unit_exports.delete(path.unit)
    return answer(gone)

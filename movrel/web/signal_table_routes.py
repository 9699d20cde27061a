"""The addresses of measured tables that become parts."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field, ValidationError

from movrel.errors import MovrelError
from movrel.exchange.signal_table import Between, TableChoices
from movrel.exchange.table_files import SIZE_LIMIT
from movrel.views.fault_view import Fault
from movrel.web.wire import answer, schema
from movrel.workspace import signal_tables
from movrel.workspace.announce import announce
from movrel.workspace.signal_tables import TablePreview

api = APIBlueprint(
    "signal tables",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)
Name = Annotated[str, Field(max_length=400)]


class TablePath(BaseModel):
    project: int
    name: Name


class TimeQuery(BaseModel):
    """``time`` is the column of the time where the guess is wrong."""

    time: Name = ""


class PartQuery(TimeQuery):
    """``choices`` is a :class:`TableOrder` as JSON, as the body is the file."""

    choices: Annotated[str, Field(max_length=1_000_000)]


class TableOrder(BaseModel):
    """How a table becomes a part."""

    name: Annotated[str, Field(max_length=200)]
    columns: dict[Name, Name] = Field(max_length=2000)
    units: dict[Name, Annotated[str, Field(max_length=60)]] = Field(default={}, max_length=2000)
    between: Between = "straight"
    cyclic: bool = False
    before: dict[Name, Annotated[float, Field(allow_inf_nan=False)]] = Field(
        default={}, max_length=2000
    )


@dataclass(frozen=True, slots=True)
class TableClass:
    """The text of the class that gives the signals."""

    text: str


def _body() -> bytes:
    request.max_content_length = SIZE_LIMIT
    return request.get_data()


@api.post(
    "/projects/<int:project>/signal-tables/<name>/preview",
    operation_id="previewTable",
    responses={200: schema(TablePreview)},
)
def preview(path: TablePath, query: TimeQuery) -> Response:
    """What is in the file in the body of the request."""
    return answer(signal_tables.preview(path.name, _body(), query.time))


@api.post(
    "/projects/<int:project>/signal-tables/<name>",
    operation_id="keepTable",
    responses={200: schema(TableClass)},
)
def keep(path: TablePath, query: PartQuery) -> Response:
    """Keep the chosen columns of the file in the body, and give the class that reads them."""
    try:
        order = TableOrder.model_validate(json.loads(query.choices))
    except (ValueError, ValidationError, RecursionError):
        raise MovrelError("the choices cannot be read.", hint="Look at the page anew.") from None
    choices = TableChoices(**order.model_dump())
    text = signal_tables.keep(path.project, path.name, _body(), query.time, choices)
    announce("project", project=path.project)
    return answer(TableClass(text))

"""The addresses of measurements and of the steps that prepare them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.exchange.table_files import SIZE_LIMIT
from movrel.exchange.table_steps import Step
from movrel.views.fault_view import Fault
from movrel.views.run_data import Curve, RunVariable
from movrel.web.run_schema import CurveQuery
from movrel.web.wire import answer, schema
from movrel.workspace import measured_curves, measurements
from movrel.workspace.measurements import DataFile, Measurements

api = APIBlueprint(
    "measurements",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)


class DataPath(BaseModel):
    project: int
    name: Annotated[str, Field(max_length=400)]


class ProjectPath(BaseModel):
    project: int


class FilePath(BaseModel):
    file: int


class PreparationOrder(BaseModel):
    """A step that prepares measurements."""

    step: Annotated[Step, Field(discriminator="do")]


@dataclass(frozen=True, slots=True)
class DataFiles:
    """The measurements of a project."""

    files: list[DataFile]


@dataclass(frozen=True, slots=True)
class MeasuredColumns:
    """Columns of measurements as quantities."""

    columns: list[RunVariable]


@dataclass(frozen=True, slots=True)
class MeasuredCurves:
    """Columns of measurements over time, in SI units."""

    curves: list[Curve]


@dataclass(frozen=True, slots=True)
class KeptData:
    """A file that was taken in, with what is in it."""

    file: DataFile
    preview: Measurements


@api.get(
    "/projects/<int:project>/data", operation_id="dataFiles", responses={200: schema(DataFiles)}
)
def data_files(path: ProjectPath) -> Response:
    return answer(DataFiles(measurements.data_files(path.project)))


@api.post(
    "/projects/<int:project>/data/<name>",
    operation_id="keepData",
    responses={200: schema(KeptData)},
)
def keep_data(path: DataPath) -> Response:
    """Take in the measurements in the body of the request."""
    request.max_content_length = SIZE_LIMIT
    file, preview = measurements.keep_data(path.project, path.name, request.get_data())
    return answer(KeptData(file, preview))


@api.get(
    "/projects/<int:project>/measured",
    operation_id="measuredColumns",
    responses={200: schema(MeasuredColumns)},
)
def measured_columns(path: ProjectPath) -> Response:
    """The columns of measurements that can stand on strips."""
    return answer(MeasuredColumns(measured_curves.measured_columns(path.project)))


@api.post(
    "/projects/<int:project>/measured-curves",
    operation_id="measuredCurves",
    responses={200: schema(MeasuredCurves)},
)
def curves_of_columns(path: ProjectPath, body: CurveQuery) -> Response:
    """Columns of measurements as curves."""
    return answer(
        MeasuredCurves(
            measured_curves.measured_curves(
                path.project, body.names, body.width, body.low, body.high
            )
        )
    )


@api.get("/data/<int:file>", operation_id="previewData", responses={200: schema(Measurements)})
def preview_data(path: FilePath) -> Response:
    return answer(measurements.measurements(path.file))


@api.post("/data/<int:file>/steps", operation_id="addStep", responses={200: schema(Measurements)})
def add_step(path: FilePath, body: PreparationOrder) -> Response:
    """Prepare measurements by one step more."""
    return answer(measurements.add_step(path.file, body.step))


@api.post(
    "/data/<int:file>/steps/undo", operation_id="undoStep", responses={200: schema(Measurements)}
)
def undo_step(path: FilePath) -> Response:
    """Take the last step back."""
    return answer(measurements.undo_step(path.file))


@api.post(
    "/data/<int:file>/steps/redo", operation_id="redoStep", responses={200: schema(Measurements)}
)
def redo_step(path: FilePath) -> Response:
    """Do the step again that was undone last."""
    return answer(measurements.redo_step(path.file))

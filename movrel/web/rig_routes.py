"""The addresses of rigs: how a model is cut into units, and what is said to one while it runs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from flask import Response, current_app
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.couple.step_check import StepDifference
from movrel.jobs.queue import order_run
from movrel.project.board import Tile, board_of
from movrel.project.snapshot import definition_of
from movrel.views.fault_view import Fault
from movrel.views.rig_view import RigView, rig_view
from movrel.views.run_data import RunDetail
from movrel.web import run_schema as rs
from movrel.web import schema as s
from movrel.web.wire import answer, schema
from movrel.workspace import projects, run_commands
from movrel.workspace.announce import announce
from movrel.workspace.run_commands import Wish
from movrel.workspace.run_views import run_detail
from movrel.workspace.step_differences import order_half, step_differences
from movrel.workspace.tables import Run

api = APIBlueprint(
    "rigs", __name__, url_prefix="/api", abp_responses={"422": schema(Fault), "404": schema(Fault)}
)


class Command(BaseModel):
    """``pause``, ``go on``, ``one step``; ``turn`` gives the parameter ``name`` a ``value`` in its declared unit."""

    do: Wish
    name: Annotated[str, Field(max_length=400)] = ""
    value: float = Field(default=0.0, allow_inf_nan=False)


@dataclass(frozen=True, slots=True)
class Board:
    """What is on the watch board of a model."""

    tiles: list[Tile]


@dataclass(frozen=True, slots=True)
class Said:
    """That a command was passed on."""

    run: int


@dataclass(frozen=True, slots=True)
class StepDifferences:
    """How much each signal of a rig differs between two runs, the largest first."""

    differences: list[StepDifference]


@api.get(
    "/projects/<int:project>/models/<model>/rig",
    operation_id="rig",
    responses={200: schema(RigView)},
)
def rig(path: s.ModelPath) -> Response:
    return answer(rig_view(projects.snapshot(path.project), path.model))


@api.get(
    "/projects/<int:project>/models/<model>/board",
    operation_id="board",
    responses={200: schema(Board)},
)
def board(path: s.ModelPath) -> Response:
    """The watch board of a model."""
    return answer(Board(board_of(definition_of(projects.snapshot(path.project), path.model))))


@api.post("/runs/<int:run>/command", operation_id="commandRun", responses={200: schema(Said)})
def command(path: rs.RunPath, body: Command) -> Response:
    """Say something to a rig that runs."""
    run_commands.command(path.run, body.do, body.name, body.value)
    return answer(Said(path.run))


@api.post("/runs/<int:run>/half-step", operation_id="halfStep", responses={200: schema(RunDetail)})
def half_step(path: rs.RunPath) -> Response:
    """Order the same run at half the communication step."""
    made = order_half(path.run)
    job = order_run(current_app.config["MOVREL_DATABASE"], made.id)
    Run.update(job=job).where(Run.id == made.id).execute()
    announce("run", run=made.id, project=made.project_id, model=made.model, state="queued")
    return answer(run_detail(made))


@api.get(
    "/runs/<int:run>/step-differences/<int:other>",
    operation_id="stepDifferences",
    responses={200: schema(StepDifferences)},
)
def differences(path: rs.TwoRunsPath) -> Response:
    return answer(StepDifferences(step_differences(path.run, path.other)))

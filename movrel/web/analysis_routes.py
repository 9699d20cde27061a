"""The addresses of fits, step tests and linear models."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from flask import Response, current_app
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.errors import MovrelError
from movrel.exchange.linear_files import WRITERS
from movrel.jobs.queue import order_analysis, order_sweep
from movrel.project.vendor_annotation import BASE
from movrel.views.fault_view import Fault
from movrel.web import schema as s
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import analyses, fit_sweeps
from movrel.workspace.analyses import (
    AnalysisView,
    BootstrapAsked,
    Candidate,
    ComparisonAsked,
    FitAsked,
    FitExperiment,
    FitParameter,
    LinearAsked,
    ProfileAsked,
    StepAsked,
)
from movrel.workspace.announce import announce
from movrel.workspace.sweeps import SweepView, sweep_view
from movrel.workspace.tables import Analysis

api = APIBlueprint(
    "analyses",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)
Name = Annotated[str, Field(max_length=400)]
Number = Annotated[float, Field(allow_inf_nan=False)]


class AnalysisPath(BaseModel):
    analysis: int


class MatricesPath(BaseModel):
    analysis: int
    form: Literal["json", "csv", "npz"]


class ExperimentOrder(BaseModel):
    """A file of measurements and what its columns are."""

    file: Name
    outputs: dict[Name, Name] = Field(max_length=200)
    inputs: dict[Name, Name] = Field(default={}, max_length=200)
    held: list[Name] = Field(default=[], max_length=200)
    low: Number | None = None
    high: Number | None = None


class ParameterOrder(BaseModel):
    """A parameter to find."""

    name: Name
    low: Number
    start: Number
    high: Number
    scale: Annotated[str, Field(pattern="^(linear|log)$")] = "linear"
    each: bool = False


class FitOrder(BaseModel):
    """What a fit is to find."""

    scenario: Annotated[str, Field(max_length=100)] = BASE
    experiments: list[ExperimentOrder] = Field(max_length=100)
    free: list[ParameterOrder] = Field(max_length=100)
    robust: bool = False
    starts: int = Field(default=1, ge=1, le=200)
    held_back: float = Field(default=0.0, ge=0.0, le=0.9)
    #: Standard deviations of what was measured, by variable, in the units in which errors are shown.
    deviations: dict[Name, Annotated[float, Field(gt=0, allow_inf_nan=False)]] = Field(
        default={}, max_length=200
    )
    most_runs: int = Field(default=5000, ge=1, le=1_000_000)
    seconds: float | None = Field(default=None, gt=0)
    change: float = Field(default=1e-8, gt=0, le=0.1)


class CandidateOrder(BaseModel):
    """A model of the project with a scenario of it."""

    model: Name
    scenario: Annotated[str, Field(max_length=100)] = BASE
    variables: dict[Name, Name] = Field(default={}, max_length=200)


class ComparisonOrder(BaseModel):
    """Candidates beside the same measurements."""

    experiment: ExperimentOrder
    candidates: list[CandidateOrder] = Field(max_length=50)
    from_samples: bool = False


class ProfileOrder(BaseModel):
    """A parameter of a fit."""

    name: Name
    experiment: Name = ""


class DrawOrder(BaseModel):
    """How many draws."""

    count: int = Field(default=200, ge=2, le=10_000)
    seed: int = Field(default=1, ge=0, le=2**31)


class BootstrapOrder(BaseModel):
    """By how many fits."""

    count: int = Field(default=100, ge=20, le=2000)


class LinearOrder(BaseModel):
    """Between which quantities, and where."""

    scenario: Annotated[str, Field(max_length=100)] = BASE
    inputs: list[Name] = Field(max_length=100)
    outputs: list[Name] = Field(max_length=100)
    at: Number | None = None
    held: dict[Name, Annotated[str, Field(max_length=100)]] = Field(default={}, max_length=50)
    free: list[Name] = Field(default=[], max_length=50)
    moving: list[Name] = Field(default=[], max_length=1000)
    opened: Name = ""
    amplitudes: dict[Name, Number] = Field(default={}, max_length=100)


class StepOrder(BaseModel):
    """A step test: a file of measurements, its columns of input and response, and between which instants it counts."""

    file: Name
    input: Name
    response: Name
    low: Number | None = None
    high: Number | None = None


@dataclass(frozen=True, slots=True)
class Analyses:
    """The analyses of a model, the newest first, without their results."""

    analyses: list[AnalysisView]


@api.get(
    "/projects/<int:project>/models/<model>/analyses",
    operation_id="analyses",
    responses={200: schema(Analyses)},
)
def list_analyses(path: s.ModelPath) -> Response:
    return answer(Analyses(analyses.analyses(path.project, path.model)))


@api.post(
    "/projects/<int:project>/models/<model>/fits",
    operation_id="orderFit",
    responses={200: schema(AnalysisView)},
)
def order_fit(path: s.ModelPath, body: FitOrder) -> Response:
    """Order a fit."""
    asked = FitAsked(
        [FitExperiment(**e.model_dump()) for e in body.experiments],
        [FitParameter(**f.model_dump()) for f in body.free], body.robust, body.starts,
        body.held_back, body.deviations, body.most_runs, body.seconds, body.change,
    )  # fmt: skip
    return _ordered(analyses.order(path.project, path.model, body.scenario, asked))


@api.post(
    "/analyses/<int:analysis>/profiles",
    operation_id="orderProfile",
    responses={200: schema(AnalysisView)},
)
def order_profile(path: AnalysisPath, body: ProfileOrder) -> Response:
    """Order the profile of a parameter of a fit."""
    asked = ProfileAsked(path.analysis, body.name, body.experiment)
    return _ordered(analyses.order_intervals(asked))


@api.post(
    "/analyses/<int:analysis>/bootstraps",
    operation_id="orderBootstrap",
    responses={200: schema(AnalysisView)},
)
def order_bootstrap(path: AnalysisPath, body: BootstrapOrder) -> Response:
    """Order intervals of a fit by resampling."""
    return _ordered(analyses.order_intervals(BootstrapAsked(path.analysis, body.count)))


@api.post(
    "/analyses/<int:analysis>/sweeps",
    operation_id="orderSweepOfFit",
    responses={200: schema(SweepView)},
)
def order_sweep_of_fit(path: AnalysisPath, body: DrawOrder) -> Response:
    """Order a sweep over what a fit left uncertain."""
    made = fit_sweeps.order_sweep_of_fit(path.analysis, body.count, body.seed)
    order_sweep(current_app.config["MOVREL_DATABASE"], made.id)
    announce("sweep", sweep=made.id, project=made.project_id, model=made.model, state="running")
    return answer(sweep_view(made))


@api.post(
    "/projects/<int:project>/models/<model>/comparisons",
    operation_id="orderComparison",
    responses={200: schema(AnalysisView)},
)
def order_comparison(path: s.ModelPath, body: ComparisonOrder) -> Response:
    """Order a comparison of models and scenarios with the same measurements."""
    asked = ComparisonAsked(
        FitExperiment(**body.experiment.model_dump()),
        [Candidate(**c.model_dump()) for c in body.candidates], body.from_samples,
    )  # fmt: skip
    return _ordered(analyses.order(path.project, path.model, BASE, asked))


@api.post(
    "/projects/<int:project>/models/<model>/linear-models",
    operation_id="orderLinear",
    responses={200: schema(AnalysisView)},
)
def order_linear(path: s.ModelPath, body: LinearOrder) -> Response:
    """Order a linear model."""
    asked = LinearAsked(**body.model_dump(exclude={"scenario"}))
    return _ordered(analyses.order(path.project, path.model, body.scenario, asked))


@api.post(
    "/projects/<int:project>/models/<model>/step-tests",
    operation_id="orderStepTest",
    responses={200: schema(AnalysisView)},
)
def order_step_test(path: s.ModelPath, body: StepOrder) -> Response:
    """Order what a step test says."""
    asked = StepAsked(**body.model_dump())
    return _ordered(analyses.order(path.project, path.model, BASE, asked))


def _ordered(made: Analysis) -> Response:
    order_analysis(current_app.config["MOVREL_DATABASE"], made.id)
    return answer(analyses.view(made))


@api.get("/analyses/<int:analysis>", operation_id="analysis", responses={200: schema(AnalysisView)})
def get_analysis(path: AnalysisPath) -> Response:
    return answer(analyses.view(analyses.analysis(path.analysis)))


@api.get("/analyses/<int:analysis>/matrices.<form>", operation_id="linearFile")
def linear_file(path: MatricesPath) -> Response:
    """The matrices of a linear model as a file."""
    a = analyses.analysis(path.analysis)
    if a.kind != "linear" or a.state != "done":
        raise MovrelError("this is no linear model.", hint="Choose one that is done.")
    write, kind = WRITERS[path.form]
    name = f"{a.model.rpartition('.')[2]} linear.{path.form}"
    return download(write(a.result["model"]), name, kind)


@api.post(
    "/analyses/<int:analysis>/stop",
    operation_id="stopAnalysis",
    responses={200: schema(AnalysisView)},
)
def stop(path: AnalysisPath) -> Response:
    """End a fit with the best values so far."""
    return answer(analyses.view(analyses.stop(path.analysis)))


@api.delete("/analyses/<int:analysis>", operation_id="deleteAnalysis")
def delete(path: AnalysisPath) -> Response:
    analyses.delete(path.analysis)
    return Response(status=204)

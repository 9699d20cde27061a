"""Fits to measurements, step tests and linear models: orders, how they stand, what was found."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any, Literal, TypeAlias

from movrel.analyse.free_parameter import Scale
from movrel.edits.scenario_model import scenario_of
from movrel.errors import MovrelError, NotFound
from movrel.exchange.table_files import MeasuredTable, read_table_file
from movrel.project.vendor_annotation import BASE
from movrel.workspace import projects, resources
from movrel.workspace.signal_tables import TablePreview, preview
from movrel.workspace.tables import Analysis

#: Where measurements lie beside the models of a project, and analyses of one model that are kept.
DATA, KEPT = "Data", 50
State: TypeAlias = Literal["waiting", "running", "stopping", "done", "failed"]


@dataclass(frozen=True, slots=True)
class FitExperiment:
    """A file of measurements and what its columns are: outputs to compare with, inputs to drive with, those of them that are
    held between samples; only what lies between ``low`` and ``high``, in s, counts."""

    file: str
    outputs: dict[str, str]
    inputs: dict[str, str] = field(default_factory=dict)
    held: list[str] = field(default_factory=list)
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True)
class FitParameter:
    """A parameter to find; see :class:`movrel.analyse.fit.Free`."""

    name: str
    low: float
    start: float
    high: float
    scale: Scale = "linear"
    each: bool = False


@dataclass(frozen=True, slots=True)
class FitAsked:
    """What a fit is to find, by which experiments."""

    experiments: list[FitExperiment]
    free: list[FitParameter]
    robust: bool = False
    starts: int = 1


@dataclass(frozen=True, slots=True)
class LinearAsked:
    """Between which quantities, and where: ``at`` an instant in s, without it a steady state."""

    inputs: list[str]
    outputs: list[str]
    at: float | None = None


@dataclass(frozen=True, slots=True)
class StepAsked:
    """A step test: a file of measurements, its columns of input and response, and between which instants in s it counts."""

    file: str
    input: str
    response: str
    low: float | None = None
    high: float | None = None


#: What can be ordered, with its kind.
Asked: TypeAlias = FitAsked | LinearAsked | StepAsked
KINDS: dict[type[Asked], str] = {FitAsked: "fit", LinearAsked: "linear", StepAsked: "step"}


@dataclass(frozen=True, slots=True)
class AnalysisView:
    """An analysis as it is shown; ``result`` depends on its kind."""

    id: int
    project: int
    model: str
    kind: str
    scenario: str
    state: str
    reason: str
    asked: dict[str, Any]
    progress: dict[str, Any]
    result: dict[str, Any]
    created: str


@dataclass(frozen=True, slots=True)
class DataFile:
    """A file of measurements in a project."""

    id: int
    path: str
    name: str
    size: int


# --- measurements ---


def data_files(project: int) -> list[DataFile]:
    """The measurements of a project, by name."""
    return [
        DataFile(r.id, r.path, Path(r.path).name, r.size)
        for r in resources.resources(project)
        if r.path.startswith(f"{DATA}/")
    ]


def keep_data(project: int, name: str, data: bytes) -> tuple[DataFile, TablePreview]:
    """Take in a file of measurements as it is. Raises :class:`MovrelError` for what is no table."""
    seen = preview(name, data)
    stem = Path(name.replace("\\", "/")).name
    kept = resources.keep(project, f"{DATA}/{stem}", data)
    return DataFile(kept.id, kept.path, stem, kept.size), seen


def preview_data(number: int) -> TablePreview:
    """What is in a file of measurements."""
    kept = resources.resource(number)
    return preview(Path(kept.path).name, resources.content_of(kept))


def table_of(project: int, path: str) -> MeasuredTable:
    """The table of a file. Raises :class:`NotFound`."""
    kept = resources.by_path(project, path)
    if kept is None:
        raise NotFound(
            f"there is no file '{path}' in the project.", hint="It may have been deleted."
        )
    return read_table_file(Path(path).name, resources.content_of(kept))


# --- orders ---


def order(project: int, model: str, scenario: str, asked: Asked) -> Analysis:
    """Put an analysis on record. Raises :class:`MovrelError` for what cannot be asked."""
    texts, _ = projects.current(project, model)
    scenario_of(texts, model, scenario)
    if isinstance(asked, FitAsked):
        if not asked.experiments or not any(e.outputs for e in asked.experiments):
            raise MovrelError("nothing is compared.", hint="Say which column is which variable.")
        if not asked.free:
            raise MovrelError("no parameter is free.", hint="Choose what is to be found.")
        _known(project, [e.file for e in asked.experiments])
    elif isinstance(asked, StepAsked):
        _known(project, [asked.file])
        if asked.input == asked.response:
            raise MovrelError(
                "input and response are the same column.", hint="Choose another response."
            )
    elif not asked.outputs:
        raise MovrelError("no output is chosen.", hint="Choose what the linear model is to give.")
    made = Analysis.create(
        project=project, model=model, kind=KINDS[type(asked)], scenario=scenario or BASE,
        revisions=texts.revisions, asked=asdict(asked), state="waiting",
    )  # fmt: skip
    same = (Analysis.project == project) & (Analysis.model == model)
    old = Analysis.select(Analysis.id).where(same).order_by(Analysis.id.desc()).offset(KEPT)
    Analysis.delete().where(Analysis.id.in_([row.id for row in old])).execute()
    return made


def _known(project: int, files: list[str]) -> None:
    known = {d.path for d in data_files(project)}
    for file in files:
        if file not in known:
            raise NotFound(f"there is no file '{file}' in the project.")


def analysis(number: int) -> Analysis:
    """An analysis by its number. Raises :class:`NotFound`."""
    a: Analysis | None = Analysis.get_or_none(Analysis.id == number)
    if a is None:
        raise NotFound(f"there is no analysis {number}.", hint="It may have been deleted.")
    return a


def view(a: Analysis, whole: bool = True) -> AnalysisView:
    """An analysis as it is shown, without its result where only a list is wanted."""
    return AnalysisView(
        a.id, a.project_id, a.model, a.kind, a.scenario, a.state, a.reason, a.asked, a.progress,
        a.result if whole else {}, a.created.isoformat() + "Z",
    )  # fmt: skip


def analyses(project: int, model: str) -> list[AnalysisView]:
    """The analyses of a model, the newest first."""
    projects.project(project)
    same = (Analysis.project == project) & (Analysis.model == model)
    return [
        view(a, False)
        for a in Analysis.select().where(same).order_by(Analysis.id.desc()).limit(KEPT)
    ]


def stop(number: int) -> Analysis:
    """Ask a fit to end with the best values so far; one that waits ends at once."""
    a = analysis(number)
    if a.state == "waiting":
        Analysis.update(state="failed", reason="Stopped before it began.").where(
            Analysis.id == number
        ).execute()
    elif a.state == "running":
        Analysis.update(state="stopping").where(Analysis.id == number).execute()
    return analysis(number)


def delete(number: int) -> None:
    """Forget an analysis. Raises :class:`NotFound`."""
    analysis(number).delete_instance()

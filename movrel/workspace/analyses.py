"""Fits to measurements, step tests and linear models: orders, how they stand, what was found."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, replace
from typing import Any, Literal, TypeAlias

from movrel.analyse.free_parameter import Scale
from movrel.edits.scenario_model import scenario_of
from movrel.errors import MovrelError, NotFound
from movrel.project.vendor_annotation import BASE
from movrel.workspace import projects
from movrel.workspace.measurements import steps_of
from movrel.workspace.tables import Analysis

#: Analyses of one model that are kept.
KEPT = 50
State: TypeAlias = Literal["waiting", "running", "stopping", "done", "failed"]


@dataclass(frozen=True, slots=True)
class FitExperiment:
    """A file of measurements and what its columns are: outputs to compare with, inputs to drive with, those of them that are
    held between samples; only what lies between ``low`` and ``high``, in s, counts. ``steps`` prepare the file first."""

    file: str
    outputs: dict[str, str]
    inputs: dict[str, str] = field(default_factory=dict)
    held: list[str] = field(default_factory=list)
    low: float | None = None
    high: float | None = None
    steps: list[dict[str, Any]] = field(default_factory=list)


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
    """What a fit is to find, by which experiments; the last share ``held_back`` of their time is only compared with.

    ``deviations`` are the standard deviations of what was measured, by variable, as far as they are known, in the units in
    which errors are shown; a search ends after ``most_runs``, after ``seconds``, or when the sum of squares changes by less
    than the share ``change``.
    """

    experiments: list[FitExperiment]
    free: list[FitParameter]
    robust: bool = False
    starts: int = 1
    held_back: float = 0.0
    deviations: dict[str, float] = field(default_factory=dict)
    most_runs: int = 5000
    seconds: float | None = None
    change: float = 1e-8


@dataclass(frozen=True, slots=True)
class LinearAsked:
    """Between which quantities, and where: ``at`` an instant in s, without it a steady state; with ``held`` values as they were
    typed, ``free`` inputs that are found for them and ``moving`` states, a state at rest that is looked for from there.
    ``opened`` is a wire at which a loop is opened, in place of inputs and outputs; ``amplitudes`` are steps of inputs that the
    model itself makes, too."""

    inputs: list[str]
    outputs: list[str]
    at: float | None = None
    held: dict[str, str] = field(default_factory=dict)
    free: list[str] = field(default_factory=list)
    moving: list[str] = field(default_factory=list)
    opened: str = ""
    amplitudes: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class StepAsked:
    """A step test: a file of measurements, its columns of input and response, and between which instants in s it counts;
    ``steps`` prepare the file first."""

    file: str
    input: str
    response: str
    low: float | None = None
    high: float | None = None
    steps: list[dict[str, Any]] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Candidate:
    """A model of the project with a scenario of it; ``variables`` are its names for what is called otherwise in the
    experiment."""

    model: str
    scenario: str = BASE
    variables: dict[str, str] = field(default_factory=dict)

    def own(self, e: FitExperiment) -> FitExperiment:
        """The experiment with the names of this model."""

        def named(columns: dict[str, str]) -> dict[str, str]:
            return {column: self.variables.get(v, v) for column, v in columns.items()}

        held = [self.variables.get(v, v) for v in e.held]
        return replace(e, outputs=named(e.outputs), inputs=named(e.inputs), held=held)


@dataclass(frozen=True, slots=True)
class ComparisonAsked:
    """Candidates beside the same measurements; with ``from_samples`` outputs that are states begin at their first samples."""

    experiment: FitExperiment
    candidates: list[Candidate]
    from_samples: bool = False


@dataclass(frozen=True, slots=True)
class ProfileAsked:
    """The profile of one parameter of a fit that is done; ``experiment`` where it has a value of its own there."""

    fit: int
    name: str
    experiment: str = ""


@dataclass(frozen=True, slots=True)
class BootstrapAsked:
    """Intervals of all parameters of a fit that is done, by so many fits to resampled residuals."""

    fit: int
    count: int = 100


#: What can be asked of a fit, with its kind.
INTERVALS: dict[type[ProfileAsked] | type[BootstrapAsked], str] = {
    ProfileAsked: "profile", BootstrapAsked: "bootstrap",
}  # fmt: skip
#: What can be ordered of a model, with its kind.
Asked: TypeAlias = FitAsked | LinearAsked | StepAsked | ComparisonAsked
KINDS: dict[type[Asked], str] = {
    FitAsked: "fit", LinearAsked: "linear", StepAsked: "step", ComparisonAsked: "comparison",
}  # fmt: skip


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


# --- orders ---


def order(project: int, model: str, scenario: str, asked: Asked) -> Analysis:
    """Put an analysis on record, with the steps that prepare its files as they are now.

    Raises :class:`MovrelError` for what cannot be asked.
    """
    texts, _ = projects.current(project, model)
    scenario_of(texts, model, scenario)
    if isinstance(asked, FitAsked):
        if not asked.experiments or not any(e.outputs for e in asked.experiments):
            raise MovrelError("nothing is compared.", hint="Say which column is which variable.")
        if not asked.free:
            raise MovrelError("no parameter is free.", hint="Choose what is to be found.")
        with_steps = [replace(e, steps=steps_of(project, e.file)) for e in asked.experiments]
        asked = replace(asked, experiments=with_steps)
    elif isinstance(asked, ComparisonAsked):
        if not asked.experiment.outputs:
            raise MovrelError("nothing is compared.", hint="Say which column is which variable.")
        if not asked.candidates:
            raise MovrelError("no model is chosen.", hint="Choose at least one.")
        e = asked.experiment
        asked = replace(asked, experiment=replace(e, steps=steps_of(project, e.file)))
    elif isinstance(asked, StepAsked):
        asked = replace(asked, steps=steps_of(project, asked.file))
        if asked.input == asked.response:
            raise MovrelError(
                "input and response are the same column.", hint="Choose another response."
            )
    elif not asked.outputs and not asked.opened:
        raise MovrelError(
            "no output is chosen.",
            hint="Choose what the linear model is to give, or a wire at which a loop is opened.",
        )
    made = Analysis.create(
        project=project, model=model, kind=KINDS[type(asked)], scenario=scenario or BASE,
        revisions=texts.revisions, asked=asdict(asked), state="waiting",
    )  # fmt: skip
    same = (Analysis.project == project) & (Analysis.model == model)
    old = Analysis.select(Analysis.id).where(same).order_by(Analysis.id.desc()).offset(KEPT)
    Analysis.delete().where(Analysis.id.in_([row.id for row in old])).execute()
    return made


def order_intervals(asked: ProfileAsked | BootstrapAsked) -> Analysis:
    """Ask more of a fit, with the texts that it had. Raises :class:`MovrelError` where it is no fit that is done."""
    of = analysis(asked.fit)
    if of.kind != "fit" or of.state != "done":
        raise MovrelError("this is no fit that is done.", hint="Fit first.")
    return Analysis.create(
        project=of.project_id, model=of.model, kind=INTERVALS[type(asked)], scenario=of.scenario,
        revisions=of.revisions, asked=asdict(asked), state="waiting",
    )  # fmt: skip


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

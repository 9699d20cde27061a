"""Units that were made of models: orders, states, archives."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from peewee import fn

from movrel.edits.scenario_model import scenario_of, with_changes
from movrel.errors import MovrelError, NotFound
from movrel.exchange.fmi.export_options import ExportOptions, LogKind, UnitSolver
from movrel.fmi.compilers import available_platforms
from movrel.fmi.description import Interface, UnitDescription
from movrel.project.vendor_annotation import BASE
from movrel.session import LoadedModel
from movrel.workspace import projects
from movrel.workspace.tables import UnitExport

#: Units of a model that are kept; the oldest goes when another one is made.
KEPT = 20
#: All of an order but its archive, which is large.
_SHOWN = [f for f in UnitExport._meta.sorted_fields if f is not UnitExport.content]


@dataclass(frozen=True, slots=True)
class UnitChoices:
    """What was chosen on the page: see :class:`ExportOptions`; ``parameters`` None leaves all visible, the values of the
    ``scenario`` become those of the unit."""

    version: int = 3
    interfaces: list[Interface] = field(default_factory=lambda: ["me", "cs"])
    parameters: list[str] | None = None
    outputs: list[str] = field(default_factory=list)
    sealed: bool = False
    solver: UnitSolver = "variable"
    step: float = 0.0
    documentation: bool = True
    symbol: bool = True
    log: list[LogKind] = field(default_factory=lambda: ["events", "steps", "warnings"])
    platforms: list[str] | None = None
    scenario: str = BASE
    #: The version of SSP where the whole rig is written as an archive; empty for a unit.
    ssp: str = ""


@dataclass(frozen=True, slots=True)
class UnitSummary:
    """How many of what a unit has."""

    inputs: int = 0
    outputs: int = 0
    parameters: int = 0
    states: int = 0
    variables: int = 0


@dataclass(frozen=True, slots=True)
class UnitView:
    """A unit that was ordered, as it is shown; ``size`` in bytes once it is made."""

    id: int
    project: int
    model: str
    state: str
    reason: str
    notes: list[str]
    choices: UnitChoices
    summary: UnitSummary
    size: int
    name: str
    created: str


@dataclass(frozen=True, slots=True)
class Units:
    """The units of a model, the newest first, and the platforms for which one can be compiled here."""

    units: list[UnitView]
    platforms: list[str]


def order(project: int, model: str, choices: UnitChoices) -> UnitExport:
    """Put a unit on record. Raises :class:`MovrelError` for choices that do not go together."""
    projects.project(project)
    texts = projects.snapshot(project)
    scenario_of(
        texts, model, choices.scenario
    )  # that there is such a model and scenario is said here
    _options(choices).check()
    if choices.sealed and not available_platforms():
        raise MovrelError(
            "a sealed unit has no sources, and there is no compiler here for a binary.",
            hint="Make an open unit, or install a C compiler or the package ziglang.",
        )
    made = UnitExport.create(
        project=project,
        model=model,
        revisions=texts.revisions,
        choices=_as_data(choices),
        state="waiting",
    )
    old = (
        UnitExport.select(UnitExport.id)
        .where((UnitExport.project == project) & (UnitExport.model == model))
        .order_by(UnitExport.id.desc())
        .offset(KEPT)
    )
    UnitExport.delete().where(UnitExport.id.in_([row.id for row in old])).execute()
    return made


def _as_data(choices: UnitChoices) -> dict[str, object]:
    return {name: getattr(choices, name) for name in UnitChoices.__dataclass_fields__}


def _options(c: UnitChoices) -> ExportOptions:
    return ExportOptions(
        version=c.version,
        interfaces=tuple(c.interfaces),
        parameters=None if c.parameters is None else frozenset(c.parameters),
        outputs=frozenset(c.outputs),
        sealed=c.sealed,
        solver=c.solver,
        step=c.step,
        documentation=c.documentation,
        symbol=c.symbol,
        log=tuple(c.log),
        platforms=tuple(c.platforms) if c.platforms else None,
    )


def prepared(export: UnitExport) -> tuple[LoadedModel, ExportOptions, list[str]]:
    """The model of an order with its scenario put onto it, the choices as the export takes them, and which changes of
    the scenario do not fit the model any more."""
    choices = UnitChoices(**export.choices)
    texts = projects.snapshot(export.project_id, export.revisions)
    scenario = scenario_of(texts, export.model, choices.scenario)
    changed = with_changes(texts, export.model, scenario.changes, {})
    options = replace(_options(choices), settings=changed.values)
    return changed.loaded, options, changed.left_out


def summary_of(d: UnitDescription) -> dict[str, int]:
    """The counts of :class:`UnitSummary`."""
    by_reference = d.by_reference()
    return {
        "inputs": sum(v.causality == "input" for v in d.variables),
        "outputs": sum(v.causality == "output" for v in d.variables),
        "parameters": sum(v.causality == "parameter" for v in d.variables),
        "states": sum(by_reference[u.reference].count for u in d.derivatives),
        "variables": len(d.variables),
    }


def units(project: int, model: str) -> Units:
    """The units of a model. Raises :class:`NotFound` for a project that there is not."""
    projects.project(project)
    rows = (
        UnitExport.select(*_SHOWN, fn.OCTET_LENGTH(UnitExport.content).alias("size"))
        .where((UnitExport.project == project) & (UnitExport.model == model))
        .order_by(UnitExport.id.desc())
        .limit(KEPT)
    )
    return Units([unit_view(row) for row in rows], available_platforms())


def unit_export(number: int) -> UnitExport:
    """An order by its number. Raises :class:`NotFound`."""
    shown = UnitExport.select(*_SHOWN, fn.OCTET_LENGTH(UnitExport.content).alias("size"))
    found: UnitExport | None = shown.where(UnitExport.id == number).first()
    if found is None:
        raise NotFound(f"there is no unit {number}.", hint="It may have been deleted.")
    return found


def unit_view(export: UnitExport) -> UnitView:
    """An order as it is shown."""
    short = export.model.rpartition(".")[2]
    return UnitView(
        id=export.id,
        project=export.project_id,
        model=export.model,
        state=export.state,
        reason=export.reason,
        notes=export.notes,
        choices=UnitChoices(**export.choices),
        summary=UnitSummary(**export.summary),
        size=getattr(export, "size", None) or 0,
        name=f"{short}.ssp"
        if export.choices.get("ssp")
        else f"{short}{export.choices['version']}.fmu",
        created=export.created.isoformat() + "Z",
    )


def archive(number: int) -> tuple[str, bytes]:
    """Name and content of a unit. Raises :class:`NotFound` while there is none."""
    export = unit_export(number)
    content = UnitExport.select(UnitExport.content).where(UnitExport.id == number).scalar()
    if content is None:
        raise NotFound(f"the unit {number} is not made yet.", hint="Wait until it is.")
    return unit_view(export).name, bytes(content)


def delete(number: int) -> None:
    """Forget a unit. Raises :class:`NotFound`."""
    unit_export(number).delete_instance()

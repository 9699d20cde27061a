"""Files of measurements beside the models of a project, and the steps that prepare them."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from movrel.errors import MovrelError, NotFound
from movrel.exchange.table_files import MeasuredTable, read_table_file
from movrel.exchange.table_steps import Join, Others, Step, prepared
from movrel.workspace import resources
from movrel.workspace.signal_tables import TablePreview, preview_of
from movrel.workspace.tables import ProjectResource, database

#: Where measurements lie beside the models of a project, and most steps of one file.
DATA, STEPS = "Data", 100
_steps: TypeAdapter[list[Step]] = TypeAdapter(list[Annotated[Step, Field(discriminator="do")]])


@dataclass(frozen=True, slots=True)
class DataFile:
    """A file of measurements in a project."""

    id: int
    path: str
    name: str
    size: int


@dataclass(frozen=True, slots=True)
class PreparedStep:
    """A step in words, and what it did."""

    words: str
    note: str


@dataclass(frozen=True, slots=True)
class Measurements:
    """What is in a file as it was taken in, and after its steps; ``undone`` of them can be done again. A step that no longer
    fits has a ``fault``, and nothing after it was done."""

    original: TablePreview
    prepared: TablePreview
    steps: list[PreparedStep]
    undone: int
    fault: str = ""


def data_files(project: int) -> list[DataFile]:
    """The measurements of a project, by name."""
    return [_file(r) for r in resources.resources(project) if r.path.startswith(f"{DATA}/")]


def _file(kept: ProjectResource) -> DataFile:
    return DataFile(kept.id, kept.path, Path(kept.path).name, kept.size)


def keep_data(project: int, name: str, data: bytes) -> tuple[DataFile, Measurements]:
    """Take in a file of measurements as it is. Raises :class:`MovrelError` for what is no table."""
    read_table_file(name, data)
    stem = Path(name.replace("\\", "/")).name
    kept = resources.keep(project, f"{DATA}/{stem}", data)
    return _file(kept), measurements(kept.id)


def measurements(number: int) -> Measurements:
    """What is in a file of measurements."""
    kept = resources.resource(number)
    return _measurements(kept, _read(kept.steps))


def add_step(number: int, step: Step) -> Measurements:
    """Prepare a file by one step more, after those that are there. Raises :class:`MovrelError` for one that does not fit."""
    kept = resources.resource(number)
    steps = [*_read(kept.steps), step]
    if len(steps) > STEPS:
        raise MovrelError(f"a file has at most {STEPS} steps.", hint="Undo some of them.")
    if isinstance(step, Join) and step.file == kept.path:
        raise MovrelError("a file cannot be joined with itself.", hint="Choose another one.")
    seen = _measurements(kept, steps)
    if seen.fault:
        raise MovrelError(seen.fault)
    _keep(kept, [*kept.steps, asdict(step)], [])
    return replace(seen, undone=0)


def undo_step(number: int) -> Measurements:
    """Take the last step back. Raises :class:`MovrelError` where there is none."""
    return _moved(number, "steps", "undone", "there is no step to undo.")


def redo_step(number: int) -> Measurements:
    """Do the step again that was undone last. Raises :class:`MovrelError` where there is none."""
    return _moved(number, "undone", "steps", "there is no step to do again.")


def _moved(number: int, source: str, target: str, none: str) -> Measurements:
    with database.atomic():
        kept = resources.resource(number)
        parts: dict[str, list[Any]] = {"steps": list(kept.steps), "undone": list(kept.undone)}
        if not parts[source]:
            raise MovrelError(none)
        parts[target].append(parts[source].pop())
        _keep(kept, parts["steps"], parts["undone"])
    return measurements(number)


def _keep(kept: ProjectResource, steps: list[Any], undone: list[Any]) -> None:
    ProjectResource.update(steps=steps, undone=undone).where(
        ProjectResource.id == kept.id
    ).execute()
    kept.steps, kept.undone = steps, undone


def _read(stored: list[Any]) -> list[Step]:
    return _steps.validate_python(stored)


def _measurements(kept: ProjectResource, steps: list[Step]) -> Measurements:
    table = _table(kept)
    others = _others(kept.project_id)
    now, notes, fault = table, list[str](), ""
    for number, step in enumerate(steps, 1):
        try:
            now, said = prepared(now, [step], others)
        except MovrelError as failed:
            fault = failed.sentence().replace("step 1,", f"step {number},", 1)
            break
        notes += said
    notes += [""] * (len(steps) - len(notes))
    shown = [PreparedStep(s.words(), n) for s, n in zip(steps, notes, strict=True)]
    return Measurements(preview_of(table), preview_of(now), shown, len(kept.undone), fault)


def _table(kept: ProjectResource) -> MeasuredTable:
    return read_table_file(Path(kept.path).name, resources.content_of(kept))


def _others(project: int) -> Others:
    return lambda path: _table(_kept(project, path))


def _kept(project: int, path: str) -> ProjectResource:
    kept = resources.by_path(project, path)
    if kept is None or not path.startswith(f"{DATA}/"):
        raise NotFound(
            f"there is no file '{path}' in the project.", hint="It may have been deleted."
        )
    return kept


def steps_of(project: int, path: str) -> list[dict[str, Any]]:
    """The steps that prepare a file now, as an order keeps them. Raises :class:`NotFound`."""
    return list(_kept(project, path).steps)


def table_of(project: int, path: str, steps: list[dict[str, Any]]) -> MeasuredTable:
    """The table of a file after steps. Raises :class:`NotFound`, and :class:`MovrelError` for a step that does not fit."""
    return prepared(_table(_kept(project, path)), _read(steps), _others(project))[0]

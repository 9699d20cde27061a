"""Sweeps: ordered by a person, computed in the background, looked at while they grow."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, fields
from typing import Any

import numpy as np
import numpy.typing as npt
import zstandard
from peewee import fn

from movrel.analyse.claim_text import read_expression
from movrel.analyse.claims import check
from movrel.analyse.curves import StandIn
from movrel.analyse.design import Vary, count_points, points
from movrel.couple.rig import settings_of
from movrel.edits.scenario_model import scenario_of, with_changes
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, NotFound
from movrel.project.snapshot import definition_of
from movrel.project.vendor_annotation import claims_of
from movrel.simulate.options import run_options
from movrel.workspace import projects
from movrel.workspace.tables import Sweep, SweepPoint, database, dumps, now

Array = npt.NDArray[np.float64]

#: Instants of a kept curve, and curves that are kept.
GRID, KEPT_CURVES = 200, 6
#: Shares of a band, in per cent.
PERCENTILES = (5, 25, 50, 75, 95)
#: Counts of the points of a sweep that has none yet.
NO_POINTS = {"waiting": 0, "running": 0, "done": 0, "failed": 0}


@dataclass(frozen=True, slots=True)
class ClaimCount:
    """At how many points a claim holds and fails, and at how many it could not be judged."""

    text: str
    hold: int = 0
    fail: int = 0
    open: int = 0


@dataclass(frozen=True, slots=True)
class SweepView:
    """A sweep with the counts of its points."""

    id: int
    project: int
    model: str
    name: str
    scenario: str
    #: The fit that left uncertain what varies, if it is a sweep of one.
    fit: int | None
    state: str
    sample: str
    varied: list[Vary]
    measures: list[str]
    claims: list[ClaimCount]
    curves: list[str]
    units: dict[str, str]
    count: int
    waiting: int
    running: int
    done: int
    failed: int
    created: str
    ended: str | None


@dataclass(frozen=True, slots=True)
class PointView:
    """A point of a sweep with what it gave."""

    number: int
    values: dict[str, float]
    state: str
    measures: list[float | None]
    claims: list[bool | None]
    reason: str


@dataclass(frozen=True, slots=True)
class SweepDetail(SweepView):
    """A sweep with all its points."""

    points: list[PointView] = field(kw_only=True)


@dataclass(frozen=True, slots=True)
class BandCurve:
    point: int
    values: list[float | None]


@dataclass(frozen=True, slots=True)
class Bands:
    """A family of curves: percentiles at each instant, and some of the curves."""

    name: str
    unit: str
    time: list[float]
    percentiles: dict[str, list[float | None]]
    curves: list[BandCurve]


def sweep_view(sweep: Sweep) -> SweepView:
    """A sweep as it is shown."""
    return SweepView(
        id=sweep.id,
        project=sweep.project_id,
        model=sweep.model,
        name=sweep.name,
        scenario=sweep.scenario,
        fit=sweep.fit,
        state=sweep.state,
        sample=sweep.sample,
        varied=[_vary(v) for v in sweep.varied],
        measures=sweep.measures,
        claims=[ClaimCount(**c) for c in sweep.claims],
        curves=sweep.curves,
        units=sweep.units,
        count=sweep.count,
        created=sweep.created.isoformat() + "Z",
        ended=sweep.ended.isoformat() + "Z" if sweep.ended else None,
        **(counts(sweep.id) if sweep.made else NO_POINTS | {"waiting": sweep.count}),
    )


def sweep_detail(number: int) -> SweepDetail:
    """A sweep with all its points. Raises :class:`NotFound`."""
    chosen = sweep(number)
    chosen.claims = claim_counts(chosen)
    view = sweep_view(chosen)
    points = [
        PointView(p.number, p.values, p.state, p.measures, p.claims, p.reason)
        for p in table(number)
    ]
    return SweepDetail(**{f.name: getattr(view, f.name) for f in fields(SweepView)}, points=points)


def order(
    project: int, model: str, scenario: str, varied: list[Vary], sample: str, count: int, seed: int, measures: list[str],
    curves: list[str],
) -> Sweep:  # fmt: skip
    """Put a sweep on record, its points to be made by a worker; faults of the model, ranges or measures are raised here."""
    texts = projects.snapshot(project)
    asked = scenario_of(texts, model, scenario)
    prepared = with_changes(texts, model, asked.changes, asked.settings)
    loaded = prepared.loaded
    options = run_options(loaded.flat.experiment, **prepared.options)
    if settings_of(loaded) is None:
        _ = loaded.ordered
    parameters = {v.name: v for v in loaded.flat.parameters() if v.variability == "parameter"}
    for v in varied:
        known = parameters.get(v.name)
        if known is None or known.type not in ("Real", "Integer"):
            raise MovrelError(f"the model has no parameter '{v.name}' that is a number.")
        if known.final:
            raise MovrelError(f"'{v.name}' is computed from other values and cannot be varied.")
    off = set(asked.off)
    claims = [c.text for c in claims_of(definition_of(texts, model)) if c.text not in off]
    if not measures and not curves and not claims:
        raise MovrelError("nothing is measured.", hint="Give a measure such as max(basin.level).")
    stand_in = StandIn(loaded.flat, parameter_values(loaded.flat, prepared.values))
    for text in measures:
        check(read_expression(text), stand_in)
    variables = loaded.by_name
    kept = [
        name
        for name in curves
        if name in variables and variables[name].variability in ("continuous", "discrete")
    ][:KEPT_CURVES]
    count = count_points(varied, sample, count)
    units = {name: variables[name].unit for name in [*(v.name for v in varied), *kept]}
    return Sweep.create(
        project=project, model=model, name=_name(varied, sample, count), scenario=asked.name, revisions=texts.revisions,
        changes=asked.changes, options=prepared.options, varied=[asdict(v) for v in varied], sample=sample, measures=measures,
        claims=[asdict(ClaimCount(text)) for text in claims],
        curves=kept, units=units, count=count, seed=seed, start=options.start, stop=options.stop, state="running",
    )  # fmt: skip


def make_points(number: int) -> bool:
    """Put the points of a sweep on record, if nobody has; says whether they were made now."""
    with database.atomic():
        chosen = Sweep.select().where(Sweep.id == number).for_update().get()
        if chosen.made:
            return False
        varied = [_vary(v) for v in chosen.varied]
        rows = points(varied, chosen.sample, chosen.count, chosen.seed)
        table = 'COPY sweep_point (sweep_id, number, "values", state) FROM STDIN'
        with database.cursor() as cursor, cursor.copy(table) as copy:
            for k, values in enumerate(rows):
                copy.write_row((number, k, dumps(values), "waiting"))
        Sweep.update(made=True).where(Sweep.id == number).execute()
    return True


def _vary(kept: dict[str, Any]) -> Vary:
    return Vary(**(kept | {"values": tuple(kept["values"])}))


def _name(varied: list[Vary], sample: str, count: int) -> str:
    names = ", ".join(v.name for v in varied[:3]) + (
        f" and {len(varied) - 3} more" if len(varied) > 3 else ""
    )
    return f"{names}: {count} points" + ("" if sample == "grid" else f", {sample}")


def sweep(number: int) -> Sweep:
    kept = Sweep.get_or_none((Sweep.id == number) & Sweep.deleted.is_null())
    if kept is None:
        raise NotFound(f"there is no sweep {number}.", hint="It may have been deleted.")
    return kept


def sweeps(project: int, model: str) -> list[Sweep]:
    """The newest first."""
    chosen = Sweep.select().where(
        (Sweep.project == project) & (Sweep.model == model) & Sweep.deleted.is_null()
    )
    return list(chosen.order_by(Sweep.id.desc()).limit(100))


def counts(number: int) -> dict[str, int]:
    """How many points are waiting, running, done and failed."""
    rows = (
        SweepPoint.select(SweepPoint.state, fn.COUNT(SweepPoint.number))
        .where(SweepPoint.sweep == number)
        .group_by(SweepPoint.state)
    )
    return NO_POINTS | dict(rows.tuples())


def claim_counts(chosen: Sweep) -> list[dict[str, Any]]:
    """The claims of a sweep with their counts of the points that are done, as they are kept with it."""
    rows = database.execute_sql(
        """
        SELECT verdict.place, count(*) FILTER (WHERE verdict.holds = 'true'), count(*) FILTER (WHERE verdict.holds = 'false'),
            count(*) FILTER (WHERE verdict.holds = 'null')
        FROM sweep_point point, jsonb_array_elements(point.claims) WITH ORDINALITY AS verdict(holds, place)
        WHERE point.sweep_id = %s AND point.state = 'done' GROUP BY verdict.place
        """,
        (chosen.id,),
    ).fetchall()
    by_place = {place: counted for place, *counted in rows}
    return [
        asdict(ClaimCount(claim["text"], *by_place.get(k, ())))
        for k, claim in enumerate(chosen.claims, 1)
    ]


def steer(number: int, what: str) -> Sweep:
    """Pause, resume or stop a sweep, or have its failed points computed again; what was computed stays."""
    chosen = sweep(number)
    if what == "retry":
        again = SweepPoint.update(state="waiting", reason="", attempts=0).where(
            (SweepPoint.sweep == number) & (SweepPoint.state == "failed")
        )
        if not again.execute():
            raise MovrelError("no point failed.")
        state = "running"
    else:
        allowed = {
            "pause": ("running", "paused"),
            "resume": ("paused", "running"),
            "stop": ("running paused", "stopped"),
        }
        if what not in allowed:
            raise MovrelError(f"a sweep cannot '{what}'.")
        before, state = allowed[what]
        if chosen.state not in before.split():
            raise MovrelError(f"this sweep is {chosen.state}.")
    Sweep.update(state=state, ended=now() if state == "stopped" else None).where(
        Sweep.id == number
    ).execute()
    return sweep(number)


def delete(number: int) -> None:
    """Take a sweep out of all lists; one that runs is stopped."""
    chosen = sweep(number)
    state = "stopped" if chosen.state in ("running", "paused") else chosen.state
    Sweep.update(deleted=now(), state=state).where(Sweep.id == number).execute()


def table(number: int) -> list[SweepPoint]:
    """All points with what they gave."""
    columns = (
        SweepPoint.number,
        SweepPoint.values,
        SweepPoint.state,
        SweepPoint.measures,
        SweepPoint.claims,
        SweepPoint.reason,
    )
    return list(
        SweepPoint.select(*columns).where(SweepPoint.sweep == number).order_by(SweepPoint.number)
    )


# --- curves ---


def pack(curves: list[Array]) -> bytes:
    """Curves on the even grid, shape ``(GRID,)`` each, as they are stored."""
    return (
        zstandard.ZstdCompressor(level=1).compress(np.concatenate(curves).astype("<f4").tobytes())
        if curves
        else b""
    )


def on_grid(t: Array, y: Array, start: float, stop: float) -> Array:
    """A curve on the even grid; where the run ended early, what lies beyond is not a number."""
    grid = np.linspace(start, stop, GRID)
    return np.asarray(np.interp(grid, t, y, right=np.nan))


def bands(number: int, name: str) -> Bands:
    """The family of curves of one variable: percentiles at each instant, and some of the curves."""
    chosen = sweep(number)
    if name not in chosen.curves:
        raise MovrelError(
            f"the curves of '{name}' were not kept.",
            hint="Order the sweep with this variable on a strip.",
        )
    at = chosen.curves.index(name)
    rows = (
        SweepPoint.select(SweepPoint.number, SweepPoint.data)
        .where(
            (SweepPoint.sweep == number)
            & (SweepPoint.state == "done")
            & SweepPoint.data.is_null(False)
        )
        .order_by(SweepPoint.number)
        .tuples()
    )
    unpack = zstandard.ZstdDecompressor().decompress
    numbers, curves = [], []
    for point, data in rows:
        numbers.append(point)
        curves.append(np.frombuffer(unpack(bytes(data)), "<f4")[at * GRID : (at + 1) * GRID])
    time = np.linspace(chosen.start, chosen.stop, GRID)
    if not curves:
        return Bands(name, chosen.units.get(name, ""), time.tolist(), {}, [])
    whole = np.array(curves, dtype=float)
    with np.errstate(all="ignore"):
        percentiles = {str(p): _clean(np.nanpercentile(whole, p, axis=0)) for p in PERCENTILES}
    some = np.linspace(0, len(whole) - 1, min(40, len(whole))).astype(int)
    lines = [BandCurve(numbers[k], _clean(whole[k])) for k in np.unique(some)]
    return Bands(name, chosen.units.get(name, ""), time.tolist(), percentiles, lines)


def _clean(values: Array) -> list[float | None]:
    return [float(v) if np.isfinite(v) else None for v in values]

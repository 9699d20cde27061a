"""Sweeps: ordered by a person, computed in the background, looked at while they grow."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
import numpy.typing as npt
import zstandard
from peewee import fn

from movrel.analyse.claims import check, read_expression
from movrel.analyse.curves import StandIn
from movrel.analyse.design import Vary, points
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.simulate.options import run_options
from movrel.workspace import projects, scenarios
from movrel.workspace.faults import NotFound
from movrel.workspace.tables import Sweep, SweepPoint, database, now

Array = npt.NDArray[np.float64]

#: Instants of a kept curve, and curves that are kept.
GRID, KEPT_CURVES = 200, 6
#: Shares of a band, in per cent.
PERCENTILES = (5, 25, 50, 75, 95)


def order(
    project: int, model: str, scenario: str, varied: list[Vary], sample: str, count: int, seed: int, measures: list[str],
    curves: list[str],
) -> Sweep:  # fmt: skip
    """Put a sweep on record with all its points; faults of the model, ranges or measures are raised here."""
    taken = projects.snapshot(project)
    asked = scenarios.scenario(taken, model, scenario)
    applied = scenarios.applied(taken, model, asked.changes, asked.settings)
    loaded = applied.loaded
    options = run_options(loaded.flat.experiment, **applied.options)
    _ = loaded.ordered
    parameters = {v.name: v for v in loaded.flat.parameters() if v.variability == "parameter"}
    for v in varied:
        known = parameters.get(v.name)
        if known is None or known.type not in ("Real", "Integer"):
            raise MovrelError(f"the model has no parameter '{v.name}' that is a number.")
        if known.final:
            raise MovrelError(f"'{v.name}' is computed from other values and cannot be varied.")
    if not measures and not curves:
        raise MovrelError("nothing is measured.", hint="Give a measure such as max(basin.level).")
    stand_in = StandIn(loaded.flat, parameter_values(loaded.flat, applied.values))
    for text in measures:
        check(read_expression(text), stand_in)
    variables = loaded.by_name
    kept = [name for name in curves if name in variables and variables[name].variability in ("continuous", "discrete")][
        :KEPT_CURVES
    ]
    chosen = points(varied, sample, count, seed)
    units = {name: variables[name].unit for name in [*(v.name for v in varied), *kept]}
    with database.atomic():
        made = Sweep.create(
            project=project, model=model, name=_name(varied, sample, len(chosen)), scenario=asked.name, revisions=taken.revisions,
            changes=asked.changes, options=applied.options, varied=[asdict(v) for v in varied], sample=sample, measures=measures,
            curves=kept, units=units, count=len(chosen), start=options.start, stop=options.stop, state="running",
        )  # fmt: skip
        rows = [(made.id, number, values, "waiting") for number, values in enumerate(chosen)]
        fields = [SweepPoint.sweep, SweepPoint.number, SweepPoint.values, SweepPoint.state]
        for first in range(0, len(rows), 2000):
            SweepPoint.insert_many(rows[first : first + 2000], fields).execute()
    return made


def _name(varied: list[Vary], sample: str, count: int) -> str:
    names = ", ".join(v.name for v in varied[:3]) + (f" and {len(varied) - 3} more" if len(varied) > 3 else "")
    return f"{names}: {count} points" + ("" if sample == "grid" else f", {sample}")


def sweep(number: int) -> Sweep:
    found = Sweep.get_or_none((Sweep.id == number) & Sweep.deleted.is_null())
    if found is None:
        raise NotFound(f"there is no sweep {number}.", hint="It may have been deleted.")
    return found


def sweeps(project: int, model: str) -> list[Sweep]:
    """The newest first."""
    chosen = Sweep.select().where((Sweep.project == project) & (Sweep.model == model) & Sweep.deleted.is_null())
    return list(chosen.order_by(Sweep.id.desc()).limit(100))


def counts(number: int) -> dict[str, int]:
    """How many points are waiting, running, done and failed."""
    rows = (
        SweepPoint.select(SweepPoint.state, fn.COUNT(SweepPoint.number))
        .where(SweepPoint.sweep == number)
        .group_by(SweepPoint.state)
    )
    return {"waiting": 0, "running": 0, "done": 0, "failed": 0} | dict(rows.tuples())


def steer(number: int, what: str) -> Sweep:
    """Pause, resume or stop a sweep, or have its failed points computed again; what was computed stays."""
    found = sweep(number)
    if what == "retry":
        again = SweepPoint.update(state="waiting", reason="", attempts=0).where(
            (SweepPoint.sweep == number) & (SweepPoint.state == "failed")
        )
        if not again.execute():
            raise MovrelError("no point failed.")
        state = "running"
    else:
        allowed = {"pause": ("running", "paused"), "resume": ("paused", "running"), "stop": ("running paused", "stopped")}
        if what not in allowed:
            raise MovrelError(f"a sweep cannot '{what}'.")
        before, state = allowed[what]
        if found.state not in before.split():
            raise MovrelError(f"this sweep is {found.state}.")
    Sweep.update(state=state, ended=now() if state == "stopped" else None).where(Sweep.id == number).execute()
    return sweep(number)


def delete(number: int) -> None:
    """Take a sweep out of all lists; one that runs is stopped."""
    found = sweep(number)
    state = "stopped" if found.state in ("running", "paused") else found.state
    Sweep.update(deleted=now(), state=state).where(Sweep.id == number).execute()


def table(number: int) -> list[SweepPoint]:
    """All points with what they gave."""
    fields = (SweepPoint.number, SweepPoint.values, SweepPoint.state, SweepPoint.measures, SweepPoint.reason)
    return list(SweepPoint.select(*fields).where(SweepPoint.sweep == number).order_by(SweepPoint.number))


# --- curves ---


def pack(curves: list[Array]) -> bytes:
    """Curves on the even grid, shape ``(GRID,)`` each, as they are stored."""
    return zstandard.ZstdCompressor(level=1).compress(np.concatenate(curves).astype("<f4").tobytes()) if curves else b""


def on_grid(t: Array, y: Array, start: float, stop: float) -> Array:
    """A curve on the even grid; where the run ended early, what lies beyond is not a number."""
    grid = np.linspace(start, stop, GRID)
    return np.asarray(np.interp(grid, t, y, right=np.nan))


def bands(number: int, name: str) -> dict[str, Any]:
    """The family of curves of one variable: percentiles at each instant, and some of the curves."""
    found = sweep(number)
    if name not in found.curves:
        raise MovrelError(f"the curves of '{name}' were not kept.", hint="Order the sweep with this variable on a strip.")
    at = found.curves.index(name)
    rows = (
        SweepPoint.select(SweepPoint.number, SweepPoint.data)
        .where((SweepPoint.sweep == number) & (SweepPoint.state == "done") & SweepPoint.data.is_null(False))
        .order_by(SweepPoint.number)
        .tuples()
    )
    unpack = zstandard.ZstdDecompressor().decompress
    numbers, curves = [], []
    for point, data in rows:
        numbers.append(point)
        curves.append(np.frombuffer(unpack(bytes(data)), "<f4")[at * GRID : (at + 1) * GRID])
    time = np.linspace(found.start, found.stop, GRID)
    if not curves:
        return {"name": name, "unit": found.units.get(name, ""), "time": time.tolist(), "percentiles": {}, "curves": []}
    whole = np.array(curves, dtype=float)
    with np.errstate(all="ignore"):
        percentiles = {str(p): _clean(np.nanpercentile(whole, p, axis=0)) for p in PERCENTILES}
    some = np.linspace(0, len(whole) - 1, min(40, len(whole))).astype(int)
    lines = [{"point": numbers[k], "values": _clean(whole[k])} for k in np.unique(some)]
    return {"name": name, "unit": found.units.get(name, ""), "time": time.tolist(), "percentiles": percentiles, "curves": lines}


def _clean(values: Array) -> list[float | None]:
    return [float(v) if np.isfinite(v) else None for v in values]

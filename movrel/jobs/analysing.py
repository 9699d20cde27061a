"""Fits, step tests and linear models: what a worker does with an order."""

from __future__ import annotations

import math
import time as clock
from collections.abc import Callable
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.analyse.controller_settings import described_model
from movrel.analyse.fit import Fit, FitOptions, Progress
from movrel.analyse.fit_intervals import bootstrap, profile
from movrel.analyse.fit_result import FitResult
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.sampling import thin
from movrel.analyse.step_component import step_component
from movrel.analyse.step_models import step_models
from movrel.edits.scenario_model import ScenarioModel, scenario_of, with_changes
from movrel.errors import MovrelError, RunCancelled
from movrel.jobs import fit_starts
from movrel.jobs.comparing import compare
from movrel.jobs.linear import linear_result
from movrel.jobs.measured import data_of, rows_inside, shown_as, unit_of
from movrel.session import LoadedModel
from movrel.units import si_unit
from movrel.workspace import analyses, projects
from movrel.workspace.analyses import FitExperiment, StepAsked
from movrel.workspace.announce import announce
from movrel.workspace.measurements import table_of
from movrel.workspace.tables import Analysis

Array = npt.NDArray[np.float64]

#: Points of a curve that are kept, and seconds between two notes of progress.
POINTS, PERIOD = 500, 0.4
#: Points of a curve, and curves, that are shown while a fit goes on.
LIVE_POINTS, LIVE_CURVES = 120, 6


def analyse(
    number: int, job: int | None = None, order_helpers: Callable[[int], None] = lambda count: None
) -> None:
    """Carry out an order as ``job`` of the queue and record how it ended; never leaves it running.

    ``order_helpers`` asks so many other workers to search with it (:func:`help_fit`).
    """
    begun = (
        Analysis.update(state="running", reason="", progress={})
        .where((Analysis.id == number) & Analysis.state.in_(["waiting", "running"]))
        .execute()
    )
    if not begun:
        return
    order = Analysis.get_by_id(number)
    _announce(order, "running")
    try:
        helped = _Helped(job, order_helpers)
        result = _step(order) if order.kind == "step" else _of_model(order, helped)
    except MovrelError as fault:
        _end(order, "failed", reason=fault.sentence())
    except MemoryError:
        _end(order, "failed", reason="the machine has not enough memory for this.")
    except Exception as fault:
        _end(
            order, "failed", reason=f"an internal fault ended it ({type(fault).__name__}: {fault})."
        )
        raise
    else:
        _end(order, "done", result=result)


def help_fit(number: int, job: int | None) -> None:
    """Search from places of a fit that another worker carries out, as long as there are any."""
    order = Analysis.get_or_none(Analysis.id == number)
    if order is None or order.state != "running":
        return
    prepared = _prepared(order)
    made = _prepare_fit(order, order.asked, prepared.loaded, prepared.values, [])
    made.options.listen = _unless_stopped(order)
    with suppress(RunCancelled):
        fit_starts.search(number, job, made)


@dataclass(frozen=True, slots=True)
class _Helped:
    """The job that carries out an order, and how others are asked to help it."""

    job: int | None
    order_helpers: Callable[[int], None]


def _prepared(order: Analysis) -> ScenarioModel:
    texts = projects.snapshot(order.project_id, order.revisions)
    scenario = scenario_of(texts, order.model, order.scenario)
    return with_changes(texts, order.model, scenario.changes, scenario.settings)


def _of_model(order: Analysis, helped: _Helped) -> dict[str, Any]:
    if order.kind == "comparison":
        return compare(order, projects.snapshot(order.project_id, order.revisions))
    prepared = _prepared(order)
    if order.kind == "fit":
        return _fit(order, prepared.loaded, prepared.values, helped)
    act = {"profile": _intervals, "bootstrap": _intervals, "linear": linear_result}[order.kind]
    return act(order, prepared.loaded, prepared.values)


def _end(order: Analysis, state: str, **changes: object) -> None:
    Analysis.update(state=state, **changes).where(Analysis.id == order.id).execute()
    _announce(order, state)


def _announce(order: Analysis, state: str) -> None:
    announce(
        "analysis", analysis=order.id, project=order.project_id, model=order.model, state=state
    )


# --- fits ---


def _prepare_fit(
    order: Analysis, asked: dict[str, Any], model: LoadedModel, values: dict[str, float], notes: list[str]
) -> Fit:  # fmt: skip
    experiments = [FitExperiment(**e) for e in asked["experiments"]]
    data: list[MeasuredData] = []
    for e in experiments:
        measured = data_of(order.project_id, model, e, notes)
        # Figures are told apart by name, also those of two parts of one file.
        before = sum(d.name.startswith(measured.name) for d in data)
        name = f"{measured.name} ({before + 1})" if before else measured.name
        data.append(replace(measured, name=name))
    free = [Free(**f) for f in asked["free"]]
    measured_ones = {o for d in data for o in d.outputs}
    weights: dict[str, float] = {}
    for o, deviation in asked.get("deviations", {}).items():
        if o not in measured_ones:
            raise MovrelError(
                f"'{o}' has a deviation, but is not compared with.",
                hint="Compare it, or leave it out.",
            )
        weights[o] = shown_as(model.by_name[o]).error_factor / deviation
    options = FitOptions(
        asked["robust"], asked["starts"], weights, values, asked.get("most_runs", 5000), asked.get("seconds") or math.inf,
        asked.get("change", 1e-8), asked.get("held_back", 0.0),
    )  # fmt: skip
    made = Fit(model, data, free, options)
    options.listen = _listener(order, made)
    return made


def _fit(
    order: Analysis, model: LoadedModel, values: dict[str, float], helped: _Helped
) -> dict[str, Any]:
    notes: list[str] = []
    made = _prepare_fit(order, order.asked, model, values, notes)
    made.options.spread = fit_starts.spread(
        order.id, helped.job, helped.order_helpers, lambda: _is_wanted(order)
    )
    fitted = made.run()
    return {
        "parameters": [asdict(p) | {"unit": unit_of(model, p.name)} for p in fitted.parameters],
        "correlation": fitted.correlation, "undetermined": fitted.undetermined, "notes": [*notes, *fitted.notes],
        "runs": fitted.runs, "seconds": round(fitted.seconds, 2), "outputs": _curves(model, made.whole, fitted),
    }  # fmt: skip


def _intervals(order: Analysis, model: LoadedModel, values: dict[str, float]) -> dict[str, Any]:
    """A profile or a bootstrap of a fit: the fit is found again from its values, and searched around."""
    of = analyses.analysis(order.asked["fit"])
    fitted = {p["name"]: p["value"] for p in of.result["parameters"]}
    free = [
        f | {"start": min(max(fitted.get(f["name"], f["start"]), f["low"]), f["high"])}
        for f in of.asked["free"]
    ]
    made = _prepare_fit(order, of.asked | {"free": free, "starts": 1}, model, values, [])
    made.run()
    if order.kind == "profile":
        return asdict(profile(made, order.asked["name"], order.asked["experiment"]))
    return {"parameters": [asdict(r) for r in bootstrap(made, order.asked["count"])]}


def _listener(order: Analysis, made: Fit) -> Callable[[Progress], None]:
    last = 0.0

    def listen(progress: Progress) -> None:
        nonlocal last
        if clock.monotonic() - last < PERIOD:
            return
        last = clock.monotonic()
        reached = asdict(progress) | {"curves": _best_so_far(made)}
        Analysis.update(progress=reached).where(Analysis.id == order.id).execute()
        _announce(order, "running")
        if not _is_wanted(order):
            raise RunCancelled("the fit was stopped.")

    return listen


def _best_so_far(made: Fit) -> list[dict[str, Any]]:
    """Measured, and predicted with the best values so far, thinned."""
    curves: list[dict[str, Any]] = []
    for d, outputs in zip(made.data, made.best_outputs, strict=False):
        for o, measured in d.outputs.items():
            shown = shown_as(made.model.by_name[o])
            good = np.isfinite(measured)
            t, y = thin(d.time[good], np.asarray(measured)[good], LIVE_POINTS, None, None)
            best = np.interp(t, d.time, outputs[o])
            curves.append(
                {
                    "experiment": d.name, "variable": o, "unit": shown.unit, "time": t.tolist(),
                    "measured": shown.values(y), "best": shown.values(best),
                }
            )  # fmt: skip
    return curves[:LIVE_CURVES]


def _unless_stopped(order: Analysis) -> Callable[[Progress], None]:
    """A listener that says nothing, but ends what is no longer wanted."""
    last = 0.0

    def listen(_progress: Progress) -> None:
        nonlocal last
        if clock.monotonic() - last > PERIOD:
            last = clock.monotonic()
            if not _is_wanted(order):
                raise RunCancelled("the fit was stopped.")

    return listen


def _is_wanted(order: Analysis) -> bool:
    state = Analysis.select(Analysis.state).where(Analysis.id == order.id).scalar()
    return bool(state == "running")


def _curves(
    model: LoadedModel, data: list[MeasuredData], fitted: FitResult
) -> list[dict[str, Any]]:
    """Measured and predicted for each output, in the unit it is shown in, with the figures before and after."""
    outputs: list[dict[str, Any]] = []
    for d in data:
        for o, measured in d.outputs.items():
            shown = shown_as(model.by_name[o])
            good = np.isfinite(measured)
            t, y = thin(d.time[good], np.asarray(measured)[good], POINTS, None, None)
            first = np.interp(t, d.time, fitted.first_predictions[d.name][o])
            last = np.interp(t, d.time, fitted.predictions[d.name][o])
            before, after = fitted.before[d.name][o], fitted.after[d.name][o]
            checked = fitted.checked.get(d.name, {}).get(o)
            outputs.append(
                {
                    "experiment": d.name, "variable": o, "unit": shown.unit, "error_unit": shown.error_unit,
                    "time": t.tolist(), "measured": shown.values(y), "before": shown.values(first),
                    "after": shown.values(last), "figures_before": shown.figures(before),
                    "figures_after": shown.figures(after), "white": after.white,
                    "figures_held_back": shown.figures(checked) if checked is not None else None,
                }
            )  # fmt: skip
    return outputs


# --- step tests ---


def _step(order: Analysis) -> dict[str, Any]:
    """Input and response in SI units, as the signals of models are, and what each model makes of them."""
    asked = StepAsked(**order.asked)
    table = table_of(order.project_id, asked.file, asked.steps)
    inside = rows_inside(table, asked.file.rpartition("/")[2], asked.low, asked.high)
    time = table.instants[inside]
    sides = [table.column(name) for name in (asked.input, asked.response)]
    units = [si_unit(c.unit) if c.unit else "" for c in sides]
    level, response = (c.in_unit(u)[inside] for c, u in zip(sides, units, strict=True))
    models = step_models(time, level, response)
    good = np.isfinite(level) & np.isfinite(response)
    t, y = thin(time[good], response[good], POINTS, None, None)
    described: list[dict[str, Any]] = []
    for m in models:
        name = f"StepTest{''.join(word.capitalize() for word in m.kind.split())}"
        predicted = np.interp(t, time[good], m.predicted).tolist()
        component = step_component(m, name, *units)
        described.append(described_model(m) | {"predicted": predicted, "component": component})
    return {
        "input": asked.input, "response": asked.response, "input_unit": units[0], "response_unit": units[1],
        "time": t.tolist(), "measured": y.tolist(), "models": described, "notes": table.notes,
        "level": np.interp(t, time[good], level[good]).tolist(),
    }  # fmt: skip

"""The models of the harbour as units, in both kinds, run alone by our own importer; with MOVREL_FULL in both versions."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest

import movrel
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.run_unit import UnitOptions, UnitRun, run_unit
from movrel.exchange.fmi.unit_class import PartChoices, can_be_shown, class_of_unit, names_in_class
from movrel.fmi.archive import open_unit
from tests.exchange.importing import Importer

QUAY = Path(__file__).resolve().parents[2] / "examples" / "VarrowQuay"
LIBRARY = Path(movrel.__file__).parent / "library" / "Movrel" / "Examples"
FULL = bool(os.environ.get("MOVREL_FULL"))
#: Relative tolerance of both runs, and how far a unit may be off then, as a share of what the variable spans. Each
#: restart at an event adds an error of the tolerance's size, which a controller amplifies.
TOLERANCE, NEAR, AMPLIFIED = 1e-8, 1e-4, 10

#: Not among them: gearboxes that are nothing alone, and the tug, whose free wheels' small forces both sides find with noise.
MODELS = [
    f"VarrowQuay.{p.stem}"
    for p in sorted(QUAY.glob("*.mo"))
    if p.stem not in ("package", "OneSpeedGearbox", "TugOneSpeed", "TugGearbox", "QuayTug")
]
#: With two events at one instant, loops whose flows vanish, and a friction that vanishes.
HARD = ("Electrical.StepDown", "Pneumatics.Receiver", "Vehicles.EngagedClutch")
if not FULL:
    MODELS += [f"Movrel.Examples.{name}" for name in HARD]
else:
    MODELS += [
        f"Movrel.Examples.{p.parent.name}.{p.stem}"
        for p in sorted(LIBRARY.glob("*/*.mo"))
        if p.stem != "package"
    ]
#: Seconds of models that are not run to their end here.
SHORT = {"LampSupply": 0.001, "LeafPlant": 1.5, "LiftRig": 6.0, "QuayTugBrake": 1.6}
#: Models that take long as units for model exchange.
SLOW = ("LeafPlant", "LeafHydraulics", "QuayTugBrake")


@pytest.mark.skipif(not FULL, reason="only with MOVREL_FULL")
@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("name", MODELS if FULL else [])
def test_an_importer_of_foreign_hand_drives_each_example_under_sanitizers(
    name: str, version: int, importer: Importer
) -> None:
    model = movrel.load(QUAY, model=name)
    stop = SHORT.get(name.removeprefix("VarrowQuay."), model.flat.experiment.stop)
    core = model.simulate(stop=stop, tolerance=TOLERANCE, interval=stop / 40)
    made = export_unit(model, ExportOptions(version=version, platforms=()))
    names = [
        v.name
        for v in made.description.variables
        if v.kind == "Real" and v.causality in ("output", "local") and v.count == 1 and v.variability == "continuous"
        and v.name in core.names
    ][:500]  # fmt: skip
    rows = importer.run(made, "cs", names, stop=stop, step=stop / 40, limit=1800)
    found = UnitRun(rows[:, 0], names, [""] * len(names), rows[:, 1:], events=len(core.events))
    # The unit keeps the tolerance of its default experiment there.
    tolerance = model.flat.experiment.tolerance
    _compare(found, "importer", core, stop, name, _sizes(model, core), tolerance, near=1e-3)


@pytest.mark.parametrize("number", range(len(MODELS)), ids=MODELS)
def test_a_unit_gives_what_the_model_gives(number: int, tmp_path: Path) -> None:
    name = MODELS[number]
    model = movrel.load(QUAY, model=name)
    stop = model.flat.experiment.stop
    # Thousands of events, or of steps at this tolerance, take their time.
    stop = SHORT.get(name.removeprefix("VarrowQuay."), stop)
    core = model.simulate(stop=stop, tolerance=TOLERANCE)
    sizes = _sizes(model, core)
    for version in (2, 3) if FULL else (2 + number % 2,):
        made = export_unit(model, ExportOptions(version=version))
        path = tmp_path / f"{version}.fmu"
        path.write_bytes(made.archive)
        for interface in ("cs", "me") if FULL or not name.endswith(SLOW) else ("cs",):
            options = UnitOptions(interface=interface, stop=stop, tolerance=TOLERANCE)
            _compare(run_unit(open_unit(path), options), interface, core, stop, name, sizes)
        if FULL or name.endswith(
            ("Sump", "BilgeDosing", "ShiftController", "FourSpeedGearbox", *HARD)
        ):
            _compare(
                _as_part(path, stop, model.flat.experiment.interval),
                "part",
                core,
                stop,
                name,
                sizes,
            )


def _sizes(model: movrel.session.LoadedModel, core: movrel.session.Trajectory) -> dict[str, float]:
    """How large each variable is as the solver sees it: as large as is declared, and as the others of its unit in the same
    part, as a small flow is what two large ones leave over."""
    largest: dict[tuple[str, str], float] = {}
    variables = [v for v in model.flat.variables if v.type == "Real" and v.name in core.names]
    for v in variables:
        declared = (
            float(v.nominal.value) if v.nominal is not None and v.nominal.op == "const" else 0.0
        )
        key = (v.component, v.unit)
        seen = float(np.abs(core[v.name]).max())
        largest[key] = max(largest.get(key, 0.0), declared, seen)
    return {v.name: largest[v.component, v.unit] for v in variables}


def _as_part(path: Path, stop: float, interval: float | None) -> UnitRun:
    """The unit taken in again as the only part of a model, its states solved with the model's."""
    unit = open_unit(path)
    variables = [v for v in unit.description.variables if can_be_shown(v) and not v.sizes]
    hidden = frozenset(v.name for v in variables if v.causality == "input")
    shown = frozenset(v.name for v in variables[:200] if v.causality in ("local", "output"))
    text = class_of_unit(unit, PartChoices("Part", "me", path.name, hidden=hidden, shown=shown))
    names = {f"part.{ours}": theirs for theirs, ours in names_in_class(unit.description).items()}
    file = path.with_suffix(".mo")
    file.write_text(f"model System\n{text}\nPart part;\nend System;\n")
    run = movrel.load(file, model="System").simulate(
        stop=stop, tolerance=TOLERANCE, interval=interval
    )
    own = [n for n in run.names if names.get(n) in shown]
    table = np.column_stack([run[n].astype(float) for n in own])
    return UnitRun(
        run.time, [names[n] for n in own], [""] * len(own), table, events=len(run.events)
    )


def _compare(
    found: UnitRun, interface: str, core: movrel.session.Trajectory, stop: float, name: str, sizes: dict[str, float],
    tolerance: float = TOLERANCE, near: float = NEAR,
) -> None:  # fmt: skip
    assert found.time[-1] == pytest.approx(core.time[-1], abs=1e-9 * stop)
    # Where the unit tells its values and no event is near, so that both sides agree.
    events = np.array([e.time for e in core.events] or [-stop])
    next_one = np.searchsorted(events, found.time)
    apart = np.minimum(
        np.abs(found.time - events[np.minimum(next_one, len(events) - 1)]),
        np.abs(found.time - events[np.maximum(next_one - 1, 0)]),
    )
    points = apart > 1e-7 * stop
    if points.sum() <= 20:
        assert FULL
        pytest.skip("an event at every point")
    compared = 0
    for column, variable in enumerate(found.names):
        if variable.startswith("der("):
            continue
        try:
            expected = core[variable]
        except movrel.MovrelError:
            continue
        compared += 1
        largest = float(np.abs(expected).max())
        size = max(float(np.ptp(expected)), 1e-6 * largest, 1e-9)
        # What a tolerance means is a share of the largest value.
        sized = (1 + found.events) * largest + sizes.get(variable, 0.0)
        near_enough = near * size + AMPLIFIED * tolerance * sized
        error = np.abs(
            found.table[points, column] - np.interp(found.time[points], core.time, expected)
        )
        assert np.median(error) < near_enough, (name, interface, variable)
        assert np.quantile(error, 0.95) < 100 * near_enough, (name, interface, variable)
    assert compared > 2


@pytest.mark.parametrize("interface", ["cs", "me"])
def test_what_begins_on_its_stop_is_held_by_it(interface: str, tmp_path: Path) -> None:
    """A relation whose sides are equal at the start changes as soon as they part."""
    model = movrel.load(
        text="model S Real x(start = 0, fixed = true), v(start = 0, fixed = true), f; equation der(x) = v; "
        "f = if x < 0 then max(0, -1e4*x - 10*v) else 0; der(v) = f - 1; end S;"
    )
    path = tmp_path / "s.fmu"
    path.write_bytes(export_unit(model, ExportOptions(version=2)).archive)
    unit = run_unit(open_unit(path), UnitOptions(interface=interface, stop=2, tolerance=TOLERANCE))
    assert unit.table[-1][unit.names.index("x")] == pytest.approx(-1e-4, rel=0.01)

"""Rigs as one unit that contains their units: the same numbers to the last bit, as others load it."""

from __future__ import annotations

import shutil
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from movrel.couple.as_unit import unit_of_model, unit_of_rig
from movrel.couple.rig import prepare_rig, settings_of
from movrel.errors import MovrelError
from movrel.exchange.fmi.export import Exported
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.run_unit import UnitOptions, UnitRun, run_unit
from movrel.fmi.archive import open_unit
from movrel.session import LoadedModel, load
from tests.couple.rigs import OSCILLATORS, loaded, run
from tests.couple.test_members import Build, rig_of
from tests.exchange.hand_written import CHAIN
from tests.exchange.importing import Importer

#: Two lags in a row with an input and a parameter of the rig, an equation of the rig, and a loop through two gains.
LAGS = """
model Lag
  Movrel.Signals.SignalIn u; Movrel.Signals.SignalOut y;
  parameter Real T = 1; Real x(start=0, fixed=true);
equation T*der(x) = u - x; y = x;
end Lag;
model Mix
  Movrel.Signals.SignalIn a; Movrel.Signals.SignalIn b; Movrel.Signals.SignalOut y; parameter Real k = -0.5;
equation y = a + k*b;
end Mix;
model Lags
  parameter Real T0 = 0.5;
  input Real u(start=1); output Real y; output Real z;
  Lag first(T=2*T0), second; Mix mix(k=0.3), back(k=0.1);
equation
  connect(u, first.u); connect(first.y, mix.a); connect(mix.y, back.a); connect(second.y, back.b); connect(back.y, mix.b);
  connect(mix.y, second.u); connect(second.y, y); z = 2*u + second.y;
  annotation(experiment(StopTime=3, Tolerance=1e-9), __Movrel(rig=Rig(step=0.05)));
end Lags;
"""


def made(model: LoadedModel, coupling: dict[str, Any], version: int, **choices: Any) -> Exported:
    settings = settings_of(model)
    assert settings is not None
    prepared = prepare_rig(model, replace(settings, **coupling))
    options = ExportOptions(version=version, interfaces=("cs",), **choices)
    return unit_of_rig(prepared, model.name, "", options)


def driven(folder: Path, unit: Exported, **options: Any) -> UnitRun:
    path = folder / "whole.fmu"
    path.write_bytes(unit.archive)
    return run_unit(open_unit(path), UnitOptions(**options))


@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("order", ["parallel", "sequential"])
@pytest.mark.parametrize("inputs", ["held", "extrapolated"])
def test_the_unit_gives_what_the_rig_gives_to_the_last_bit(
    tmp_path: Path, version: int, order: str, inputs: str
) -> None:
    for text, name, multiples, step in (
        (OSCILLATORS, "Oscillators", {}, 0.01),
        (OSCILLATORS, "Oscillators", {"other": 3}, 0.01),
        (LAGS, "Lags", {}, 0.05),
    ):
        coupling = {"order": order, "inputs": inputs, "multiples": multiples}
        rig = run(loaded(text, name), coupling, stop=3, interval=step)
        unit = driven(tmp_path, made(loaded(text, name), coupling, version), stop=3, interval=step)
        shared = [n for n in unit.names if n in rig.names]
        assert len(shared) >= 3
        for variable in shared:
            if variable in ("mix.y", "back.y", "second.y", "y", "z"):
                # Powell's method there, Newton's here.
                assert np.abs(unit[variable] - rig[variable]).max() < 1e-7
            else:
                assert (unit[variable] == rig[variable]).all(), variable


def test_steps_of_the_importer_need_not_be_those_of_the_rig(tmp_path: Path) -> None:
    model = loaded(LAGS, "Lags")
    unit = made(model, {"inputs": "extrapolated"}, 2, outputs=frozenset({"first.y"}))
    found = driven(tmp_path, unit, stop=3, interval=0.037, values={"T0": 0.25})
    # The first lag has the time constant 2 T0 and sees a constant input.
    assert np.abs(found["first.y"] - (1 - np.exp(-found.time / 0.5))).max() < 1e-8
    causalities = {v.name: v.causality for v in unit.description.variables}
    assert causalities["u"] == "input"
    assert causalities["T0"] == causalities["second.T"] == "parameter"
    assert "first.T" not in causalities  # it follows from T0
    by_reference = unit.description.by_reference()
    on = {by_reference[o.reference].name: o.dependencies for o in unit.description.outputs}
    reference = unit.description.by_name()["u"].reference
    assert on == {"y": {}, "z": {reference: "dependent"}, "first.y": {}}


@pytest.mark.parametrize("version", [2, 3])
def test_an_importer_of_foreign_hand_drives_it(version: int, importer: Importer) -> None:
    # It calls every function of the standard, takes the state back and forth, and runs two at a time.
    coupling = {"order": "sequential", "inputs": "extrapolated", "multiples": {"other": 3}}
    unit = made(loaded(OSCILLATORS, "Oscillators"), coupling, version)
    names = ["one.s", "other.f"]
    rows = importer.run(unit, "cs", names, stop=3, step=0.01)
    rig = run(loaded(OSCILLATORS, "Oscillators"), coupling, stop=3, interval=0.01)
    assert np.abs(rows[:, 0] - rig.time).max() < 1e-12
    for k, name in enumerate(names, 1):
        assert np.abs(rows[:, k] - rig[name]).max() < 1e-6  # it asks for a tolerance of its own


def test_units_of_others_are_contained_with_values_and_events(
    tmp_path: Path, hand_written: Build
) -> None:
    # x' = -x, kicked by 1e-3 each 30 ms, beside a spring whose stiffness is worked out from a parameter of the rig.
    able = 'modelIdentifier="unit3" hasEventMode="true" canGetAndSetFMUState="true"/>'
    text = CHAIN.replace('<CoSimulation modelIdentifier="unit3"/>', f"<CoSimulation {able}")
    rig = rig_of(
        tmp_path,
        {
            "Spring": (hand_written(2), "cs"),
            "Chain": (hand_written(3, "KICKED@0.03", text), "cs"),
        },
        "parameter Real root = 3; Spring spring(stiffness=root^2, wall=-100, force(start=2)); Chain chain; "
        "output Real x; equation connect(spring.x, x);",
    )
    whole = driven(
        tmp_path, unit_of_model(rig, ExportOptions()), interval=0.02, values={"root": 4.0}
    )
    assert np.abs(whole["x"] - (2 / 16 + 14 / 16 * np.cos(4 * whole.time))).max() < 1e-6
    apart = run(rig, interval=0.02, set={"root": 4.0})
    at = np.searchsorted(apart.time, whole.time - 1e-9)
    for name in ("spring.x", "chain.x[1]"):
        assert np.abs(whole[name] - apart[name][at]).max() < 1e-12


@pytest.mark.parametrize("version", [2, 3])
def test_units_for_model_exchange_are_integrated_inside(
    tmp_path: Path, hand_written: Build, version: int
) -> None:
    # The spring strikes a wall and turns its speed around; the chain is stiff, its second state follows u with 1000/s.
    rig = rig_of(
        tmp_path,
        {"Spring": (hand_written(2), "me"), "Chain": (hand_written(3), "me")},
        "Spring spring(wall=-0.5); Chain chain; output Real x; equation connect(spring.x, x);",
    )
    whole = driven(tmp_path, unit_of_model(rig, ExportOptions(version=version)), interval=0.02)
    free = whole.time < np.arccos(-0.5) / 2  # from x = 1 at rest, until it strikes
    assert np.abs(whole["x"] - np.cos(2 * whole.time))[free].max() < 1e-8
    assert whole["x"][~free].max() < 0.95  # it lost speed there
    apart = run(rig, interval=0.02)
    at = np.searchsorted(apart.time, whole.time - 1e-9)
    for name in ("spring.x", "chain.x[1]", "chain.x[2]"):
        assert np.abs(whole[name] - apart[name][at]).max() < 1e-6


def test_a_rig_is_a_unit_in_another_model(tmp_path: Path) -> None:
    unit = unit_of_model(loaded(LAGS, "Lags"), ExportOptions(version=2))
    inner = tmp_path / "inner.fmu"
    inner.write_bytes(unit.archive)
    outer = rig_of(
        tmp_path, {"Whole": (inner, "cs")}, "Whole whole; Movrel.Signals.Gain less(k=0.5); "
        "equation connect(less.y, whole.u); less.u = 4;",
    )  # fmt: skip
    found = run(outer, interval=0.05)
    # The whole is asked for values every 10 ms, and couples its own units then, too.
    alone = run(loaded(LAGS, "Lags"), {"step": 0.01}, stop=2, interval=0.05)
    assert np.abs(found["whole.y"] - 2 * alone["y"]).max() < 1e-6
    # And once more: a unit in a unit in a unit.
    twice = driven(tmp_path, unit_of_model(outer, ExportOptions(version=3)), interval=0.05)
    assert np.abs(twice["whole.y"] - found["whole.y"]).max() < 1e-12


def test_an_assembly_with_a_unit_of_others_leaves_as_one(
    tmp_path: Path, hand_written: Build
) -> None:
    shutil.copy(hand_written(2), tmp_path / "Spring.fmu")
    rig = rig_of(tmp_path, {"Spring": (hand_written(2), "cs")}, "Spring spring(wall=-100);")
    text = Path(tmp_path / "Rig.mo").read_text().replace(", __Movrel(rig=Rig(step=0.01))", "")
    (tmp_path / "Plain.mo").write_text(text.replace("Rig", "Plain"))
    assert settings_of(rig) is not None
    plain = load(tmp_path / "Plain.mo")
    assert settings_of(plain) is None
    made_of_it = unit_of_model(plain, ExportOptions(outputs=frozenset({"spring.x"})))
    # It couples at the communication step that the unit suggests.
    assert made_of_it.description.experiment.step == 0.05
    found = driven(tmp_path, made_of_it, stop=2, interval=0.05)
    assert np.abs(found["spring.x"] - np.cos(2 * found.time)).max() < 1e-6


def test_a_unit_in_it_that_fails_is_named(tmp_path: Path, hand_written: Build) -> None:
    rig = rig_of(
        tmp_path, {"Bad": (hand_written(2, "BAD_STATUS@0.495"), "cs")}, "Bad bad(wall=-100);"
    )
    with pytest.raises(MovrelError, match=r"'bad' in it cannot go on at 0\.5 s"):
        driven(tmp_path, unit_of_model(rig, ExportOptions(version=2)), interval=0.01)


def test_what_cannot_be_contained_is_refused(tmp_path: Path, hand_written: Build) -> None:
    rig = rig_of(tmp_path, {"Spring": (hand_written(2), "cs")}, "Spring spring;")
    for choices, words in (
        (ExportOptions(interfaces=("me",)), "is for co-simulation"),
        (ExportOptions(platforms=("win64",)), "not for win64"),
        (ExportOptions(outputs=frozenset({"spring.y"})), "no variable 'spring.y'"),
        (ExportOptions(parameters=frozenset({"spring.walls"})), "no parameter 'spring.walls'"),
    ):
        with pytest.raises(MovrelError, match=words):
            unit_of_model(rig, choices)

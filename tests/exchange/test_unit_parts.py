"""Units as parts of a model: stepped at their own period, or solved together with its equations."""

from __future__ import annotations

import math
import re
import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError, RunFault
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_class import (
    PartChoices,
    class_of_unit,
    name_groups,
    terminal_of,
)
from movrel.fmi.archive import open_unit
from movrel.fmi.description import Interface
from movrel.fmi.rules import findings
from movrel.simulate.trajectory import Trajectory
from tests.exchange.hand_written import CHAIN, TYPES

Build = Callable[..., Path]


def system(folder: Path, unit: Path, kind: Interface, text: str, **choices: object) -> Path:
    """A file with a model ``System`` that has the unit's class ``Part`` inside."""
    shutil.copy(unit, folder / "unit.fmu")
    chosen = PartChoices("Part", kind, "unit.fmu", **choices)  # type: ignore[arg-type]
    cls = class_of_unit(open_unit(unit), chosen)
    file = folder / "System.mo"
    file.write_text(f"model System\n{cls}\n{text}\nend System;\n")
    return file


def run(file: Path, **options: object) -> Trajectory:
    return movrel.load(file).simulate(**options)  # type: ignore[arg-type]


SPRING = "Part part(wall = -100, stiffness = 9); equation part.force = 2 + 0*time;"


@pytest.mark.parametrize("solver", ["bdf", "rk45", "radau", "adams"])
def test_states_of_a_unit_are_integrated_with_the_models(
    tmp_path: Path, hand_written: Build, solver: str
) -> None:
    # A mass of ours hangs on the unit's position by a lag: z' = x - z with x = 2/9 + 7/9 cos 3t.
    text = (
        "Part part(wall = -100, stiffness = 9); Real z(start = 0, fixed = true);\n"
        "equation part.force = 2; der(z) = part.x - z;"
    )
    found = run(
        system(tmp_path, hand_written(2), "me", text),
        stop=2, interval=0.05, tolerance=1e-9, solver=solver,
    )  # fmt: skip
    t = found.time
    x = 2 / 9 + 7 / 9 * np.cos(3 * t)
    z = 2 / 9 * (1 - np.exp(-t)) + 7 / 90 * (np.cos(3 * t) + 3 * np.sin(3 * t) - np.exp(-t))
    assert np.abs(found["part.x"] - x).max() < 1e-6
    assert np.abs(found["z"] - z).max() < 1e-6


def test_events_of_a_unit_are_events_of_the_model(tmp_path: Path, hand_written: Build) -> None:
    text = (
        "Part part; Integer n(start = 0, fixed = true); equation part.force = 0;\n"
        "when change(part.strikes) then n = pre(n) + 1; end when;"
    )
    file = system(tmp_path, hand_written(2), "me", text, shown=frozenset({"strikes", "touching"}))
    found = run(file, stop=4, interval=0.05, tolerance=1e-9)
    strike = math.acos(-0.5) / 2
    t = found.time
    before = t < strike - 1e-9
    assert np.abs(found["part.x"] - np.cos(2 * t))[before].max() < 1e-6
    assert min(abs(e.time - strike) for e in found.events) < 1e-7
    assert found["n"][-1] == found["part.strikes"][-1] >= 2
    amplitude = math.hypot(0.5, 0.8 * math.sqrt(3) / 2)
    flying = (t > strike + 1e-9) & (t < strike + 0.5)
    phase = math.asin(-0.5 / amplitude)
    expected = amplitude * np.sin(2 * (t - strike) + phase)
    assert np.abs(found["part.x"] - expected)[flying].max() < 1e-6


def test_a_unit_for_co_simulation_has_the_inputs_of_the_step_before(
    tmp_path: Path, hand_written: Build
) -> None:
    # Held input: between communication points the unit sees force(t_k); closed form over one step by rotation.
    h = 0.1
    text = f"Part part(wall = -100, stiffness = 1, communication_step = {h}); equation part.force = time;"
    found = run(system(tmp_path, hand_written(2), "cs", text), stop=1, interval=0.05)
    x, v, expected = 1.0, 0.0, [1.0]
    for k in range(10):
        force = k * h
        y = x - force
        x, v = force + y * math.cos(h) + v * math.sin(h), -y * math.sin(h) + v * math.cos(h)
        expected.append(x)
    after = [found["part.x"][np.nonzero(found.time <= k * h + 1e-9)[0][-1]] for k in range(11)]
    assert np.abs(np.array(after) - expected).max() < 1e-9
    # Held in between.
    middle = found["part.x"][np.nonzero(np.isclose(found.time, 0.35))[0][0]]
    assert middle == pytest.approx(expected[3], abs=1e-12)


@pytest.mark.parametrize("kind", ["me", "cs"])
def test_arrays_and_all_types_pass_through_a_part(
    tmp_path: Path, hand_written: Build, kind: Interface
) -> None:
    text = (
        "Part part(gain = {1, 3}); equation part.u_Int16 = if time > 0.5 then 7 else -3;\n"
        "part.u_Boolean = time > 0.25; part.u_Float64 = 2*time;"
    )
    hidden = frozenset(f"u_{t}" for t in TYPES if t not in ("Float64", "Int16", "Boolean"))
    file = system(tmp_path, hand_written(3), kind, text, hidden=hidden)
    found = run(file, stop=1, interval=0.1, tolerance=1e-8)
    assert found["part.y_Int16"][[1, -1]] == pytest.approx([-3, 7])
    assert found["part.y_Boolean"][[1, -1]] == pytest.approx([0, 1])
    # A step of 2 ms, begun with the input of its beginning and held for another.
    lag = 0.0 if kind == "me" else 0.008
    assert np.abs(found["part.y_Float64"] - 2 * found.time).max() <= lag + 1e-12
    a = 1000 * 3 / 999
    assert abs(found["part.x[2]"][-1] - a * (np.exp(-1) - np.exp(-1000))) < 1e-5


@pytest.mark.parametrize("as_input", [False, True])
def test_a_text_of_a_part_reaches_the_unit(
    as_input: bool, tmp_path: Path, hand_written: Build
) -> None:
    text_as_input = CHAIN.replace(
        'name="plate" valueReference="50" causality="parameter" variability="fixed"',
        'name="plate" valueReference="50" causality="input" variability="discrete"',
    )
    unit = hand_written(3, text=text_as_input) if as_input else hand_written(3)
    inputs = "equation part.u_Float64 = 0;"
    hidden = frozenset(f"u_{t}" for t in TYPES if t != "Float64")
    text = f'Part part(plate = "R2"); {inputs}'
    model = system(tmp_path, unit, "cs", text, hidden=hidden)
    assert 'parameter String plate = "none"' in model.read_text()
    run(model, stop=0.1)
    text = f'Part part(plate = "{"x" * 30}"); {inputs}'
    long = system(tmp_path, unit, "cs", text, hidden=hidden)
    with pytest.raises(RunFault, match="SetString returned Error"):
        run(long, stop=0.1)


BUS = """package P connector Drive input Real torque(unit="N.m"); output Real speed(unit="rad/s"); output Real angle(unit="rad"); end Drive;
  model Rotor Drive shaft; input Real load_a; input Real load_b; output Real heat;
  equation der(shaft.speed) = shaft.torque + load_a + load_b; der(shaft.angle) = shaft.speed; heat = shaft.speed^2; end Rotor; end P;"""


def test_ports_stand_under_the_headings_of_terminals_or_of_their_names(tmp_path: Path) -> None:
    unit = tmp_path / "rotor.fmu"
    unit.write_bytes(export_unit(movrel.load(text=BUS, model="P.Rotor"), ExportOptions()).archive)
    opened = open_unit(unit)
    assert findings(opened) == []
    terminals = terminal_of(opened.description)
    assert terminals == {f"shaft.{name}": "shaft" for name in ("torque", "speed", "angle")}
    stems = name_groups(["load_a", "load_b", "heat", "shaft.torque"])
    assert stems == {"load_a": "load", "load_b": "load"}
    text = class_of_unit(
        opened, PartChoices("Rotor", "cs", "rotor.fmu", groups={**terminals, **stems})
    )
    words = re.findall(r'textString="(\w+)"', text)
    assert words == ["shaft", "torque", "load", "a", "b", "shaft", "speed", "angle", "heat"]
    assert (
        'shaft_speed(unit="rad/s") ' in text
        and '__Movrel(variable="shaft.speed", group="shaft")' in text
    )
    file = system(tmp_path, unit, "cs", "Part part; equation part.shaft_torque = 1; part.load_a = 0; part.load_b = 1;",
                  groups={**terminals, **stems})  # fmt: skip
    found = run(file, stop=1)
    assert found["part.shaft_speed"][-1] == pytest.approx(2.0, rel=1e-6)


def test_a_model_of_ours_comes_back_as_a_part(tmp_path: Path) -> None:
    inner = movrel.load(
        text="model Lag input Real u; output Real y(start = 1, fixed = true); parameter Real T = 0.5;"
        " equation T*der(y) = u - y; end Lag;"
    )
    unit = tmp_path / "lag.fmu"
    unit.write_bytes(export_unit(inner, ExportOptions()).archive)
    text = (
        "Part part(T = 0.25); Real x(start = 0, fixed = true); equation der(x) = part.y - x;\n"
        "part.u = x;"
    )
    coupled = run(system(tmp_path, unit, "me", text), stop=3, tolerance=1e-9, interval=0.1)
    alone = movrel.load(
        text="model W Real y(start = 1, fixed = true); Real x(start = 0, fixed = true);"
        " equation 0.25*der(y) = x - y; der(x) = y - x; end W;"
    ).simulate(stop=3, tolerance=1e-9, interval=0.1)
    assert np.abs(coupled["part.y"] - alone["y"]).max() < 1e-7
    assert np.abs(coupled["x"] - alone["x"]).max() < 1e-7


def test_events_that_a_unit_knows_in_advance_are_met(tmp_path: Path) -> None:
    # A saw of samples inside: y counts up every 0.25 s; the model's integral of it is exact between.
    inner = movrel.load(
        text="model Saw discrete output Real y(start = 0, fixed = true);"
        " equation when sample(0.25, 0.25) then y = pre(y) + 1; end when; end Saw;"
    )
    unit = tmp_path / "saw.fmu"
    unit.write_bytes(export_unit(inner, ExportOptions()).archive)
    text = "Part part; Real x(start = 0, fixed = true); equation der(x) = part.y;"
    found = run(system(tmp_path, unit, "me", text), stop=1.1, interval=0.1)
    assert found["part.y"][-1] == 4
    assert found["x"][-1] == pytest.approx(0.25 * (1 + 2 + 3) + 0.1 * 4, abs=1e-9)
    assert [e.time for e in found.events] == pytest.approx([0.25, 0.5, 0.75, 1.0])
    assert "event of the unit 'part'" in found.events[0].cause


def test_two_units_feed_each_other_at_one_instant(tmp_path: Path) -> None:
    # y = 0.5 u + 1 each way: both settle at 2; with a factor of 2 they never agree.
    gain = movrel.load(
        text="model G input Real u; output Real y; parameter Real k = 0.5; equation y = k*u + 1; end G;"
    )
    unit = tmp_path / "gain.fmu"
    unit.write_bytes(export_unit(gain, ExportOptions()).archive)
    both = "Part a(k = {k}); Part b(k = {k}); equation a.u = b.y; b.u = a.y;"
    found = run(system(tmp_path, unit, "me", both.format(k=0.5)), stop=1)
    assert found["a.y"] == pytest.approx(np.full(len(found.time), 2.0), abs=1e-9)
    with pytest.raises(RunFault, match=r"depend on each other|no start was found"):
        run(system(tmp_path, unit, "me", both.format(k=2.0)), stop=1)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("Part part(wall = -100); equation part.force = 0; part.x = 1;", "more equations|unknown"),
        (
            "Part part(wall = -100); Real f; equation part.force = f; der(part.x) = time;",
            "equations|rigid|differentiated",
        ),
    ],
)
def test_what_a_unit_determines_cannot_be_determined_twice(
    tmp_path: Path, hand_written: Build, text: str, sentence: str
) -> None:
    with pytest.raises(MovrelError, match=sentence):
        run(system(tmp_path, hand_written(2), "me", text), stop=1)


@pytest.mark.parametrize(
    ("misbehaviour", "sentence"),
    [
        ("CRASH", "the unit 'part' crashed at .* s"),
        ("BAD_STATUS", "the unit 'part' refused"),
    ],
)
def test_a_unit_that_misbehaves_is_named(
    tmp_path: Path, hand_written: Build, misbehaviour: str, sentence: str
) -> None:
    file = system(tmp_path, hand_written(2, misbehaviour), "cs", SPRING)
    with pytest.raises(RunFault, match=sentence):
        run(file, stop=4)


def test_files_and_classes_that_do_not_fit_are_named(tmp_path: Path, hand_written: Build) -> None:
    file = system(tmp_path, hand_written(2), "me", SPRING)
    text = file.read_text()
    for old, new, sentence in (
        ('"unit.fmu"', '"gone.fmu"', "'gone.fmu' does not exist"),
        ('"unit.fmu"', '"../unit.fmu"', "lies outside the folder"),
        ("states=2", "states=3", "has 2 states"),
        ('kind="me"', 'kind="both"', "does not say which unit"),
        (
            "stiffness(min=0.0) = 4.0",
            'stiffness = 4.0 annotation(__Movrel(variable="stifness"))',
            "Did you mean 'stiffness'",
        ),
    ):
        assert old in text
        file.write_text(text.replace(old, new, 1))
        with pytest.raises(MovrelError) as refused:
            run(file, stop=1)
        assert sentence in f"{refused.value.message} {refused.value.hint}", new

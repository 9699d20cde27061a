"""Rigs with units of others: both versions and kinds, several at once, and what one of them may do wrong."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from movrel.couple.rig import cut, prepare_rig
from movrel.errors import MovrelError, RunFault, StructureFault
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_class import PartChoices, class_of_unit
from movrel.fmi import unit_process
from movrel.fmi.archive import open_unit
from movrel.fmi.description import Interface
from movrel.project.rig_settings import RigSettings
from movrel.session import LoadedModel, load
from tests.couple.rigs import OSCILLATORS, loaded, run
from tests.exchange.hand_written import CHAIN

Build = Callable[..., Path]


def rig_of(folder: Path, units: dict[str, tuple[Path, Interface]], text: str) -> LoadedModel:
    """A rig of units under the names of their classes."""
    classes = []
    for name, (path, kind) in units.items():
        shutil.copy(path, folder / f"{name}.fmu")
        choices = PartChoices(name, kind, f"{name}.fmu")
        classes.append(class_of_unit(open_unit(folder / f"{name}.fmu"), choices))
    file = folder / "Rig.mo"
    whole = "\n".join(classes)
    file.write_text(
        f"model Rig\n{whole}\n{text}\nannotation(experiment(StopTime=2, Tolerance=1e-9), "
        "__Movrel(rig=Rig(step=0.01)));\nend Rig;\n"
    )
    return load(file)


def exported(folder: Path, model: str, version: int) -> Path:
    made = export_unit(
        load(text=OSCILLATORS, model=model), ExportOptions(version=version, documentation=False)
    )
    path = folder / f"{model}{version}.fmu"
    path.write_bytes(made.archive)
    return path


@pytest.mark.parametrize(("first", "second"), [(2, 3), (3, 2)])
@pytest.mark.parametrize("kind", ["cs", "me"])
def test_units_of_both_versions_agree_with_our_own(
    tmp_path: Path, first: int, second: int, kind: Interface
) -> None:
    rig = rig_of(
        tmp_path,
        {
            "One": (exported(tmp_path, "Driven", first), kind),
            "Other": (exported(tmp_path, "Coupled", second), kind),
        },
        "One one; Other other; equation connect(one.s, other.s); connect(one.v, other.v); connect(other.f, one.f);",
    )
    found = run(rig, interval=0.1)
    own = run(loaded(OSCILLATORS, "Oscillators"), stop=2, interval=0.1)
    for name in ("one.s", "one.v", "other.f"):
        assert np.abs(found[name] - own[name]).max() < 5e-6


def test_a_unit_written_by_hand_beside_one_of_ours(tmp_path: Path, hand_written: Build) -> None:
    # The spring of the unit, x'' = f - 9 x, is pushed by a controller of ours, f = -k x at the communication points.
    rig = rig_of(
        tmp_path, {"Spring": (hand_written(2), "cs")},
        "Spring spring(stiffness=9, wall=-100); Movrel.Signals.Gain push(k=-7); "
        "equation connect(spring.x, push.u); connect(push.y, spring.force);",
    )  # fmt: skip
    found = run(rig, {"step": 0.001, "inputs": "extrapolated"}, interval=0.1)
    assert np.abs(found["spring.x"] - np.cos(4 * found.time)).max() < 2e-3


def test_parameters_and_starts_reach_the_units(tmp_path: Path, hand_written: Build) -> None:
    rig = rig_of(
        tmp_path, {"Spring": (hand_written(2), "cs")}, "Spring spring(stiffness=9, wall=-100, force(start=2));"
    )  # fmt: skip
    (unfed,) = cut(rig).unfed
    assert unfed.name == "spring.force"
    found = run(rig, interval=0.1, set={"spring.stiffness": 16.0})
    assert found["spring.force"][0] == 2
    assert np.abs(found["spring.x"] - (2 / 16 + 14 / 16 * np.cos(4 * found.time))).max() < 1e-6


def test_two_thousand_events_within_one_step(tmp_path: Path, hand_written: Build) -> None:
    # x' = -x, kicked by 1e-3 each ms: at 1 s the sum of what is left of every kick.
    able = 'modelIdentifier="unit3" hasEventMode="true" canGetAndSetFMUState="true"/>'
    text = CHAIN.replace('<CoSimulation modelIdentifier="unit3"/>', f"<CoSimulation {able}")
    rig = rig_of(
        tmp_path,
        {"Chain": (hand_written(3, "KICKED@0.001", text), "cs")},
        "Chain chain; Real y(start=0, fixed=true); equation der(y) = 1;",
    )
    found = run(rig, {"step": 2.0})
    at = int(np.searchsorted(found.time, 1.0 - 1e-9))
    assert found.time[at] == pytest.approx(1.0, abs=1e-9)
    kicks = 1e-3 * np.exp(-1e-3 * np.arange(1000)).sum()
    assert found["chain.x[1]"][at] == pytest.approx(np.exp(-1) + kicks, rel=1e-9)
    assert found["y"][at] == pytest.approx(1.0, rel=1e-6)
    assert len(found.events) == found.statistics.time_events == 1999


@pytest.mark.parametrize(
    ("misbehaviour", "words"),
    [("CRASH", "'bad' crashed at 0.5"), ("HANG", "'bad' did not answer"), ("BAD_STATUS", "'bad' refused at 0.5")],
)  # fmt: skip
def test_one_of_ten_units_ends_the_run_with_its_name(
    tmp_path: Path, hand_written: Build, misbehaviour: str, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    monkeypatch.setattr(
        unit_process.UnitProcess.__init__, "__defaults__", (1.0, unit_process.MEMORY, False)
    )
    units: dict[str, tuple[Path, Interface]] = {
        "Good": (hand_written(2), "cs"),
        "Bad": (hand_written(2, f"{misbehaviour}@0.495"), "cs"),
    }
    parts = " ".join(f"Good good{k}(wall=-100);" for k in range(9))
    prepared = prepare_rig(
        rig_of(tmp_path, units, f"{parts} Bad bad(wall=-100);"), RigSettings(0.01), interval=0.01
    )
    with pytest.raises(RunFault, match=words) as fault:
        prepared.go()
    assert fault.value.component == "bad"
    kept = prepared.summary()
    assert kept.final_time >= 0.4
    assert len(kept.time) > 30
    assert np.isfinite(kept["good3.x"]).all()


def test_a_missing_file_and_a_vanished_variable_are_named(
    tmp_path: Path, hand_written: Build
) -> None:
    rig = rig_of(tmp_path, {"Spring": (hand_written(2), "cs")}, "Spring spring;")
    file = tmp_path / "Rig.mo"
    file.write_text(
        file.read_text().replace("SignalOut x(", "SignalOut gone(").replace('"x"', '"gone"')
    )
    with pytest.raises(MovrelError, match=r"no variable 'gone'.*'spring'"):
        run(load(file))
    (tmp_path / "Spring.fmu").unlink()
    with pytest.raises(MovrelError, match=r"'Spring.fmu' does not exist"):
        run(rig)


PARTS = """
model A Movrel.Signals.SignalIn u(unit="N"); Movrel.Signals.SignalOut y(unit="m"); Real x(start=0, fixed=true);
equation der(x) = u; y = x; end A;
"""


def test_parts_that_share_a_shaft_are_one_unit() -> None:
    text = """
    model Rig Movrel.Signals.Constant w(value=2); Movrel.Rotational.DrivenTorque drive; Movrel.Rotational.Inertia wheel(J=1);
    Movrel.Rotational.Tachometer speed; Movrel.Signals.Gain gain; equation connect(w.y, drive.tau);
    connect(drive.b, wheel.a); connect(wheel.b, speed.a); connect(speed.w, gain.u);
    annotation(__Movrel(rig=Rig(step=0.01))); end Rig;
    """
    rig = cut(loaded(text, "Rig"))
    assert [p.name for p in rig.parts] == ["w", "drive + wheel + speed", "gain"]
    assert [c.name for c in rig.connections] == ["w.y → drive.tau", "speed.w → gain.u"]
    assert run(loaded(text, "Rig"))["wheel.w"][-1] == pytest.approx(2)


def test_signals_of_different_quantities_are_refused() -> None:
    text = (
        PARTS
        + "model Rig A a; A b; equation connect(a.y, b.u); annotation(__Movrel(rig=Rig())); end Rig;"
    )
    with pytest.raises(StructureFault, match=r"'a\.y' is in m, and 'b\.u' expects N"):
        cut(loaded(text, "Rig"))


def test_two_sources_of_one_input_are_refused() -> None:
    text = """
    model Rig Movrel.Signals.Constant a; Movrel.Signals.Constant b; Movrel.Signals.Gain g;
    equation connect(a.y, g.u); connect(b.y, g.u); annotation(__Movrel(rig=Rig())); end Rig;
    """
    with pytest.raises(StructureFault, match="both feed the same input"):
        cut(loaded(text, "Rig"))


def test_an_equation_with_a_foreign_unit_is_refused(tmp_path: Path, hand_written: Build) -> None:
    text = "Spring spring; Real twice; equation twice = 2*spring.x;"
    rig = rig_of(tmp_path, {"Spring": (hand_written(2), "cs")}, text)
    with pytest.raises(StructureFault, match="'spring' is a unit of others"):
        cut(rig)

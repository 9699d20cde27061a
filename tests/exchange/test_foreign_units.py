"""Units that others made: two written by hand from the standard, run alone, and what they may do wrong."""

from __future__ import annotations

import math
import os
import socket
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from movrel.errors import MovrelError
from movrel.exchange.fmi.run_unit import UnitOptions, UnitRun, run_unit
from movrel.exchange.fmi.unit_class import left_out
from movrel.fmi import host_program
from movrel.fmi.archive import open_unit
from movrel.fmi.description import UnitVariable
from movrel.fmi.host_program import runs_32_bits
from movrel.fmi.places import places_of
from movrel.fmi.unit_process import UnitFault, UnitProcess, sandbox

Build = Callable[..., Path]


def run(path: Path, **options: object) -> UnitRun:
    return run_unit(open_unit(path), UnitOptions(**options))  # type: ignore[arg-type]


@pytest.mark.parametrize("interface", ["me", "cs"])
def test_a_spring_that_strikes_a_wall(hand_written: Build, interface: str) -> None:
    found = run(
        hand_written(2), interface=interface, values={"wall": -0.5}, inputs={"force": lambda t: 0.0}
    )
    # From 1 with angular frequency 2: at the wall after arccos(-1/2)/2, with speed 2*sqrt(3)/2, of which 0.8 stay.
    strike = math.acos(-0.5) / 2
    amplitude = math.hypot(0.5, 0.8 * math.sqrt(3) / 2)
    before = found.time < strike - 1e-9
    assert np.abs(found["x"] - np.cos(2 * found.time))[before].max() < 1e-6
    second = (
        strike + (math.pi - 2 * math.asin(0.5 / amplitude)) / 2 + 2 * math.asin(0.5 / amplitude) / 2
    )
    between = (found.time > strike + 1e-9) & (found.time < second - 1e-6)
    phase = math.asin(-0.5 / amplitude)
    assert (
        np.abs(found["x"] - amplitude * np.sin(2 * (found.time - strike) + phase))[between].max()
        < 1e-6
    )
    assert found["strikes"][-1] == np.count_nonzero(np.diff(found["strikes"]) > 0) >= 2
    assert found.units[found.names.index("x")] == "m"


def test_inputs_follow_and_parameters_are_set(hand_written: Build) -> None:
    found = run(
        hand_written(2), interface="cs", interval=0.01, stop=1.0,
        values={"stiffness": 9.0, "wall": -100.0, "x": 0.0}, inputs={"force": lambda t: 2.0},
    )  # fmt: skip
    assert np.abs(found["x"] - 2 / 9 * (1 - np.cos(3 * found.time))).max() < 1e-9


@pytest.mark.parametrize("interface", ["me", "cs"])
def test_a_stiff_chain_with_arrays(hand_written: Build, interface: str) -> None:
    found = run(hand_written(3), interface=interface, interval=0.05)
    a = 1000 * 2 / 999
    assert np.abs(found["x[1]"] - np.exp(-found.time)).max() < 1e-5
    assert (
        np.abs(found["x[2]"] - a * (np.exp(-found.time) - np.exp(-1000 * found.time))).max() < 1e-4
    )


def test_every_numeric_type_is_set_and_read(hand_written: Build) -> None:
    opened = open_unit(hand_written(3))
    by_name = opened.description.by_name()
    kinds = [n.removeprefix("u_") for n in by_name if n.startswith("u_")]
    inputs, outputs = ([by_name[f"{letter}_{k}"] for k in kinds] for letter in "uy")
    given = {
        "Boolean": 1.0,
        "Float64": 1.5,
        "Float32": -2.25,
        "UInt8": 255.0,
        "Int8": -128.0,
        "UInt64": 2.0**53,
        "Int64": -(2.0**53),
    }
    with UnitProcess(opened, "cs", [], inputs, outputs) as unit:
        for v, kind in zip(inputs, kinds, strict=True):
            unit.read(unit.input_places[v.name])[:] = given.get(kind, 7.0)
        unit.ask("start", start=0.0, stop=1.0, tolerance=None)
        unit.step(0.0, 0.1)
        assert {
            k: unit.read(unit.output_places[v.name])[0] for v, k in zip(outputs, kinds, strict=True)
        } == {k: given.get(k, 7.0) for k in kinds}


@pytest.mark.parametrize("interface", ["me", "cs"])
def test_texts_are_set_and_read(hand_written: Build, interface: str) -> None:
    found = run(hand_written(3), interface=interface, values={"plate": "Läufer 4"}, interval=0.25)
    half = np.log(2)  # x[0] = exp(-t) falls below a half
    said = ["Läufer 4 high" if t < half else "Läufer 4 low" for t in found.time]
    assert found.texts == {"report": said} and len(set(said)) == 2
    with pytest.raises(UnitFault, match="SetString returned Error"):
        run(hand_written(3), interface=interface, values={"plate": "x" * 30})
    with pytest.raises(MovrelError, match="'plate' wants a text"):
        run(hand_written(3), interface=interface, values={"plate": 4.0})
    with pytest.raises(MovrelError, match="'camera' is of type Binary"):
        places_of(open_unit(hand_written(3)).description, "cs", [], [camera(hand_written)], [])
    assert "'camera' (Binary), 'tick' (Clock)" in left_out(open_unit(hand_written(3)).description)


def camera(hand_written: Build) -> UnitVariable:
    return open_unit(hand_written(3)).description.by_name()["camera"]


@pytest.mark.parametrize("interface", ["me", "cs"])
def test_a_unit_may_end_the_run(hand_written: Build, interface: str) -> None:
    found = run(hand_written(3), interface=interface, values={"gain": -1.0}, interval=0.25)
    assert "ended the run" in found.ended
    assert found.time[-1] < 1.0


WORDS = {
    "CRASH": "an invalid address", "ENDLESS_LOG": None, "BAD_STATUS": "returned Error", "FATAL_STATUS": "returned Fatal",
    "NO_INSTANCE": "fmi2Instantiate returned nothing", "EXIT": "ended its process", "DIVIDE": "it gave up",
}  # fmt: skip


@pytest.mark.parametrize("misbehaviour", WORDS)
@pytest.mark.parametrize("interface", ["me", "cs"])
def test_what_a_unit_does_wrong_is_a_sentence(
    hand_written: Build, misbehaviour: str, interface: str
) -> None:
    words = WORDS[misbehaviour]
    if words is None:
        found = run(hand_written(2, misbehaviour), interface=interface, stop=0.05)
        assert len(found.messages) == 200
        return
    with pytest.raises(UnitFault, match=words):
        run(hand_written(2, misbehaviour), interface=interface)


def test_the_units_own_words_are_told(hand_written: Build) -> None:
    with pytest.raises(UnitFault, match=r"it says 'the spring is 97 % broken after 0\.25 s'"):
        run(hand_written(2, "BAD_STATUS"), interface="cs")


def test_a_unit_that_hangs_is_ended(hand_written: Build) -> None:
    opened = open_unit(hand_written(2, "HANG"))
    began = time.monotonic()
    with UnitProcess(opened, "cs", [], [], [], patience=1.0) as unit:
        unit.ask("start", start=0.0, stop=1.0, tolerance=None)
        with pytest.raises(UnitFault, match="did not answer within 1 s"):
            unit.step(0.0, 0.1)
    assert time.monotonic() - began < 30


def test_a_unit_that_eats_memory_is_ended(hand_written: Build) -> None:
    opened = open_unit(hand_written(2, "EAT_MEMORY"))
    with UnitProcess(opened, "cs", [], [], [], memory=1_500_000_000) as unit:
        unit.ask("start", start=0.0, stop=1.0, tolerance=None)
        with pytest.raises(UnitFault, match="gave up"):
            unit.step(0.0, 0.1)


needs_32_bits = pytest.mark.skipif(
    not runs_32_bits(), reason="needs what compiles and runs 32-bit programs"
)


@needs_32_bits
@pytest.mark.parametrize("interface", ["me", "cs"])
def test_a_binary_of_32_bits_runs_in_a_program_of_32_bits(
    hand_written: Build, interface: str
) -> None:
    for version, names in ((2, ("x", "strikes", "touching")), (3, ("x[1]", "x[2]"))):
        runs = [run(hand_written(version, bits=bits), interface=interface) for bits in (64, 32)]
        assert len(runs[0].time) == len(runs[1].time)
        for name in names:
            assert np.abs(runs[0][name] - runs[1][name]).max() < 1e-7, name
    assert run(hand_written(3, bits=32), values={"plate": "R7"}).texts["report"][0] == "R7 high"
    with pytest.raises(UnitFault, match=r"crashed at 0\.5 s .*an invalid address"):
        run(hand_written(2, "CRASH@0.5", bits=32), interface="cs", interval=0.5)


def test_a_binary_of_32_bits_is_refused_where_it_cannot_run(
    hand_written: Build, monkeypatch: pytest.MonkeyPatch
) -> None:
    if runs_32_bits():
        monkeypatch.setattr(host_program, "LOADER_32", Path("/lib/no-such-loader"))
        with pytest.raises(MovrelError, match="only a 32-bit Linux binary; this is 64-bit Linux"):
            run(hand_written(2, bits=32))


@pytest.mark.skipif(not sandbox(), reason="needs bubblewrap")
def test_foreign_code_reaches_nothing_but_its_own_folder(
    hand_written: Build, tmp_path: Path
) -> None:
    secret = tmp_path / "secret.txt"
    secret.write_text("of another project")
    with socket.create_server(("127.0.0.1", 0)) as server:
        macros = (f'SECRET="{secret}"', f"PORT={server.getsockname()[1]}", f"PARENT={os.getpid()}")
        found = run(hand_written(2, "PEEK", defines=macros), interface="cs", stop=0.1)
    assert found.messages[0].text == "file 0, server 0, parent 0"


def test_a_rate_that_is_not_finite_ends_the_run(hand_written: Build) -> None:
    with pytest.raises(UnitFault, match="found no way on at 0 s"):
        run(hand_written(2, "NOT_FINITE"), interface="me")


@pytest.mark.parametrize(
    ("options", "words"),
    [
        ({"values": {"stifness": 1.0}}, "no variable 'stifness'. Did you mean 'stiffness'"),
        ({"values": {"touching": 1.0}}, "'touching' is an internal variable; it cannot be set"),
        ({"values": {"maker": 1.0}}, "cannot be set"),
        ({"inputs": {"x": lambda t: 0.0}}, "no input 'x'"),
        ({"start": 3.0, "stop": 3.0}, "not after its start"),
    ],
)
def test_settings_that_do_not_fit_are_refused(
    hand_written: Build, options: dict[str, object], words: str
) -> None:
    with pytest.raises(MovrelError) as fault:
        run(hand_written(2), **options)
    assert words in str(fault.value)

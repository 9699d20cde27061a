"""Relations that turn back within what a solver would take as one step: each change is met, by every method."""

from __future__ import annotations

import math
from pathlib import Path

import pytest

import movrel
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.run_unit import UnitOptions, run_unit
from movrel.fmi.archive import open_unit

SOLVERS = ["bdf", "adams", "dae", "rk45", "radau"]
TURN = 2 * math.pi

#: Declarations with a relation b, equations, and how often b becomes true before 2.4 s.
CASES = {
    # The angle of a shaft grows evenly; its sine commutates 60 times a second: 144 times.
    "angle": ("Real x(start=0, fixed=true); Boolean b = sin(x) > 0.5;", f"der(x) = {60 * TURN};", 144),
    # The same in a loop: y + y^3/10 = sin x.
    "loop": ("Real x(start=0, fixed=true); Real y; Boolean b = y > 0.5;", f"der(x) = {TURN}; y + 0.1*y^3 = sin(x);", 3),
    # 10.5 t^2 rad at 2.4 s are 60.5 rad or 9.6 turns; b is true at the start.
    "ever faster": ("Real x(start=0, fixed=true); Real w(start=0, fixed=true); Boolean b = cos(x) > 0.9;", "der(x) = w; der(w) = 21;", 9),
    # Thrown up at 10 m/s under 10 m/s2, the highest point is 5 m.
    "apex": ("Real x(start=0, fixed=true); Real v(start=10, fixed=true); Boolean b = x > 4.9999;", "der(x) = v; der(v) = -10;", 1),
    "two roots": ("Real x(start=0, fixed=true); Boolean b = (x - 1)*(x - 1.01) < 0;", "der(x) = 1;", 1),
    "three roots": ("Real x(start=0, fixed=true); Boolean b = (x - 1)*(x - 2)*(x - 2.2) > 0;", "der(x) = 1;", 2),
    # Where an operand has a kink it turns at once: 0.4 ms, 2 ms and 0.2 ms of 2.4 s.
    "dip": ("Real x(start=-1, fixed=true); Boolean b = abs(x) < 2e-4;", "der(x) = 1;", 1),
    "corner": ("Real x(start=0, fixed=true); Real y; Boolean b = y > 0.999;", "der(x) = 1; y = min(x, 2 - x);", 1),
    "without events": ("Real x(start=-1, fixed=true); Boolean b = noEvent(if x > 0 then x else -x) < 1e-4;", "der(x) = 1;", 1),
    "bump": ("Real x(start=0, fixed=true); Boolean b = exp(-(x - 1.3)^2/0.001) > 0.5;", "der(x) = 1;", 1),
}  # fmt: skip

#: Relations on time that are zero at the very start, how often they become true before 2.4 s, and how long they are true.
STARTS = {
    f"sin({TURN}*time) > 0": (3, 1.4),
    f"-sin({TURN}*time) >= 0": (2, 1.0),
    f"not -sin({TURN}*time) >= 0": (3, 1.4),
    f"sin({TURN}*time) < 0": (2, 1.0),
    "time*(1 - time)*(2 - time) > 0": (2, 1.4),
    "time^2 > 0": (1, 2.4),
    "max(0, time - 1)^2 > 0": (1, 1.4),
    "max(0, time - 1)^2 >= 0": (0, 2.4),
}


def text(declarations: str, equations: str) -> str:
    return f"""model M {declarations} Integer n(start=0, fixed=true); Real q(start=0, fixed=true);
    equation {equations} der(q) = if b then 1 else 0; when b then n = pre(n) + 1; end when; end M;"""


@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize("name", CASES)
def test_every_turn_is_met(name: str, solver: str) -> None:
    declarations, equations, count = CASES[name]
    found = movrel.load(text=text(declarations, equations)).simulate(stop=2.4, solver=solver)
    assert found["n"][-1] == count


@pytest.mark.parametrize("solver", [*SOLVERS, "euler"])
@pytest.mark.parametrize("relation", STARTS)
def test_what_is_zero_at_the_start_takes_its_side(relation: str, solver: str) -> None:
    count, length = STARTS[relation]
    model = movrel.load(text=text(f"Boolean b = {relation};", ""))
    found = model.simulate(stop=2.4, solver=solver, interval=0.01)
    assert found["n"][-1] == count
    assert found["q"][-1] == pytest.approx(length, abs=1e-6)


def test_without_any_state_it_is_the_same() -> None:
    found = movrel.load(
        text=f"model M Integer n(start=0, fixed=true); equation when sin({TURN}*time) > 0 then n = pre(n) + 1; end when; end M;"
    ).simulate(stop=2.4)
    assert found["n"][-1] == 3


@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("name", ["angle", "loop", "two roots", "bump", "dip", "corner"])
def test_units_meet_every_turn(name: str, version: int, tmp_path: Path) -> None:
    declarations, equations, count = CASES[name]
    model = movrel.load(text=text(declarations, equations))
    made = export_unit(model, ExportOptions(version=version, outputs=frozenset({"n"})))
    path = tmp_path / "unit.fmu"
    path.write_bytes(made.archive)
    # Held inputs between few points: steps reach far. For model exchange the importer looks at its own points.
    found = run_unit(open_unit(path), UnitOptions(interface="cs", stop=2.4, interval=0.6))
    assert found["n"][-1] == count
    if name != "dip":  # it is shorter than the distance of these points
        found = run_unit(open_unit(path), UnitOptions(interface="me", stop=2.4, interval=0.002))
        assert found["n"][-1] == count

"""What one process built is read by the next, gives the same bits, and never stands for another model."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest

from movrel import kept_models, session
from movrel.disk_cache import DiskCache
from movrel.session import LoadedModel, load

#: A loop that is torn, events, a linear loop, a table: whatever a system is made of.
VALVES = """
model Valves "Two tanks, a pipe that throttles, a float that switches the pump"
  parameter Integer n = 2 "tanks";
  Real level[n](each start = 1, each fixed = true);
  Real p(start = 0.5), q, loss, u, v;
  discrete Boolean on(start = true, fixed = true);
equation
  when {level[1] < 0.5, level[1] > 1.5} then
    on = level[1] < 0.5;
  end when;
  level[1] - p = q + 0.3*q*abs(q);
  loss = p*p*p + 0.1*exp(p);
  q = loss - 0.2;
  u + 2*v = q;
  3*u - v = level[2];
  der(level[1]) = (if on then 1.5 else 0.0) - q - 0.01*u;
  der(level[2]) = q - 0.3*level[2] + 0.01*v;
  annotation(experiment(StopTime = 60));
end Valves;
"""


@pytest.fixture(autouse=True)
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("MOVREL_CACHE", str(tmp_path / "cache"))
    monkeypatch.setattr(kept_models, "WORTH", 0.0)
    monkeypatch.setattr(kept_models, "WORTH_WITH_EDITS", 0.0)
    return tmp_path / "cache" / "models"


def only_read(monkeypatch: pytest.MonkeyPatch) -> None:
    """From now on nothing may be built."""

    def refuse(*_: object) -> None:
        raise AssertionError("built although it was kept")

    for name in ("flatten_model", "sort_model", "build_system"):
        monkeypatch.setattr(session, name, refuse)


def curves(model: LoadedModel, solver: str = "bdf") -> dict[str, bytes]:
    run = model.simulate(solver=solver)
    return {name: np.asarray(run[name]).tobytes() for name in ("level[1]", "p", "u", "on")}


@pytest.mark.parametrize("solver", ["bdf", "dae", "rk45"])
def test_a_model_that_was_read_gives_the_same_bits(
    solver: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    built = load(text=VALVES)
    assert built.system.jacobian is not None
    before = curves(built, solver)
    only_read(monkeypatch)
    read = load(text=VALVES)
    assert curves(read, solver) == before
    assert read.flat is read.ordered.flat is read.system.flat


def test_what_was_only_sorted_is_read_too(monkeypatch: pytest.MonkeyPatch) -> None:
    names = [v.name for v in load(text=VALVES).ordered.states]
    only_read(monkeypatch)
    assert [v.name for v in load(text=VALVES).ordered.states] == names


def test_a_start_that_needs_all_its_unknowns_needs_them_after_reading() -> None:
    """The fallback of a torn block is made of expressions, which are no part of the file."""
    made = load(text=VALVES).system
    read = load(text=VALVES).system
    assert read is not made
    torn = [n for n, step in enumerate(made.initial.steps) if step.untorn is not None]
    assert torn
    for number in torn:
        first, second = (s.initial.steps[number].untorn for s in (made, read))
        assert first is not None and second is not None
        before, after = first(), second()
        given = [np.linspace(0.3, 0.9, before.size1_in(i)) for i in range(before.n_in())]
        for a, b in zip(before.call(given), after.call(given), strict=True):
            assert np.array_equal(np.array(a), np.array(b))


def test_other_texts_and_structural_values_are_other_models() -> None:
    def final(text: str) -> float:
        return float(load(text=text).simulate()["p"][-1])

    assert final(VALVES.replace("0.1*exp(p)", "0.3*exp(p)")) != final(VALVES) == final(VALVES)
    chain = (
        "model Chain\n  parameter Integer n = 3;\n  Real x[n](each start = 1, each fixed = true);\n"
        "equation\n  for i in 1:n loop\n    der(x[i]) = -i*x[i];\n  end for;\nend Chain;\n"
    )
    for _ in range(2):
        run = load(text=chain).simulate(stop=1.0, set={"n": 4}, tolerance=1e-9)
        assert run["x[4]"][-1] == pytest.approx(np.exp(-4.0), rel=1e-6)
        assert "x[4]" not in load(text=chain).simulate(stop=1.0).names


def test_members_of_a_package_folder_count_before_they_are_read(tmp_path: Path) -> None:
    package = tmp_path / "Basin"
    package.mkdir()
    (package / "package.mo").write_text("package Basin\nend Basin;\n")
    (package / "Rate.mo").write_text(
        "within Basin;\nmodel Rate\n  Real x(start = 1, fixed = true);\nequation\n  der(x) = -x;\nend Rate;\n"
    )
    (package / "Drain.mo").write_text("within Basin;\nmodel Drain\n  Rate r;\nend Drain;\n")

    def final() -> float:
        return float(load(package, model="Basin.Drain").simulate(stop=1.0)["r.x"][-1])

    before = final()
    (package / "Rate.mo").write_text((package / "Rate.mo").read_text().replace("-x", "-2*x"))
    assert final() == pytest.approx(before**2, rel=1e-3)


def test_a_model_that_reads_a_file_reads_it_every_time(tmp_path: Path, folder: Path) -> None:
    (tmp_path / "Filled.mo").write_text(
        'model Filled\n  parameter Real rate[:, :] = Movrel.Tables.read("rate.csv");\n'
        "  Real x(start = 0, fixed = true);\nequation\n  der(x) = rate[1, 2];\nend Filled;\n"
    )
    for rate in (1.0, 3.0):
        (tmp_path / "rate.csv").write_text(f"0, {rate}\n")
        run = load(tmp_path / "Filled.mo").simulate(stop=2.0)
        assert run["x"][-1] == pytest.approx(2.0 * rate)
    assert not folder.exists() or not list(folder.iterdir())


def test_a_damaged_file_is_built_anew(folder: Path) -> None:
    before = curves(load(text=VALVES))
    (path,) = folder.iterdir()
    for content in (b"", b"nonsense", path.read_bytes()[:500]):
        path.write_bytes(content)
        assert curves(load(text=VALVES)) == before


def test_a_folder_in_which_others_may_write_is_left_alone(folder: Path) -> None:
    folder.mkdir(parents=True)
    os.chmod(folder, 0o777)
    load(text=VALVES).system  # noqa: B018
    assert not list(folder.iterdir())


def test_the_oldest_leaves_when_there_is_too_much(folder: Path) -> None:
    kept = DiskCache("models", limit=4_000)
    for number in range(6):
        kept.write(f"{number}", os.urandom(1_000))
        os.utime(folder / f"{number}", (number, number))
        if kept.read("0") is not None:  # which makes it the youngest
            os.utime(folder / "0", (100, 100))
    assert sum(p.stat().st_size for p in folder.iterdir()) <= 4_000
    assert kept.read("0") is not None and kept.read("5") is not None and kept.read("1") is None

"""Units: an exported one for co-simulation against the core's own run, the cost of a call, of a step through the child
process, and of an export.

    .venv/bin/python benchmarks/units.py

Each ratio comes from one run of this script on one machine.
"""

from __future__ import annotations

import statistics
import tempfile
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import movrel
from movrel.exchange.fmi.export import Exported, export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.fmi.archive import open_unit
from movrel.fmi.description import UnitVariable
from movrel.fmi.unit_here import UnitHere
from movrel.fmi.unit_process import UnitProcess

QUAY = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"


def chain(states: int) -> str:
    """A nonlinear thermal chain with an input and an output."""
    return f"""model Chain input Real u; output Real y; Real T[{states}](each start=300, each fixed=true, each nominal=300);
      equation der(T[1]) = u - 1e-9*T[1]^4 - (T[1] - T[2]); y = T[{states}];
      for i in 2:{states - 1} loop der(T[i]) = T[i-1] - 2*T[i] + T[i+1] - 1e-9*T[i]^4; end for;
      der(T[{states}]) = T[{states - 1}] - T[{states}] - 1e-9*T[{states}]^4; annotation(experiment(StopTime=20, Interval=0.04)); end Chain;"""


def best(work: Callable[[], object], times: int = 5) -> float:
    """The shortest of several runs, in s."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


class Direct:
    """A unit for co-simulation in this process."""

    def __init__(self, made: Exported, folder: Path) -> None:
        d = self.description = made.description
        path = folder / f"{d.name}.fmu"
        path.write_bytes(made.archive)
        with zipfile.ZipFile(path) as archive:
            archive.extractall(folder / d.name)
        self.library = folder / d.name / "binaries" / "x86_64-linux" / f"{d.identifiers['cs']}.so"
        self.outputs = [
            v
            for v in d.variables
            if v.kind == "Real"
            and v.variability == "continuous"
            and v.reference not in d.indicators
        ]

    def started(self, stop: float, outputs: list[UnitVariable]) -> UnitHere:
        unit = UnitHere(self.description, self.library, [], [], outputs)
        unit.ask("start", start=0.0, stop=stop, tolerance=None)
        return unit

    def run(self, stop: float, interval: float) -> None:
        unit = self.started(stop, self.outputs)
        for k in range(round(stop / interval)):
            unit.step(k * interval, interval)
        unit.close()

    def call(self) -> float:
        """Seconds of one call of doStep that has nothing to integrate, as the step before reached beyond it, less those of a
        command that does nothing."""
        unit = self.started(1e9, [])
        width, calls = 1e-9, 20_000
        began = time.perf_counter()
        for k in range(calls):
            unit.step(k * width, width)
        took = time.perf_counter() - began
        began = time.perf_counter()
        for _ in range(calls):
            unit.exchange()
        took -= time.perf_counter() - began
        unit.close()
        return took / calls


def against_the_core(name: str, model: movrel.session.LoadedModel, folder: Path) -> None:
    made = export_unit(model, ExportOptions())
    direct = Direct(made, folder)
    experiment = model.flat.experiment
    interval = experiment.interval or experiment.stop / 500
    core = best(lambda: model.simulate())
    unit = best(lambda: direct.run(experiment.stop, interval))
    print(
        f"{name}: unit {1000 * unit:.1f} ms, core {1000 * core:.1f} ms, ratio {unit / core:.2f} (bar 2)"
    )


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for part in ("Sump", "OilCooler", "WinchDrive", "LampSupply"):
            against_the_core(part, movrel.load(QUAY, model=f"VarrowQuay.{part}"), folder)
        for states in (10, 100):
            against_the_core(
                f"chain of {states}",
                movrel.load(text=chain(states).replace("Chain", f"Chain{states}")),
                folder,
            )
        ten = export_unit(movrel.load(text=chain(10)), ExportOptions())
        print(
            f"one doStep of 10 states beyond its integration: {1e6 * Direct(ten, folder).call():.2f} us (bar 5)"
        )
        path = folder / "ten.fmu"
        path.write_bytes(ten.archive)
        through_the_child(path)
        for states in (300, 1000):
            model = movrel.load(text=chain(states))
            took = best(lambda m=model: export_unit(m, ExportOptions()), 1)
            equations = len(model.system.ordered.flat.equations)
            print(f"export of {equations} equations: {took:.1f} s (bar 5 for 1 000)")


def through_the_child(path: Path) -> None:
    opened = open_unit(path)
    d = opened.description.by_name()
    with UnitProcess(opened, "cs", [], [d["u"]], [d["y"]]) as unit:
        unit.ask("start", start=0.0, stop=1e9, tolerance=None)
        width, found = 1e-9, []
        for k in range(5000):
            began = time.perf_counter()
            unit.step(k * width, width)
            found.append(time.perf_counter() - began)
        print(
            f"one step through the child process: {1e6 * statistics.median(found):.1f} us (bar 20)"
        )


if __name__ == "__main__":
    main()

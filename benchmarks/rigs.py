"""What a communication step of a rig costs beyond the units' own time.

    python benchmarks/rigs.py [--seconds T]

Chains of small units, once compiled into the rig's process and once in children of their own, stepped by the master
and, for comparison, stepped alone in a bare loop. The bars are per unit and step, on the machine that this runs on;
``loop`` is what ten million additions in Python take, by which machines can be compared.
"""

from __future__ import annotations

import argparse
import os
import resource
import tempfile
import time
from pathlib import Path

from movrel.couple.rig import RigRun, loaded_members, prepare_rig
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_class import PartChoices, class_of_unit
from movrel.fmi.archive import open_unit
from movrel.project.rig_settings import RigSettings
from movrel.session import LoadedModel, load

LAG = """block Lag{n} {ports}
  Real x[{n}](each start=0, each fixed=true);
equation {equations}
end Lag{n};"""


def lag(signals: int) -> str:
    """A unit of ``signals`` lags, one for each of its inputs."""
    ports = " ".join(
        f"Movrel.Signals.SignalIn u{k}; Movrel.Signals.SignalOut y{k};"
        for k in range(1, signals + 1)
    )
    equations = " ".join(
        f"der(x[{k}]) = u{k} - x[{k}] + 0.01; y{k} = x[{k}];" for k in range(1, signals + 1)
    )
    return LAG.format(n=signals, ports=ports, equations=equations)


def ring(units: int, signals: int, folder: Path | None = None) -> LoadedModel:
    """Units in a ring, each feeding the next; as files of others where a folder is given."""
    cls, name = lag(signals), f"Lag{signals}"
    if folder is not None:
        made = export_unit(
            load(text=cls, model=name),
            ExportOptions(version=2, interfaces=("cs",), documentation=False),
        )
        path = folder / f"{name}.fmu"
        path.write_bytes(made.archive)
        cls = class_of_unit(open_unit(path), PartChoices(name, "cs", path.name))
    parts = " ".join(f"{name} p{k};" for k in range(units))
    wires = " ".join(
        f"connect(p{k}.y{j}, p{(k + 1) % units}.u{j});"
        for k in range(units)
        for j in range(1, signals + 1)
    )
    text = f"model Ring\n{cls}\n{parts}\nequation {wires}\nend Ring;\n"
    if folder is None:
        return load(text=text, model="Ring")
    (folder / "Ring.mo").write_text(text)
    return load(folder / "Ring.mo")


def run(model: LoadedModel, step: float, stop: float) -> tuple[RigRun, float]:
    prepared = prepare_rig(model, RigSettings(step), stop=stop, interval=stop, tolerance=1e-4)
    prepared.go()
    return prepared, prepared.statistics.seconds["run"]


def alone(prepared: RigRun, step: float, count: int) -> float:
    """Seconds for the units' own steps, without a master."""
    members = loaded_members(prepared.rig, prepared.parameters, {})
    try:
        for m in members:
            m.enter(0.0, step * count, 1e-4)
            m.leave()
        began = time.perf_counter()
        for k in range(count):
            for m in members:
                m.give(m.inputs_now() + 1e-9)
                m.step(k * step, step, None)
        return time.perf_counter() - began
    finally:
        for m in members:
            m.close()


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument(
        "--seconds", type=float, default=100.0, help="simulated time of the large rig"
    )
    options = parser.parse_args()
    began, total = time.perf_counter(), 0
    for k in range(10_000_000):
        total += k
    print(f"loop {time.perf_counter() - began:.2f} s, {os.cpu_count()} cores")
    with tempfile.TemporaryDirectory() as name:
        for units, where, folder in (
            (4, "in the rig's process", None),
            (4, "in children", Path(name)),
        ):
            count = 20_000 if folder is None else 5_000
            prepared, seconds = run(ring(units, 1, folder), 1e-3, count * 1e-3)
            own = alone(prepared, 1e-3, count)
            each = 1e6 / (units * count)
            print(
                f"{units} units {where}: {seconds * each:.1f} µs a unit and step, of which {own * each:.1f} µs are the "
                f"unit's own; {(seconds - own) * each:.1f} µs for the master"
            )
    count = round(options.seconds / 1e-3)
    prepared, seconds = run(ring(8, 50), 1e-3, options.seconds)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"8 units with 400 signals at 1 ms for {options.seconds:g} s: {seconds:.1f} s, {1e6 * seconds / count:.0f} µs a step, "
        f"{seconds / options.seconds:.2f} of real time, {peak:.0f} MB"
    )


if __name__ == "__main__":
    main()

"""What the harbour's fluid power and vehicles cost, and how many of 100 random parameter sets run.

.venv/bin/python benchmarks/fluid_power.py [--sweep N]
"""

from __future__ import annotations

import argparse
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

import movrel
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.session import LoadedModel

QUAY = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"

#: What is varied, and within which factors of its own value.
VARIED = {
    "LeafHydraulics": {"leaf.m": (0.5, 2), "control.k": (0.5, 1.5), "oil.air": (0.2, 6), "cylinder.f_c": (0, 5),
                       "linkage.c": (0.2, 5), "accumulator.p_precharge": (0.3, 1.5), "relief.p_set": (0.8, 1.4)},
    "LeafPlant": {"leaf.J": (0.5, 2), "control.k": (0.5, 1.5), "supply.l": (0.2, 4), "line_a.l": (0.2, 4), "oil.air": (0.2, 6)},
    "BarrierAir": {"arm.J": (0.5, 2), "control.K": (0.5, 2), "supply.p_0": (0.8, 1.3), "valve.C": (0.5, 2), "cylinder.f_c": (0, 4)},
    "CapstanAir": {"capstan.J": (0.3, 3), "control.K": (0.3, 3), "supply.p_0": (0.8, 1.3), "hose.V_0": (0.1, 10)},
    "QuayTugBrake": {"tug.m": (0.6, 1.5), "servo.boost": (0.6, 1.5), "line_front.l": (0.3, 3), "front.clearance": (0.3, 3),
                     "tyre_rear.mu": (0.3, 1)},
    "QuayTug": {"tug.m": (0.5, 1.6), "driver.K": (0.5, 2), "converter.c_stall": (0.7, 1.5), "gearbox.w_up": (0.9, 1.2)},
}  # fmt: skip


def loop() -> float:
    """Seconds of ten million additions, against which the machine is measured."""
    began, total = time.perf_counter(), 0
    for k in range(10_000_000):
        total += k
    return time.perf_counter() - began


def seconds_of(action: Callable[[], object]) -> float:
    began = time.perf_counter()
    action()
    return time.perf_counter() - began


def model(name: str) -> LoadedModel:
    return movrel.load(str(QUAY), model=f"VarrowQuay.{name}")


def cost(name: str, unit: float) -> None:
    loaded = model(name)
    build = seconds_of(lambda: loaded.ordered)
    loaded.simulate()
    began = time.perf_counter()
    run = loaded.simulate()
    took = time.perf_counter() - began
    print(
        f"{name:15} {len(loaded.ordered.states):3} states, build {build:.2f} s, {run.time[-1]:g} s simulated in {took:.2f} s"
        f" ({took / unit:.2f} loops), {run.statistics.steps} steps, {len(run.events)} events"
    )


def sweep(name: str, count: int) -> None:
    loaded, random = model(name), np.random.default_rng(1)
    values = {v.name: value for v, value in parameter_values(loaded.flat, {}).items()}
    base = {p: float(values[p]) for p in VARIED[name]}
    refused: list[str] = []
    for _ in range(count):
        point = {p: base[p] * random.uniform(*VARIED[name][p]) for p in base}
        try:
            loaded.simulate(set=point, interval=0.1)
        except MovrelError as fault:
            refused.append(str(fault))
    print(f"{name:15} {count - len(refused)} of {count} complete")
    for text in sorted(set(refused)):
        print("   ", text[:200])


if __name__ == "__main__":
    asked = argparse.ArgumentParser()
    asked.add_argument("--sweep", type=int, default=0)
    count = asked.parse_args().sweep
    unit = loop()
    print(f"ten million additions: {unit:.2f} s")
    for name in VARIED:
        if count:
            sweep(name, count)
        else:
            cost(name, unit)

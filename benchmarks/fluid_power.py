"""What the harbour's fluid power and vehicles cost, and how many of 100 random parameter sets run.

.venv/bin/python benchmarks/fluid_power.py [--sweep N]
"""

from __future__ import annotations

import argparse
import math
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from functools import cache
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

#: Factors between which all numbers of a model vary together, uniform in the logarithm.
TOGETHER = (0.8, 1.25)
#: What only makes sense beside another value stays: the two ends of a thermostat.
TIED = ("thermostat.on", "thermostat.off")


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


@cache
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


def wide(name: str, count: int) -> list[dict[str, float]]:
    """The chosen parameters within their factors."""
    loaded, random = model(name), np.random.default_rng(1)
    values = {v.name: value for v, value in parameter_values(loaded.flat, {}).items()}
    base = {p: float(values[p]) for p in VARIED[name]}
    return [{p: base[p] * random.uniform(*VARIED[name][p]) for p in base} for _ in range(count)]


def together(name: str, count: int) -> list[dict[str, float]]:
    """All numbers of the model at once, each by a factor of its own; elements of tables, whole numbers, zeros,
    temperatures (whose zero is far away) and what decides about the structure stay; limits are kept."""
    loaded, random = model(name), np.random.default_rng(1)
    values = parameter_values(loaded.flat, {})
    base = {
        v.name: (float(values[v]), _limit(v.minimum, -math.inf), _limit(v.maximum, math.inf))
        for v in loaded.flat.parameters()
        if v.variability == "parameter" and v.type == "Real" and not v.final and not v.structural
        and v.unit != "K" and v.name not in TIED and "[" not in v.name and v.binding is not None and v.binding.op == "const" and values[v]
    }  # fmt: skip
    low, high = (math.log(f) for f in TOGETHER)
    return [
        {
            p: min(max(value * math.exp(random.uniform(low, high)), least), most)
            for p, (value, least, most) in base.items()
        }
        for _ in range(count)
    ]


def _limit(bound: object, other: float) -> float:
    value = getattr(bound, "value", None)
    return float(value) if isinstance(value, int | float) else other


def complete(job: tuple[str, dict[str, float]]) -> str:
    """Empty where a run comes to its end, else the sentence."""
    name, point = job
    try:
        model(name).simulate(set=point, interval=0.1)
    except MovrelError as fault:
        return str(fault)
    return ""


def sweep(name: str, count: int, pool: ProcessPoolExecutor) -> None:
    for words, points in (("chosen ones", wide), ("all numbers", together)):
        sets = points(name, count)
        said = list(pool.map(complete, [(name, point) for point in sets]))
        print(
            f"{name:15} {said.count('')} of {count} complete, {words}: {len(sets[0])}", flush=True
        )
        for text in sorted({text for text in said if text}):
            print("   ", text[:200])


if __name__ == "__main__":
    asked = argparse.ArgumentParser()
    asked.add_argument("--sweep", type=int, default=0)
    count = asked.parse_args().sweep
    unit = loop()
    print(f"ten million additions: {unit:.2f} s")
    with ProcessPoolExecutor(2) as pool:
        for name in VARIED:
            if count:
                sweep(name, count, pool)
            else:
                cost(name, unit)

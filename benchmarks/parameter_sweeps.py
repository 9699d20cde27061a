"""Examples of fluid power and vehicles at random parameter sets: how many of the runs come to their end.

    python benchmarks/parameter_sweeps.py [--points 100] [--range 0.8:1.25] [model ...]

All numbers of a model that are not zero vary at once, each by its own factor, uniform in the logarithm; elements of tables,
whole numbers, and what decides about the structure stay. A run that fails must say why in a sentence.
"""

from __future__ import annotations

import argparse
import math
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

from movrel.analyse.design import Vary, points
from movrel.errors import MovrelError
from movrel.session import LoadedModel, load

QUAY = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"
MODELS = [
    "LeafHydraulics",
    "BarrierAir",
    "CapstanAir",
    "QuayTugBrake",
    "QuayTug",
    "LeafPlant",
]


@cache
def quay(name: str) -> LoadedModel:
    return load(QUAY, model=f"VarrowQuay.{name}")


def varied(name: str, low: float, high: float) -> list[Vary]:
    model = quay(name)
    values = model.prepare().parameters
    chosen = []
    for v in model.flat.parameters():
        value = values[v]
        own = v.variability == "parameter" and not v.final and not v.structural and v.type == "Real"
        if not own or "[" in v.name or v.binding is None or v.binding.op != "const" or not value:
            continue
        ends = sorted((low * float(value), high * float(value)))
        if v.minimum is not None or v.maximum is not None:
            ends = [
                min(max(e, limit(v.minimum, -math.inf)), limit(v.maximum, math.inf)) for e in ends
            ]
        chosen.append(Vary(v.name, *ends, distribution="log" if ends[0] > 0 else "uniform"))
    return chosen


def limit(bound: object, other: float) -> float:
    value = getattr(bound, "value", None)
    return float(value) if isinstance(value, int | float) else other


def run(job: tuple[str, dict[str, float]]) -> str:
    """Empty where a run comes to its end, else the sentence."""
    name, values = job
    try:
        quay(name).simulate(set=values)
    except MovrelError as fault:
        return fault.message
    return ""


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("models", nargs="*", default=MODELS)
    parser.add_argument("--points", type=int, default=100)
    parser.add_argument("--range", default="0.8:1.25")
    options = parser.parse_args()
    low, high = (float(x) for x in options.range.split(":"))
    with ProcessPoolExecutor(2) as pool:
        for name in options.models:
            ranges = varied(name, low, high)
            sets = points(ranges, "random", options.points, 1)
            began = time.perf_counter()
            said = list(pool.map(run, [(name, dict(s)) for s in sets]))
            seconds = time.perf_counter() - began
            done = said.count("")
            print(
                f"{name}: {done} of {len(said)} come to their end, {len(ranges)} numbers vary, {seconds:.0f} s"
            )
            for sentence, times in Counter(s for s in said if s).most_common(5):
                print(f"    {times} times: {sentence}")


if __name__ == "__main__":
    main()

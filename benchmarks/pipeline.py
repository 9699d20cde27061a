"""How each stage of the pipeline grows with the model, from 10 to 10 000 equations; memory; a changed value.

.venv/bin/python benchmarks/pipeline.py [--plot pipeline.svg]

The plot needs the extra packages: .venv/bin/pip install -e '.[bench]'
"""

from __future__ import annotations

import argparse
import gc
import resource
import time
from pathlib import Path

import numpy as np
from measure import median
from smooth import CHAIN

import movrel
from movrel.simulate.recording import Listener


def load(n: int) -> movrel.session.LoadedModel:
    return movrel.load(text=CHAIN.replace("= N;", f"= {n};"), model="Chain.M")


def stages(n: int) -> dict[str, float]:
    """Seconds of each stage and the number of equations, for a chain of n masses."""
    clock = [time.perf_counter()]

    def lap() -> float:
        clock.append(time.perf_counter())
        return clock[-1] - clock[-2]

    gc.collect()  # what earlier models left is not of this one
    lap()
    model = load(n)
    found = {"parse": lap()}
    count = len(model.flat.equations)
    found["instantiate"] = lap()
    model.ordered  # noqa: B018 made when asked for
    found["sort"] = lap()
    model.system  # noqa: B018
    found["functions"] = lap()
    return found | {"equations": float(count), "all": clock[-1] - clock[1]}


STAGES = ["parse", "instantiate", "sort", "functions", "all"]


def growth() -> list[dict[str, float]]:
    """Print the table of all stages and return its rows."""
    stages(2)  # imports and tables are not what is measured
    rows = [stages(n) for n in (1, 3, 10, 35, 110, 350, 1110)]
    print("equations  " + "  ".join(f"{name:>11}" for name in STAGES) + "   us/equation")
    for row in rows:
        times = "  ".join(f"{row[name] * 1e3:8.1f} ms" for name in STAGES)
        print(f"{row['equations']:9.0f}  {times}   {row['all'] / row['equations'] * 1e6:8.0f}")
    exponent = np.log(rows[-1]["all"] / rows[-3]["all"]) / np.log(
        rows[-1]["equations"] / rows[-3]["equations"]
    )
    print(
        f"time grows with the power {exponent:.2f} of the number of equations from {rows[-3]['equations']:.0f} to {rows[-1]['equations']:.0f}"
    )
    return rows


def plot(rows: list[dict[str, float]], path: Path) -> None:
    """Seconds of each stage over the number of equations, both logarithmic, with the slope of proportional growth."""
    import matplotlib

    matplotlib.use("Agg")
    matplotlib.rcParams["svg.hashsalt"] = "movrel"
    from matplotlib import pyplot

    figure, axes = pyplot.subplots(figsize=(7.5, 4.8), layout="constrained")
    equations = np.array([row["equations"] for row in rows])
    for name, marker in zip(STAGES, "osD^v"):
        axes.loglog(
            equations,
            [row[name] for row in rows],
            marker=marker,
            label=name,
            linewidth=2.2 if name == "all" else 1.3,
        )
    axes.loglog(
        equations, equations * 1e-3, color="0.5", linestyle="--", label="bar: 1 ms an equation"
    )
    axes.set_xlabel("equations")
    axes.set_ylabel("time in s")
    axes.grid(True, which="major", alpha=0.3)
    axes.legend()
    figure.savefig(path, metadata={"Date": None} if path.suffix == ".svg" else None)


def memory() -> None:
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    model = load(2000)
    count = len(model.flat.equations)
    model.system  # noqa: B018
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    print(
        f"memory: {(after - before) * 1024 / count:.0f} bytes an equation at the peak, {count} equations (bar 1 000)"
    )


def changed_value() -> None:
    """From a changed parameter to the first new sample, for 90 states."""
    model = load(90)
    model.simulate(stop=20, interval=0.04)
    waits: list[float] = []
    for k in range(15):
        began = time.perf_counter()
        seen: list[float] = []

        def chunk(
            t: np.ndarray, table: np.ndarray, began: float = began, seen: list[float] = seen
        ) -> None:
            if not seen:
                seen.append(time.perf_counter() - began)

        model.simulate(
            stop=20, interval=0.04, set={"m[3].C": 10.0 + k}, listener=Listener(chunk=chunk)
        )
        waits.append(seen[0])
    print(
        f"changed value to first new samples, 90 states: {np.median(waits) * 1e3:.1f} ms, worst {max(waits) * 1e3:.1f} ms (bar 20 ms)"
    )
    print(
        f"whole run of 500 points: {median(lambda: model.simulate(stop=20, interval=0.04)) * 1e3:.1f} ms"
    )


if __name__ == "__main__":
    arguments = argparse.ArgumentParser(
        description="How each stage of the pipeline grows with the model."
    )
    arguments.add_argument(
        "--plot", type=Path, help="also draw the growth into this file (.svg or .png)"
    )
    wanted = arguments.parse_args()
    memory()
    table = growth()
    if wanted.plot:
        plot(table, wanted.plot)
    changed_value()

"""The sump against a careful hand-written SciPy script of the same equations.

    .venv/bin/python benchmarks/sump.py

Both compute one hour with 10 000 output points. The script knows the gusts' times and restarts there;
it uses the fastest of LSODA, BDF and Radau at the tolerance at which its level is as exact as ours.
"""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
from measure import median
from scipy.integrate import solve_ivp

from movrel.model.classes import ClassTree
from movrel.session import LoadedModel

FOLDER = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"
POINTS, STOP = 10_000, 3600.0
AREA, OUTLET, G = 12.0, 0.62 * math.pi * 0.15**2 / 4, 9.80665
FLANKS = [0.0, 120.0, 420.0, 1320.0, 1620.0, 2520.0, 2820.0, 3600.0]


def by_hand(method: str, tolerance: float) -> np.ndarray:
    """Level and discharged volume at the output points, shape ``(points, 2)``."""
    grid = np.linspace(0, STOP, POINTS + 1)
    out = np.empty((len(grid), 2))
    state = np.array([0.3, 0.0])
    for first, last in zip(FLANKS, FLANKS[1:], strict=False):
        inflow = 0.042 if any(first == f for f in FLANKS[1::2]) and first != STOP else 0.002

        def rate(t: float, y: np.ndarray, inflow: float = inflow) -> list[float]:
            q = OUTLET * math.sqrt(2 * G * y[0]) if y[0] > 0 else 0.0
            return [(inflow - q) / AREA, q]

        inside = (grid >= first) & (grid <= last)
        at = np.unique(np.append(grid[inside], last))
        found = solve_ivp(
            rate, (first, last), state, method=method, rtol=tolerance, atol=tolerance, t_eval=at
        )
        out[inside] = found.y[:, np.searchsorted(at, grid[inside])].T
        state = found.y[:, -1]
    return out


def reference() -> np.ndarray:
    return by_hand("Radau", 1e-11)


def load(text: str) -> LoadedModel:
    tree = ClassTree()
    tree.add_text((FOLDER / "package.mo").read_text(), "package.mo")
    tree.add_text(text, "Sump.mo")
    found = tree.find("VarrowQuay.Sump")
    assert found is not None
    return LoadedModel(tree, found)


def main() -> None:
    text = (FOLDER / "Sump.mo").read_text()
    exact = reference()
    model = load(text)
    tolerance = 1e-7

    def ours() -> np.ndarray:
        r = model.simulate(interval=STOP / POINTS, tolerance=tolerance)
        keep = np.append(np.diff(r.time) > 0, True)
        on_grid = np.isin(np.round(r.time * POINTS / STOP, 6), np.arange(POINTS + 1)) & keep
        return np.column_stack([r["basin.level"][on_grid], r["harbour.discharged"][on_grid]])

    error = np.abs(ours() - exact).max()
    count = iter(range(10_000))

    def text_to_ready() -> None:
        # Another number each time, so that neither the tree nor the system is already known.
        _ = load(text.replace("0.15", f"0.15{next(count):04d}")).system

    text_to_ready()
    ready = median(text_to_ready)
    run = median(lambda: model.simulate(interval=STOP / POINTS, tolerance=tolerance))
    print(
        f"movrel: text to ready {ready * 1e3:.1f} ms, run of {POINTS} points {run * 1e3:.1f} ms, error {error:.1e}"
    )
    rows = []
    for method in ("LSODA", "BDF", "Radau"):
        for exponent in range(4, 12):
            theirs = np.abs(by_hand(method, 10.0**-exponent) - exact).max()
            if theirs <= error:
                seconds = median(lambda m=method, e=exponent: by_hand(m, 10.0**-e), 5)
                rows.append((seconds, method, 10.0**-exponent, theirs))
                break
    for seconds, method, used, theirs in sorted(rows):
        print(
            f"SciPy {method} at {used:.0e}: {seconds * 1e3:.1f} ms, error {theirs:.1e}, ratio movrel/script {run / seconds:.2f}"
        )


if __name__ == "__main__":
    main()

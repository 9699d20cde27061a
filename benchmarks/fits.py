"""A fit of three parameters to 10 000 samples of the oil cooler, against a script by hand with SciPy.

    python benchmarks/fits.py

The script knows the equation of the cooler and integrates it with ``odeint`` at every sample, as one would write it in an
afternoon; the fit knows only the model's text. The bar: at most a fifth of the script's time.
"""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
from scipy.integrate import odeint
from scipy.optimize import least_squares

from movrel.analyse.fit import fit
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.session import load

QUAY = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"
TRUE = {"shell.h": 31.0, "air.T": 291.0, "oil.T_start": 350.0}
COUNT = 10_000


def measured() -> tuple[np.ndarray, np.ndarray]:
    t = np.linspace(0.0, 7200.0, COUNT)
    rate = TRUE["shell.h"] * 1.4 / 84e3
    clean = TRUE["air.T"] + (TRUE["oil.T_start"] - TRUE["air.T"]) * np.exp(-rate * t)
    return t, clean + 0.2 * np.random.default_rng(3).standard_normal(COUNT)


def by_hand(t: np.ndarray, y: np.ndarray) -> np.ndarray:
    def residual(theta: np.ndarray) -> np.ndarray:
        h, ambient, start = theta
        run = odeint(lambda x, _: -h * 1.4 / 84e3 * (x - ambient), start, t, rtol=1e-8, atol=1e-8)
        return run[:, 0] - y

    answer = least_squares(
        residual,
        [20.0, 288.0, 355.0],
        bounds=([5, 270, 300], [100, 310, 400]),
        x_scale=[10, 10, 10],
    )
    return answer.x


def main() -> None:
    t, y = measured()
    began = time.perf_counter()
    hand = by_hand(t, y)
    script = time.perf_counter() - began
    model = load(QUAY, model="VarrowQuay.OilCooler")
    data = MeasuredData("cool-down", t, {"oil.T": y})
    free = [
        Free("shell.h", 5, 20, 100),
        Free("air.T", 270, 288, 310),
        Free("oil.T_start", 300, 355, 400),
    ]
    model.ordered  # noqa: B018  # building the model is not part of a fit
    began = time.perf_counter()
    found = fit(model, [data], free)
    own = time.perf_counter() - began
    print(f"by hand {script:.2f} s: {hand[0]:.4f}, {hand[1]:.4f}, {hand[2]:.4f}")
    print(
        f"fit     {own:.2f} s: "
        + ", ".join(f"{p.value:.4f} ({p.low:.4f} to {p.high:.4f})" for p in found.parameters)
    )
    print(f"ratio {own / script:.2f}, {found.runs} runs")


if __name__ == "__main__":
    main()

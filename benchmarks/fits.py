"""Fits of three parameters to 10 000 samples of the oil cooler, against scripts by hand with SciPy: as one lump, as three, and
as one lump in air whose temperature was measured, too.

    python benchmarks/fits.py

A script knows the equations and integrates them with ``odeint`` at every sample, as one would write it in an afternoon; the
fit knows only the model's text. The bar: at most a fifth of the script's time.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy.integrate import odeint
from scipy.optimize import least_squares

from movrel.analyse.fit import fit
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.session import LoadedModel, load

QUAY = Path(__file__).resolve().parent.parent / "examples" / "VarrowQuay"
COUNT = 10_000
TIMES = np.linspace(0.0, 7200.0, COUNT)
NOISE = 0.2 * np.random.default_rng(3).standard_normal(COUNT)


def one_lump(theta: np.ndarray) -> np.ndarray:
    h, ambient, start = theta
    run = odeint(lambda x, _: -h * 1.4 / 84e3 * (x - ambient), start, TIMES, rtol=1e-8, atol=1e-8)
    return run[:, 0]


def three_lumps(theta: np.ndarray) -> np.ndarray:
    skin, film, capacity = theta

    def rates(x: np.ndarray, _: float) -> list[float]:
        oil, tubes, shell = x
        to_tubes, to_shell = film * 1.8 * (oil - tubes), 150 * (tubes - shell)
        to_air = skin * 1.4 * (shell - 288.15)
        return [-to_tubes / capacity, (to_tubes - to_shell) / 9e3, (to_shell - to_air) / 15e3]

    run = odeint(rates, [353.15, 353.15, 343.15], TIMES, rtol=1e-8, atol=1e-8)
    return run[:, 0]


#: The temperature of the air as it was measured, every 0.72 s.
AIR = 288 + 3 * np.sin(TIMES / 900) + 0.3 * np.random.default_rng(5).standard_normal(COUNT)
OUTSIDE = """model CoolerOutside
  Movrel.Thermal.HeatCapacity oil(C = 84e3, T_start = 353.15); Movrel.Thermal.Convection shell(h = 25, A = 1.4);
  Movrel.Thermal.DrivenTemperature around; input Real air(unit = "K");
equation
  around.T = air;
  connect(oil.a, shell.a); connect(shell.b, around.b);
end CoolerOutside;"""


def outside(theta: np.ndarray) -> np.ndarray:
    h, start, offset = theta

    def rate(x: np.ndarray, t: float) -> np.ndarray:
        return -h * 1.4 / 84e3 * (x - np.interp(t, TIMES, AIR))

    return odeint(rate, start, TIMES, rtol=1e-8, atol=1e-8)[:, 0] + offset


def compare(
    model: LoadedModel,
    by_hand: Callable[[np.ndarray], np.ndarray],
    true: list[float],
    free: list[Free],
    inputs: dict[str, np.ndarray] | None = None,
    step: float | None = None,
) -> None:
    y = by_hand(np.array(true)) + NOISE
    start, low, high = (
        np.array([getattr(f, name) for f in free]) for name in ("start", "low", "high")
    )
    began = time.perf_counter()
    hand = least_squares(
        lambda theta: by_hand(theta) - y,
        start,
        bounds=(low, high),
        x_scale=high - low,
        diff_step=step,
    ).x
    script = time.perf_counter() - began
    model.system  # noqa: B018  # building the model is not part of a fit
    began = time.perf_counter()
    fitted = fit(model, [MeasuredData("cool-down", TIMES, {"oil.T": y}, inputs or {})], free)
    own = time.perf_counter() - began
    print(f"{model.name}, by hand {script:.3f} s: " + ", ".join(f"{v:.6g}" for v in hand))
    print(
        f"{model.name}, fit     {own:.3f} s: "
        + ", ".join(f"{p.value:.6g} ({p.low:.6g} to {p.high:.6g})" for p in fitted.parameters)
    )
    print(f"ratio {own / script:.2f}, {fitted.runs} runs")


def main() -> None:
    compare(
        load(QUAY, model="VarrowQuay.OilCooler"),
        one_lump,
        [31.0, 291.0, 350.0],
        [Free("shell.h", 5, 20, 100), Free("air.T", 270, 288, 310), Free("oil.T_start", 300, 355, 400)],
    )  # fmt: skip
    compare(
        load(QUAY, model="VarrowQuay.OilCoolerThree"),
        three_lumps,
        [31.0, 90.0, 80e3],
        [Free("skin.h", 5, 20, 100), Free("film.h", 20, 120, 500), Free("oil.C", 4e4, 9e4, 2e5)],
    )
    compare(
        load(text=OUTSIDE, model="CoolerOutside"),
        outside,
        [31.0, 350.0, 0.4],
        [
            Free("shell.h", 5, 20, 100),
            Free("oil.T_start", 300, 355, 400),
            Free("offset(oil.T)", -5, 0, 5),
        ],
        {"air": AIR},
        1e-4,  # smaller differences drown in what the solver makes of the corners of the air
    )


if __name__ == "__main__":
    main()

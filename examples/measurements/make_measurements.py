"""Made-up measurements of the oil cooler and of the test basin: other values than the models', and effects that they lack.

    python examples/measurements/make_measurements.py

The housing stores heat beside the oil, the door of the workshop stands open for a while, and the heater's pipe delays it.
The gauge shows tenths of a degree with noise. The pump of the basin takes some seconds to answer, and its gauge lags and shows
whole millimetres.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np

from movrel.session import load

HERE = Path(__file__).resolve().parent
COOLER = """model MeasuredCooler
  parameter Real oil_start(unit="K") = 350; parameter Real air(unit="K") = 291; parameter Real heater(unit="W") = 0;
  parameter Real opens(unit="s") = 3000; parameter Real colder(unit="K") = 4;
  Real oil(unit="K", start=oil_start, fixed=true); Real housing(unit="K", start=oil_start - housing_lag, fixed=true);
  parameter Real housing_lag(unit="K") = 1.5;
  Real outside(unit="K") = air - (if time > opens and time < opens + 420 then colder else 0);
  Real power(unit="W") = if time >= 600 then heater else 0;
  Real arrives(unit="W") = delay(power, 45);
equation
  66e3*der(oil) = arrives - 300*(oil - housing);
  18e3*der(housing) = 300*(oil - housing) - 31*1.4*(housing - outside);
end MeasuredCooler;"""

BASIN = """model MeasuredBasin
  Real command(unit="m3/s") = if time >= 60 then 28/60000 else 25/60000; Real pumped(unit="m3/s") = delay(command, 6);
  Real level(unit="m", start=rest, fixed=true); Real shown(unit="m", start=rest, fixed=true);
  parameter Real hole(unit="m2") = 0.60*3.14159265/4*0.02^2; parameter Real rest(unit="m") = (25/60000/hole)^2/(2*9.80665);
equation
  0.124*der(level) = pumped - hole*sqrt(2*9.80665*level);
  4*der(shown) = level - shown;
end MeasuredBasin;"""


def measured(
    stop: float, every: float, values: dict[str, float], seed: int
) -> tuple[np.ndarray, ...]:
    """Instants in s, what the gauge shows in °C and the heater's power in W, each of shape ``(n,)``."""
    run = load(text=COOLER).simulate(stop=stop, interval=every, set=values)
    t = np.arange(0.0, stop + every / 2, every)
    noise = np.random.default_rng(seed).normal(0.0, 0.12, len(t))
    shown = np.round(np.interp(t, run.time, run["oil"]) - 273.15 + noise, 1)
    # Of two points at the instant of the step the later one counts.
    power = run["power"][np.searchsorted(run.time, t, side="right") - 1]
    return t, shown, power


def basin() -> list[np.ndarray]:
    """Instants in s, the command in l/min and the level that is shown in mm, each of shape ``(n,)``."""
    run = load(text=BASIN).simulate(stop=1200, interval=2)
    t = np.arange(0.0, 1201.0, 2.0)
    noise = np.random.default_rng(4).normal(0.0, 0.8, len(t))
    level = np.round(1000 * np.interp(t, run.time, run["shown"]) + noise)
    return [t, np.where(t >= 60, 28.0, 25.0), level]


def write(
    name: str, heads: str, columns: list[np.ndarray], digits: list[int], of: str = "oil cooler"
) -> None:
    rows = (
        ";".join(f"{v:.{d}f}" for v, d in zip(row, digits, strict=True)).replace(".", ",")
        for row in zip(*columns, strict=True)
    )
    text = "\n".join([f"Varrow Quay, {of}", heads, *rows])
    (HERE / name).write_text(text + "\n", encoding="utf-8")


def main() -> None:
    t, oil, _ = measured(7200, 10, {}, 1)
    write("oil-cooler-calm-day.csv", "time [min];oil [°C]", [t / 60, oil], [3, 1])
    t, oil, _ = measured(7200, 10, {"oil_start": 344, "air": 286, "colder": 9}, 2)
    write("oil-cooler-windy-day.csv", "time [min];oil [°C]", [t / 60, oil], [3, 1])
    cold = {"oil_start": 291, "housing_lag": 0, "heater": 800, "colder": 0}
    t, oil, power = measured(14400, 20, cold, 3)
    write(
        "oil-cooler-heater-step.csv",
        "time [min];heater [W];oil [°C]",
        [t / 60, power, oil],
        [3, 0, 1],
    )
    write(
        "test-basin-step.csv",
        "time [s];pump [l/min];level [mm]",
        basin(),
        [0, 1, 0],
        "test basin",
    )


if __name__ == "__main__":
    main()

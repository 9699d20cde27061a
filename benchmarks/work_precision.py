"""Work and achieved precision on published initial-value problems, at three tolerances.

    .venv/bin/python benchmarks/work_precision.py

The problems and their end values are those of the Test Set for IVP Solvers (Mazzia and Magherini, University of Bari,
release 2.4); their texts are shared with tests/published. The error is the largest relative one of the components listed;
work is counted in steps and evaluations of the right-hand side, so the figures are the same on every machine.
"""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

import movrel
from movrel.errors import MovrelError
from tests.published.test_chemistry_and_stars import (
    HIRES,
    MEDICAL_AKZO,
    PLEIADES,
    ROBERTSON,
    VAN_DER_POL,
)
from tests.published.test_circuits import ONE_TRANSISTOR, RING_MODULATOR, TRANSISTOR_AMPLIFIER
from tests.published.test_mechanisms import ANDREWS
from tests.published.test_stiff_sets import BEAM, CAR_AXIS, E5, POLLUTION

TOLERANCES = (1e-4, 1e-6, 1e-8)
SOLVERS = ("bdf", "dae", "radau")
#: Text, end, and published end values by variable.
PROBLEMS: dict[str, tuple[str, float, dict[str, float]]] = {
    "Robertson, 1e11 s": (ROBERTSON, 1e11, {"y1": 0.2083340149701255e-07, "y3": 0.9999999791665050}),
    "HIRES": (
        HIRES, 321.8122,
        {"y[1]": 0.7371312573325668e-3, "y[2]": 0.1442485726316185e-3, "y[4]": 0.1175651343283149e-2,
         "y[6]": 0.6238968252742796e-2, "y[8]": 0.2850001604814231e-2},
    ),
    "Van der Pol, mu = 1000": (VAN_DER_POL, 2000.0, {"y": 1.706167732170469, "v": -0.8928097010248125e-3}),
    "Pleiades": (
        PLEIADES, 3.0,
        {"x[1]": 0.3706139143970502, "x[4]": 0.6597091455775310, "y[1]": -0.3943437585517392e1, "y[7]": 0.1091449240428980e1},
    ),
    "Medical Akzo Nobel": (
        MEDICAL_AKZO, 20.0,
        {"u[40]": 0.2339942217046434e-3, "u[75]": 0.3595616017506735e-3, "u[100]": 0.1173741304462833e-3},
    ),
    # Integrated independently at 1e-12, as tests/published/test_circuits.py does.
    "One transistor": (
        ONE_TRANSISTOR, 0.2,
        {"U1": -0.02226709314056, "U2": 3.06870889973142, "U4": 1.49943880269249, "U5": -1.73505664411833},
    ),
    "Transistor amplifier": (
        TRANSISTOR_AMPLIFIER, 0.2,
        {"y1": -0.5562145012262709e-2, "y4": 0.2926422536206241e1, "y7": 0.4770927631616772e1, "y8": 0.1236995868091548e1},
    ),
    "Ring modulator": (
        RING_MODULATOR, 1e-3,
        {"y[1]": -0.2339057358486745e-1, "y[3]": 0.2582956709291169, "y[5]": -0.4039455665149794, "y[7]": 0.1106761861269975},
    ),
    "Pollution": (
        POLLUTION, 60.0,
        {"y[1]": 0.5646255480022769e-1, "y[5]": 0.2018977262302196e-6, "y[13]": 0.2087162882798630e-3,
         "y[16]": 0.4352846369330103e-17, "y[20]": 0.5682943292316392e-4},
    ),
    # Integrated independently at 1e-10: the published values of y2 and y3 contradict each other by 0.14 %.
    "E5": (E5, 1e13, {"y2": 8.861233521e-23}),
    "Car axis": (
        CAR_AXIS, 3.0,
        {"xl": 0.4934557842755629e-1, "yl": 0.4969894602303324, "xr": 0.1041742524885400e1, "yr": 0.3739110272652214},
    ),
    "Beam": (BEAM, 5.0, {"theta[1]": -0.5792366591285007e-2, "theta[4]": -0.3800815655879158e-1}),
    "Andrews' mechanism": (
        ANDREWS, 0.03,
        {"beta": 0.1581077119629904e2, "gamma": 0.4082224013073101e-1, "phi": -0.5347301163226948, "epsilon": 0.1048080741042263e1},
    ),
}  # fmt: skip


def row(text: str, stop: float, exact: dict[str, float], solver: str) -> list[str]:
    """Error, steps and evaluations at each tolerance."""
    cells = []
    for tolerance in TOLERANCES:
        try:
            r = movrel.load(text=text).simulate(
                stop=stop, interval=stop / 10, tolerance=tolerance, solver=solver
            )
        except MovrelError as fault:
            cells.append(str(fault)[:40])
            continue
        error = max(abs(r[name][-1] / value - 1) for name, value in exact.items())
        cells.append(f"{error:.0e}, {r.statistics.steps:,}, {r.statistics.evaluations:,}")
    return cells


def main() -> None:
    print("| Problem | Solver |", " | ".join(f"{t:g}" for t in TOLERANCES), "|")
    print("|---|---|" + "---|" * len(TOLERANCES))
    for name, (text, stop, exact) in PROBLEMS.items():
        for solver in SOLVERS:
            print(
                f"| {name} | {solver} |",
                " | ".join(row(text, stop, exact, solver)),
                "|",
                flush=True,
            )


if __name__ == "__main__":
    main()

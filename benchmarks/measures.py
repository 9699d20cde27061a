"""All measures of a curve with 78 000 points, beside sorting it once.

python benchmarks/measures.py
"""

from __future__ import annotations

import contextlib
import statistics
import time

import numpy as np

from movrel.analyse.measures import MEASURES, NotMeasurable

POINTS, PAIRS = 78_000, 7


def main() -> None:
    t = np.linspace(0.0, 100.0, POINTS)
    measures = [m for m in MEASURES.values() if m.name not in ("at", "crossing")]
    for label, shape in (("decaying oscillation", 50.0), ("slow response", 0.0)):
        measuring, sorting = [], []
        for k in range(PAIRS):
            # Another curve each time, so that nothing is known from before.
            y = np.exp(-t / (50 + k)) * np.cos(2 * np.pi * shape * t) + 1e-3 * k
            begin = time.perf_counter()
            for measure in measures:
                with contextlib.suppress(NotMeasurable):
                    measure.compute(t, y)
            middle = time.perf_counter()
            np.sort(y)
            measuring.append(middle - begin)
            sorting.append(time.perf_counter() - middle)
        one, other = statistics.median(measuring), statistics.median(sorting)
        print(
            f"{label}: {len(measures)} measures {1000 * one:.0f} ms, sorting {1000 * other:.1f} ms, ratio {one / other:.0f}"
        )


if __name__ == "__main__":
    main()

"""Pasting 1 000 named values into an empty model, beside reading the text that comes out of it.

python benchmarks/paste.py
"""

from __future__ import annotations

import statistics
import time

from movrel.edits.figures import PasteFigures
from movrel.edits.target import apply_to, target_of
from movrel.language.parser import parse
from movrel.project.snapshot import Snapshot

LINES, PAIRS = 1000, 5


def main() -> None:
    pasting, reading = [], []
    for k in range(PAIRS):
        # Another model each time, so that nothing is known from before.
        target = target_of(Snapshot.of({"A.mo": f"model A{k}\nend A{k};\n"}), f"A{k}")
        lines = "\n".join(f"p{n} = {n * 0.5 + k} mm; % number {n}" for n in range(LINES))
        begin = time.perf_counter()
        text = apply_to(target, PasteFigures(lines)).text
        middle = time.perf_counter()
        parse(text, "A.mo")
        pasting.append(middle - begin)
        reading.append(time.perf_counter() - middle)
    paste, read = statistics.median(pasting), statistics.median(reading)
    print(f"paste {paste:.2f} s, read {read:.2f} s, ratio {paste / read:.2f}")


if __name__ == "__main__":
    main()

"""The picture of docs/rigs.md: how the lift rig comes closer to the same plant as one model as its step shrinks.

.venv/bin/python docs/make_rigs.py
"""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from typing import get_args

import numpy as np

from movrel.couple.rig import prepare_rig, settings_of
from movrel.project.rig_settings import Inputs, Order
from movrel.session import load

ROOT = Path(__file__).resolve().parent.parent
STEPS = (0.04, 0.02, 0.01, 0.005, 0.0025)
STOP, WIDTH, HEIGHT = 12.0, 560, 330
COLOURS = {
    ("parallel", "held"): "#0072b2", ("parallel", "extrapolated"): "#d55e00",
    ("sequential", "held"): "#009e73", ("sequential", "extrapolated"): "#cc79a7",
}  # fmt: skip


def errors() -> dict[tuple[str, str], list[float]]:
    """The largest difference of the position from that of one model in mm, by order and inputs, step by step."""
    model = load(ROOT / "examples" / "VarrowQuay", model="VarrowQuay.LiftRig")
    settings = settings_of(model)
    assert settings is not None
    exact = model.simulate(stop=STOP, interval=0.04, tolerance=1e-9)
    found: dict[tuple[str, str], list[float]] = {}
    for order in get_args(Order):
        for inputs in get_args(Inputs)[:2]:
            row = []
            for step in STEPS:
                coupling = replace(settings, order=order, inputs=inputs, step=step)
                run = prepare_rig(model, coupling, stop=STOP, interval=0.04, tolerance=1e-8).go()
                at = np.interp(run.time, exact.time, exact["leaf.s"])
                row.append(1000 * float(np.abs(run["leaf.s"] - at).max()))
            found[order, inputs] = row
    return found


def picture(found: dict[tuple[str, str], list[float]]) -> str:
    """A log-log plot as SVG."""
    low = math.floor(math.log10(min(min(r) for r in found.values())))
    high = math.ceil(math.log10(max(max(r) for r in found.values())))

    def x(step: float) -> float:
        return 60 + 300 * math.log(step / STEPS[-1]) / math.log(STEPS[0] / STEPS[-1])

    def y(error: float) -> float:
        return 20 + 260 * (high - math.log10(error)) / (high - low)

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{HEIGHT}" font-family="sans-serif" font-size="12">',
        f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#fdfdfa"/>',
    ]
    for decade in range(low, high + 1):
        at = y(10.0**decade)
        parts.append(f'<line x1="60" x2="360" y1="{at:.1f}" y2="{at:.1f}" stroke="#d8d6cf"/>')
        parts.append(f'<text x="54" y="{at + 4:.1f}" text-anchor="end">{10.0**decade:g}</text>')
    for step in STEPS:
        parts.append(f'<text x="{x(step):.1f}" y="298" text-anchor="middle">{1000 * step:g}</text>')
    parts.append('<text x="210" y="318" text-anchor="middle">communication step in ms</text>')
    parts.append(
        '<text x="14" y="150" transform="rotate(-90 14 150)" text-anchor="middle">'
        "largest error of the position in mm</text>"
    )
    for k, (key, row) in enumerate(found.items()):
        points = " ".join(f"{x(s):.1f},{y(e):.1f}" for s, e in zip(STEPS, row, strict=True))
        colour = COLOURS[key]
        parts.append(
            f'<polyline points="{points}" fill="none" stroke="{colour}" stroke-width="2"/>'
        )
        parts += [
            f'<circle cx="{x(s):.1f}" cy="{y(e):.1f}" r="3" fill="{colour}"/>'
            for s, e in zip(STEPS, row, strict=True)
        ]
        words = f"{'side by side' if key[0] == 'parallel' else 'one after the other'}, {key[1]}"
        parts.append(f'<rect x="376" y="{28 + 22 * k}" width="14" height="4" fill="{colour}"/>')
        parts.append(f'<text x="396" y="{34 + 22 * k}">{words}</text>')
    parts.append("</svg>")
    return "\n".join(parts) + "\n"


if __name__ == "__main__":
    found = errors()
    for key, row in found.items():
        print(key, " ".join(f"{e:.4g}" for e in row))
    (ROOT / "docs" / "rig-convergence.svg").write_text(picture(found))

"""Random trains of clutches, brakes and planetary sets, against time stepping with complementarity.

Source of the method: Moreau, "Unilateral contact and dry friction in finite freedom dynamics" (1988): in every small step the
impulses of friction are those within their limits that bring relative speeds to rest.
"""

from __future__ import annotations

import math
import os
import random

import numpy as np
import pytest
from scipy.linalg import null_space

from tests.library.conftest import run

STOP, STEP = 2.0, 1e-3
SEEDS = 100 if os.environ.get("MOVREL_FULL") else 3


class Train:
    """Inertias with torques ``a + b sin(w t) - d w``, planetary sets, and clutches or brakes that open and close."""

    def __init__(self, seed: int) -> None:
        r = random.Random(seed)

        def number(low: float, high: float) -> float:
            return float(f"{r.uniform(low, high):.3g}")

        n = self.count = r.choice([2, 3, 4])
        self.inertias = [number(0.2, 2) for _ in range(n)]
        self.torques = [
            (number(-4, 4), number(0, 4), number(0.5, 8), number(0.05, 0.6)) for _ in range(n)
        ]
        self.planetary = [(*r.sample(range(n), 3), number(1.3, 3.5))] if n > 2 else []
        #: A geared start would have to obey the gear.
        self.speeds = [0.0 if self.planetary else number(-5, 5) for _ in range(n)]
        pairs = [(k, k + 1) for k in range(n - 1)] + [(r.randrange(n), None)]
        self.frictions = [(a, b, number(2, 12), number(0.5, 3)) for a, b in pairs]

    @staticmethod
    def applied(w: float, t: float) -> float:
        return min(max(1.5 * math.sin(w * t), 0), 1)

    def text(self) -> str:
        part = "Movrel.Rotational."
        lines, wires = [], []
        for k, (inertia, w, (a, b, f, d)) in enumerate(
            zip(self.inertias, self.speeds, self.torques, strict=True)
        ):
            lines.append(f"{part}Inertia j{k}(J={inertia}, w_start={w});")
            lines.append(f"{part}DrivenTorque u{k}(tau={a} + {b}*sin({f}*time) - {d}*j{k}.w);")
            wires.append(f"connect(u{k}.b, j{k}.a);")
        for k, (sun, carrier, ring, z) in enumerate(self.planetary):
            lines.append(f"{part}PlanetarySet g{k}(z={z});")
            wires += [
                f"connect(g{k}.{name}, j{i}.b);"
                for name, i in (("sun", sun), ("carrier", carrier), ("ring", ring))
            ]
        for k, (first, second, limit, w) in enumerate(self.frictions):
            kind = "Brake" if second is None else "Clutch"
            lines.append(
                f"{part}{kind} f{k}(tau_max={limit}, u=min(max(1.5*sin({w}*time), 0), 1));"
            )
            wires.append(f"connect(f{k}.a, j{first}.b);")
            if second is not None:
                wires.append(f"connect(f{k}.b, j{second}.a);")
        return " ".join([*lines, "equation", *wires])

    def by_hand(self) -> np.ndarray:
        """The speeds at the end."""
        n = self.count
        gears = np.zeros((len(self.planetary), n))
        for row, (sun, carrier, ring, z) in zip(gears, self.planetary, strict=True):
            row[[sun, ring, carrier]] = 1, z, -(1 + z)
        free = null_space(gears) if len(gears) else np.eye(n)
        inverse = np.linalg.inv(free.T @ np.diag(self.inertias) @ free)
        slips = np.zeros((len(self.frictions), n))
        for row, (first, second, *_) in zip(slips, self.frictions, strict=True):
            row[first] = 1
            if second is not None:
                row[second] = -1
        slips = slips @ free
        a, b, w, d = np.array(self.torques).T
        speeds, impulses = free.T @ np.array(self.speeds), np.zeros(len(slips))
        for k in range(round(STOP / STEP)):
            t = (k + 0.5) * STEP
            torque = a + b * np.sin(w * t) - d * (free @ speeds)
            speeds = speeds + inverse @ (STEP * free.T @ torque - slips.T @ impulses)
            limits = [limit * self.applied(f, t) * STEP for *_, limit, f in self.frictions]
            for _ in range(60):
                before = impulses.copy()
                for i, (slip, most) in enumerate(zip(slips, limits, strict=True)):
                    reach = impulses[i] + slip @ speeds / (slip @ inverse @ slip)
                    change = min(max(reach, -most), most) - impulses[i]
                    impulses[i] += change
                    speeds = speeds - inverse @ slip * change
                if np.abs(impulses - before).max() < 1e-12:
                    break
        return np.asarray(free @ speeds)


@pytest.mark.parametrize("seed", range(SEEDS))
def test_speeds_are_those_of_time_stepping(seed: int) -> None:
    train = Train(seed)
    exact = train.by_hand()
    for solver in ("bdf", "dae", "radau"):
        r = run(train.text(), STOP, 0.1, solver=solver, tolerance=1e-7)
        speeds = [r[f"j{k}.w"][-1] for k in range(train.count)]
        assert speeds == pytest.approx(exact, abs=2e-2)

"""Random models with relations, roundings, dead bands and events: four methods must agree. Hundreds with MOVREL_FULL."""

from __future__ import annotations

import os
import random

import numpy as np
import pytest

import movrel
from movrel.errors import RunFault

SEEDS = range(2000, 2200) if os.environ.get("MOVREL_FULL") else (2001, 2026, 2078, 2118)
METHODS = ("bdf", "dae", "radau", "rk45")
VARIABLES = ["x", "y", "v", "time", "x - y"]


def expression(chance: random.Random, depth: int = 0) -> str:
    if depth > 2 or chance.random() < 0.35:
        return chance.choice([*VARIABLES, f"sin({chance.uniform(1, 6):.2f}*time)"])
    a, b = expression(chance, depth + 1), expression(chance, depth + 1)
    c = f"({chance.uniform(-1, 1):.2f})"
    return chance.choice([
        f"max({a}, {c})", f"min({a}, {c})", f"abs({a} - {c})", f"({a} + {b})", f"0.5*({a})", f"({a} - {c})*({b})",
        f"max({a} - 0.3, 0)", f"floor(2*({a}))", f"(if {a} > {c} then {b} else {c})", f"tanh({a})",
    ])  # fmt: skip


def random_model(seed: int) -> str:
    """Bounded: what feeds a rate goes through tanh; ``y`` is driven, so that it does not rest at a threshold."""
    chance = random.Random(seed)
    number = chance.uniform
    event = chance.choice([
        f"when b then n = pre(n) + 1; reinit(v, ({number(-1, 1):.2f})); end when;",
        f"when sample({number(0, 0.3):.2f}, {number(0.1, 0.5):.2f}) then n = if b then pre(n) + 1 else pre(n); end when;",
        "when {b, time > 1} then n = pre(n) + 1; end when;",
    ])  # fmt: skip
    states = ", ".join(f"{s}(start={number(-1, 1):.2f}, fixed=true)" for s in "xyv")
    return f"""model Random Real {states}, q(start=0, fixed=true); Boolean b; Integer n(start=0, fixed=true);
    equation der(x) = -{number(0.2, 3):.2f}*x + tanh({expression(chance)});
      der(y) = tanh({expression(chance)}) + {number(0.3, 2):.2f}*cos({number(1, 5):.2f}*time) - {number(0.1, 20):.2f}*y;
      der(v) = tanh({expression(chance)}); b = {expression(chance)} > ({number(-0.5, 0.5):.2f});
      der(q) = if b then 1 else 0; {event} end Random;"""


@pytest.mark.parametrize("seed", SEEDS)
def test_methods_agree(seed: int) -> None:
    text = random_model(seed)
    ends: list[list[float]] = []
    refused: list[str] = []
    for method in METHODS:
        try:
            r = movrel.load(text=text).simulate(stop=3, tolerance=1e-8, interval=0.1, solver=method)
            ends.append([float(r[name][-1]) for name in ("x", "y", "v", "q", "n")])
        except RunFault as fault:
            refused.append(str(fault))
    # What chatters is refused by all of them.
    assert not refused or not ends, (text, refused)
    if ends:
        assert np.ptp(ends, axis=0).max() < 2e-4, (text, ends)

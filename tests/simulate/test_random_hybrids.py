"""Random equations that switch, against an integration of their own with small steps and bisection."""

from __future__ import annotations

import math
import os
import random
from collections.abc import Callable
from dataclasses import dataclass
from itertools import count

import pytest

import movrel

STOP, STEPS = 4.0, 10_000
SEEDS = 200 if os.environ.get("MOVREL_FULL") else 5
#: Relations of states a, b and time t with numbers c and w.
RELATIONS = [
    "{a} - {c}", "{a}*{b} - {c}", "sin({w}*t) - {c}", "sin({w}*t) - {a}", "{a} - {b} - {c}", "abs({a}) - abs({c})",
    "max({a}, {b}) - {c}", "{a}*{a} - abs({c})", "{a} + 0.7*cos({w}*t) - {c}", "{a}*sin({w}*t) - {c}",
    "sqrt(abs({a}) + 0.1) - abs({c})", "exp(-{a}) - abs({c})", "sin({a}*{w}) - {c}", "min({a}, 0.6) - {c}",
]  # fmt: skip


@dataclass
class Hybrid:
    """States with their starts, relations, and rates in which ``[k, x, y]`` is x while the k-th relation holds, else y."""

    starts: list[float]
    relations: list[str]
    rates: list[list[str | tuple[int, str, str]]]

    def text(self) -> str:
        names = range(1, len(self.starts) + 1)
        lines = [
            f"Real x{i}(start = {x}, fixed = true);"
            for i, x in zip(names, self.starts, strict=True)
        ]
        lines += [
            f"Boolean b{k}; Integer n{k}(start = 0, fixed = true);"
            for k in range(len(self.relations))
        ]
        lines.append("equation")
        for k, relation in enumerate(self.relations):
            lines.append(f"b{k} = {relation.replace('*t)', '*time)')} > 0;")
            lines.append(f"when change(b{k}) then n{k} = pre(n{k}) + 1; end when;")
        for i, terms in zip(names, self.rates, strict=True):
            shown = [
                t if isinstance(t, str) else f"(if b{t[0]} then {t[1]} else {t[2]})" for t in terms
            ]
            lines.append(f"der(x{i}) = {' + '.join(shown).replace('*t)', '*time)')};")
        return "model H\n" + "\n".join(lines) + "\nend H;"


def made(seed: int) -> Hybrid:
    r = random.Random(seed)

    def number(low: float, high: float) -> float:
        return round(r.uniform(low, high), 3)

    names = [f"x{i}" for i in range(1, r.choice([1, 2, 3]) + 1)]
    relations = [
        r.choice(RELATIONS).format(
            a=r.choice(names), b=r.choice(names), c=f"({number(-0.9, 0.9)})", w=number(1, 25)
        )
        for _ in range(r.choice([1, 2, 3]))
    ]
    rates: list[list[str | tuple[int, str, str]]] = []
    for x in names:
        y, k = r.choice(names), r.randrange(len(relations))
        rates.append(
            [
                f"({number(-2, -0.2)})*{x}",
                f"({number(-3, 3)})*sin({number(0.5, 12)}*t)",
                r.choice([f"({number(-2, 2)})*{y}/(1 + {y}*{y})", f"({number(-1, 1)})*{x}*{y}/(1 + {y}*{y})"]),
                (k, f"({number(-2, 2)})", f"({number(-2, 2)})*{y}"),
            ]
        )  # fmt: skip
    return Hybrid([number(-1.5, 1.5) for _ in names], relations, rates)


def by_hand(model: Hybrid) -> tuple[list[float], list[int], bool]:
    """States and numbers of changes at the end, and whether a relation came so near to zero that it is open."""
    space = {n: getattr(math, n) for n in ("sin", "cos", "sqrt", "exp")}
    space |= {"abs": abs, "max": max, "min": min}
    given = "t, " + ", ".join(f"x{i + 1}" for i in range(len(model.starts)))

    def function(parts: list[str], extra: str = "") -> Callable[..., tuple[float, ...]]:
        made: Callable[..., tuple[float, ...]] = eval(
            f"lambda {extra}{given}: ({', '.join(parts)},)", space
        )
        return made

    relations = function(model.relations)
    rates = function(
        [" + ".join(t if isinstance(t, str) else f"({t[1]} if b[{t[0]}] else {t[2]})" for t in terms) for terms in model.rates],
        "b, ",
    )  # fmt: skip
    x, t, step = list(model.starts), 0.0, STOP / STEPS
    last = earlier = relations(t, *x)
    held = [g > 0 for g in last]
    changes, open_ = [0] * len(held), False

    def moved(h: float) -> list[float]:
        k1 = rates(held, t, *x)
        k2 = rates(held, t + h / 2, *(a + h / 2 * k for a, k in zip(x, k1, strict=True)))
        k3 = rates(held, t + h / 2, *(a + h / 2 * k for a, k in zip(x, k2, strict=True)))
        k4 = rates(held, t + h, *(a + h * k for a, k in zip(x, k3, strict=True)))
        return [a + h / 6 * (p + 2 * q + 2 * r + s) for a, p, q, r, s in zip(x, k1, k2, k3, k4, strict=True)]  # fmt: skip

    while t < STOP - 1e-12:
        h = min((math.floor(t / step + 1e-9) + 1) * step, STOP) - t
        if [g > 0 for g in relations(t + h, *moved(h))] != held:
            low = 0.0
            for _ in range(40):
                middle = (low + h) / 2
                if [g > 0 for g in relations(t + middle, *moved(middle))] != held:
                    h = middle
                else:
                    low = middle
        x, t = moved(h), t + h
        now = relations(t, *x)
        sides = [g > 0 for g in now]
        changes = [n + (a != b) for n, a, b in zip(changes, sides, held, strict=True)]
        open_ |= any(abs(b) < 4e-4 and abs(b) <= min(abs(a), abs(c)) and a * b > 0 < b * c for a, b, c in zip(earlier, last, now, strict=True))  # fmt: skip
        held, earlier, last = sides, last, now
        open_ |= sum(changes) > 300
        if open_:
            break
    return x, changes, open_


@pytest.mark.parametrize("seed", range(SEEDS))
def test_every_change_is_counted(seed: int) -> None:
    # Where a relation comes so near to zero that either count is right, another model takes its place.
    candidates = (made(seed + SEEDS * k) for k in count())
    tried = ((model, *by_hand(model)) for model in candidates)
    model, exact, changes, _ = next(case for case in tried if not case[-1])
    loaded = movrel.load(text=model.text())
    for solver in ("bdf", "dae", "radau", "rk45"):
        r = loaded.simulate(stop=STOP, solver=solver, tolerance=1e-8)
        assert [r[f"n{k}"][-1] for k in range(len(changes))] == changes
        assert [r[f"x{i + 1}"][-1] for i in range(len(exact))] == pytest.approx(
            exact, abs=3e-5, rel=3e-5
        )

"""Models made by rule from a seed: rows of signal blocks, and balances of equations alone."""

from __future__ import annotations

import random

#: Blocks with one input and one output, and a parameter to set.
BLOCKS = {"Gain": "k=k", "Integrator": "k=2", "Lag": "T={T:.2f}"}


def signals(seed: int) -> str:
    """A source and some blocks in a row, without places on the sheet."""
    pick = random.Random(seed)
    lines = [
        f'  parameter Real k(unit="1") = {pick.randint(1, 9)} "Gain of all";',
        f'  Movrel.Signals.Step source(after={pick.randint(1, 5)}) "What comes in";',
    ]
    wires = []
    before = "source.y"
    for i in range(pick.randint(3, 6)):
        kind = pick.choice(list(BLOCKS))
        lines.append(
            f"  Movrel.Signals.{kind} block{i}({BLOCKS[kind].format(T=pick.uniform(0.1, 2))});"
        )
        wires.append(f"  connect({before}, block{i}.u);")
        before = f"block{i}.y"
    head, tail = (
        f'model Signals{seed} "made by rule"',
        f"  annotation (experiment(StopTime=5));\nend Signals{seed};\n",
    )
    return "\n".join([head, *lines, "equation", *wires, tail])


def balances(seed: int) -> str:
    """Equations, an array and a condition, nothing to draw."""
    pick = random.Random(seed)
    rates = [f"{pick.uniform(0.1, 1):.3f}" for _ in range(pick.randint(2, 5))]
    return f"""model Balances{seed}
  parameter Integer n = {len(rates)};
  parameter Real rate[n](each unit="1/s") = {{{", ".join(rates)}}} "Rates";
  parameter Boolean cold = {pick.choice(["true", "false"])};
  Real x[n](each start=1, each fixed=true);
  Real total = sum(x);
equation
  for i in 1:n loop
    der(x[i]) = -rate[i] * x[i] * (if cold then 0.5 else 1);
  end for;
end Balances{seed};
"""


def models() -> dict[str, str]:
    """Texts by the name of the model."""
    return {f"Signals{n}": signals(n) for n in (1, 2, 3)} | {
        f"Balances{n}": balances(n) for n in (1, 2)
    }

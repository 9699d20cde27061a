"""Evaluation for many instants at once gives what CasADi gives for each."""

from __future__ import annotations

import numpy as np

import movrel
from movrel.simulate.columns import Columns

EVERYTHING = """model M
  Real x(start = 0.4, fixed = true), y(start = 0.3, fixed = true); parameter Real a = 1.7; Boolean b; Real z[24];
equation
  der(x) = -x; der(y) = x - y; b = x > 0.2 and not y > 0.5 or time > 2;
  z = {exp(x), log(x), log10(y), sqrt(y), sin(x), cos(x), tan(x), asin(y), acos(y), atan(x), sinh(x), cosh(x), tanh(x), atan2(x, y),
       abs(-x), sign(y - x), min(x, y), max(x, y), x^a, x^2, a/x, if b then x else y, noEvent(if x >= y then 1 else 2), floor(3*x) + ceil(y)};
end M;"""


def test_every_operation_agrees_with_casadi() -> None:
    system = movrel.load(text=EVERYTHING).system
    rng = np.random.default_rng(3)
    n = 50
    t, x = rng.random(n) * 3, rng.random((len(system.states), n)) * 0.8 + 0.1
    memory = rng.integers(0, 2, (system.values.size1_in(3), n)).astype(float)
    p, w = np.full(len(system.parameters), 1.7), np.zeros(0)
    fast = Columns(system.values)
    assert fast._program is not None
    together = fast(t, x, p, memory, w)
    for k in range(n):
        alone = np.array(system.values(t[k], x[:, k], p, memory[:, k], w)[0]).ravel()
        assert np.allclose(together[k], alone, rtol=1e-14, atol=1e-15, equal_nan=True)

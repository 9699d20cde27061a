"""What an event costs: a restart with 50 states, a switched converter with 10 000 events, one of four phases.

.venv/bin/python benchmarks/events.py
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from measure import median
from scipy.integrate import solve_ivp

import movrel

SAMPLED = """model Sampled "50 thermal masses; something is sampled and held"
  parameter Integer n = 50; parameter Real T = 0.01; Real x[n](each start = 300, each fixed = true); discrete Real u(start = 300, fixed = true);
equation
  der(x[1]) = u - 2*x[1] + x[2]; der(x[n]) = x[n-1] - 2*x[n] + 280;
  for i in 2:n-1 loop der(x[i]) = x[i-1] - 2*x[i] + x[i+1]; end for;
  when sample(0, T) then u = 300 + 20*sin(time); end when;
end Sampled;"""

CONVERTER = """model Converter "step-up converter, switched at 100 kHz; 10 000 events in 50 ms"
  parameter Real f = 1e5, duty = 0.4, V = 12, L = 100e-6, C = 100e-6, R = 10;
  Real i(start = 0, fixed = true), u(start = 0, fixed = true); Boolean on;
equation
  on = mod(time*f, 1) < duty;
  L*der(i) = if on then V else V - u;
  C*der(u) = if on then -u/R else i - u/R;
end Converter;"""


def restart() -> None:
    events = 1000
    with_events = movrel.load(text=SAMPLED)
    smooth = movrel.load(
        text=SAMPLED.replace(
            "when sample(0, T) then u = 300 + 20*sin(time); end when;", "u = 300 + 20*sin(time);"
        )
    )

    def run(model: movrel.session.LoadedModel) -> None:
        model.simulate(stop=10, interval=1, tolerance=1e-6)

    difference = median(lambda: run(with_events), 5) - median(lambda: run(smooth), 5)
    print(
        f"50 states: {difference / events * 1e3:.3f} ms for an event, its iteration and the restart (bar 0.5 ms)"
    )


def converter() -> None:
    model = movrel.load(text=CONVERTER)
    seconds = median(lambda: model.simulate(stop=0.05, interval=1e-4, tolerance=1e-6), 3)
    r = model.simulate(stop=0.05, interval=1e-4, tolerance=1e-6)

    def by_hand() -> np.ndarray:
        y = np.zeros(2)
        for k in range(5000):
            for on, begin, end in (
                (True, k / 1e5, (k + 0.4) / 1e5),
                (False, (k + 0.4) / 1e5, (k + 1) / 1e5),
            ):
                y = solve_ivp(lambda t, y, on=on: [(12 if on else 12 - y[1]) / 100e-6, ((0 if on else y[0]) - y[1] / 10) / 100e-6],
                              (begin, end), y, "LSODA", rtol=1e-6, atol=1e-6).y[:, -1]  # fmt: skip
        return y

    script = median(by_hand, 1)
    error = np.abs(by_hand() - [r["i"][-1], r["u"][-1]]).max()
    print(
        f"converter: {len(r.events)} events in {seconds:.2f} s, {seconds / len(r.events) * 1e6:.0f} us each"
    )
    print(
        f"  SciPy LSODA restarted by hand at the known instants: {script:.2f} s, differs by {error:.1e}, ratio {seconds / script:.2f}"
    )


def four_phases() -> None:
    model = movrel.load(
        Path(__file__).parents[1] / "examples" / "VarrowQuay", model="VarrowQuay.LampSupply"
    )
    model.simulate(stop=1e-5)
    seconds = median(model.simulate, 3)
    r = model.simulate()
    print(f"lamp supply: {len(r.events)} events, {len(r.time)} rows in {seconds:.2f} s (bar 3 s)")


if __name__ == "__main__":
    restart()
    converter()
    four_phases()

"""A smooth model of 10, 100 and 1 000 states against SciPy and against C with the same SUNDIALS.

    .venv/bin/python benchmarks/smooth.py

A nonlinear thermal chain over 20 s with 500 output points. Movrel runs it at a relative tolerance of
1e-6; every other program is given the loosest tolerance at which it is as exact (largest error of any
temperature at the end, against Radau at 1e-12). The C program needs gcc; without it that part is left out.
"""

from __future__ import annotations

import glob
import shutil
import subprocess
import tempfile
from pathlib import Path

import numpy as np
import sksundae
from measure import TOLERANCES, loosest, median
from scipy.integrate import solve_ivp
from scipy.sparse import diags

import movrel

CHAIN = """package Chain "masses and links between a warm and a cold wall"
  connector Port Real T(unit = "K"); flow Real Q(unit = "W"); end Port;
  model Mass Port p; parameter Real C(unit = "J/K") = 10; Real T(start = 300, fixed = true, unit = "K");
  equation C*der(T) = p.Q; T = p.T; end Mass;
  model Link Port a, b; parameter Real G = 2; Real dT(unit = "K"), Q(unit = "W");
  equation dT = a.T - b.T; Q = G*dT*(1 + 0.001*dT^2); a.Q = Q; a.Q + b.Q = 0; end Link;
  model Wall Port p; input Real T(unit = "K"); equation p.T = T; end Wall;
  model M parameter Integer n = N; Mass m[n]; Link l[n + 1]; Wall warm(T = 350 + 10*sin(time)), cold(T = 280);
  equation
    connect(warm.p, l[1].a);
    for i in 1:n loop connect(l[i].b, m[i].p); connect(m[i].p, l[i + 1].a); end for;
    connect(l[n + 1].b, cold.p);
  end M;
end Chain;"""
STOP, POINTS = 20.0, 500
GRID = np.linspace(0, STOP, POINTS + 1)


def rate(t: float, masses: np.ndarray) -> np.ndarray:
    line = np.empty(len(masses) + 2)
    line[0], line[1:-1], line[-1] = 350 + 10 * np.sin(t), masses, 280
    step = line[:-1] - line[1:]
    flow = 2 * step * (1 + 0.001 * step * step)
    return (flow[:-1] - flow[1:]) / 10


def by_scipy(n: int, method: str, tolerance: float) -> np.ndarray:
    extra: dict[str, object] = {}
    if method == "LSODA":
        extra = {"lband": 1, "uband": 1}
    elif n > 10:
        extra = {"jac_sparsity": diags([1.0, 1.0, 1.0], [-1, 0, 1], shape=(n, n))}
    return solve_ivp(
        rate,
        (0, STOP),
        np.full(n, 300.0),
        method,
        t_eval=GRID,
        rtol=tolerance,
        atol=tolerance,
        **extra,
    ).y[:, -1]


def compiled() -> Path | None:
    """The C program, or None without a compiler."""
    if shutil.which("gcc") is None:
        return None
    libraries = Path(sksundae.__file__).parent.parent / "scikit_sundae.libs"
    wanted = [sorted(glob.glob(f"{libraries}/libsundials_{part}-*"))[0] for part in
              ("cvode", "nvecserial", "sunmatrixband", "sunlinsolband", "core")]  # fmt: skip
    program = Path(tempfile.mkdtemp()) / "chain"
    source = Path(__file__).parent / "chain.c"
    subprocess.run(
        [
            "gcc",
            "-O3",
            "-march=native",
            "-o",
            program,
            source,
            *wanted,
            f"-Wl,-rpath,{libraries}",
            "-Wl,--allow-shlib-undefined",
            "-lm",
        ],
        check=True,
    )
    return program


def by_c(program: Path, n: int, tolerance: float, repeats: int = 1) -> tuple[float, np.ndarray]:
    lines = subprocess.run(
        [program, str(n), repr(tolerance), str(repeats)], capture_output=True, text=True, check=True
    ).stdout.split()
    return float(lines[0]), np.array([float(v) for v in lines[1:]])


def main() -> None:
    program = compiled()
    for n in (10, 100, 1000):
        model = movrel.load(text=CHAIN.replace("= N;", f"= {n};"), model="Chain.M")
        exact = solve_ivp(
            rate, (0, STOP), np.full(n, 300.0), "Radau", rtol=1e-11, atol=1e-11, jac_sparsity=diags([1.0, 1.0, 1.0], [-1, 0, 1], shape=(n, n))
        ).y[:, -1]  # fmt: skip

        def ours(
            model: movrel.session.LoadedModel = model,
        ) -> movrel.simulate.trajectory.Trajectory:
            return model.simulate(stop=STOP, interval=STOP / POINTS, tolerance=1e-6)

        r = ours()
        error = max(abs(r[f"m[{i + 1}].T"][-1] - exact[i]) for i in range(n))
        mine = median(ours)
        print(
            f"{n} states: movrel {mine * 1e3:.2f} ms, {r.statistics.steps} steps, error {error:.1e}"
        )
        for method in ("LSODA", "BDF"):
            found = loosest(
                lambda e, m=method, n=n, x=exact: float(np.abs(by_scipy(n, m, e) - x).max()),
                error,
                TOLERANCES,
            )
            if found is None:
                print(f"  SciPy {method}: never as exact")
                continue
            seconds = median(lambda m=method, n=n, e=found[0]: by_scipy(n, m, e), 5)
            print(
                f"  SciPy {method} at {found[0]:.0e}: {seconds * 1e3:.2f} ms, error {found[1]:.1e}, ratio {mine / seconds:.2f}"
            )
        if program is not None:
            found = loosest(
                lambda e, n=n, x=exact: float(np.abs(by_c(program, n, e)[1] - x).max()),
                error,
                TOLERANCES,
            )
            if found is not None:
                seconds = by_c(program, n, found[0], 15)[0]
                print(
                    f"  C with CVODE at {found[0]:.0e}: {seconds * 1e3:.2f} ms, error {found[1]:.1e}, ratio {mine / seconds:.2f}"
                )


if __name__ == "__main__":
    main()

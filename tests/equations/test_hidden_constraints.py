"""Constraints that only coefficients show, and linear loops of any size."""

from __future__ import annotations

import numpy as np
import pytest

import movrel

SOLVERS = ["bdf", "radau", "dae"]


@pytest.mark.parametrize("solver", SOLVERS)
def test_capacitors_in_a_loop_with_a_source_share_its_voltage(solver: str) -> None:
    """No point of the loop is grounded but through an inductor, so each potential seems to be determined."""
    r = movrel.load(
        text="""model Loop
          Movrel.Electrical.Ground ground; Movrel.Electrical.Inductor l(L = 0.1);
          Movrel.Electrical.AlternatingVoltage source(V_rms = 10, f = 50);
          Movrel.Electrical.Capacitor one(C = 1e-5), two(C = 3e-5);
        equation
          connect(ground.a, l.a); connect(l.b, source.b); connect(source.a, one.a);
          connect(one.b, two.a); connect(two.b, source.b);
        end Loop;"""
    ).simulate(stop=0.05, interval=5e-4, solver=solver, tolerance=1e-8)  # fmt: skip
    source = 10 * np.sqrt(2) * np.sin(2 * np.pi * 50 * r.time)
    assert r["one.v"] == pytest.approx(0.75 * source, abs=1e-5)
    assert r["two.v"] == pytest.approx(0.25 * source, abs=1e-5)
    series = 1e-5 * 3e-5 / 4e-5
    current = series * 10 * np.sqrt(2) * 2 * np.pi * 50 * np.cos(2 * np.pi * 50 * r.time)
    assert r["one.i"] == pytest.approx(current, abs=1e-4)


@pytest.mark.parametrize("solver", SOLVERS)
def test_inductors_that_meet_in_two_joined_nodes_share_their_current(solver: str) -> None:
    """A meter joins two nodes; the sum over both holds inductor currents alone. i1 + i2 = i3 starts and stays so."""
    r = movrel.load(
        text="""model Meet parameter Real L1 = 1, L2 = 2, L3 = 0.5, R = 1;
          Real i1(start = 0, fixed = true), i2, i3(start = 0, fixed = true), link, u, w;
        equation
          i1 + link = 0; i2 - link = i3; u = w;
          L1*der(i1) = 1 - R*i1 - u; L2*der(i2) = 2 - R*i2 - w; L3*der(i3) = w - R*i3;
        end Meet;"""
    ).simulate(stop=3, interval=0.05, solver=solver, tolerance=1e-9)  # fmt: skip
    assert r["i2"] - r["i3"] == pytest.approx(-r["i1"], abs=1e-9)
    # Independent: i3 = i1 + i2, so u from L1*i1' = 1 - i1 - u, L2*i2' = 2 - i2 - u, L3*(i1 + i2)' = u - i1 - i2.
    a = np.array([[1 + 0.5, 0.5], [0.5, 2 + 0.5]])
    b = np.array([[2.0, 1.0], [1.0, 2.0]])
    rates, v = np.linalg.eig(-np.linalg.solve(a, b))
    rest = np.linalg.solve(b, [1.0, 2.0])
    share = np.linalg.solve(v, -rest)
    exact = rest[:, None] + v @ (share[:, None] * np.exp(np.outer(rates, r.time)))
    assert np.array([r["i1"], r["i2"]]) == pytest.approx(exact, abs=1e-6)


@pytest.mark.parametrize("solver", SOLVERS)
def test_parallel_capacitors_between_nodes_that_inductors_hold(solver: str) -> None:
    """The potentials of both nodes seem to be given by derivatives of currents; their difference is two voltages at once."""
    r = movrel.load(
        text="""model Tank parameter Real C1 = 0.1, C2 = 0.3, L1 = 2, L2 = 0.5, R = 3;
          Real a, b, u1(start = 1, fixed = true), u2, i1, i2, j1(start = 0, fixed = true), j2(start = 0, fixed = true);
        equation
          u1 = a - b; u2 = a - b; C1*der(u1) = i1; C2*der(u2) = i2; L1*der(j1) = a; L2*der(j2) = b;
          1 = j1 + i1 + i2 + a/R; i1 + i2 = j2;
        end Tank;"""
    ).simulate(stop=5, interval=0.05, solver=solver, tolerance=1e-9)  # fmt: skip
    # Independent: a = R (1 - j1 - j2), b = a - u, and the sum of the capacitances for the two.
    matrix = np.array([[0, 0, 1 / 0.4], [0, -3 / 2, -3 / 2], [-1 / 0.5, -3 / 0.5, -3 / 0.5]])
    rest = np.linalg.solve(matrix, -np.array([0, 3 / 2, 3 / 0.5]))
    rates, v = np.linalg.eig(matrix)
    share = np.linalg.solve(v, np.array([1, 0, 0]) - rest)
    exact = rest[:, None] + (v @ (share[:, None] * np.exp(np.outer(rates, r.time)))).real
    assert np.array([r["u1"], r["j1"], r["j2"]]) == pytest.approx(exact, abs=1e-6)
    assert r["i2"] == pytest.approx(3 * r["i1"], abs=1e-6)


def star(n: int) -> str:
    branches = "\n".join(
        f"u - x[{k}] = R[{k}]*i[{k}]; der(x[{k}]) = i[{k}];" for k in range(1, n + 1)
    )
    total = " + ".join(f"i[{k}]" for k in range(1, n + 1))
    return f"""model Star parameter Real R[{n}] = {{1 + mod(k, 7) for k in 1:{n}}};
      Real u, i[{n}], x[{n}](each start = 0, each fixed = true);
    equation 10 - u = {total}; {branches} end Star;"""


@pytest.mark.parametrize("n", [5, 130])
def test_many_branches_at_one_node(n: int) -> None:
    """The balance of the node is one long row; branches of equal resistance move alike."""
    r = movrel.load(text=star(n)).simulate(stop=2, interval=0.1, tolerance=1e-8)
    kinds = 1 + np.arange(1, n + 1) % 7
    assert (10 - r["u"]) == pytest.approx(sum(r[f"i[{k}]"] for k in range(1, n + 1)), abs=1e-9)
    conductance = 1 + (1 / kinds).sum()
    first = (10 / conductance) / kinds
    assert [r[f"i[{k}]"][0] for k in range(1, n + 1)] == pytest.approx(first, rel=1e-9)
    for k in range(8, n + 1, 7):
        assert r[f"x[{k}]"] == pytest.approx(r["x[1]"], abs=1e-7)


def test_a_grid_of_resistors_against_its_matrix() -> None:
    """12 x 12 nodes, one ampere from corner to corner, some links without resistance."""
    n = 12
    lines, terms = [], {(i, j): [] for i in range(n) for j in range(n)}
    laplace = np.zeros((n * n, n * n))
    for i in range(n):
        for j in range(n):
            for k, (a, b) in enumerate(((i, j + 1), (i + 1, j))):
                if a == n or b == n:
                    continue
                ohms = 1 + (i + 2 * j + k) % 3
                name = f"{'hv'[k]}[{i + 1},{j + 1}]"
                lines.append(f"e[{i + 1},{j + 1}] - e[{a + 1},{b + 1}] = {ohms}*{name};")
                terms[i, j].append(f"- {name}")
                terms[a, b].append(f"+ {name}")
                p, q = i * n + j, a * n + b
                laplace[p, p] += 1 / ohms
                laplace[q, q] += 1 / ohms
                laplace[p, q] -= 1 / ohms
                laplace[q, p] -= 1 / ohms
    for (i, j), parts in terms.items():
        if (i, j) == (n - 1, n - 1):
            lines.append(f"e[{n},{n}] = 0;")
        else:
            lines.append(f"0 = {'f' if (i, j) == (0, 0) else '0'} {' '.join(parts)};")
    text = f"""model Grid Real e[{n},{n}], h[{n},{n - 1}], v[{n - 1},{n}], f(start = 1, fixed = true);
    equation der(f) = 1 - f; {" ".join(lines)} end Grid;"""
    r = movrel.load(text=text).simulate(stop=0.1)
    source = np.zeros(n * n)
    source[0] = 1
    exact = np.zeros(n * n)
    exact[:-1] = np.linalg.solve(laplace[:-1, :-1], source[:-1])
    solved = [r[f"e[{i + 1},{j + 1}]"][-1] for i in range(n) for j in range(n)]
    assert solved == pytest.approx(exact, abs=1e-10)

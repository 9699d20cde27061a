"""How building and running grow for shapes that fill matrices: a star, a grid, an array of components.

    .venv/bin/python benchmarks/shapes.py

The exponent is that of the time over the number of equations, from the middle row of a shape to its last: 1 is linear.
"""

from __future__ import annotations

import math
import resource
import time

import movrel


def star(n: int) -> str:
    """One node with n branches, each with a resistance and a store."""
    branches = "\n".join(
        f"u - x[{k}] = {1 + k % 7}*i[{k}]; der(x[{k}]) = i[{k}];" for k in range(1, n + 1)
    )
    total = " + ".join(f"i[{k}]" for k in range(1, n + 1))
    return f"""model Shape Real u, i[{n}], x[{n}](each start = 0, each fixed = true);
      equation 10 - u = {total}; {branches} end Shape;"""


def grid(n: int) -> str:
    """n by n nodes, resistances between neighbours."""
    lines = []
    for i in range(1, n + 1):
        for j in range(1, n + 1):
            balance = [f"- h[{i},{j}]"] * (j < n) + [f"+ h[{i},{j - 1}]"] * (j > 1)
            balance += [f"- v[{i},{j}]"] * (i < n) + [f"+ v[{i - 1},{j}]"] * (i > 1)
            lines += [f"e[{i},{j}] - e[{i},{j + 1}] = R*h[{i},{j}];"] * (j < n)
            lines += [f"e[{i},{j}] - e[{i + 1},{j}] = R*v[{i},{j}];"] * (i < n)
            feed = "f" if i == j == 1 else "0"
            lines.append(f"e[{n},{n}] = 0;" if i == j == n else f"0 = {feed} {' '.join(balance)};")
    return f"""model Shape parameter Real R = 2; Real e[{n},{n}], h[{n},{n - 1}], v[{n - 1},{n}];
      Real f(start = 1, fixed = true); equation der(f) = 1 - f; {" ".join(lines)} end Shape;"""


def array(n: int) -> str:
    """n components of one class in a row."""
    return f"""model Shape
      model Cell parameter Real R = 1, C = 1; Real a, b, q, T(start = 0, fixed = true);
      equation q = (a - T)/R; C*der(T) = q - (T - b)/R; end Cell;
      Cell c[{n}](each R = 2);
      equation c[1].a = 1; for i in 2:{n} loop c[i].a = c[i - 1].T; c[i - 1].b = c[i].T; end for; c[{n}].b = 0;
      end Shape;"""


SHAPES = [
    ("star", star, (1_000, 3_000, 10_000)),
    ("grid", grid, (16, 24, 40)),
    ("array", array, (1_000, 3_000, 10_000)),
]


def main() -> None:
    movrel.load(text=array(3), model="Shape").simulate(stop=0.1)  # imports are not measured
    print("| shape | equations | build | run of 0.1 s | memory so far |")
    print("|---|---|---|---|---|")
    for name, text_of, sizes in SHAPES:
        rows = []
        for n in sizes:
            model = movrel.load(text=text_of(n), model="Shape")
            began = time.perf_counter()
            system = model.system
            built = time.perf_counter()
            model.simulate(stop=0.1, interval=0.01)
            ran = time.perf_counter()
            memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
            count = len(system.flat.equations)
            rows.append((count, ran - began))
            print(
                f"| {name} of {n} | {count} | {built - began:.2f} s | {ran - built:.2f} s | {memory:.0f} MB |",
                flush=True,
            )
        (few, short), (many, long) = rows[-2:]
        print(f"{name}: exponent {math.log(long / short) / math.log(many / few):.2f}", flush=True)


if __name__ == "__main__":
    main()

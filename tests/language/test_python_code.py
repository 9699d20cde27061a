"""Code components: a small part of Python as a Modelica block; everything else is refused by line."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.errors import EditFault
from movrel.language.python_code import Code, translate


def block(source: str, **more: object) -> str:
    return translate(Code("Own", source, **{"inputs": ["x"], "outputs": ["y"], **more}))  # type: ignore[arg-type]


def computed(
    source: str, x: str = "time", stop: float = 4.0, **more: object
) -> tuple[np.ndarray, np.ndarray]:
    text = (
        block(source, **more)
        + f"\nmodel M\n  Own own;\nequation\n  own.x = {x};\n  annotation (experiment(StopTime={stop}, Interval=0.01));\nend M;"
    )
    r = movrel.load(text=text, model="M").simulate()
    return r.time, r["own.y"]


SOURCE = """
# a curve in pieces
if x < 1:
    y = x**2
elif 1 <= x < 2:
    y = 2*x - 1
else:
    t = 0
    for k in range(1, 4):
        t += k*sin(x)/3
    y = max(t, 0.5, -1) if not x > 3 else abs(-x) % 2
"""


def python(x: float) -> float:
    space: dict[str, object] = {"sin": math.sin, "x": x}
    exec(SOURCE, space)
    return float(space["y"])  # type: ignore[arg-type]


def test_it_computes_what_python_does() -> None:
    t, y = computed(SOURCE)
    inside = np.array([abs(v - round(v)) > 0.02 for v in t])
    expected = np.array([python(v) for v in t])
    assert inside.sum() > 300 and np.allclose(y[inside], expected[inside], rtol=1e-9)


MODULES = """
import math
import numpy as np
from math import hypot
a = math.sqrt(x) + pow(x, 3) - np.sign(x - 2)*hypot(x, 2.0)
b = np.clip(x, 1, 3)*np.pi + np.arctan2(x, 2) + math.fabs(-x)
y = a + np.maximum(b, math.radians(90)) + math.log2(x + 1) + np.square(x)
"""


def test_names_of_the_usual_modules_are_known() -> None:
    t, y = computed(MODULES)
    expected = [
        math.sqrt(x) + x**3 - np.sign(x - 2) * math.hypot(x, 2)
        + max(np.clip(x, 1, 3) * math.pi + math.atan2(x, 2) + abs(x), math.pi / 2)
        + math.log2(x + 1) + x**2
        for x in t
    ]  # fmt: skip
    off_events = [abs(x - k) > 0.02 for x in t for k in (2,)]
    assert np.allclose(np.array(y)[off_events], np.array(expected)[off_events], rtol=1e-9)
    with pytest.raises(EditFault, match="the function 'fft' is not available"):
        block("y = np.fft(x)")
    with pytest.raises(EditFault, match="an import"):
        block("import os\ny = x")


def test_memory_changes_at_the_samplings_only() -> None:
    t, y = computed("count = count + 1\ny = count", memory={"count": 0.0}, period="0.5", stop=2.2)
    assert [y[np.argmin(abs(t - v))] for v in (0.25, 0.75, 1.25, 2.1)] == [1, 2, 3, 5]


def test_a_discrete_controller_against_its_recursion() -> None:
    source = "e = x - y_old\ntotal = max(-2, min(2, total + 0.1*e))\ny = 0.5*e + total\ny_old = y"
    _, y = computed(source, x="1", memory={"total": 0.0, "y_old": 0.0}, period="0.1", stop=1.05)
    total = old = value = 0.0
    for _ in range(11):
        e = 1 - old
        total = max(-2.0, min(2.0, total + 0.1 * e))
        value = old = 0.5 * e + total
    assert y[-1] == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("source", "line", "words"),
    [
        ("import os\ny = x", 1, "an import"),
        ("y = x\nfrom os import path", 2, "an import"),
        ("y = x.real", 1, "an attribute"),
        ("y = __import__('os')", 1, "__import__"),
        ("y = x\nwhile x > 0:\n    y = 1", 2, "while"),
        ("y = [1, 2]", 1, "a list"),
        ("y = z", 1, "'z' is not known"),
        ("if x > 0:\n    y = 1", 2, "not set on every way"),
        ("y = (lambda: 1)()", 1, "a lambda"),
        ("y = 1 if x else 2", 1, "must compare"),
        ("y = x ==", 1, "invalid syntax"),
        ("for i in range(100000):\n    y = i", 1, "more than 1000 rounds"),
        ("for i in range(40):\n    for j in range(40):\n        y = i", 2, "more than 1000 rounds"),
        ("y = x == 1", 1, "exactly equal"),
        ("y = x > 1", 1, "must be a number"),
        ("x = 2\ny = x", 1, "input 'x' cannot be set"),
        ("def f():\n    pass\ny = 1", 1, "a function definition"),
        ("y = sin(1, 2)", 1, "takes 1 value"),
        ("y = eval('1')", 1, "'eval' is not available"),
        ("a, b = 1, 2\ny = a", 1, "more than one"),
        ("y = x @ x", 1, "MatMult"),
        ("y = (q := 3)", 1, "assignment inside"),
    ],
)
def test_refusals_name_line_and_construct(source: str, line: int, words: str) -> None:
    with pytest.raises(EditFault) as found:
        block(source)
    assert words in found.value.message and f"line {line}:" in found.value.message
    assert found.value.where is not None and found.value.where.line == line


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"memory": {"m": 0.0}}, "memory needs a sampling period"),
        ({"outputs": []}, "needs an output"),
        ({"inputs": ["x", "x"]}, "declared twice"),
        ({"outputs": ["end"]}, "cannot be a name"),
    ],
)
def test_what_is_declared_is_checked(more: dict[str, object], words: str) -> None:
    with pytest.raises(EditFault, match=words):
        block("y = 1", **more)


def test_parameters_are_known_and_keep_their_values() -> None:
    declared = {"k": '(unit="1/s") = 3', "limit": " = 5"}
    _, y = computed("y = min(limit, k*x)", parameters=declared, units={"x": "s"})
    assert y[0] == 0 and y[-1] == 5 and y.max() == 5
    _, half = computed("y = k*x/6", parameters=declared)
    assert half[-1] == pytest.approx(2.0)

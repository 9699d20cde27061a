"""Small models by chapter of the language specification, with values known in advance.

Each ``.mo`` file here holds cases. A case begins with ``//# name``; lines that begin with ``//:`` say
what must come out: ``x = expression in t`` for a variable over the whole run, ``stop T``, ``tol R``,
``model NAME``, or ``error words`` for a model that is refused with a sentence that holds the words.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError

HERE = Path(__file__).parent


@dataclass
class Case:
    name: str
    text: str
    expected: list[tuple[str, str]] = field(default_factory=list)
    stop: float = 1.0
    tolerance: float = 1e-6
    model: str | None = None
    error: str | None = None


def read(path: Path) -> list[Case]:
    cases = []
    for part in path.read_text(encoding="utf-8").split("//#")[1:]:
        title, _, rest = part.partition("\n")
        case = Case(f"{path.stem}: {title.strip()}", rest)
        for line in rest.splitlines():
            if not line.startswith("//:"):
                continue
            say = line[3:].strip()
            word, _, value = say.partition(" ")
            if word == "stop":
                case.stop = float(value)
            elif word == "tol":
                case.tolerance = float(value)
            elif word == "model":
                case.model = value.strip()
            elif word == "error":
                case.error = value.strip()
            else:
                name, _, expression = say.partition(" = ")
                case.expected.append((name.strip(), expression.strip()))
        assert case.expected or case.error, f"{case.name} expects nothing"
        cases.append(case)
    return cases


CASES = [case for path in sorted(HERE.glob("*.mo")) for case in read(path)]
FUNCTIONS = {
    name: getattr(np, name)
    for name in (
        "exp",
        "sin",
        "cos",
        "sqrt",
        "where",
        "floor",
        "log",
        "tan",
        "pi",
        "minimum",
        "maximum",
        "abs",
        "tanh",
    )
}


def test_there_are_enough_cases() -> None:
    assert len(CASES) >= 150
    assert len({case.name for case in CASES}) == len(CASES)


@pytest.mark.parametrize("case", CASES, ids=[case.name for case in CASES])
def test_case(case: Case) -> None:
    if case.error is not None:
        with pytest.raises(MovrelError) as fault:
            movrel.load(text=case.text, model=case.model).simulate(stop=case.stop)
        assert case.error in fault.value.sentence()
        return
    r = movrel.load(text=case.text, model=case.model).simulate(
        stop=case.stop, interval=case.stop / 40, tolerance=1e-10
    )
    # At an instant stored twice the sides of an event differ; a closed form knows one of them.
    single = np.concatenate([np.diff(r.time) > 1e-9, [True]]) & np.concatenate(
        [[True], np.diff(r.time) > 1e-9]
    )
    t = r.time[single]
    for name, expression in case.expected:
        exact = np.broadcast_to(
            np.asarray(eval(expression, {"__builtins__": {}}, {**FUNCTIONS, "t": t}), dtype=float),
            t.shape,
        )
        assert r[name][single] == pytest.approx(exact, rel=case.tolerance, abs=case.tolerance), name

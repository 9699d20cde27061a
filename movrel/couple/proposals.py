"""Likely pairs of outputs and inputs, by what they are called, their units and their ranges."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from movrel.couple.partition import UnitPart
from movrel.errors import UnitFault
from movrel.model.expression import Expr, Variable
from movrel.units import unit

#: What a pair gains by its names, its units and its ranges; pairs below the threshold are not proposed.
NAMES, UNITS, RANGES, THRESHOLD = 0.65, 0.25, 0.10, 0.4
#: How sure a pair is whose names have nothing in common, but which has the only output of its quantity.
ONLY = 0.42
#: Proposals for one input at most.
MOST = 3
#: Words of the trade that mean the same.
_SAME = (
    {"pos", "position", "s", "displacement", "travel"}, {"vel", "velocity", "speed", "v", "w", "omega"},
    {"f", "force", "load"}, {"trq", "torque", "tau", "moment"}, {"p", "press", "pressure"}, {"q", "flow"},
    {"temp", "temperature", "t"}, {"ref", "reference", "set", "setpoint", "demand", "target", "wanted", "w"},
    {"cmd", "command", "control", "u", "valve", "opening"}, {"act", "actual", "meas", "measured", "feedback", "x"},
    {"u", "voltage", "volt"}, {"i", "current", "curr"}, {"phi", "angle", "ang"}, {"lvl", "level", "height"},
)  # fmt: skip
#: Words that say nothing about what a signal is.
_EMPTY = {"in", "out", "input", "output", "signal", "sig", "port", "y", "of", "the", "value", "val"}
_WORD = re.compile(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+|\d+")


@dataclass(frozen=True, slots=True)
class Proposal:
    """A pair that may belong together: how sure, from 0 to 1, and why."""

    source: str
    target: str
    score: float
    reason: str


def proposals(parts: Sequence[UnitPart], fed: set[Variable]) -> list[Proposal]:
    """The best outputs for each input that is not in ``fed``, the surest first."""
    proposed: list[Proposal] = []
    outputs = [(p, v) for p in parts for v in p.ports("output")]
    for part in parts:
        for target in part.ports("input"):
            if target in fed:
                continue
            rated = [
                p
                for other, source in outputs
                if other is not part and (p := _rated(source, target))
            ]
            others = [v for other, v in outputs if other is not part]
            proposed += sorted(rated, key=lambda p: -p.score)[:MOST] or _only_one(others, target)
    return sorted(proposed, key=lambda p: -p.score)


def _only_one(outputs: Sequence[Variable], target: Variable) -> list[Proposal]:
    """The output that alone has the quantity of an input."""
    fitting = [
        v
        for v in outputs
        if v.type == target.type and v.unit and target.unit and _units(v.unit, target.unit)[0] > 0
    ]
    if len(fitting) != 1:
        return []
    (source,) = fitting
    return [Proposal(source.name, target.name, ONLY, f"the only output in {source.unit}")]


def best(proposed: Sequence[Proposal]) -> list[Proposal]:
    """One proposal for each input: the surest, where it is surer than the next."""
    chosen: dict[str, Proposal] = {}
    for p in proposed:
        chosen.setdefault(p.target, p)
    return list(chosen.values())


def _rated(source: Variable, target: Variable) -> Proposal | None:
    if source.type != target.type:
        return None
    units, words_of_units = _units(source.unit, target.unit)
    if units < 0:
        return None
    names, words_of_names = _names(source.name, target.name)
    ranges, words_of_ranges = _ranges(source, target)
    score = NAMES * names + UNITS * units + RANGES * ranges
    if score < THRESHOLD:
        return None
    reason = ", ".join(w for w in (words_of_names, words_of_units, words_of_ranges) if w)
    return Proposal(source.name, target.name, round(score, 3), reason)


def _units(one: str, other: str) -> tuple[float, str]:
    """How well units go together; below zero where they cannot."""
    if not one or not other:
        return (0.3, "") if one == other else (0.2, "")
    if one == other:
        return 1.0, f"both in {one}"
    try:
        same = unit(one).dimension == unit(other).dimension
    except UnitFault:
        return 0.0, ""
    return (0.8, f"{one} is converted to {other}") if same else (-1.0, "")


def words(name: str) -> list[str]:
    """The words of a name, in small letters: ``leafAngle_ref`` is leaf, angle, ref."""
    return [w.lower() for w in _WORD.findall(name)]


def _names(source: str, target: str) -> tuple[float, str]:
    """The share of words that two names have in common, those of the port counting twice."""
    a, b = _weighted(source), _weighted(target)
    alike = [(w, u) for w, u in _pairs(list(a), list(b))]
    common = sum(a[w] + b[u] for w, u in alike)
    total = sum(a.values()) + sum(b.values())
    if not total or not alike:
        return 0.0, ""
    said = ", ".join(w if w == u else f"{w} ~ {u}" for w, u in alike)
    return common / total, f"names: {said}"


def _weighted(name: str) -> dict[str, float]:
    owner, _, port = name.rpartition(".")
    weights = dict.fromkeys(words(owner.rpartition(".")[2]), 0.5)
    weights |= dict.fromkeys(words(port), 1.0)
    telling = {w: k for w, k in weights.items() if w not in _EMPTY}
    return telling or weights


def _pairs(a: list[str], b: list[str]) -> Iterator[tuple[str, str]]:
    """Words that mean the same, each used once: equal ones first, then abbreviations and synonyms."""
    left = list(b)
    rest: list[str] = []
    for w in a:
        if w in left:
            left.remove(w)
            yield w, w
        else:
            rest.append(w)
    for w in rest:
        match = next((u for u in left if _alike(w, u)), None)
        if match is not None:
            left.remove(match)
            yield w, match


def _alike(w: str, u: str) -> bool:
    short, long = sorted((w, u), key=len)
    if len(short) >= 2 and (long.startswith(short) or _abbreviates(short, long)):
        return True
    return any(w in group and u in group for group in _SAME)


def _abbreviates(short: str, long: str) -> bool:
    """Whether a word is another one with letters left out: same first letter, the rest in order, no digits."""
    if len(short) < 3 or short[0] != long[0] or not short.isalpha():
        return False
    letters = iter(long)
    return all(c in letters for c in short)


def _ranges(source: Variable, target: Variable) -> tuple[float, str]:
    bounds = [
        _constant(e) for e in (source.minimum, source.maximum, target.minimum, target.maximum)
    ]
    low, high, least, most = bounds
    if any(b is None for b in bounds):
        return 0.5, ""
    assert low is not None and high is not None and least is not None and most is not None
    if high < least or low > most:
        return 0.0, "ranges that do not meet"
    return (1.0, "fitting ranges") if least <= low and high <= most else (0.7, "")


def _constant(e: Expr | None) -> float | None:
    if e is None or e.op != "const" or isinstance(e.value, str):
        return None
    value = float(e.value)
    return value if abs(value) < 1e50 else None

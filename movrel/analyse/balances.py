"""Balances that can be claimed of a model: what its parts store and let through, found in their equations.

A part stores a quantity where ``k*der(x)`` equals a sum of what flows, ``k`` being a parameter: over a run
``k*(final(x) - initial(x))`` is then the integral of that sum. A part lets a quantity through where the flows of
its ports add up to nothing. Forces and torques balance as energy, by the work they do along the velocity.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from movrel.equations.linear import linear_parts
from movrel.errors import MovrelError
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.units import si_unit

#: What flows, by its unit: what is balanced, the unit of its amount, and whether that is work along a velocity.
KINDS = {
    "A": ("charge", "C", False),
    "W": ("energy", "J", False),
    "J/s": ("energy", "J", False),
    "m3/s": ("volume", "m3", False),
    "kg/s": ("mass", "kg", False),
    "mol/s": ("amount of substance", "mol", False),
    "N": ("energy", "J", True),
    "N.m": ("energy", "J", True),
}
#: How well amounts must agree, as a share of what flowed in all: stored, done as work, and let through.
STORED, WORK, THROUGH = "1e-3", "1e-2", "1e-6"


@dataclass(frozen=True, slots=True)
class Balance:
    """A claim that a quantity is conserved in a part."""

    kind: str
    component: str
    text: str


def balances(flat: FlatModel) -> list[Balance]:
    """The balances of all parts, those of the model itself and of its outermost parts first."""
    jumping = {r.state.value for r in flat.reinits if r.state.op == "var"}
    results = [
        b for e in flat.equations if e.kind == "equation" if (b := _stored(e, jumping)) is not None
    ]
    results += _through(flat)
    return sorted(results, key=lambda b: (b.component.count("."), b.component, b.kind))


def _stored(e: FlatEquation, jumping: set[Variable]) -> Balance | None:
    """``k*der(x) = sum of flows`` as a claim, if the equation is that."""
    rates = [node for side in (e.left, e.right) for node in x.walk(side) if node.op == "der"]
    if len({n.args[0].value for n in rates}) != 1 or rates[0].args[0].op != "var":
        return None
    state = rates[0].args[0].variable
    if state.protected or state in jumping or state.variability != "continuous":
        return None
    rate = Variable(f"der({state.name})")
    difference = x.transform(
        x.subtract(e.left, e.right), lambda node: x.var(rate) if node.op == "der" else None
    )
    flows = [
        v
        for v in x.variables(difference)
        if v is not rate and v.variability == "continuous" and v is not state
    ]
    parts = linear_parts(difference, {rate, *flows})
    if parts is None or not flows:
        return None
    coefficients, rest = parts
    k = x.fold(coefficients.pop(rate, x.ZERO))
    signs = {v: _sign(coefficients.get(v)) for v in flows}
    kind = _kind(flows)
    if (
        kind is None
        or not x.fold(rest).is_const(0)
        or 0 in signs.values()
        or not _constant(k)
        or any(v.protected for v in flows)
    ):
        return None
    if x.show(k).startswith("-"):
        k = x.fold(x.negate(k))
    else:
        # It stood at the left; the flows change sides.
        signs = {key: -sign for key, sign in signs.items()}
    what, _, work = KINDS[kind]
    through = _sum(flows, signs)
    factor = "" if k.is_const(1) else f"{_bracketed(k)}*"
    if not work:
        text = f"{factor}(final({state.name}) - initial({state.name})) ≈ integral({through}) ± {STORED}*integral(abs({through}))"
        return Balance(what, e.component, text)
    if si_unit(state.unit or "1") not in ("m/s", "rad/s", "1/s"):
        return None
    power = f"({through})*{state.name}" if len(flows) > 1 else f"{through}*{state.name}"
    text = f"0.5*{factor}(final({state.name})^2 - initial({state.name})^2) ≈ integral({power}) ± {WORK}*integral(abs({power}))"
    return Balance(what, e.component, text)


def _through(flat: FlatModel) -> Iterator[Balance]:
    """Parts in which the flows of the ports are one and the same flow, in and out again."""
    #: By component and unit: how each port's flow follows from something within the part.
    groups: dict[tuple[str, str, Variable], list[tuple[Variable, int]]] = {}
    for e in flat.equations:
        if e.kind != "equation":
            continue
        names = [*x.variables(e.left), *x.variables(e.right)]
        ports = [
            v
            for v in names
            if v.flow and not v.protected and v.unit in KINDS and not KINDS[v.unit][2]
        ]
        if not ports or len(set(names)) != 2 or len(names) != 2:
            continue
        parts = linear_parts(x.subtract(e.left, e.right), set(names))
        if parts is None or not x.fold(parts[1]).is_const(0):
            continue
        first, second = (_sign(parts[0].get(v)) for v in names)
        if 0 in (first, second):
            continue
        for v, other in ((names[0], names[1]), (names[1], names[0])):
            if v in ports:
                groups.setdefault((e.component, v.unit, other), []).append((v, -first * second))
        if len(ports) == 2 and first == second:
            yield _closed(e.component, ports)
    for (component, _, _), members in groups.items():
        if len(members) > 1 and sum(sign for _, sign in members) == 0:
            yield _closed(component, [v for v, _ in members])


def _closed(component: str, flows: list[Variable]) -> Balance:
    what, amount, _ = KINDS[flows[0].unit]
    flows = sorted(flows, key=lambda v: v.name)
    together = " + ".join(v.name for v in flows)
    return Balance(
        what,
        component,
        f"integral({together}) ≈ 0 {amount} ± {THROUGH}*integral(abs({flows[0].name}))",
    )


def _kind(flows: list[Variable]) -> str | None:
    """The unit of what flows, if it is the same for all and one that is conserved."""
    try:
        units = {si_unit(v.unit) for v in flows}
    except MovrelError:
        return None
    return units.pop() if len(units) == 1 and next(iter(units)) in KINDS else None


def _sign(coefficient: Expr | None) -> int:
    """1 or -1 for a coefficient that is no more than a sign, else 0."""
    value = x.fold(coefficient) if coefficient is not None else x.ZERO
    return int(value.value) if value.op == "const" and value.value in (1, -1) else 0


def _constant(k: Expr) -> bool:
    known = [v.variability in ("parameter", "constant") and not v.protected for v in x.variables(k)]
    return all(known) and not k.is_const(0)


def _sum(flows: list[Variable], signs: dict[Variable, int]) -> str:
    ordered = sorted(dict.fromkeys(flows), key=lambda v: -signs[v])
    text = "".join(f" {'+' if signs[v] > 0 else '-'} {v.name}" for v in ordered)
    return text[3:] if text.startswith(" + ") else f"-{text[3:]}"


def _bracketed(k: Expr) -> str:
    return x.show(k) if k.op in ("var", "const", "*") else f"({x.show(k)})"

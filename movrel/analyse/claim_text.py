"""The language of claims: what a person writes, and the expression that it means.

A claim is an expression of the language with three additions: numbers may carry a unit (``1.2 m``, ``95 %``),
``a ≈ b ± c`` says that two values differ by c at most (``a ~= b +- c`` on a plain keyboard; c in per cent is
a share of b), and measures such as ``max(basin.level)`` stand where a function may (:mod:`.measures`).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from movrel.errors import MovrelError, SyntaxFault, UnitFault
from movrel.language import syntax as s
from movrel.language.parser import parse_expression
from movrel.language.typed_quantities import typed_numbers

_RESERVED = re.compile(r"(?<![\w.])(final|initial)\s*\(")
QUANTITY, NEAR = "quantity_", "near_"
RELATIONS = ("<", "<=", ">", ">=", "==", "<>")
CONSTANTS = {"pi": np.pi, "e": np.e, "g_n": 9.80665}


class ClaimFault(MovrelError):
    """A claim that cannot be read, or names what there is not."""


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim that was read; :func:`read` makes it."""

    text: str
    node: s.Expression = field(repr=False)

    @property
    def names(self) -> list[str]:
        """The variables and parameters that it is about."""
        return list(
            dict.fromkeys(name for name, _, _ in _references(self.node) if name not in CONSTANTS)
        )


def read(text: str) -> Claim:
    """Read a claim. Raises :class:`ClaimFault` with what is not understood."""
    if not text.strip():
        raise ClaimFault(
            "the claim is empty.", hint="Write what must hold, such as max(basin.level) < 1.2 m."
        )
    plain = _without_units(_without_near(text))
    try:
        node = parse_expression(plain)
    except SyntaxFault as fault:
        message = fault.message.replace(QUANTITY, "").replace(NEAR, "")
        raise ClaimFault(
            f"'{text}' is not understood: {message}", hint="Write such as max(basin.level) < 1.2 m."
        ) from None
    if not _says_something(node):
        raise ClaimFault(
            f"'{text}' compares nothing.", hint="Say what it must be: < 1.2 m, or ≈ 3 s ± 2 %."
        )
    return Claim(text.strip(), node)


def read_expression(text: str) -> Claim:
    """Read an expression of measures that has a value instead of a truth, for sweeps."""
    if not text.strip():
        raise ClaimFault("the expression is empty.", hint="Write such as max(basin.level).")
    try:
        return Claim(text.strip(), parse_expression(_without_units(text)))
    except SyntaxFault as fault:
        raise ClaimFault(
            f"'{text}' is not understood: {fault.message.replace(QUANTITY, '')}"
        ) from None


def claimed_names(text: str) -> list[str]:
    """The variables and parameters that a claim is about; none where it cannot be read."""
    try:
        return read(text).names
    except MovrelError:
        return []


def _without_near(text: str) -> str:
    """``a ≈ b ± c`` as a call, within each part that 'and' and 'or' join."""
    text = text.replace("~=", "≈").replace("+-", "±").replace("+/-", "±")
    if "≈" not in text and "±" not in text:
        return text
    pieces = re.split(r"(\band\b|\bor\b)", text)
    return "".join(_near_call(piece) if k % 2 == 0 else piece for k, piece in enumerate(pieces))


def _near_call(piece: str) -> str:
    if "≈" not in piece and "±" not in piece:
        return piece
    parts = re.fullmatch(r"(\s*)([^≈±]+)≈([^≈±]+)±([^≈±]+)", piece)
    if parts is None:
        raise ClaimFault(
            f"'{piece.strip()}' needs both signs.",
            hint="Write a ≈ b ± c, such as period(x) ≈ 3 s ± 2 %.",
        )
    return f"{parts[1]}{NEAR}({parts[2].strip()}, {parts[3].strip()}, {parts[4].strip()})"


def _without_units(text: str) -> str:
    """Numbers with units as calls; measures named like words of the language get an underscore."""
    text = _RESERVED.sub(r"\1_(", text)
    out, position = "", 0
    try:
        for typed in typed_numbers(text):
            if typed.unit:
                out += f'{text[position : typed.start]}{QUANTITY}({typed.number}, "{typed.unit}")'
                position = typed.end
    except UnitFault as fault:
        raise ClaimFault(fault.message, hint=fault.hint) from None
    return out + text[position:]


def _says_something(node: s.Given | None) -> bool:
    match node:
        case s.Binary(operator="and" | "or"):
            return _says_something(node.left) and _says_something(node.right)
        case s.Unary(operator="not"):
            return _says_something(node.operand)
        case s.Tuple(items=(only,)):
            return _says_something(only)
        case s.Binary():
            return node.operator in RELATIONS
        case s.Call():
            return node.name == NEAR
        case s.Ref() | s.Boolean():
            return True  # a Boolean variable that must be true
    return False


def _references(node: s.Given | None) -> Iterator[tuple[str, int, int]]:
    """The name, start and end of every reference in an expression, but for the names of functions."""
    match node:
        case s.Ref():
            yield name_of(node), node.start, node.end
        case s.Call():
            for argument in (*node.arguments, *(n.value for n in node.named)):
                yield from _references(argument)
        case s.Binary():
            yield from _references(node.left)
            yield from _references(node.right)
        case s.Unary():
            yield from _references(node.operand)
        case s.Tuple():
            for item in node.items:
                yield from _references(item)
        case s.IfExpression():
            for condition, value in node.branches:
                yield from _references(condition)
                yield from _references(value)
            yield from _references(node.otherwise)


def name_of(node: s.Ref) -> str:
    parts = []
    for part in node.parts:
        inside = ",".join(_subscript(i) for i in part.subscripts)
        parts.append(f"{part.name}[{inside}]" if inside else part.name)
    return ".".join(parts)


def _subscript(node: s.Given | None) -> str:
    if isinstance(node, s.Number):
        return node.text
    raise ClaimFault("an index must be a number here.", hint="Write such as tank.T[3].")


def renamed(text: str, old: str, new: str) -> str:
    """A claim in which a part or variable has another name: ``old`` and what begins with ``old.`` or ``old[``."""
    pattern = rf"(?<![\w.]){re.escape(old)}(?![\w(])"
    return re.sub(pattern, lambda _: new, text)


def number_and_unit(node: s.Call) -> tuple[str, str]:
    """What a number with a unit was rewritten to."""
    match node.arguments:
        case (s.Number(text=number), s.String(value=symbol)):
            return number, symbol
    raise ClaimFault(f"'{node.name.strip('_')}' is not a measure.")

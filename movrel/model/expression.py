"""Scalar expressions of a flat model.

One class serves every operator; the few places that care about an operator look at ``op``:

``const``, ``var`` (time is one too), ``der`` (of one expression), arithmetic ``+ - * / ^ neg``, relations
``< <= > >= == <>``, logic ``and or not``, ``if`` (condition, then, else), ``noevent``, ``smooth``,
``pre``, ``initial``, ``unit`` (what foreign code gives, see :class:`movrel.model.flat.FlatUnit`), and the elementary
functions by their Modelica names.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, TypeAlias

from movrel.errors import Place
from movrel.language import syntax as s
from movrel.model.traits import TRAITS

#: Operators that are written out; larger expressions are only named.
SHOW_LIMIT = 1_500
#: Operators whose value is not that of their operands.
NEVER_FOLDED = {
    "der", "var", "const", "pre", "initial", "terminal", "sample", "fires", "delay", "unit", "previous", "Clock", "sampled",
    "hold", "ticksInState", "timeInState",
}  # fmt: skip
RELATIONS = {"<", "<=", ">", ">=", "==", "<>"}
UNARY_FUNCTIONS: dict[str, Callable[..., float]] = {
    "abs": abs, "sign": lambda x: float((x > 0) - (x < 0)), "sqrt": math.sqrt, "exp": math.exp,
    "log": math.log, "log10": math.log10, "sin": math.sin, "cos": math.cos, "tan": math.tan,
    "asin": math.asin, "acos": math.acos, "atan": math.atan, "sinh": math.sinh, "cosh": math.cosh,
    "tanh": math.tanh, "floor": math.floor, "ceil": math.ceil, "integer": math.floor,
}  # fmt: skip
BINARY_FUNCTIONS: dict[str, Callable[..., float]] = {
    "atan2": math.atan2, "min": min, "max": max,
    "mod": lambda x, y: x - math.floor(x / y) * y,
    "rem": lambda x, y: x - math.trunc(x / y) * y,
    "div": lambda x, y: math.trunc(x / y),
}  # fmt: skip


#: What a constant or a parameter can be; whole numbers are among the floats.
Scalar: TypeAlias = float | bool | str
Variability: TypeAlias = Literal["constant", "parameter", "discrete", "continuous"]


class Expr:
    """An operator with its operands, or a leaf with its value."""

    __slots__ = ("args", "op", "size", "traits", "value")

    def __init__(self, op: str, args: tuple[Expr, ...] = (), value: Any = None) -> None:
        self.op = op
        self.args = args
        self.value = value
        size, traits = 1, TRAITS.get(op, 0)
        for a in args:
            size += a.size
            traits |= a.traits
        #: Number of operators and leaves, written out in full.
        self.size: int = size
        #: The kinds of operators in it; see :mod:`movrel.model.traits`.
        self.traits: int = traits

    def __repr__(self) -> str:
        return show(self)

    @property
    def variable(self) -> Variable:
        """The variable of a ``var`` leaf."""
        return self.value

    def is_const(self, value: float | bool | None = None) -> bool:
        return self.op == "const" and (value is None or self.value == value)


@dataclass(eq=False, slots=True)
class Variable:
    """A scalar of the flat model.

    ``variability`` is ``constant``, ``parameter``, ``discrete`` or ``continuous``. Attribute
    expressions (``start``, ``min``, ...) may refer to parameters; ``None`` means not given.
    """

    name: str
    type: str = "Real"
    variability: Variability = "continuous"
    unit: str = ""
    display_unit: str = ""
    quantity: str = ""
    description: str = ""
    start: Expr | None = None
    fixed: bool | None = None
    minimum: Expr | None = None
    maximum: Expr | None = None
    nominal: Expr | None = None
    state_select: str = "default"
    binding: Expr | None = None
    causality: str = ""  # input or output at the top level
    direction: str = ""  # input or output as declared
    final: bool = False
    structural: bool = False  # its value decided sizes or conditions
    protected: bool = False
    flow: bool = False
    stream: bool = False
    component: str = ""  # path of the component that declares it
    enumeration: tuple[str, ...] = ()
    generated: bool = False  # made for a when clause; not shown among the results
    where: Place | None = None
    declaration: s.Component | None = None  # how a parameter is declared, with its annotation
    _leaf: Expr | None = field(default=None, init=False)  # the expression that is this variable

    @property
    def leaf(self) -> Expr:
        """The expression that consists of this variable; it is always the same one."""
        if self._leaf is None:
            self._leaf = Expr("var", (), self)
        return self._leaf

    def __repr__(self) -> str:
        return f"<{self.variability} {self.name}>"


def const(value: Scalar) -> Expr:
    return Expr("const", (), value)


ZERO, ONE = const(0.0), const(1.0)
TRUE, FALSE = const(True), const(False)


def var(variable: Variable) -> Expr:
    return variable.leaf


#: The independent variable.
TIME_VARIABLE = Variable("time", unit="s", description="time")
TIME = var(TIME_VARIABLE)


def add(a: Expr, b: Expr) -> Expr:
    if a.op == "const" and b.op == "const":
        return const(a.value + b.value)
    if a.is_const(0):
        return b
    if b.is_const(0):
        return a
    if b.op == "neg":
        return Expr("-", (a, b.args[0]))
    return Expr("+", (a, b))


def subtract(a: Expr, b: Expr) -> Expr:
    if a.op == "const" and b.op == "const":
        return const(a.value - b.value)
    if b.is_const(0):
        return a
    if a.is_const(0):
        return negate(b)
    if b.op == "neg":
        return Expr("+", (a, b.args[0]))
    return Expr("-", (a, b))


def negate(a: Expr) -> Expr:
    if a.op == "const":
        return const(-a.value)
    if a.op == "neg":
        return a.args[0]
    if a.op == "-":
        return Expr("-", (a.args[1], a.args[0]))
    return Expr("neg", (a,))


def multiply(a: Expr, b: Expr) -> Expr:
    if a.op == "const" and b.op == "const":
        return const(_product(a.value, b.value))
    if a.is_const(0) or b.is_const(0):
        return ZERO
    if a.is_const(1):
        return b
    if b.is_const(1):
        return a
    if a.op == "neg":
        return negate(multiply(a.args[0], b))
    if b.op == "neg":
        return negate(multiply(a, b.args[0]))
    return Expr("*", (a, b))


def divide(a: Expr, b: Expr) -> Expr:
    if b.is_const(1):
        return a
    if a.is_const(0) and not b.is_const(0):
        return ZERO
    if a.op == "const" and b.op == "const" and b.value != 0:
        return const(a.value / b.value)
    if a.op == "neg":
        return negate(divide(a.args[0], b))
    return Expr("/", (a, b))


def power(a: Expr, b: Expr) -> Expr:
    if b.is_const(1):
        return a
    if b.is_const(0):
        return ONE
    return fold(Expr("^", (a, b)))


def conditional(condition: Expr, then: Expr, otherwise: Expr) -> Expr:
    if condition.op == "const":
        return then if condition.value else otherwise
    return Expr("if", (condition, then, otherwise))


def conjunction(a: Expr, b: Expr) -> Expr:
    for one, other in ((a, b), (b, a)):
        if one.op == "const":
            return other if one.value else FALSE
    return Expr("and", (a, b))


def disjunction(a: Expr, b: Expr) -> Expr:
    for one, other in ((a, b), (b, a)):
        if one.op == "const":
            return TRUE if one.value else other
    return Expr("or", (a, b))


def opposite(a: Expr) -> Expr:
    if a.op == "const":
        return FALSE if a.value else TRUE
    return a.args[0] if a.op == "not" else Expr("not", (a,))


def previous(a: Expr) -> Expr:
    """``pre`` of a variable, a negated variable or a number."""
    if a.op == "neg":
        return negate(previous(a.args[0]))
    if a.op == "const" or (a.op == "var" and a.variable.variability in ("parameter", "constant")):
        return a
    return Expr("pre", (a,))


def fires(a: Expr) -> Expr:
    """Whether a Boolean becomes true at this event; never at the start (specification 8.3.5)."""
    return FALSE if a.op == "const" else Expr("fires", (a,))


def call(name: str, *args: Expr) -> Expr:
    return fold(Expr(name, args))


def fold(e: Expr) -> Expr:
    """The constant that an expression of constants is, or the expression itself."""
    if all(a.op == "const" for a in e.args) and e.op not in NEVER_FOLDED:
        try:
            return const(evaluate(e, {}))
        except (ArithmeticError, ValueError, KeyError, TypeError):
            return e
    return e


def walk(e: Expr) -> Iterator[Expr]:
    """Every distinct node once, parents before children."""
    if not e.args:
        yield e
        return
    seen = {e}
    stack = [e]
    while stack:
        node = stack.pop()
        yield node
        for a in node.args:
            if a not in seen:
                seen.add(a)
                stack.append(a)


def post_order(e: Expr) -> Iterator[Expr]:
    """Every distinct node once, children before parents, without recursion."""
    seen: set[Expr] = set()
    stack: list[tuple[Expr, bool]] = [(e, False)]
    while stack:
        node, ready = stack.pop()
        if ready:
            yield node
        elif node not in seen:
            seen.add(node)
            if node.args:
                stack.append((node, True))
                stack.extend((a, False) for a in node.args if a not in seen)
            else:
                yield node


def variables(e: Expr) -> list[Variable]:
    """The variables that occur, each once."""
    if e.op == "var":
        return [e.value]
    occurring: dict[Variable, None] = {}
    for node in walk(e):
        if node.op == "var":
            occurring[node.value] = None
    return list(occurring)


def total(terms: list[Expr]) -> Expr:
    """The sum of many terms, added pairwise so that it is not deep."""
    if len(terms) < 4:
        result: Expr = ZERO
        for term in terms:
            result = add(result, term)
        return result
    middle = len(terms) // 2
    return add(total(terms[:middle]), total(terms[middle:]))


def rebuild(e: Expr, args: tuple[Expr, ...]) -> Expr:
    """The same operator on other operands, simplified."""
    builder = _BUILDERS.get(e.op)
    if builder:
        return builder(*args)
    return fold(Expr(e.op, args, e.value))


_BUILDERS: dict[str, Callable[..., Expr]] = {
    "+": add, "-": subtract, "*": multiply, "/": divide, "^": power, "neg": negate, "if": conditional,
    "and": conjunction, "or": disjunction, "not": opposite, "pre": previous, "fires": fires,
}  # fmt: skip


def transform(
    e: Expr, change: Callable[[Expr], Expr | None], done: dict[Expr, Expr] | None = None
) -> Expr:
    """Rebuild from the leaves up; ``change`` gives the replacement of a rebuilt node, or None.

    Shared nodes are handled once; ``done`` keeps what was rebuilt for further expressions.
    """
    memo = {} if done is None else done
    for node in post_order(e):
        if node in memo:
            continue
        new = node
        if node.args:
            args = tuple(memo[a] for a in node.args)
            if any(p is not q for p, q in zip(args, node.args, strict=True)):
                new = rebuild(node, args)
        replaced = change(new)
        memo[node] = new if replaced is None else replaced
    return memo[e]


def substitute(e: Expr, replacement: Mapping[Variable, Expr]) -> Expr:
    """Replace variables, given by the identity of the variable object."""
    if e.op == "var":
        return replacement.get(e.value, e)
    if not e.args:
        return e
    return transform(e, lambda node: replacement.get(node.value) if node.op == "var" else None)


def evaluate(
    e: Expr, values: Mapping[Variable, Scalar], done: dict[Expr, Scalar] | None = None
) -> Scalar:
    """The number (or Boolean) of an expression; ``values`` gives those of its variables.

    Only the chosen branch of an ``if`` is worked out. Raises KeyError for a variable without a value,
    ArithmeticError or ValueError as arithmetic does.
    """
    op = e.op
    if op == "const":
        return e.value
    if op == "var":
        return values[e.value]
    memo = {} if done is None else done
    if e in memo:
        return memo[e]
    if op == "if":
        result = evaluate(
            e.args[1] if evaluate(e.args[0], values, memo) else e.args[2], values, memo
        )
    elif op == "and":
        result = bool(evaluate(e.args[0], values, memo)) and bool(evaluate(e.args[1], values, memo))
    elif op == "or":
        result = bool(evaluate(e.args[0], values, memo)) or bool(evaluate(e.args[1], values, memo))
    else:
        a = [evaluate(arg, values, memo) for arg in e.args]
        if op in _ARITHMETIC:
            result = _ARITHMETIC[op](*a)
        elif op in UNARY_FUNCTIONS:
            result = UNARY_FUNCTIONS[op](a[0])
        elif op in BINARY_FUNCTIONS:
            result = BINARY_FUNCTIONS[op](a[0], a[1])
        else:
            raise KeyError(op)
    memo[e] = result
    return result


#: Digits of two beyond which whole numbers become floating-point ones.
_WHOLE = 63


def _product(a: Any, b: Any) -> Any:
    if isinstance(a, int) and isinstance(b, int) and a.bit_length() + b.bit_length() > _WHOLE:
        return float(a) * float(b)
    return a * b


def _power(a: Any, b: Any) -> Any:
    """A power of numbers; whole ones stay whole as long as they are small. Raises :class:`OverflowError`."""
    if (
        isinstance(a, int)
        and isinstance(b, int)
        and abs(a) > 1
        and math.log2(abs(a)) * abs(b) > _WHOLE
    ):
        return float(a) ** float(b)
    return a**b


_ARITHMETIC: dict[str, Callable[..., Any]] = {
    "+": lambda a, b: a + b, "-": lambda a, b: a - b, "*": lambda a, b: _product(a, b), "/": lambda a, b: a / b,
    "^": lambda a, b: _power(a, b), "neg": lambda a: -a, "<": lambda a, b: a < b, "<=": lambda a, b: a <= b,
    ">": lambda a, b: a > b, ">=": lambda a, b: a >= b, "==": lambda a, b: a == b, "<>": lambda a, b: a != b,
    "not": lambda a: not a, "noevent": lambda a: a, "smooth": lambda a: a, "homotopy": lambda a, b: a,
    "String": lambda a: _text_of(a),
}  # fmt: skip

_PRECEDENCE = {
    "or": 1,
    "and": 2,
    "not": 3,
    "+": 5,
    "-": 5,
    "neg": 5,
    "*": 6,
    "/": 6,
    "^": 7,
} | dict.fromkeys(RELATIONS, 4)


def show(e: Expr, parent: int = 0) -> str:
    """The expression as Modelica text with flat names."""
    op = e.op
    if op == "const":
        return _show_constant(e.value)
    if op == "var":
        return e.variable.name
    if e.size > SHOW_LIMIT:
        return f"(an expression of {e.size if e.size < 10**9 else 'very many'} operators)"
    if op == "if":
        text = f"if {show(e.args[0])} then {show(e.args[1])} else {show(e.args[2])}"
        return f"({text})" if parent else text
    level = _PRECEDENCE.get(op)
    if level is None:
        if op == "fires":
            return f"edge({show(e.args[0])})"
        if op == "unit":
            number, role, index = e.value
            return f"unit {number + 1}: {role} {index + 1}"
        name = {"noevent": "noEvent", "sampled": "sample"}.get(op, op)
        return f"{name}({', '.join(show(a) for a in e.args)})"
    if op == "neg":
        text = "-" + show(e.args[0], 6)
    elif op == "not":
        text = "not " + show(e.args[0], level)
    else:
        right = level + (op in ("-", "/", "^") or op in RELATIONS)
        joined = f" {op} " if level < 6 else op
        text = show(e.args[0], level + (op == "^")) + joined + show(e.args[1], right)
    return f"({text})" if level < parent or (op == "neg" and parent) else text


def _text_of(value: Scalar) -> str:
    """A value as the built-in function String writes it."""
    if isinstance(value, str):
        return value
    if isinstance(value, bool):
        return "true" if value else "false"
    return str(value) if isinstance(value, int) else f"{value:.6g}"


def _show_constant(value: Scalar) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    if isinstance(value, str):
        return f'"{value}"'
    return repr(value)

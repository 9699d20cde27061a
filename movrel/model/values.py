"""Operations on values: scalar expressions, nested lists for arrays, records."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from movrel.errors import Place, TypeFault
from movrel.model import expression as x
from movrel.model.environment import Environment, FunctionValue, Member, Named, Record, Value
from movrel.model.expression import Expr, const
from movrel.model.record import fields_of

_LOGIC = ("and", "or")
#: Functions of clocks whose value is of the type of their argument.
KEEP_TYPE = ("sampled", "hold", "noClock", "subSample", "superSample", "shiftSample", "backSample")
#: Largest array that an expression may make.
ARRAY_LIMIT = 1_000_000


def as_scalar(value: Value, where: Place | None) -> Expr:
    """A scalar expression, or an error that says what it is instead."""
    if isinstance(value, Expr):
        return value
    if isinstance(value, list):
        raise TypeFault(
            f"an array of size {shape(value)} stands where a single value is needed.", where
        )
    if isinstance(value, Record):
        raise TypeFault(
            f"a record ({value.name}) stands where a single value is needed.",
            where,
            "Name one of its members.",
        )
    if isinstance(value, Environment):
        raise TypeFault(
            f"the component '{value.path}' stands where a value is needed.",
            where,
            "Name one of its variables.",
        )
    if isinstance(value, FunctionValue):
        raise TypeFault(
            f"the function '{value.definition.name}' stands where a value is needed.",
            where,
            "Call it: name(...).",
        )
    raise TypeFault("this is not a value.", where)


def as_boolean(value: Value, where: Place | None) -> Expr:
    e = as_scalar(value, where)
    if (e.op == "const" and not isinstance(e.value, bool)) or (
        e.op == "var" and e.variable.type != "Boolean"
    ):
        raise TypeFault(
            f"the condition '{x.show(e)}' is not true or false.",
            where,
            "Compare it with something.",
        )
    return e


def as_array(value: Value, where: Place | None) -> list[Value]:
    """The elements of an array, or an error that says that it is none."""
    if isinstance(value, list):
        return value
    raise TypeFault("a single value stands where an array is needed.", where)


def shape(value: Named) -> list[int]:
    """The sizes of an array, outermost first; empty for a single value."""
    sizes: list[int] = []
    while isinstance(value, list):
        sizes.append(len(value))
        value = value[0] if value else None
    return sizes


_Leaf = TypeVar("_Leaf", Value, Member)


def flatten(value: _Leaf) -> list[_Leaf]:
    """The elements of an array of any number of dimensions, or the single value."""
    if not isinstance(value, list):
        return [value]
    return [leaf for item in value for leaf in flatten(item)]


def elementwise(
    a: Value, b: Value, operation: Callable[[Expr, Expr], Expr], where: Place | None
) -> Value:
    """An operation of two values element by element; a single value goes with every element of an array.

    Raises :class:`TypeFault` for arrays of different sizes.
    """
    if isinstance(a, list) or isinstance(b, list):
        if not isinstance(a, list):
            return [elementwise(a, item, operation, where) for item in as_array(b, where)]
        if not isinstance(b, list):
            return [elementwise(item, b, operation, where) for item in a]
        if len(a) != len(b):
            raise TypeFault(f"arrays of sizes {shape(a)} and {shape(b)} do not go together.", where)
        return [elementwise(p, q, operation, where) for p, q in zip(a, b, strict=True)]
    return operation(as_scalar(a, where), as_scalar(b, where))


def each_element(a: Value, operation: Callable[[Expr], Expr], where: Place | None) -> Value:
    if isinstance(a, list):
        return [each_element(item, operation, where) for item in a]
    if isinstance(a, Environment) and a.model.tree.is_kind(a.definition, "record"):
        a = Record(a.definition, fields_of(a, x.var) or {})
    if isinstance(a, Record):
        return Record(
            a.definition,
            {name: each_element(item, operation, where) for name, item in a.fields.items()},
        )
    return operation(as_scalar(a, where))


def product(a: Value, b: Value, where: Place | None) -> Value:
    if not isinstance(a, list) or not isinstance(b, list):
        return elementwise(a, b, x.multiply, where)
    rows, columns = shape(a), shape(b)
    if rows[-1] != columns[0]:
        raise TypeFault(f"a product of sizes {rows} and {columns} is not defined.", where)

    def dot(p: list[Value], q: list[Value]) -> Expr:
        return x.total(
            [
                x.multiply(as_scalar(u, where), as_scalar(v, where))
                for u, v in zip(p, q, strict=True)
            ]
        )

    if len(rows) == 1 and len(columns) == 1:
        return dot(a, b)
    if len(columns) == 1:
        return [dot(as_array(row, where), b) for row in a]
    across = [list(column) for column in zip(*(as_array(row, where) for row in b), strict=True)]
    if len(rows) == 1:
        return [dot(a, column) for column in across]
    return [[dot(as_array(row, where), column) for column in across] for row in a]


def divide(a: Expr, b: Expr, where: Place | None) -> Expr:
    if b.is_const(0):
        raise TypeFault(f"division by zero in '{x.show(a)}/{x.show(b)}'.", where)
    return x.divide(a, b)


def matrix_power(a: list[Value], exponent: int, where: Place | None) -> Value:
    if exponent < 0:
        raise TypeFault("a matrix can only be raised to a whole number, not negative.", where)
    size = len(a)
    result: Value = [[const(1 if i == j else 0) for j in range(size)] for i in range(size)]
    for _ in range(exponent):
        result = product(result, a, where)
    return result


def kind_of(e: Expr) -> str:
    """Roughly the type of a scalar: Boolean, String, or number."""
    if e.op == "const":
        return (
            "Boolean"
            if isinstance(e.value, bool)
            else "String"
            if isinstance(e.value, str)
            else "number"
        )
    if e.op == "var":
        return {"Boolean": "Boolean", "String": "String", "Clock": "Clock"}.get(
            e.variable.type, "number"
        )
    if e.op in x.RELATIONS or e.op in (
        "and",
        "or",
        "not",
        "initial",
        "terminal",
        "sample",
        "fires",
        "ticks",
        "firstTick",
    ):
        return "Boolean"
    if e.op in ("if", "noevent", "smooth", "pre", "previous", *KEEP_TYPE):
        return kind_of(
            e.args[1 if e.op == "if" else 0]
        )  # branches agree; the first is the shorter one
    while e.op == "+":  # a sum of texts is a text; its last part tells
        e = e.args[1] if e.args[1].op != "+" else e.args[0]
        if e.op in ("const", "var", "String"):
            return "String" if e.op == "String" else kind_of(e)
    if e.op == "String":
        return "String"
    return "number"


def check_operands(op: str, a: Expr, b: Expr, where: Place) -> None:
    """Refuse what an operator cannot be applied to, such as ``true + 1``. Raises :class:`TypeFault`."""
    kinds = (kind_of(a), kind_of(b))
    if op in _LOGIC:
        if kinds != ("Boolean", "Boolean"):
            wrong = a if kinds[0] != "Boolean" else b
            raise TypeFault(
                f"'{x.show(wrong)}' is not true or false; '{op}' needs both sides to be.", where
            )
    elif op in x.RELATIONS:
        if kinds[0] != kinds[1]:
            raise TypeFault(
                f"'{x.show(a)}' ({kinds[0]}) and '{x.show(b)}' ({kinds[1]}) cannot be compared.",
                where,
            )
    elif kinds != ("number", "number") and not (op == "+" and kinds == ("String", "String")):
        wrong, kind = (a, kinds[0]) if kinds[0] != "number" else (b, kinds[1])
        raise TypeFault(f"'{x.show(wrong)}' is {kind}; '{op}' needs numbers.", where)


def choose(condition: Expr, then: Value, otherwise: Value, where: Place) -> Value:
    """``if`` of two values, element by element; refuses other sizes and types."""
    if isinstance(then, list) or isinstance(otherwise, list):
        if shape(then) != shape(otherwise):
            raise TypeFault(f"the branches have sizes {shape(then)} and {shape(otherwise)}.", where)
        both = zip(as_array(then, where), as_array(otherwise, where), strict=True)
        return [choose(condition, p, q, where) for p, q in both]
    members, others = fields_of(then, x.var), fields_of(otherwise, x.var)
    if isinstance(then, Record | Environment) and members is not None and others is not None:
        if set(members) != set(others):
            raise TypeFault("the branches are records of different kinds.", where)
        return Record(
            then.definition, {n: choose(condition, members[n], others[n], where) for n in members}
        )
    a, b = as_scalar(then, where), as_scalar(otherwise, where)
    if kind_of(a) != kind_of(b):
        raise TypeFault(
            f"the branches '{x.show(a)}' and '{x.show(b)}' are of different types.", where
        )
    return x.conditional(condition, a, b)

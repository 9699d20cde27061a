"""A script in a small part of Python that works out named values; read here step by step, never given to Python.

Allowed are assignments, also to elements, ``if``, ``for``, ``while``, functions of one's own, comprehensions, lists and
arrays, and the functions in :data:`.script_functions.FUNCTIONS`, plain or after ``math.`` or ``np.``. Arithmetic on
arrays goes element by element, as in numerical Python. Steps and sizes are bounded, so that a script always ends.
"""

from __future__ import annotations

import ast
import operator as op
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from movrel.language.names import RESERVED, is_name
from movrel.language.python_code import ALIASES, MODULES
from movrel.language.script_functions import (
    CONSTANTS,
    DEEPEST,
    FUNCTIONS,
    MOST_STEPS,
    SIZED,
    Located,
    Value,
    check_list,
    check_size,
    power,
    refusal,
    sized,
    unallowed,
)  # fmt: skip

_BINARY: dict[type[ast.operator], Callable[[Any, Any], Any]] = {
    ast.Add: op.add, ast.Sub: op.sub, ast.Mult: op.mul, ast.Div: op.truediv, ast.Mod: op.mod, ast.FloorDiv: op.floordiv,
    ast.MatMult: op.matmul,
}  # fmt: skip
_RELATIONS: dict[type[ast.cmpop], Callable[[Any, Any], Any]] = {
    ast.Lt: op.lt, ast.LtE: op.le, ast.Gt: op.gt, ast.GtE: op.ge, ast.Eq: op.eq, ast.NotEq: op.ne,
    ast.In: lambda a, b: a in b, ast.NotIn: lambda a, b: a not in b,
}  # fmt: skip
_METHODS = {"append", "extend", "index", "count", "sum", "max", "min", "mean", "tolist", "copy"}
_REMARK = re.compile(r"#\s*(?:\[(?P<unit>[^\]]*)\])?\s*(?P<words>.*)$")


@dataclass(frozen=True, slots=True)
class ScriptResult:
    """A value that a script worked out: a number, or rows of numbers (one row for a vector).

    It counts in ``unit``, which the script gives in brackets in the remark behind the assignment.
    """

    name: str
    value: float | list[float] | list[list[float]]
    unit: str
    note: str
    line: int


def run_script(source: str, given: Mapping[str, float]) -> list[ScriptResult]:
    """What a script works out from given values: every name that it sets at the top level, but those with _ in front.

    Raises :class:`EditFault` with the line.
    """
    try:
        tree = ast.parse(source)
    except SyntaxError as fault:
        raise refusal(fault.lineno or 1, f"{fault.msg}.") from None
    except (ValueError, RecursionError, MemoryError):
        raise refusal(1, "the text cannot be read.") from None
    runner = _Runner(dict(given))
    try:
        with np.errstate(divide="raise", invalid="raise", over="raise"):
            runner.block(tree.body)
    except RecursionError:
        raise refusal(runner.line, "the script is nested too deeply.") from None
    except (_Left, _Returned):
        raise refusal(runner.line, "it stands outside of a loop or function.") from None
    lines = source.splitlines()
    results = []
    for name, line in runner.set_at.items():
        if name.startswith("_") or name in runner.counters or name not in runner.names:
            continue
        if name in given:
            raise refusal(
                line,
                f"'{name}' is a value already.",
                "Give what the script works out another name.",
            )
        if not is_name(name):
            why = "is a word of the language" if name in RESERVED else "cannot be a name"
            raise refusal(line, f"'{name}' {why}.", f"Call it _{name}, or something else.")
        value = _as_result(name, runner.names[name], line)
        if value is not None:
            remark = _REMARK.search(lines[line - 1])
            unit, words = (remark["unit"] or "", remark["words"]) if remark else ("", "")
            results.append(ScriptResult(name, value, unit.strip(), words.strip(), line))
    return results


def _as_result(name: str, value: Value, line: int) -> float | list[Any] | None:
    """A value as numbers; None for functions and texts, which stay inside the script."""
    if callable(value) or isinstance(value, str) or value is None:
        return None
    try:
        array = np.asarray(value, dtype=float)
    except (TypeError, ValueError):
        raise refusal(
            line,
            f"'{name}' has rows of unequal length.",
            f"Call it _{name} if it only serves the script.",
        ) from None
    if array.ndim > 2 or array.size == 0:
        raise refusal(
            line,
            f"'{name}' is neither a number nor a table.",
            f"Call it _{name} if it only serves the script.",
        )
    if not np.isfinite(array).all():
        raise refusal(line, f"'{name}' is not a finite number.")
    plain: float | list[Any] = array.tolist()
    return plain


class _Left(Exception):
    """``break`` or ``continue``."""

    def __init__(self, again: bool) -> None:
        self.again = again


class _Returned(Exception):
    def __init__(self, value: Value) -> None:
        self.value = value


class _Runner:
    """Carries out statements, with the names that have a value."""

    def __init__(self, names: dict[str, Value]) -> None:
        self.names = names
        #: The names that are set at the top level, with the line of the last time.
        self.set_at: dict[str, int] = {}
        self.counters: set[str] = set()
        self.steps = 0
        self.depth = 0
        self.line = 1

    def step(self, node: Located, count: int = 1) -> None:
        self.line = node.lineno
        self.steps += count
        if self.steps > MOST_STEPS:
            raise refusal(
                node.lineno,
                f"the script takes more than {MOST_STEPS} steps.",
                "Let it do less; arrays count less than loops.",
            )

    # --- statements ---

    def block(self, statements: list[ast.stmt]) -> None:
        for node in statements:
            self.step(node)
            self.statement(node)

    def statement(self, node: ast.stmt) -> None:
        match node:
            case ast.Assign(targets=targets, value=value):
                result = self.value(value)
                for target in targets:
                    self.assign(target, result)
            case ast.AnnAssign(target=target, value=ast.expr() as value):
                self.assign(target, self.value(value))
            case ast.AugAssign(target=target, op=operator, value=value):
                before = self.value(_read(target))
                self.assign(target, self.binary(node, operator, before, self.value(value)))
            case ast.If(test=test, body=body, orelse=orelse):
                self.block(body if self.truth(test) else orelse)
            case ast.For(target=target, iter=over, body=body, orelse=[]):
                self.counters |= {n.id for n in ast.walk(target) if isinstance(n, ast.Name)}
                for item in self.items(over):
                    self.step(node)
                    self.assign(target, item)
                    if not self.round(body):
                        break
            case ast.While(test=test, body=body, orelse=[]):
                while self.truth(test):
                    self.step(node)
                    if not self.round(body):
                        break
            case ast.FunctionDef(name=name, args=arguments, body=body, decorator_list=[]):
                self.define(node, name, arguments, body)
            case ast.Return(value=value):
                raise _Returned(None if value is None else self.value(value))
            case ast.Break() | ast.Continue():
                raise _Left(isinstance(node, ast.Continue))
            case ast.Expr(value=value):
                self.value(value)
            case ast.Pass():
                pass
            case ast.Import(names=names) if all(n.name in MODULES for n in names):
                pass  # its functions are known
            case ast.ImportFrom(module="math" | "numpy"):
                pass
            case _:
                raise unallowed(node)

    def round(self, body: list[ast.stmt]) -> bool:
        """One round of a loop; whether another may follow."""
        try:
            self.block(body)
        except _Left as left:
            return left.again
        return True

    def define(
        self, node: ast.FunctionDef, name: str, arguments: ast.arguments, body: list[ast.stmt]
    ) -> None:
        if arguments.vararg or arguments.kwarg or arguments.kwonlyargs or arguments.posonlyargs:
            raise unallowed(node, "a function with such arguments")
        names = [a.arg for a in arguments.args]
        defaults = [self.value(d) for d in arguments.defaults]

        def call(*given: Value, **named: Value) -> Value:
            values = dict(zip(names[len(names) - len(defaults) :], defaults, strict=True))
            values |= dict(zip(names, given, strict=False)) | named
            if len(given) > len(names) or set(values) != set(names):
                raise refusal(self.line, f"'{name}' takes {len(names)} values.")
            outer, self.names, self.depth = self.names, {**self.names, **values}, self.depth + 1
            if self.depth > DEEPEST:
                raise refusal(node.lineno, f"'{name}' calls itself too often.")
            try:
                self.block(body)
            except _Returned as returned:
                return returned.value
            finally:
                self.names, self.depth = outer, self.depth - 1
            return None

        self.names[name] = call

    def assign(self, target: ast.expr, value: Value) -> None:
        match target:
            case ast.Name(id=name):
                self.names[name] = value
                if self.depth == 0:
                    self.set_at[name] = target.lineno
            case ast.Tuple(elts=parts) | ast.List(elts=parts):
                values = list(value) if np.iterable(value) else [value]
                if len(values) != len(parts):
                    raise refusal(
                        target.lineno, f"there are {len(values)} values for {len(parts)} names."
                    )
                for part, one in zip(parts, values, strict=True):
                    self.assign(part, one)
            case ast.Subscript(value=holder, slice=place):
                self.guarded(target, op.setitem, self.value(holder), self.value(place), value)
            case _:
                raise unallowed(target)

    # --- expressions ---

    def value(self, node: ast.expr) -> Value:
        self.step(node)
        match node:
            case ast.Constant(value=bool() | int() | float() | str() | None as value):
                return value
            case ast.Name(id=name):
                return self.name(node, name)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return self.guarded(node, op.neg, self.value(operand))
            case ast.UnaryOp(op=ast.UAdd(), operand=operand):
                return self.value(operand)
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                return not self.truth(operand)
            case ast.BinOp(left=left, op=operator, right=right):
                return self.binary(node, operator, self.value(left), self.value(right))
            case ast.BoolOp(op=operator, values=values):
                if isinstance(operator, ast.And):
                    return all(self.truth(v) for v in values)
                return any(self.truth(v) for v in values)
            case ast.Compare(left=left, ops=operators, comparators=others):
                return self.comparison(node, [left, *others], operators)
            case ast.IfExp(test=test, body=then, orelse=otherwise):
                return self.value(then if self.truth(test) else otherwise)
            case ast.List(elts=parts) | ast.Tuple(elts=parts):
                return self.listed(node, [self.value(p) for p in parts])
            case (
                ast.ListComp(elt=element, generators=generators)
                | ast.GeneratorExp(elt=element, generators=generators)
            ):
                listed: list[Value] = []
                self.comprehend(generators, lambda: listed.append(self.value(element)))
                return self.listed(node, listed)
            case ast.Subscript(value=holder, slice=place):
                return self.guarded(node, op.getitem, self.value(holder), self.value(place))
            case ast.Slice(lower=lower, upper=upper, step=step):
                return slice(*(None if p is None else self.value(p) for p in (lower, upper, step)))
            case ast.Attribute(value=ast.Name(id=module), attr=name) if (
                module in MODULES and name in CONSTANTS
            ):
                return CONSTANTS[name]
            case ast.Call():
                return self.call(node)
            case _:
                raise unallowed(node)

    def listed(self, node: Located, values: list[Value]) -> list[Value]:
        self.step(node, check_list(node, values) // 100)
        return values

    def name(self, node: ast.expr, name: str) -> Value:
        if name in self.names:
            return self.names[name]
        if name in CONSTANTS:
            return CONSTANTS[name]
        raise refusal(
            node.lineno,
            f"'{name}' is not known.",
            "Set it first, or add it to the values of the project.",
        )

    def truth(self, node: ast.expr) -> bool:
        value = self.value(node)
        if np.ndim(value) > 0 and not isinstance(value, list):
            raise refusal(
                node.lineno, "an array is neither true nor false.", "Use any(…) or all(…)."
            )
        return bool(value)

    def comparison(
        self, node: ast.expr, terms: list[ast.expr], operators: list[ast.cmpop]
    ) -> Value:
        values = [self.value(t) for t in terms]
        outcome: Value = True
        for left, operator, right in zip(values, operators, values[1:], strict=False):
            relation = _RELATIONS.get(type(operator))
            if relation is None:
                raise unallowed(node, "the comparison 'is'")
            outcome = self.guarded(node, relation, left, right)
            if len(operators) > 1 and not bool(outcome):
                return False
        return outcome if len(operators) == 1 else True

    def comprehend(self, generators: list[ast.comprehension], at_each: Callable[[], None]) -> None:
        """Go through the loops of a comprehension; its counters have no value outside of it."""
        first, *rest = generators
        counters = {n.id for n in ast.walk(first.target) if isinstance(n, ast.Name)}
        before = {name: self.names[name] for name in counters if name in self.names}
        set_at = dict(self.set_at)
        for item in self.items(first.iter):
            self.step(first.iter)
            self.assign(first.target, item)
            if all(self.truth(test) for test in first.ifs):
                if rest:
                    self.comprehend(rest, at_each)
                else:
                    at_each()
        for name in counters:
            self.names.pop(name, None)
        self.names |= before
        self.set_at = set_at

    def items(self, node: ast.expr) -> list[Value]:
        value = self.value(node)
        if isinstance(value, str) or not np.iterable(value):
            raise refusal(node.lineno, "a loop goes over a range, a list or an array.")
        return list(value)

    def binary(self, node: Located, operator: ast.operator, left: Value, right: Value) -> Value:
        if isinstance(left, str) or isinstance(right, str):
            raise unallowed(node, "arithmetic with texts")
        if isinstance(operator, ast.Pow):
            return self.guarded(node, power, left, right)
        carried_out = _BINARY.get(type(operator))
        if carried_out is None:
            raise unallowed(node, f"the operator {type(operator).__name__}")
        if isinstance(operator, ast.Mult) and (isinstance(left, list) or isinstance(right, list)):
            rows, times = (left, right) if isinstance(left, list) else (right, left)
            check_size(node, len(rows) * (times if isinstance(times, int) else 1))
        return self.guarded(node, carried_out, left, right)

    def call(self, node: ast.Call) -> Value:
        arguments = [self.value(a) for a in node.args]
        named = {k.arg: self.value(k.value) for k in node.keywords if k.arg is not None}
        match node.func:
            case ast.Name(id=given) if callable(self.names.get(given)):
                called: Value = self.names[given](*arguments, **named)
                return called
            case ast.Name(id=given):
                pass
            case ast.Attribute(value=ast.Name(id=module), attr=given) if module in MODULES:
                pass
            case ast.Attribute(value=holder, attr=method) if method in _METHODS:
                owner = self.value(holder)
                if isinstance(owner, str) or not hasattr(owner, method):
                    raise unallowed(node.func)
                return self.guarded(node, getattr(owner, method), *arguments)
            case _:
                raise unallowed(node.func)
        name = given if given in FUNCTIONS else ALIASES.get(given, given)
        if name in ("range", *SIZED):
            return self.guarded(node, lambda *a, **n: sized(node, name, a, n), *arguments, **named)
        if name == "pow":
            return self.guarded(node, power, *arguments)
        if name not in FUNCTIONS:
            raise refusal(
                node.lineno,
                f"the function '{given}' is not available.",
                f"There are {', '.join(sorted({*FUNCTIONS, 'range', 'pow'}))}.",
            )
        return self.guarded(node, FUNCTIONS[name], *arguments, **named)

    def guarded(
        self, node: Located, call: Callable[..., Any], *arguments: Value, **named: Value
    ) -> Value:
        """The outcome of a call; what goes wrong in it is said with the line."""
        try:
            outcome = call(*arguments, **named)
        except ZeroDivisionError:
            raise refusal(node.lineno, "it divides by zero.") from None
        except IndexError:
            raise refusal(
                node.lineno, "there is no such element; they are counted from 0."
            ) from None
        except (FloatingPointError, OverflowError):
            raise refusal(node.lineno, "the outcome is not a finite number.") from None
        except (TypeError, ValueError, AttributeError) as fault:
            raise refusal(node.lineno, f"it cannot be worked out: {fault}.") from None
        changed = arguments[0] if call is op.setitem else getattr(call, "__self__", None)
        for values in (outcome, changed):
            if isinstance(values, list):
                self.listed(node, values)
        if isinstance(outcome, np.ndarray):
            check_size(node, outcome.size)
            self.step(node, outcome.size // 100)
        if isinstance(outcome, np.generic):
            outcome = outcome.item()
        if isinstance(outcome, complex):
            raise refusal(node.lineno, "the outcome is not a real number.")
        if isinstance(outcome, int) and not isinstance(outcome, bool) and abs(outcome) > 2**53:
            return float(outcome)
        return outcome


def _read(target: ast.expr) -> ast.expr:
    """A place that is assigned to, as an expression that reads it."""
    match target:
        case ast.Name(id=name):
            return ast.copy_location(ast.Name(id=name, ctx=ast.Load()), target)
        case ast.Subscript(value=holder, slice=place):
            return ast.copy_location(
                ast.Subscript(value=holder, slice=place, ctx=ast.Load()), target
            )
    raise unallowed(target)

"""From syntax to values: scalar expressions, nested lists for arrays, instances for records."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from movrel.errors import LookupFault, MovrelError, Place, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.environment import EnumerationType, FunctionValue, Scope, Value
from movrel.model.expression import Expr, const
from movrel.model.lookup import as_value, descend, index, resolve, whole_number
from movrel.model.values import (
    ARRAY_LIMIT,
    as_array,
    as_boolean,
    as_scalar,
    check_operands,
    choose,
    divide,
    each_element,
    elementwise,
    kind_of,
    matrix_power,
    product,
    shape,
)


def evaluate_ast(node: s.Given, scope: Scope) -> Value:
    """The value of an expression in a scope."""
    handler = _HANDLERS.get(type(node))
    if handler is None:
        raise Unsupported(f"'{type(node).__name__}' cannot be computed here.", scope.place(node))
    try:
        return handler(node, scope)
    except TypeError:  # texts and truth values in an array, where only numbers can be
        raise TypeFault(
            "this cannot be computed: its parts are not all numbers.", scope.place(node)
        ) from None


# --- leaves ---


def _number(node: s.Number, scope: Scope) -> Expr:
    return const(int(node.text) if node.is_integer else float(node.text))


def _reference(node: s.Ref, scope: Scope) -> Value:
    return as_value(resolve(node, scope), scope, node)


# --- operators ---


def _relation(op: str) -> Callable[[Expr, Expr], Expr]:
    if op == "and":
        return x.conjunction
    return x.disjunction if op == "or" else lambda a, b: x.call(op, a, b)


def _binary(node: s.Binary, scope: Scope) -> Value:
    # Long sums lean to the left; they are worked off without recursion.
    spine = [node]
    while isinstance(spine[-1].left, s.Binary):
        spine.append(spine[-1].left)
    value = evaluate_ast(spine[-1].left, scope)
    for part in reversed(spine):
        value = _combined(part, value, evaluate_ast(part.right, scope), scope)
    return value


def _combined(node: s.Binary, a: Value, b: Value, scope: Scope) -> Value:
    op, where = node.operator, scope.place(node)
    if isinstance(a, Expr) and isinstance(b, Expr):
        check_operands(op, a, b, where)
        if op in x.RELATIONS and kind_of(a) == "String":
            # Texts do not vary, so what they decide is decided now.
            return const(
                bool(
                    scope.model.structural_value(Expr(op, (a, b)), "the comparison of texts", where)
                )
            )
    else:
        of_records = scope.model.evaluator.operator(op, [a, b], scope.model, where)
        if of_records is not None:
            return of_records
    if op in ("+", "-", ".+", ".-"):
        plain = op[-1] == "+"
        if len(op) == 1 and (isinstance(a, list) != isinstance(b, list)):
            raise TypeFault(
                f"sizes {shape(a) or 'single value'} and {shape(b) or 'single value'} do not go together in '{op}'.",
                where, f"Use '.{op}' to work element by element.",
            )  # fmt: skip
        return elementwise(a, b, x.add if plain else x.subtract, where)
    if op == "*":
        return product(a, b, where)
    if op == ".*":
        return elementwise(a, b, x.multiply, where)
    if op in ("/", "./"):
        if op == "/" and isinstance(b, list):
            raise TypeFault(
                "division by an array.", where, "Use './' to divide element by element."
            )
        return elementwise(a, b, lambda p, q: divide(p, q, where), where)
    if op == ".^":
        return elementwise(a, b, x.power, where)
    if op == "^":
        if isinstance(a, list):
            return matrix_power(a, whole_number(b, scope, node, "the exponent"), where)
        return x.power(as_scalar(a, where), as_scalar(b, where))
    return elementwise(a, b, _relation(op), where)


def _unary(node: s.Unary, scope: Scope) -> Value:
    a = evaluate_ast(node.operand, scope)
    where = scope.place(node)
    if not isinstance(a, Expr):
        of_records = scope.model.evaluator.operator(node.operator, [a], scope.model, where)
        if of_records is not None:
            return of_records
    if node.operator == "not":
        return each_element(a, lambda e: x.opposite(as_boolean(e, where)), where)
    if node.operator.endswith("-"):
        return each_element(a, x.negate, where)
    return a


def _if_expression(node: s.IfExpression, scope: Scope) -> Value:
    """The value of an ``if``; a branch that makes no sense counts only if parameters choose it."""
    try:
        return _all_branches(node, scope)
    except MovrelError:
        chosen = _chosen_branch(node, scope)
        if chosen is None:
            raise
    return evaluate_ast(chosen, scope)


def _all_branches(node: s.IfExpression, scope: Scope) -> Value:
    where = scope.place(node)
    branches: list[tuple[Expr, Value]] = []
    last: s.Expression = node.otherwise
    for condition, branch in node.branches:
        c = as_boolean(evaluate_ast(condition, scope), where)
        if c.is_const(True):
            last = branch
            break
        if not c.is_const(False):
            branches.append((c, evaluate_ast(branch, scope)))
    result = evaluate_ast(last, scope)
    for c, value in reversed(branches):
        result = choose(c, value, result, where)
    return result


def _chosen_branch(node: s.IfExpression, scope: Scope) -> s.Expression | None:
    """The branch that parameters choose; None where they do not."""
    where = scope.place(node)
    for condition, branch in node.branches:
        try:
            c = as_boolean(evaluate_ast(condition, scope), where)
            if scope.model.structural_value(c, "the condition of this 'if'", where):
                return branch
        except MovrelError:
            return None
    return node.otherwise


def _range(node: s.Range, scope: Scope) -> list[Expr]:
    where = scope.place(node)
    model = scope.model

    def number(part: s.Expression) -> float:
        value = evaluate_ast(part, scope)
        if isinstance(value, EnumerationType):
            raise TypeFault("an enumeration stands where a number is needed.", where)
        return model.structural_value(as_scalar(value, where), "the range", where)

    first, last = number(node.first), number(node.last)
    step = number(node.step) if node.step is not None else 1
    if step == 0:
        raise TypeFault("the step of a range is zero.", where)
    count = int((last - first) / step + 1e-9) + 1 if (last - first) / step >= 0 else 0
    if count > ARRAY_LIMIT:
        raise TypeFault(f"the range has {count} values; at most {ARRAY_LIMIT} are allowed.", where)
    return [const(first + i * step) for i in range(count)]


def _array(node: s.Array, scope: Scope) -> list[Value]:
    if node.indices:
        return iterate(node.items[0], node.indices, scope)
    items = [evaluate_ast(item, scope) for item in node.items]
    sizes = [shape(item) for item in items]
    if any(size != sizes[0] for size in sizes):
        raise TypeFault(
            f"the items of this array have different sizes: {sizes[0]} and others.",
            scope.place(node),
        )
    return items


def iterate(body: s.Given, indices: tuple[s.ForIndex, ...], scope: Scope) -> list[Value]:
    """Array comprehension: the last index runs slowest, as the specification has it (10.4.1)."""
    outer, rest = indices[-1], indices[:-1]
    values = []
    for value in loop_values(outer, scope):
        inner = scope.within({outer.name: value})
        values.append(iterate(body, rest, inner) if rest else evaluate_ast(body, inner))
    return values


def loop_values(node: s.ForIndex, scope: Scope) -> list[Value]:
    """The values of a loop variable."""
    if node.over is None:
        raise Unsupported(
            "a loop without 'in' cannot be computed yet.", scope.place(node), "Write the range."
        )
    values = evaluate_ast(node.over, scope)
    if isinstance(values, EnumerationType):
        return [const(i + 1) for i in range(len(values.literals))]
    if not isinstance(values, list):
        raise TypeFault(f"'{node.name}' must run over a range or an array.", scope.place(node))
    return values


def loop_scopes(indices: tuple[s.ForIndex, ...], scope: Scope) -> list[Scope]:
    """The scopes of a nested loop, first index slowest."""
    scopes = [scope]
    for loop in indices:
        scopes = [
            inner.within({loop.name: value})
            for inner in scopes
            for value in loop_values(loop, inner)
        ]
    return scopes


def _matrix(node: s.Matrix, scope: Scope) -> Sequence[Value]:
    rows: list[list[Value]] = []
    for row in node.rows:
        blocks = [_as_matrix(evaluate_ast(item, scope), scope.place(node)) for item in row]
        height = len(blocks[0])
        if any(len(block) != height for block in blocks):
            raise TypeFault("the parts of a matrix row have different heights.", scope.place(node))
        rows.extend([entry for block in blocks for entry in block[i]] for i in range(height))
    if any(len(row) != len(rows[0]) for row in rows):
        raise TypeFault("the rows of this matrix have different lengths.", scope.place(node))
    return rows


def _as_matrix(value: Value, where: Place) -> list[list[Value]]:
    if not isinstance(value, list):
        return [[value]]
    if len(shape(value)) == 1:
        return [[item] for item in value]
    return [as_array(row, where) for row in value]


def _tuple(node: s.Tuple, scope: Scope) -> Value:
    if len(node.items) == 1 and node.items[0] is not None:
        return evaluate_ast(node.items[0], scope)
    raise Unsupported(
        "several outputs in parentheses cannot be computed here yet.", scope.place(node)
    )


def _selection(node: s.Selection, scope: Scope) -> Value:
    value = evaluate_ast(node.of, scope)
    if node.name:
        part = s.RefPart(node.name, start=node.start, end=node.end)
        reference = s.Ref((part,), start=node.start, end=node.end)
        return as_value(descend(value, [part], scope, reference), scope, node)
    return as_value(index(value, node.subscripts, scope, node), scope, node)


def _end(node: s.EndIndex, scope: Scope) -> Expr:
    if scope.extent is None:
        raise TypeFault("'end' has a meaning only inside subscripts.", scope.place(node))
    return const(scope.extent)


def _call(node: s.Call, scope: Scope) -> Value:
    return scope.model.evaluator.call(node, scope)


def _partial_application(node: s.PartialApplication, scope: Scope) -> FunctionValue:
    named = scope.names.get(node.function)
    if isinstance(named, FunctionValue):
        given, definition = dict(named.given), named.definition
    else:
        function = scope.instance.function(node.function, scope.definition)
        if function is None or function.node.kind != "function":
            raise LookupFault(
                f"no function '{node.function}' is known here.",
                scope.place(node),
                "Correct the name, or load its package.",
            )
        given, definition = {}, function
    declared = scope.model.package(definition).declared
    for name in (n.name for n in node.named):
        if name not in declared or "input" not in declared[name].node.prefixes:
            raise LookupFault(f"'{definition.name}' has no input '{name}'.", scope.place(node))
    return FunctionValue(
        definition, given | {n.name: evaluate_ast(n.value, scope) for n in node.named}
    )


_HANDLERS: dict[type, Callable[[Any, Scope], Value]] = {
    s.Number: _number,
    s.String: lambda node, scope: const(node.value),
    s.Boolean: lambda node, scope: const(node.value),
    s.Ref: _reference,
    s.Call: _call,
    s.PartialApplication: _partial_application,
    s.Unary: _unary,
    s.Binary: _binary,
    s.IfExpression: _if_expression,
    s.Range: _range,
    s.Array: _array,
    s.Matrix: _matrix,
    s.Tuple: _tuple,
    s.Selection: _selection,
    s.EndIndex: _end,
}

"""From syntax to values: scalar expressions, nested lists for arrays, instances for records."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from movrel.errors import LookupFault, Place, TypeFault, Unsupported, did_you_mean
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.classes import Definition
from movrel.model.expression import Expr, const
from movrel.model.flat import TIME, Variable
from movrel.model.instance import EnumerationType, Instance
from movrel.model.record import Record
from movrel.model.values import (
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

#: Largest array that an expression may make.
ARRAY_LIMIT = 1_000_000


@dataclass(slots=True)
class Scope:
    """Where names are looked up: an instance, the class whose text is being read, loop variables."""

    instance: Instance | None
    definition: Definition
    names: dict[str, Any] = field(default_factory=dict)
    extent: int | None = None  # what 'end' means inside subscripts

    def place(self, node: s.Node) -> Place:
        return self.definition.place(node)

    def within(self, names: dict[str, Any]) -> Scope:
        return Scope(self.instance, self.definition, {**self.names, **names}, self.extent)


def evaluate_ast(node: Any, scope: Scope) -> Any:
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


def _reference(node: s.Ref, scope: Scope) -> Any:
    return as_value(resolve(node, scope), scope, node)


def as_value(found: Any, scope: Scope, node: s.Node) -> Any:
    """What a resolved member means inside an expression."""
    if found is not None and _is_unset(found):
        raise TypeFault("this is used before it is assigned.", scope.place(node))
    if isinstance(found, Variable):
        if found.variability == "constant":
            binding = found_binding(found, scope)
            if binding is not None and binding.op == "const":
                return binding
        return x.var(found)
    if isinstance(found, list):
        return [as_value(item, scope, node) for item in found]
    if found is None:
        raise LookupFault(
            "a component that is switched off by its condition is used here.", scope.place(node)
        )
    return found


def found_binding(variable: Variable, scope: Scope) -> Expr | None:
    if scope.instance is not None:
        return scope.instance.model.binding(variable)
    return variable.binding


def resolve(node: s.Ref, scope: Scope) -> Any:
    """The member, loop value, constant or enumeration literal that a reference names."""
    parts = list(node.parts)
    first = parts[0]
    if not node.absolute and first.name in scope.names:
        value = scope.names[first.name]
        if _is_unset(value):
            raise TypeFault(f"'{first.name}' is used before it is assigned.", scope.place(node))
        return _descend(_subscript(value, first, scope), parts[1:], scope, node)
    instance = scope.instance
    if not node.absolute and instance is not None and first.name in instance.declared:
        return _descend(
            _subscript(instance.member(first.name), first, scope), parts[1:], scope, node
        )
    if len(parts) == 1 and first.name == "time":
        return TIME
    found = _constant(parts, scope, node)
    if found is not _NOTHING:
        return found
    raise LookupFault(
        f"no variable '{first.name}' is known here.",
        scope.place(node),
        _suggestion(first.name, scope),
    )


def _is_unset(value: Any) -> bool:
    from movrel.model.execution import UNSET

    return value is UNSET


_NOTHING = object()


def _model(scope: Scope) -> Any:
    if scope.instance is None:
        raise LookupFault("no names can be used here.", scope.definition.place())
    return scope.instance.model


def _constant(parts: list[s.RefPart], scope: Scope, node: s.Ref) -> Any:
    model = _model(scope)
    tree = model.tree
    if not node.absolute:
        enclosing: Definition | None = scope.definition
        while enclosing is not None:
            package = (
                model.package(enclosing)
                if enclosing.node.kind == "package" or enclosing is not scope.definition
                else None
            )
            if package is not None and parts[0].name in package.declared:
                found = package.member(parts[0].name)
                if isinstance(found, Variable) and found.variability != "constant":
                    raise LookupFault(
                        f"'{parts[0].name}' belongs to the enclosing class '{enclosing.qualified}' and is not a constant.",
                        scope.place(node), "Pass it in as a parameter.",
                    )  # fmt: skip
                return _descend(_subscript(found, parts[0], scope), parts[1:], scope, node)
            imported = _imported_constant(parts[0].name, enclosing, model)
            if imported is not None:
                return _descend(_subscript(imported, parts[0], scope), parts[1:], scope, node)
            enclosing = enclosing.parent if "encapsulated" not in enclosing.node.prefixes else None
        instance = scope.instance
        override = (
            instance.override(parts[0].name, scope.definition) if instance is not None else None
        )
        if override is not None:
            current = tree.require(override[0], override[1], scope.place(node))
        else:
            current = tree.lookup_simple(parts[0].name, scope.definition)
    else:
        current = tree.root(parts[0].name)
    for position, part in enumerate(parts[1:], 1):
        if current is None:
            return _NOTHING
        scalar = (
            model.package(current).scalar_type(current) if current.node.kind == "type" else None
        )
        if scalar is not None and scalar.literals:
            if part.name in scalar.literals:
                return const(scalar.literals.index(part.name) + 1)
            raise LookupFault(
                f"'{part.name}' is not a value of the enumeration '{current.name}'.", scope.place(node),
                f"It has {', '.join(scalar.literals)}.",
            )  # fmt: skip
        child = tree.child(current, part.name)
        if child is None:
            package = model.package(current)
            if part.name in package.declared:
                found = package.member(part.name)
                return _descend(_subscript(found, part, scope), parts[position + 1 :], scope, node)
            return _NOTHING
        current = child
    if current is not None:
        scalar = (
            model.package(current).scalar_type(current) if current.node.kind == "type" else None
        )
        if scalar is not None and scalar.literals:
            return EnumerationType(scalar.literals)
        raise TypeFault(f"'{node.text}' is a class, not a value.", scope.place(node))
    return _NOTHING


def _imported_constant(name: str, definition: Definition, model: Any) -> Any:
    """A constant that an import clause of this class makes visible."""
    for clause in definition.node.elements:
        if not isinstance(clause, s.Import):
            continue
        if clause.everything or name in clause.names:
            path, element = clause.path, name
        elif clause.alias == name or (
            not clause.alias and not clause.names and clause.path.rpartition(".")[2] == name
        ):
            path, _, element = clause.path.rpartition(".")
        else:
            continue
        package = model.tree.find(path)
        if package is not None and element in model.package(package).declared:
            return model.package(package).member(element)
    return None


def _suggestion(name: str, scope: Scope) -> str:
    known = [*scope.names, *(scope.instance.declared if scope.instance else ()), "time"]
    return did_you_mean(name, known, "Declare it, or correct the name.")


def _descend(value: Any, parts: list[s.RefPart], scope: Scope, node: s.Ref) -> Any:
    for position, part in enumerate(parts):
        if value is None:
            return None
        if isinstance(value, list):
            return [_descend(item, parts[position:], scope, node) for item in value]
        if isinstance(value, Record):
            if part.name not in value.fields:
                raise LookupFault(
                    f"a {value.name} has no member '{part.name}'.",
                    scope.place(node),
                    f"It has {', '.join(value.fields)}.",
                )
            value = value.fields[part.name]
            if _is_unset(value):
                raise TypeFault(f"'{node.text}' is used before it is assigned.", scope.place(node))
            value = _subscript(value, part, scope)
            continue
        if not isinstance(value, Instance):
            raise LookupFault(
                f"'{part.name}' in '{node.text}' is not a member: what stands before it has none.",
                scope.place(node),
            )
        if part.name not in value.declared:
            members = ", ".join(list(value.declared)[:8]) or "no members"
            hint = did_you_mean(part.name, value.declared, f"It has {members}.")
            raise LookupFault(
                f"'{value.path}' (a {value.definition.name}) has no member '{part.name}'.",
                scope.place(node),
                hint,
            )
        value = _subscript(value.member(part.name), part, scope)
    return value


def _subscript(value: Any, part: s.RefPart, scope: Scope) -> Any:
    if not part.subscripts or value is None:
        return value
    return index(value, part.subscripts, scope, part)


def index(value: Any, subscripts: tuple[Any, ...], scope: Scope, node: s.Node) -> Any:
    """Select from a nested list by subscripts; ranges and ``:`` give arrays."""
    if not subscripts:
        return value
    if not isinstance(value, list):
        raise TypeFault("there are more subscripts here than dimensions.", scope.place(node))
    first, rest = subscripts[0], subscripts[1:]
    if isinstance(first, s.WholeDimension):
        return [index(item, rest, scope, node) for item in value]
    inner = Scope(scope.instance, scope.definition, scope.names, len(value))
    chosen = evaluate_ast(first, inner)
    if isinstance(chosen, list):
        return [index(value[_position(c, value, scope, node)], rest, scope, node) for c in chosen]
    if isinstance(chosen, Expr) and value and varies(chosen):
        return _chosen_by(chosen, value, rest, scope, node)
    return index(value[_position(chosen, value, scope, node)], rest, scope, node)


def varies(e: Expr) -> bool:
    """Whether an expression may change during a run."""
    for node in x.walk(e):
        if node.op == "var":
            if node.variable.variability not in ("parameter", "constant"):
                return True
        elif node.op in x.NEVER_FOLDED and node.op != "const":
            return True
    return False


def _chosen_by(
    number: Expr, value: list[Any], rest: tuple[Any, ...], scope: Scope, node: s.Node
) -> Any:
    """The element whose number is only known during the run: a choice among all; none outside them."""
    where = scope.place(node)
    found = [as_value(index(item, rest, scope, node), scope, node) for item in value]
    only_numbers = all(isinstance(item, Expr) and kind_of(item) == "number" for item in found)
    result = const(math.nan) if only_numbers else found[-1]
    for position in range(len(found), 0, -1):
        result = choose(x.call("==", number, const(position)), found[position - 1], result, where)
    return result


def _position(chosen: Any, value: list[Any], scope: Scope, node: s.Node) -> int:
    number = whole_number(chosen, scope, node, "the subscript")
    if not 1 <= number <= len(value):
        raise TypeFault(f"the subscript {number} is outside 1 to {len(value)}.", scope.place(node))
    return number - 1


def whole_number(value: Any, scope: Scope, node: s.Node, purpose: str) -> int:
    where = scope.place(node)
    e = as_scalar(value, where)
    number = e.value if e.op == "const" else _model(scope).structural_value(e, purpose, where)
    if isinstance(number, bool) or not isinstance(number, int | float) or int(number) != number:
        raise TypeFault(f"{purpose} must be a whole number; it is {number}.", where)
    return int(number)


# --- operators ---


def _relation(op: str) -> Callable[[Expr, Expr], Expr]:
    if op == "and":
        return x.conjunction
    return x.disjunction if op == "or" else lambda a, b: x.call(op, a, b)


def _binary(node: s.Binary, scope: Scope) -> Any:
    # Long sums lean to the left; they are worked off without recursion.
    spine = [node]
    while isinstance(spine[-1].left, s.Binary):
        spine.append(spine[-1].left)
    value = evaluate_ast(spine[-1].left, scope)
    for part in reversed(spine):
        value = _combined(part, value, evaluate_ast(part.right, scope), scope)
    return value


def _combined(node: s.Binary, a: Any, b: Any, scope: Scope) -> Any:
    op, where = node.operator, scope.place(node)
    if isinstance(a, Expr) and isinstance(b, Expr):
        check_operands(op, a, b, where)
        if op in x.RELATIONS and kind_of(a) == "String":
            # Texts do not vary, so what they decide is decided now.
            return const(
                bool(
                    _model(scope).structural_value(
                        Expr(op, (a, b)), "the comparison of texts", where
                    )
                )
            )
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


def _unary(node: s.Unary, scope: Scope) -> Any:
    a = evaluate_ast(node.operand, scope)
    where = scope.place(node)
    if node.operator == "not":
        return each_element(a, lambda e: x.opposite(as_boolean(e, where)), where)
    if node.operator.endswith("-"):
        return each_element(a, x.negate, where)
    return a


def _if_expression(node: s.IfExpression, scope: Scope) -> Any:
    where = scope.place(node)
    result = None
    conditions = []
    for condition, value in node.branches:
        c = as_boolean(evaluate_ast(condition, scope), where)
        if c.is_const(True):
            result = evaluate_ast(value, scope)
            break
        if not c.is_const(False):
            conditions.append((c, evaluate_ast(value, scope)))
    if result is None:
        result = evaluate_ast(node.otherwise, scope)
    for c, value in reversed(conditions):
        result = choose(c, value, result, where)
    return result


def _range(node: s.Range, scope: Scope) -> list[Expr]:
    where = scope.place(node)
    model = _model(scope)

    def number(part: Any) -> float:
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


def _array(node: s.Array, scope: Scope) -> list[Any]:
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


def iterate(body: Any, indices: tuple[s.ForIndex, ...], scope: Scope) -> list[Any]:
    """Array comprehension: the last index runs slowest, as the specification has it (10.4.1)."""
    outer, rest = indices[-1], indices[:-1]
    values = []
    for value in loop_values(outer, scope):
        inner = scope.within({outer.name: value})
        values.append(iterate(body, rest, inner) if rest else evaluate_ast(body, inner))
    return values


def loop_values(node: s.ForIndex, scope: Scope) -> list[Any]:
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


def _matrix(node: s.Matrix, scope: Scope) -> list[Any]:
    rows: list[list[Any]] = []
    for row in node.rows:
        blocks = [_as_matrix(evaluate_ast(item, scope)) for item in row]
        height = len(blocks[0])
        if any(len(block) != height for block in blocks):
            raise TypeFault("the parts of a matrix row have different heights.", scope.place(node))
        rows.extend([entry for block in blocks for entry in block[i]] for i in range(height))
    if any(len(row) != len(rows[0]) for row in rows):
        raise TypeFault("the rows of this matrix have different lengths.", scope.place(node))
    return rows


def _as_matrix(value: Any) -> list[list[Any]]:
    dimensions = len(shape(value))
    if dimensions == 0:
        return [[value]]
    if dimensions == 1:
        return [[item] for item in value]
    return value


def _tuple(node: s.Tuple, scope: Scope) -> Any:
    if len(node.items) == 1 and node.items[0] is not None:
        return evaluate_ast(node.items[0], scope)
    raise Unsupported(
        "several outputs in parentheses cannot be computed here yet.", scope.place(node)
    )


def _selection(node: s.Selection, scope: Scope) -> Any:
    value = evaluate_ast(node.of, scope)
    if node.name:
        part = s.RefPart(node.name, start=node.start, end=node.end)
        reference = s.Ref((part,), start=node.start, end=node.end)
        return as_value(_descend(value, [part], scope, reference), scope, node)
    return index(value, node.subscripts, scope, node)


def _end(node: s.EndIndex, scope: Scope) -> Expr:
    if scope.extent is None:
        raise TypeFault("'end' has a meaning only inside subscripts.", scope.place(node))
    return const(scope.extent)


def _call(node: s.Call, scope: Scope) -> Any:
    from movrel.model.functions import call_function

    return call_function(node, scope)


_HANDLERS: dict[type, Callable[[Any, Scope], Any]] = {
    s.Number: _number,
    s.String: lambda node, scope: const(node.value),
    s.Boolean: lambda node, scope: const(node.value),
    s.Ref: _reference,
    s.Call: _call,
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

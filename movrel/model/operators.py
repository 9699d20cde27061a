"""Operator records: which function an operator means for its operands (specification chapter 14)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from movrel.errors import Place, TypeFault
from movrel.language import syntax as s
from movrel.model.algorithm import call_with
from movrel.model.classes import ClassTree, Definition
from movrel.model.environment import Environment, Model, Record, Value
from movrel.model.expression import Expr
from movrel.model.signature import signature_of
from movrel.model.values import as_array, flatten, kind_of, shape

CONSTRUCTOR = "constructor"


def operator_record(value: Value, tree: ClassTree) -> Definition | None:
    """The operator record that a value, or each element of an array, is one of; None for everything else."""
    leaf = next(iter(flatten(value)), None) if isinstance(value, list) else value
    if not isinstance(leaf, Record | Environment):
        return None
    return leaf.definition if tree.has_prefix(leaf.definition, "operator") else None


class Operators:
    """The operators of the records of one model."""

    def __init__(self, model: Model, where: Place) -> None:
        self.model, self.tree, self.where = model, model.tree, where

    def apply(self, operator: str, operands: list[Value]) -> Value:
        """The value of an operator of one or two operands, of which one at least is an operator record or an array of such."""
        name = operator.removeprefix(".")
        if len(operands) == 2:
            a, b = operands
            if operator == "*" and isinstance(a, list) and isinstance(b, list):
                return self._product(a, b)
            if isinstance(a, list) or isinstance(b, list):
                return self._each(operator, a, b)
        elif isinstance(operands[0], list):
            return [self.apply(operator, [item]) for item in operands[0]]
        return self._call(name, operands)

    def total(self, values: list[Value]) -> Value:
        """The sum of values, the first of which is an operator record."""
        result = values[0]
        for value in values[1:]:
            result = self.apply("+", [result, value])
        return result

    def construct(
        self, definition: Definition, node: s.Call, evaluate: Callable[[s.Given], Value]
    ) -> Value | None:
        """What the constructors of a record make of the arguments of a call; None where it has none of its own."""
        constructors = list(self._functions(definition, CONSTRUCTOR))
        if not constructors:
            return None
        values = [evaluate(a) for a in node.arguments]
        named = {n.name: evaluate(n.value) for n in node.named}
        for constructor in constructors:
            if self._accepts(constructor, values, named):
                return self._value_of(constructor, values, named)
        raise TypeFault(
            f"no constructor of '{definition.name}' takes {self._kinds([*values, *named.values()])}.",
            self.where,
        )

    # --- one operator ---

    def _each(self, operator: str, a: Value, b: Value) -> Value:
        if not isinstance(a, list):
            return [self.apply(operator, [a, item]) for item in as_array(b, self.where)]
        if not isinstance(b, list):
            return [self.apply(operator, [item, b]) for item in a]
        if shape(a) != shape(b):
            raise TypeFault(
                f"arrays of sizes {shape(a)} and {shape(b)} do not go together.", self.where
            )
        return [self.apply(operator, [p, q]) for p, q in zip(a, b, strict=True)]

    def _product(self, a: list[Value], b: list[Value]) -> Value:
        rows, columns = shape(a), shape(b)
        if rows[-1] != columns[0]:
            raise TypeFault(f"a product of sizes {rows} and {columns} is not defined.", self.where)

        def dot(p: Value, q: list[Value]) -> Value:
            pairs = zip(as_array(p, self.where), q, strict=True)
            return self.total([self.apply("*", [u, v]) for u, v in pairs])

        if len(columns) == 1:
            return dot(a, b) if len(rows) == 1 else [dot(row, b) for row in a]
        across = [
            list(column) for column in zip(*(as_array(row, self.where) for row in b), strict=True)
        ]
        if len(rows) == 1:
            return [dot(a, column) for column in across]
        return [[dot(row, column) for column in across] for row in a]

    def _call(self, operator: str, operands: list[Value]) -> Value:
        records = [d for d in (operator_record(v, self.tree) for v in operands) if d is not None]
        functions = [f for d in self._different(records) for f in self._functions(d, operator)]
        for values in (operands, *self._converted(operands, records)):
            for function in functions:
                if self._accepts(function, values, {}):
                    return self._value_of(function, values, {})
        raise TypeFault(f"'{operator}' is not defined for {self._kinds(operands)}.", self.where)

    def _converted(self, operands: list[Value], records: list[Definition]) -> Iterator[list[Value]]:
        """The operands, those that are of another type turned into one of the records."""
        for record in self._different(records):
            constructors = list(self._functions(record, CONSTRUCTOR))
            values: list[Value] = []
            for operand in operands:
                own = operator_record(operand, self.tree)
                if own is not None and self._root(own) is self._root(record):
                    values.append(operand)
                    continue
                fitting = [c for c in constructors if self._accepts(c, [operand], {})]
                if fitting:
                    values.append(self._value_of(fitting[0], [operand], {}))
            if len(values) == len(operands):
                yield values

    def _different(self, records: list[Definition]) -> list[Definition]:
        return list({self._root(d): d for d in records}.values())

    def _functions(self, record: Definition, operator: str) -> Iterator[Definition]:
        """The functions of an operator of a record: the operator itself, or those declared in it."""
        declared = self.tree.child(record, f"'{operator}'")
        if declared is None:
            return
        if declared.node.kind == "function":
            yield declared
            return
        for element in declared.node.elements:
            if isinstance(element, s.ClassDef) and element.kind == "function":
                function = self.tree.own_child(declared, element.name)
                if function is not None:
                    yield function

    def _accepts(self, function: Definition, values: list[Value], named: dict[str, Value]) -> bool:
        """Whether a function can be called with these arguments."""
        inputs = signature_of(function, self.model).inputs
        names = list(inputs)
        given = {**dict(zip(names, values, strict=False)), **named}
        if (
            len(values) > len(names)
            or len(given) < len(values) + len(named)
            or given.keys() - inputs.keys()
        ):
            return False
        if any(i.required for n, i in inputs.items() if n not in given):
            return False
        return all(
            self._fits(value, inputs[n].type, inputs[n].dimensions) for n, value in given.items()
        )

    def _fits(self, value: Value, wanted: Definition | None, dimensions: int) -> bool:
        if len(shape(value)) != dimensions or wanted is None:
            return False
        leaf = next(iter(flatten(value)), None) if isinstance(value, list) else value
        if isinstance(leaf, Record | Environment):
            return self._root(leaf.definition) is self._root(wanted)
        if not isinstance(leaf, Expr):
            return False
        base = self._root(wanted).name
        return base == kind_of(leaf) or (kind_of(leaf) == "number" and base in ("Real", "Integer"))

    def _root(self, definition: Definition) -> Definition:
        """The class that a chain of short classes comes down to, as it is declared."""
        while definition.node.form == "short" and self.tree.bases(definition):
            definition = self.tree.bases(definition)[0]
        return definition.original or definition

    def _value_of(
        self, function: Definition, values: list[Value], named: dict[str, Value]
    ) -> Value:
        names = list(signature_of(function, self.model).inputs)
        given = {**dict(zip(names, values, strict=False)), **named}
        return call_with(function, given, self.model, self.where)[0]

    def _kinds(self, values: list[Value]) -> str:
        names = []
        for value in values:
            record = operator_record(value, self.tree)
            leaf = value if isinstance(value, Expr) else None
            kind = record.name if record else kind_of(leaf) if leaf is not None else "an array"
            names.append(kind)
        return " and ".join(names)

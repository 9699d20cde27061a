"""Function calls written out as expressions (specification chapter 12).

A call is inlined: its statements are run with the arguments' expressions as values. Functions cause
no events, so the result is marked accordingly.
"""

from __future__ import annotations

from collections.abc import Collection

from movrel.errors import LookupFault, Place, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.annotation import says
from movrel.model.attributes import mod_value
from movrel.model.classes import Definition
from movrel.model.environment import UNSET, FunctionValue, Member, Model, Record, Scope, Value
from movrel.model.evaluate import evaluate_ast
from movrel.model.execution import DEPTH_LIMIT, Budget, Execution
from movrel.model.expression import Expr
from movrel.model.external import KNOWN
from movrel.model.instance import Instance
from movrel.model.lookup import whole_number
from movrel.model.signature import signature_of
from movrel.model.values import as_array, each_element, shape

#: Statements that a call counts as, by the time that it takes.
CALL = 10
#: Distinct operators that the outputs of one call may have.
SIZE_LIMIT = 300_000


def call(function: FunctionValue, node: s.Call, scope: Scope) -> list[Value]:
    """The values of all outputs of a function."""
    model = scope.model
    return call_with(function.definition, _given(function, node, scope), model, scope.place(node))


def _given(function: FunctionValue, node: s.Call, scope: Scope) -> dict[str, Value]:
    """The arguments of a call by the names of their inputs, with those that the function has already."""
    where, name = scope.place(node), function.definition.name
    inputs: Collection[str] = signature_of(function.definition, scope.model).inputs
    given = dict(function.given)
    named = {n.name: evaluate_ast(n.value, scope) for n in node.named}
    unknown = next((n for n in (*given, *named) if n not in inputs), None)
    if unknown is not None:
        raise LookupFault(
            f"'{name}' has no input '{unknown}'.", where, f"It has {', '.join(inputs)}."
        )
    if given:
        inputs = [n for n in inputs if n not in given]
    count = len(inputs)
    if len(node.arguments) > count:
        raise TypeFault(
            f"'{name}' takes {count} arguments; {len(node.arguments)} are given.", where
        )
    given |= zip(inputs, (evaluate_ast(a, scope) for a in node.arguments), strict=False)
    return given | named


def call_with(
    definition: Definition, given: dict[str, Value], model: Model, where: Place
) -> list[Value]:
    """The values of all outputs of a function for arguments by the names of its inputs."""
    external = definition.node.external
    if external is not None and not (external.language == "Movrel" and external.function in KNOWN):
        raise Unsupported(
            f"the external function '{definition.qualified}' cannot be computed.",
            where,
            "Write its algorithm in Modelica.",
        )
    if definition.node.partial:
        raise TypeFault(
            f"the function '{definition.qualified}' is partial.",
            where,
            "Choose one that extends it.",
        )
    budget = model.function_budget or Budget()
    outermost = budget.depth == 0
    model.function_budget = budget
    budget.depth += 1
    try:
        if budget.depth > DEPTH_LIMIT:
            raise Unsupported(
                f"calls of '{definition.name}' are nested more than {DEPTH_LIMIT} deep.", where
            )
        results = _Call(definition, model, budget).run(given, where)
    finally:
        budget.depth -= 1
        if outermost:
            model.function_budget = None
    if outermost:
        _check_size(results, definition, where)
    return results


def _check_size(results: list[Value], definition: Definition, where: Place) -> None:
    def count(e: Expr) -> Expr:
        if e.size > SIZE_LIMIT and sum(1 for _ in x.walk(e)) > SIZE_LIMIT:
            raise Unsupported(
                f"the value of '{definition.name}' grows to more than {SIZE_LIMIT} operators when it is written out.",
                where, "Iterate less, or write the iteration as an equation.",
            )  # fmt: skip
        return e

    for value in results:
        each_element(value, count, where)


class _Call:
    def __init__(self, definition: Definition, model: Model, budget: Budget) -> None:
        self.definition = definition
        self.model = model
        self.signature = signature_of(definition, model)
        self.package = self.signature.package
        self.budget = budget
        self.declared = self.package.declared
        self.inputs, self.outputs = self.signature.inputs, self.signature.outputs

    def run(self, given: dict[str, Value], where: Place) -> list[Value]:
        surplus = {n: sizes for n, v in given.items() if (sizes := self._surplus(n, v))}
        return self._for_each(given, surplus, where) if surplus else self._once(given, where)

    def _surplus(self, name: str, value: Value) -> tuple[int, ...]:
        """The sizes of the dimensions that an argument has and its input has not."""
        sizes = shape(value)
        return tuple(sizes[: max(0, len(sizes) - self.inputs[name].dimensions)])

    def _for_each(
        self, given: dict[str, Value], surplus: dict[str, tuple[int, ...]], where: Place
    ) -> list[Value]:
        """A call with arrays in the place of single values: one call for each element (12.4.6)."""
        (name, sizes), *others = surplus.items()
        for other, its in others:
            if its != sizes:
                raise TypeFault(
                    f"the arguments '{name}' and '{other}' of '{self.definition.name}' have different sizes: {sizes} and {its}.",
                    where,
                )
        rows = []
        for k in range(sizes[0]):
            chosen = {n: as_array(v, where)[k] if n in surplus else v for n, v in given.items()}
            rest = dict.fromkeys(surplus, sizes[1:])
            rows.append(
                self._for_each(chosen, rest, where) if sizes[1:] else self._once(chosen, where)
            )
        return [[row[i] for row in rows] for i in range(len(self.outputs))]

    def _once(self, given: dict[str, Value], where: Place) -> list[Value]:
        names = self._arguments(given, where)
        external = self.definition.node.external
        if external is not None:
            values = [
                evaluate_ast(a, Scope(self.package, self.definition, names))
                for a in external.arguments
            ]
            return [KNOWN[external.function](self.model, values, where)]
        execution = Execution(self.model, self.budget, self.definition.name, frozenset(self.inputs))
        numbers = self._numbers(names)
        if numbers is not None and numbers in self.budget.results:
            execution.spend(where, 1)
            return self.budget.results[numbers]
        execution.spend(where, CALL)
        said = self._said()
        for body in self.package.bodies:
            for section in body.node.algorithms:
                execution.run_all(section, Scope(self.package, body, names))
        events = says(self.definition.node.annotation, "GenerateEvents")
        results = []
        for name in self.outputs:
            if _unset(names[name]):
                raise TypeFault(
                    f"the output '{name}' of '{self.definition.name}' is never assigned.",
                    self.definition.place(),
                )
            results.append(
                names[name] if events else each_element(names[name], _without_events, where)
            )
        if numbers is not None and said == self._said():
            self.budget.results[numbers] = results
        return results

    def _said(self) -> int:
        """How many assertions and ends of the run there are by now."""
        return len(self.model.assertions) + len(self.model.terminations)

    def _numbers(self, names: dict[str, Value]) -> tuple[object, ...] | None:
        """The call with its arguments, where these are single numbers: then it gives the same every time."""
        given: list[object] = [self.package]
        for name in self.inputs:
            value = names[name]
            if not isinstance(value, Expr) or value.op != "const":
                return None
            given += [type(value.value), value.value]
        return tuple(given)

    def _arguments(self, given: dict[str, Value], where: Place) -> dict[str, Value]:
        """All names of the function with the values they have when its statements begin."""
        names: dict[str, Value] = dict.fromkeys(self.declared, UNSET)
        for name, declared in self.declared.items():
            if name in given:
                names[name] = given[name]
                self._check_size(name, given[name], names, where)
                continue
            modification = declared.node.modification
            inner = Scope(self.package, declared.definition, names)
            if declared.mod is not None and declared.mod.value is not None:
                names[name] = mod_value(declared.mod, self.model)
            elif modification is not None and modification.value is not None:
                names[name] = evaluate_ast(modification.value, inner)
            elif name in self.inputs:
                raise TypeFault(
                    f"the argument '{name}' of '{self.definition.name}' is missing.", where
                )
            else:
                names[name] = self._empty(name, inner)
                if modification is not None:
                    _set_members(names[name], modification.arguments, inner)
        return names

    def _check_size(self, name: str, value: Value, names: dict[str, Value], where: Place) -> None:
        wanted, sizes = self.signature.sizes[name], shape(value)
        if self.inputs[name].is_function != isinstance(value, FunctionValue):
            kind = "a value" if isinstance(value, FunctionValue) else "a function"
            raise TypeFault(
                f"the argument '{name}' of '{self.definition.name}' must be {kind}.", where
            )
        if len(wanted) != len(sizes):
            raise TypeFault(
                f"the argument '{name}' of '{self.definition.name}' has {len(sizes)} dimensions; {len(wanted)} are needed.",
                where,
            )
        for (subscript, definition), size in zip(wanted, sizes, strict=True):
            if isinstance(subscript, s.WholeDimension):
                continue
            inner = Scope(self.package, definition, names)
            needed = whole_number(evaluate_ast(subscript, inner), inner, subscript, "a size")
            if needed != size:
                raise TypeFault(
                    f"the argument '{name}' of '{self.definition.name}' has size {size}; {needed} is needed.",
                    where,
                )

    def _empty(self, name: str, scope: Scope) -> Value:
        """A local or output before its first assignment: arrays and records have places to assign to."""
        sizes = []
        for subscript, definition in self.signature.sizes[name]:
            if isinstance(subscript, s.WholeDimension):
                return UNSET
            inner = Scope(self.package, definition, scope.names)
            size = evaluate_ast(subscript, inner)
            sizes.append(whole_number(size, inner, subscript, f"the size of '{name}'"))
        declared = self.declared[name]
        class_ = self.model.tree.require(
            declared.node.type_name, declared.definition, declared.definition.place(declared.node)
        )
        leaf = (
            _empty_record(self.model, class_, name)
            if self.model.tree.is_kind(class_, "record")
            else UNSET
        )

        def filled(rest: list[int]) -> Value:
            return [filled(rest[1:]) for _ in range(rest[0])] if rest else leaf

        return filled(sizes)


def construct(definition: Definition, node: s.Call, scope: Scope) -> Record:
    """What a record constructor makes: arguments in the order of the members, defaults for the rest (12.6)."""
    where = scope.place(node)
    model = scope.model
    pattern = Instance(model, definition.name, definition, {}, None)
    open_members = [
        n
        for n, d in pattern.declared.items()
        if "final" not in d.node.flags and "constant" not in d.node.prefixes
    ]
    if len(node.arguments) > len(open_members):
        raise TypeFault(
            f"'{definition.name}' has {len(open_members)} members; {len(node.arguments)} are given.",
            where,
        )
    given: dict[str, Value] = dict(
        zip(open_members, (evaluate_ast(a, scope) for a in node.arguments), strict=False)
    )
    for named in node.named:
        if named.name not in open_members:
            raise LookupFault(
                f"the record '{definition.name}' has no member '{named.name}'.",
                where,
                f"It has {', '.join(open_members)}.",
            )
        given[named.name] = evaluate_ast(named.value, scope)
    fields: dict[str, Value] = {}
    for name, declared in pattern.declared.items():
        if name not in given:
            modification = declared.node.modification
            if modification is None or modification.value is None:
                raise TypeFault(f"the member '{name}' of '{definition.name}' is missing.", where)
            given[name] = evaluate_ast(
                modification.value, Scope(pattern, declared.definition, fields)
            )
        fields[name] = given[name]
    return Record(definition, fields)


def _empty_record(model: Model, definition: Definition, name: str) -> Record:
    pattern = Instance(model, name, definition, {}, None)

    def empty(member: Member) -> Value:
        if isinstance(member, list):
            return [empty(item) for item in member]
        if isinstance(member, Instance):
            return Record(member.definition, {n: empty(member.member(n)) for n in member.declared})
        return UNSET

    return Record(definition, {n: empty(pattern.member(n)) for n in pattern.declared})


def _set_members(value: Value, arguments: tuple[s.Argument, ...], scope: Scope) -> None:
    """Give a record of a function the members that its declaration gives."""
    if not isinstance(value, Record):
        return
    for argument in arguments:
        said = argument.modification if isinstance(argument, s.Modify) else None
        if isinstance(argument, s.Modify) and said is not None and said.value is not None:
            value.fields[argument.name] = evaluate_ast(said.value, scope)


def _unset(value: Value) -> bool:
    if isinstance(value, list):
        return any(_unset(item) for item in value)
    if isinstance(value, Record):
        return any(_unset(item) for item in value.fields.values())
    return value is UNSET


_EVENT_OPERATORS = x.RELATIONS | {"floor", "ceil", "integer", "mod", "rem", "div"}


def _without_events(e: Expr) -> Expr:
    if any(node.op in _EVENT_OPERATORS for node in x.walk(e)):
        return e if e.op == "noevent" else Expr("noevent", (e,))
    return e

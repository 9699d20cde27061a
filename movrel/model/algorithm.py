"""Functions with algorithms, carried out on expressions (specification chapters 11 and 12).

A call is inlined: its statements are run with the arguments' expressions as values, loops are
unrolled, and an ``if`` whose condition varies gives ``if`` expressions for everything its branches
assign. Functions cause no events, so the result is marked accordingly.
"""

from __future__ import annotations

from typing import Any

from movrel.errors import LookupFault, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.classes import Definition
from movrel.model.evaluate import (
    Scope,
    as_boolean,
    as_scalar,
    choose,
    each_element,
    evaluate_ast,
    loop_values,
    shape,
    whole_number,
)  # fmt: skip
from movrel.model.expression import Expr

#: Statements that one call may run, and calls within calls.
STATEMENT_LIMIT, DEPTH_LIMIT = 200_000, 60
#: Operators that one inlined value may have.
SIZE_LIMIT = 20_000


class _Unset:
    """A variable of a function before it is assigned."""


UNSET = _Unset()


class _Budget:
    """What is left of the limits of one outermost call."""

    def __init__(self) -> None:
        self.statements = STATEMENT_LIMIT
        self.depth = 0


def call(definition: Definition, node: s.Call, scope: Scope) -> list[Any]:
    """The values of all outputs of a function."""
    where = scope.place(node)
    if definition.node.external is not None:
        raise Unsupported(f"the external function '{definition.qualified}' cannot be computed yet.", where)
    if definition.node.partial:
        raise TypeFault(f"the function '{definition.qualified}' is partial.", where, "Choose one that extends it.")
    assert scope.instance is not None
    model = scope.instance.model
    budget = getattr(model, "function_budget", None) or _Budget()
    outermost = budget.depth == 0
    model.function_budget = budget
    budget.depth += 1
    try:
        if budget.depth > DEPTH_LIMIT:
            raise Unsupported(f"calls of '{definition.name}' are nested more than {DEPTH_LIMIT} deep.", where)
        return _Call(definition, model, budget).run(node, scope)
    finally:
        budget.depth -= 1
        if outermost:
            model.function_budget = None


class _Call:
    def __init__(self, definition: Definition, model: Any, budget: _Budget) -> None:
        self.definition = definition
        self.package = model.package(definition)
        self.budget = budget
        self.declared = self.package.declared
        self.inputs = [n for n, d in self.declared.items() if "input" in d.node.prefixes]
        self.outputs = [n for n, d in self.declared.items() if "output" in d.node.prefixes]

    def run(self, node: s.Call, scope: Scope) -> list[Any]:
        where = scope.place(node)
        if len(node.arguments) > len(self.inputs):
            raise TypeFault(
                f"'{self.definition.name}' takes {len(self.inputs)} arguments; {len(node.arguments)} are given.", where
            )
        names: dict[str, Any] = dict.fromkeys(self.declared, UNSET)
        given: dict[str, Any] = dict(zip(self.inputs, (evaluate_ast(a, scope) for a in node.arguments), strict=False))
        for named in node.named:
            if named.name not in self.inputs:
                raise LookupFault(
                    f"'{self.definition.name}' has no input '{named.name}'.", where, f"It has {', '.join(self.inputs)}."
                )
            given[named.name] = evaluate_ast(named.value, scope)
        for name, declared in self.declared.items():
            if name in given:
                names[name] = given[name]
                self._check_size(name, given[name], names, where)
                continue
            modification = declared.node.modification
            inner = Scope(self.package, declared.definition, names)
            if modification is not None and modification.value is not None:
                names[name] = evaluate_ast(modification.value, inner)
            elif name in self.inputs:
                raise TypeFault(f"the argument '{name}' of '{self.definition.name}' is missing.", where)
            else:
                names[name] = self._empty(name, inner)
        for body in self.package.bodies:
            for section in body.node.algorithms:
                if self._run_all(section, Scope(self.package, body, names)) == "return":
                    break
        results = []
        for name in self.outputs:
            if names[name] is UNSET:
                raise TypeFault(f"the output '{name}' of '{self.definition.name}' is never assigned.", self.definition.place())
            results.append(each_element(names[name], _without_events, where))
        return results

    def _subscripts(self, name: str) -> tuple[Any, ...]:
        node = self.declared[name].node
        return (*node.subscripts, *node.type_subscripts)

    def _check_size(self, name: str, value: Any, names: dict[str, Any], where: Any) -> None:
        wanted, sizes = self._subscripts(name), shape(value)
        if len(wanted) != len(sizes):
            raise TypeFault(
                f"the argument '{name}' of '{self.definition.name}' has {len(sizes)} dimensions; {len(wanted)} are needed.", where
            )
        for subscript, size in zip(wanted, sizes, strict=True):
            if isinstance(subscript, s.WholeDimension):
                continue
            inner = Scope(self.package, self.declared[name].definition, names)
            needed = whole_number(evaluate_ast(subscript, inner), inner, subscript, "a size")
            if needed != size:
                raise TypeFault(f"the argument '{name}' of '{self.definition.name}' has size {size}; {needed} is needed.", where)

    def _empty(self, name: str, scope: Scope) -> Any:
        """A local or output before its first assignment: arrays have places to assign to."""
        sizes = []
        for subscript in self._subscripts(name):
            if isinstance(subscript, s.WholeDimension):
                return UNSET
            sizes.append(whole_number(evaluate_ast(subscript, scope), scope, subscript, f"the size of '{name}'"))

        def filled(rest: list[int]) -> Any:
            return [filled(rest[1:]) for _ in range(rest[0])] if rest else UNSET

        return filled(sizes)

    # --- statements ---

    def _run_all(self, statements: Any, scope: Scope) -> str:
        for statement in statements:
            signal = self._run(statement, scope)
            if signal:
                return signal
        return ""

    def _run(self, node: Any, scope: Scope) -> str:
        where = scope.place(node)
        self.budget.statements -= 1
        if self.budget.statements < 0:
            raise Unsupported(f"a call runs more than {STATEMENT_LIMIT} statements.", where, "Is there a loop that does not end?")
        if isinstance(node, s.Assignment):
            self._assign(node.target, evaluate_ast(node.value, scope), scope)
        elif isinstance(node, s.TupleAssignment):
            values = self._outputs_of(node.call, scope)
            for target, value in zip(node.targets.items, values, strict=False):
                if isinstance(target, s.Ref):
                    self._assign(target, value, scope)
        elif isinstance(node, s.IfStatement):
            return self._if(list(node.branches), node.otherwise, scope)
        elif isinstance(node, s.ForStatement):
            return self._for(node, list(node.indices), scope)
        elif isinstance(node, s.WhileStatement):
            return self._while(node, scope)
        elif isinstance(node, s.BreakStatement):
            return "break"
        elif isinstance(node, s.ReturnStatement):
            return "return"
        elif isinstance(node, s.CallStatement) and node.call.name == "assert":
            self._assert(node.call, scope)
        else:
            raise Unsupported("this statement cannot be computed in a function yet.", where)
        return ""

    def _outputs_of(self, node: s.Call, scope: Scope) -> list[Any]:
        from movrel.model.functions import call_outputs

        return call_outputs(node, scope)

    def _assert(self, node: s.Call, scope: Scope) -> None:
        where = scope.place(node)
        condition = as_boolean(evaluate_ast(node.arguments[0], scope), where)
        if condition.is_const(False):
            message = as_scalar(evaluate_ast(node.arguments[1], scope), where) if len(node.arguments) > 1 else x.const("")
            raise TypeFault(f"{message.value or 'an assertion'} (in '{self.definition.name}').", where)
        if not condition.is_const(True):
            raise Unsupported(
                "an assertion on varying values inside a function cannot be checked yet.", where, "Assert in the model."
            )

    def _assign(self, target: s.Ref, value: Any, scope: Scope) -> None:
        where = scope.place(target)
        name = target.parts[0].name
        if name not in scope.names or len(target.parts) > 1:
            raise LookupFault(f"'{target.text}' cannot be assigned here.", where, "Assign an output or a local variable.")
        if name in self.inputs:
            raise TypeFault(f"the input '{name}' cannot be assigned.", where)
        if isinstance(value, Expr) and value.size > SIZE_LIMIT:
            raise Unsupported(
                f"the value of '{name}' grows to more than {SIZE_LIMIT} operators when '{self.definition.name}' is written out.",
                where, "Iterate less, or write the iteration as an equation.",
            )  # fmt: skip
        subscripts = target.parts[0].subscripts
        scope.names[name] = self._placed(scope.names[name], subscripts, value, scope, where) if subscripts else value

    def _placed(self, old: Any, subscripts: tuple[Any, ...], value: Any, scope: Scope, where: Any) -> Any:
        if not subscripts:
            return value
        if not isinstance(old, list):
            raise TypeFault("there are more subscripts here than dimensions.", where)
        first = subscripts[0]
        if isinstance(first, s.WholeDimension):
            if not isinstance(value, list) or len(value) != len(old):
                raise TypeFault("the assigned array has another size.", where)
            return [self._placed(o, subscripts[1:], v, scope, where) for o, v in zip(old, value, strict=True)]
        inner = Scope(scope.instance, scope.definition, scope.names, len(old))
        position = whole_number(evaluate_ast(first, inner), inner, first, "the subscript")
        if not 1 <= position <= len(old):
            raise TypeFault(f"the subscript {position} is outside 1 to {len(old)}.", where)
        changed = list(old)
        changed[position - 1] = self._placed(old[position - 1], subscripts[1:], value, scope, where)
        return changed

    def _if(self, branches: list[Any], otherwise: Any, scope: Scope) -> str:
        if not branches:
            return self._run_all(otherwise, scope)
        (condition, body), rest = branches[0], branches[1:]
        where = scope.place(condition)
        decided = self._decide(as_boolean(evaluate_ast(condition, scope), where), scope)
        if isinstance(decided, bool):
            return self._run_all(body, scope) if decided else self._if(rest, otherwise, scope)
        before = dict(scope.names)
        then_names, else_names = dict(before), dict(before)
        signals = (
            self._run_all(body, Scope(scope.instance, scope.definition, then_names)),
            self._if(rest, otherwise, Scope(scope.instance, scope.definition, else_names)),
        )
        if any(signals):
            # Leaving a loop or the function decides how much is computed.
            firmly = self._decide(decided, scope, where, structural=True)
            if isinstance(firmly, bool):
                return self._run_all(body, scope) if firmly else self._if(rest, otherwise, scope)
            raise Unsupported("'break' or 'return' under a condition that varies cannot be computed yet.", where)
        for name in before:
            a, b = then_names[name], else_names[name]
            if a is not b:
                scope.names[name] = self._merged(decided, a, b, where)
        return ""

    def _merged(self, condition: Expr, a: Any, b: Any, where: Any) -> Any:
        if a is UNSET or b is UNSET:
            return UNSET  # assigned in one branch only; using it later is an error
        if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
            return [self._merged(condition, p, q, where) for p, q in zip(a, b, strict=True)]
        return choose(condition, a, b, where)

    def _decide(self, condition: Expr, scope: Scope, where: Any = None, structural: bool = False) -> bool | Expr:
        """The truth of a condition that does not vary, or the condition itself.

        With ``structural`` a condition on parameters is decided too, which ties the system to them.
        """
        if condition.op == "const":
            return bool(condition.value)
        if structural and all(v.variability in ("parameter", "constant") for v in x.variables(condition)):
            return bool(self.package.model.structural_value(condition, "a condition in a function", where))
        return condition

    def _for(self, node: s.ForStatement, indices: list[s.ForIndex], scope: Scope) -> str:
        if not indices:
            return self._run_all(node.body, scope)
        name = indices[0].name
        shadowed = scope.names.get(name)
        signal = ""
        for value in loop_values(indices[0], scope):
            scope.names[name] = value
            signal = self._for(node, indices[1:], scope)
            if signal:
                break
        if shadowed is None:
            scope.names.pop(name, None)
        else:
            scope.names[name] = shadowed
        return "" if signal == "break" else signal

    def _while(self, node: s.WhileStatement, scope: Scope) -> str:
        where = scope.place(node)
        while True:
            decided = self._decide(as_boolean(evaluate_ast(node.condition, scope), where), scope, where, structural=True)
            if not isinstance(decided, bool):
                raise Unsupported(
                    f"the condition '{x.show(decided)}' of this loop varies, so its number of rounds is not known.", where,
                    "Use a for loop with a fixed range.",
                )  # fmt: skip
            if not decided:
                return ""
            self.budget.statements -= 1
            if self.budget.statements < 0:
                raise Unsupported(f"a loop runs more than {STATEMENT_LIMIT} rounds.", where, "Does its condition ever fail?")
            signal = self._run_all(node.body, scope)
            if signal:
                return "" if signal == "break" else signal


def _without_events(e: Expr) -> Expr:
    if any(node.op in x.RELATIONS or node.op in ("floor", "ceil", "integer", "mod", "rem", "div") for node in x.walk(e)):
        return e if e.op == "noevent" else Expr("noevent", (e,))
    return e

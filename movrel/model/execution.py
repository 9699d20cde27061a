"""Statements carried out on expressions (specification chapter 11).

Loops are unrolled, and an ``if`` whose condition varies gives ``if`` expressions for everything its
branches assign. ``break`` and ``return`` under a varying condition switch later assignments off.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from movrel.errors import LookupFault, Place, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.environment import UNSET, Environment, Model, Record, Scope, Value
from movrel.model.evaluate import evaluate_ast, loop_values
from movrel.model.expression import Expr
from movrel.model.flat import Assertion, Termination
from movrel.model.lookup import varies, whole_number
from movrel.model.record import fields_of
from movrel.model.values import as_boolean, as_scalar, choose

#: Statements that one section or outermost call may run, and calls within calls.
STATEMENT_LIMIT, DEPTH_LIMIT = 200_000, 60
#: What a round of a ``while`` counts beside its statements: its end is nowhere written.
WHILE_ROUND = 4
#: Rounds to which a loop whose condition varies is written out.
ROUND_LIMIT = 100


@dataclass(slots=True)
class Budget:
    """What is left of the limits of one outermost call or section."""

    statements: int = STATEMENT_LIMIT
    depth: int = 0
    #: What calls with numbers for arguments gave, by function and numbers: functions have no memory (12.3).
    results: dict[tuple[object, ...], list[Value]] = field(default_factory=dict)


class Execution:
    """Runs statements; the values live in the names of the scope.

    ``owner`` names the function or component to a person. ``locked`` names may not be assigned.
    ``activation`` gives the truth of a when condition, where when statements are allowed.
    """

    def __init__(
        self,
        model: Model,
        budget: Budget,
        owner: str,
        locked: frozenset[str] = frozenset(),
        activation: Callable[[s.Expression, Scope], Expr] | None = None,
    ) -> None:
        self.model = model
        self.budget = budget
        self.owner = owner
        self.locked = locked
        self.activation = activation
        self.returned: Expr = x.FALSE
        self.broken: Expr = x.FALSE
        self.path: list[Expr] = []
        self._loop_base = 0

    @property
    def going(self) -> Expr:
        """Whether execution has not left by ``break`` or ``return``."""
        return x.opposite(x.disjunction(self.returned, self.broken))

    def run_all(self, statements: Iterable[s.Statement], scope: Scope) -> None:
        for statement in statements:
            if self.going.is_const(False):
                return
            self._run(statement, scope)

    def _path_from(self, base: int) -> Expr:
        result: Expr = x.TRUE
        for condition in self.path[base:]:
            result = x.conjunction(result, condition)
        return result

    def spend(self, where: Place, count: int = 1) -> None:
        self.budget.statements -= count
        if self.budget.statements < 0:
            raise Unsupported(
                f"more than {STATEMENT_LIMIT} statements are run in '{self.owner}'.",
                where,
                "Is there a loop that does not end?",
            )

    def _run(self, node: s.Statement, scope: Scope) -> None:
        where = scope.place(node)
        self.spend(where)
        if isinstance(node, s.Assignment):
            self._assign(node.target, evaluate_ast(node.value, scope), scope)
        elif isinstance(node, s.TupleAssignment):
            values = self._outputs_of(node.call, scope)
            if len(node.targets.items) > len(values):
                raise TypeFault(
                    f"'{node.call.name}' has {len(values)} outputs; {len(node.targets.items)} are asked for.",
                    where,
                )
            for target, value in zip(node.targets.items, values, strict=False):
                if isinstance(target, s.Ref):
                    self._assign(target, value, scope)
        elif isinstance(node, s.IfStatement):
            self._if(list(node.branches), node.otherwise, scope)
        elif isinstance(node, s.ForStatement):
            self._for(node, list(node.indices), scope)
        elif isinstance(node, s.WhileStatement):
            self._while(node, scope)
        elif isinstance(node, s.BreakStatement):
            self.broken = x.disjunction(self.broken, self._path_from(self._loop_base))
        elif isinstance(node, s.ReturnStatement):
            self.returned = x.disjunction(self.returned, self._path_from(0))
        elif isinstance(node, s.WhenStatement):
            self._when(node, scope)
        elif isinstance(node, s.CallStatement):
            self._call(node.call, scope)
        else:
            raise Unsupported("this statement cannot be computed yet.", where)

    def _outputs_of(self, node: s.Call, scope: Scope) -> list[Value]:
        return self.model.evaluator.outputs(node, scope)

    # --- calls ---

    def _call(self, node: s.Call, scope: Scope) -> None:
        where = scope.place(node)
        if node.name == "assert":
            self._assert(node, scope)
        elif node.name == "terminate" and self.activation is not None:
            message = as_scalar(evaluate_ast(node.arguments[0], scope), where)
            self.model.terminations.append(
                Termination(x.conjunction(self._path_from(0), self.going), message, where)
            )
        elif node.name == "reinit":
            raise TypeFault(
                "reinit can only be used in a when equation.",
                where,
                "Move it out of the algorithm.",
            )
        else:
            self._outputs_of(node, scope)

    def _assert(self, node: s.Call, scope: Scope) -> None:
        assertion = read_assertion(node, scope, self.owner)
        if assertion.condition.is_const(True):
            return
        reached = x.conjunction(self._path_from(0), self.going)
        if (
            reached.is_const(True)
            and assertion.condition.is_const(False)
            and assertion.level == "error"
        ):
            message = (
                assertion.message.value
                if assertion.message.op == "const"
                else "an assertion does not hold"
            )
            raise TypeFault(f"{message} (in '{self.owner}').", assertion.where)
        assertion.condition = x.disjunction(x.opposite(reached), assertion.condition)
        assertion.at_events = any(
            node.op in ("fires", "initial") for node in x.walk(assertion.condition)
        )
        self.model.assertions.append(assertion)

    # --- assignment ---

    def _assign(self, target: s.Ref, value: Value, scope: Scope) -> None:
        where = scope.place(target)
        name = target.parts[0].name
        if name in self.locked:
            raise TypeFault(f"the input '{name}' cannot be assigned.", where)
        if name not in scope.names:
            raise LookupFault(
                f"'{target.text}' cannot be assigned here.",
                where,
                "Assign an output or a local variable.",
            )
        old = scope.names[name]
        scope.names[name] = self._placed(
            old, target.parts[0].subscripts, target.parts[1:], value, scope, where
        )

    def _placed(
        self,
        old: Value,
        subscripts: tuple[s.Subscript, ...],
        parts: tuple[s.RefPart, ...],
        value: Value,
        scope: Scope,
        where: Place,
    ) -> Value:
        """The old value with a part of it replaced."""
        if subscripts:
            return self._placed_in_array(old, subscripts, parts, value, scope, where)
        if parts:
            if isinstance(old, list):
                if not isinstance(value, list) or len(value) != len(old):
                    raise TypeFault("the assigned array has another size.", where)
                return [
                    self._placed(o, (), parts, v, scope, where)
                    for o, v in zip(old, value, strict=True)
                ]
            members = fields_of(old, x.var)
            if (
                not isinstance(old, Record | Environment)
                or members is None
                or parts[0].name not in members
            ):
                raise LookupFault(f"there is no member '{parts[0].name}' to assign.", where)
            changed = dict(members)
            changed[parts[0].name] = self._placed(
                members[parts[0].name], parts[0].subscripts, parts[1:], value, scope, where
            )
            return Record(old.definition, changed)
        return self._switched(value, old, where)

    def _switched(self, value: Value, old: Value, where: Place) -> Value:
        """The new value, or the old one where execution has left already."""
        going = self.going
        if isinstance(value, Expr) and isinstance(old, list):
            raise TypeFault("a single value is assigned to an array.", where)
        return value if going.is_const(True) else self._merged(going, value, old, where)

    def _placed_in_array(
        self,
        old: Value,
        subscripts: tuple[s.Subscript, ...],
        parts: tuple[s.RefPart, ...],
        value: Value,
        scope: Scope,
        where: Place,
    ) -> Value:
        if not isinstance(old, list):
            raise TypeFault("there are more subscripts here than dimensions.", where)
        first, rest = subscripts[0], subscripts[1:]
        inner = Scope(scope.instance, scope.definition, scope.names, len(old))
        if isinstance(first, s.WholeDimension):
            positions = list(range(len(old)))
        else:
            chosen = evaluate_ast(first, inner)
            if isinstance(chosen, Expr) and varies(chosen):
                return self._placed_anywhere(chosen, old, rest, parts, value, scope, where)
            if not isinstance(chosen, list):
                position = self._position(chosen, old, inner, first)
                changed = list(old)
                changed[position] = self._placed(old[position], rest, parts, value, scope, where)
                return changed
            positions = [self._position(c, old, inner, first) for c in chosen]
        if not isinstance(value, list) or len(value) != len(positions):
            raise TypeFault("the assigned array has another size.", where)
        changed = list(old)
        for position, v in zip(positions, value, strict=True):
            changed[position] = self._placed(old[position], rest, parts, v, scope, where)
        return changed

    def _placed_anywhere(
        self,
        number: Expr,
        old: list[Value],
        rest: tuple[s.Subscript, ...],
        parts: tuple[s.RefPart, ...],
        value: Value,
        scope: Scope,
        where: Place,
    ) -> list[Value]:
        """The old array with the element changed whose number is only known during the run."""
        changed: list[Value] = []
        for k, item in enumerate(old, 1):
            here = x.call("==", number, x.const(k))
            changed.append(
                self._merged(
                    here, self._placed(item, rest, parts, value, scope, where), item, where
                )
            )
        return changed

    def _position(self, chosen: Value, old: list[Value], scope: Scope, node: s.Node) -> int:
        number = whole_number(chosen, scope, node, "the subscript")
        if not 1 <= number <= len(old):
            raise TypeFault(
                f"the subscript {number} is outside 1 to {len(old)}.", scope.place(node)
            )
        return number - 1

    # --- branches ---

    def _branch(
        self, condition: Expr, run: Callable[[Scope], None], scope: Scope
    ) -> dict[str, Value]:
        """The names after running a branch on a copy of them."""
        names = dict(scope.names)
        self.path.append(condition)
        try:
            run(Scope(scope.instance, scope.definition, names, scope.extent))
        finally:
            self.path.pop()
        return names

    def _if(
        self,
        branches: list[tuple[s.Expression, tuple[s.Statement, ...]]],
        otherwise: tuple[s.Statement, ...],
        scope: Scope,
    ) -> None:
        if not branches:
            self.run_all(otherwise, scope)
            return
        (condition, body), rest = branches[0], branches[1:]
        where = scope.place(condition)
        decided = as_boolean(evaluate_ast(condition, scope), where)
        if decided.op == "const":
            if decided.value:
                self.run_all(body, scope)
            else:
                self._if(rest, otherwise, scope)
            return
        then_names = self._branch(decided, lambda inner: self.run_all(body, inner), scope)
        else_names = self._branch(
            x.opposite(decided), lambda inner: self._if(rest, otherwise, inner), scope
        )
        for name in list(scope.names):
            a, b = then_names[name], else_names[name]
            if a is not b:
                scope.names[name] = self._merged(decided, a, b, where)

    def _merged(self, condition: Expr, a: Value, b: Value, where: Place) -> Value:
        if a is b:
            return a
        if a is UNSET or b is UNSET:
            return (
                b if a is UNSET else a
            )  # assigned along one way only; the other way never reads it
        if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
            return [self._merged(condition, p, q, where) for p, q in zip(a, b, strict=True)]
        if isinstance(a, Record) and isinstance(b, Record):
            return Record(
                a.definition,
                {n: self._merged(condition, a.fields[n], b.fields[n], where) for n in a.fields},
            )
        return choose(condition, a, b, where)

    def _when(self, node: s.WhenStatement, scope: Scope) -> None:
        where = scope.place(node)
        if self.activation is None:
            raise TypeFault("'when' cannot be used in a function.", where, "Use 'if'.")
        if self.path:
            raise TypeFault("'when' cannot stand inside 'if' or another 'when'.", where)
        active = [self.activation(condition, scope) for condition, _ in node.branches]
        self._when_branches(active, [body for _, body in node.branches], scope, where)

    def _when_branches(
        self, active: list[Expr], bodies: list[tuple[s.Statement, ...]], scope: Scope, where: Place
    ) -> None:
        if not active:
            return
        then_names = self._branch(active[0], lambda inner: self.run_all(bodies[0], inner), scope)
        else_names = self._branch(
            x.opposite(active[0]),
            lambda inner: self._when_branches(active[1:], bodies[1:], inner, where),
            scope,
        )
        for name in list(scope.names):
            if then_names[name] is not else_names[name]:
                scope.names[name] = self._merged(
                    active[0], then_names[name], else_names[name], where
                )

    # --- loops ---

    def _for(self, node: s.ForStatement, indices: list[s.ForIndex], scope: Scope) -> None:
        if not indices:
            self.run_all(node.body, scope)
            return
        name = indices[0].name
        shadowed = scope.names.get(name, UNSET)
        outer, base = self.broken, self._loop_base
        self.broken, self._loop_base = x.FALSE, len(self.path)
        locked = self.locked
        self.locked = locked - {name}
        for value in loop_values(indices[0], scope):
            scope.names[name] = value
            self.spend(scope.place(node))
            self._for(node, indices[1:], scope)
            if self.going.is_const(False):
                break
        self.broken, self._loop_base, self.locked = outer, base, locked
        if shadowed is UNSET:
            scope.names.pop(name, None)
        else:
            scope.names[name] = shadowed

    def _while(self, node: s.WhileStatement, scope: Scope) -> None:
        where = scope.place(node)
        outer, base = self.broken, self._loop_base
        self.broken, self._loop_base = x.FALSE, len(self.path)
        rounds = 0
        while not self.going.is_const(False):
            condition = as_boolean(evaluate_ast(node.condition, scope), where)
            if condition.op != "const" and all(
                v.variability in ("parameter", "constant") for v in x.variables(condition)
            ):
                # How often the loop runs is decided by parameters: it is settled now.
                condition = x.const(
                    bool(self.model.structural_value(condition, "the condition of a loop", where))
                )
            if condition.is_const(False):
                break
            self.spend(where, WHILE_ROUND)
            if condition.op != "const" or not self.going.is_const(True):
                rounds += 1
                if rounds > ROUND_LIMIT:
                    self._end_of_rounds(condition, where)
                    break
                self.broken = x.disjunction(self.broken, x.opposite(condition))
            self.run_all(node.body, scope)
        self.broken, self._loop_base = outer, base

    def _end_of_rounds(self, condition: Expr, where: Place) -> None:
        running = x.conjunction(self._path_from(0), x.conjunction(self.going, condition))
        message = x.const(f"a loop in '{self.owner}' needs more than {ROUND_LIMIT} rounds")
        self.model.assertions.append(
            Assertion(x.opposite(running), message, "error", where, self.owner)
        )


def read_assertion(node: s.Call, scope: Scope, component: str) -> Assertion:
    """The condition, message and level of a call of ``assert``."""
    where = scope.place(node)
    values: dict[str, s.CallArgument] = dict(
        zip(("condition", "message", "level"), node.arguments, strict=False)
    )
    values |= {n.name: n.value for n in node.named}
    if "condition" not in values or "message" not in values:
        raise TypeFault("assert needs a condition and a message.", where)
    condition = as_boolean(evaluate_ast(values["condition"], scope), where)
    message = as_scalar(evaluate_ast(values["message"], scope), where)
    level = (
        as_scalar(evaluate_ast(values["level"], scope), where) if "level" in values else x.const(2)
    )
    return Assertion(
        condition, message, "warning" if level.is_const(1) else "error", where, component
    )


def assigned_names(statements: Iterable[s.Statement]) -> list[s.Ref]:
    """The targets of all assignments in statements, nested ones included."""
    targets: list[s.Ref] = []
    for node in statements:
        if isinstance(node, s.Assignment):
            targets.append(node.target)
        elif isinstance(node, s.TupleAssignment):
            targets += [t for t in node.targets.items if isinstance(t, s.Ref)]
        elif isinstance(node, s.IfStatement | s.WhenStatement):
            for _, body in node.branches:
                targets += assigned_names(body)
            targets += assigned_names(getattr(node, "otherwise", ()))
        elif isinstance(node, s.ForStatement | s.WhileStatement):
            targets += assigned_names(node.body)
    return targets

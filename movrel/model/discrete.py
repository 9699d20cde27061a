"""When clauses and algorithm sections of models, turned into equations (specification 8.3.5, 8.6, 11.1).

A variable that a when clause assigns gets the equation ``v = if active then value else pre(v)``. A
condition becomes a Boolean of its own, so that ``edge`` of it is known.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from movrel.errors import LookupFault, Place, StructureFault, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.clock_calls import is_clock, ticks
from movrel.model.environment import Member, Model, Named, Record, Scope, Value
from movrel.model.evaluate import evaluate_ast, loop_scopes
from movrel.model.execution import Budget, Execution, assigned_names, read_assertion
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel, Reinit, Termination
from movrel.model.instance import Instance
from movrel.model.lookup import resolve
from movrel.model.record import fields_of, members_as_values
from movrel.model.traits import FIRES
from movrel.model.values import as_boolean, as_scalar, flatten, shape

Assigned = dict[Variable, tuple[Variable, Expr, Place]]


class DiscreteParts:
    """Collects what when clauses and algorithms add to a flat model."""

    def __init__(self, flat: FlatModel, model: Model) -> None:
        self.flat = flat
        self.model = model
        self._conditions = 0

    # --- conditions ---

    def activation(self, condition: s.Expression, scope: Scope) -> Expr:
        """Whether a when clause with this condition (or vector of conditions) is active."""
        where = scope.place(condition)
        active: Expr = x.FALSE
        for item in flatten(evaluate_ast(condition, scope)):
            if is_clock(item) and active is x.FALSE:
                active = ticks(as_scalar(item, where))
                continue
            if is_clock(item) or active.op == "ticks":
                raise TypeFault(
                    "a clock stands among other conditions.", where, "Give each its own 'when'."
                )
            active = x.disjunction(
                active, self._one_activation(as_boolean(item, where), scope, where)
            )
        return active

    def _one_activation(self, condition: Expr, scope: Scope, where: Place) -> Expr:
        if condition.op == "initial":
            return condition
        if condition.op == "var" and condition.variable.variability == "discrete":
            return x.fires(condition)
        self._conditions += 1
        path = scope.instance.path
        variable = Variable(
            f"when condition {self._conditions}", "Boolean", "discrete", component=path, where=where
        )
        variable.generated = True
        self.flat.variables.append(variable)
        self.flat.equations.append(
            FlatEquation(x.var(variable), condition, where, path, "when condition")
        )
        return x.fires(x.var(variable))

    # --- when equations ---

    def when_equation(self, node: s.WhenEquation, scope: Scope) -> None:
        where = scope.place(node)
        path = scope.instance.path
        earlier: Expr = x.FALSE
        branches: list[tuple[Expr, Assigned]] = []
        for condition, body in node.branches:
            own = self.activation(condition, scope)
            if own.op == "ticks":
                raise TypeFault(
                    "a clock stands after 'elsewhen'.", where, "Give it its own 'when'."
                )
            active = x.conjunction(own, x.opposite(earlier))
            earlier = x.disjunction(earlier, own)
            assigned: Assigned = {}
            for equation in body:
                self._body(equation, scope, active, assigned)
            branches.append((active, assigned))
        together: Assigned = {}
        for _, assigned in branches:
            together.update(assigned)
        for key, (variable, _, place) in together.items():
            value = x.previous(x.var(variable))
            for active, assigned in reversed(branches):
                if key not in assigned:
                    raise StructureFault(
                        f"'{variable.name}' is set in one branch of this 'when' only.",
                        where,
                        "Set it in every branch.",
                    )
                value = x.conditional(active, assigned[key][1], value)
            if variable.type == "Real" and variable.variability == "continuous":
                variable.variability = "discrete"
            self.flat.equations.append(
                FlatEquation(x.var(variable), previous_as_pre(value), place, path, "when")
            )

    def clocked_when(self, node: s.WhenEquation, clock: Expr, scope: Scope) -> list[FlatEquation]:
        """The equations of a when clause with a clock."""
        where = scope.place(node)
        if len(node.branches) > 1:
            raise TypeFault(
                "a 'when' with a clock has an 'elsewhen'.", where, "Write two, each with its clock."
            )
        assigned: Assigned = {}
        for equation in node.branches[0][1]:
            self._body(equation, scope, ticks(clock), assigned)
        path = scope.instance.path
        return [
            FlatEquation(x.var(v), value, place, path, "when")
            for v, value, place in assigned.values()
        ]

    def _body(self, node: s.AnyEquation, scope: Scope, active: Expr, assigned: Assigned) -> None:
        where = scope.place(node)
        if isinstance(node, s.Equation):
            self._body_equation(node, scope, assigned)
        elif isinstance(node, s.ForEquation):
            for inner in loop_scopes(node.indices, scope):
                for equation in node.body:
                    self._body(equation, inner, active, assigned)
        elif isinstance(node, s.IfEquation):
            self._body_if(node, scope, active, assigned)
        elif isinstance(node, s.CallEquation):
            self._body_call(node.call, scope, active)
        elif isinstance(node, s.WhenEquation):
            raise TypeFault(
                "a 'when' stands inside another 'when'.", where, "Use 'elsewhen', or put it beside."
            )
        else:
            raise TypeFault(
                "a connect stands inside a 'when'.",
                where,
                "Connections are there all the time; move it out.",
            )

    def _body_equation(self, node: s.Equation, scope: Scope, assigned: Assigned) -> None:
        where = scope.place(node)
        if isinstance(node.left, s.Tuple) and len(node.left.items) > 1:
            if not isinstance(node.right, s.Call):
                raise TypeFault("several outputs can only come from a function call.", where)
            for target, value in zip(
                node.left.items, self.model.evaluator.outputs(node.right, scope), strict=False
            ):
                if target is not None:
                    self._assign(target, value, scope, where, assigned)
            return
        self._assign(node.left, evaluate_ast(node.right, scope), scope, where, assigned)

    def _assign(
        self, target: s.Expression, value: Value, scope: Scope, where: Place, assigned: Assigned
    ) -> None:
        if not isinstance(target, s.Ref):
            raise TypeFault(
                "the left side of an equation in a 'when' must be a variable.",
                where,
                "Write v = expression.",
            )
        for variable, e in pairs(resolve(target, scope), value, where):
            if variable in assigned:
                raise StructureFault(
                    f"'{variable.name}' is set twice in this 'when'.", where, "Remove one."
                )
            assigned[variable] = (variable, e, where)

    def _body_if(self, node: s.IfEquation, scope: Scope, active: Expr, assigned: Assigned) -> None:
        where = scope.place(node)
        earlier: Expr = x.FALSE
        parts: list[tuple[Expr, Assigned]] = []
        for condition, body in (*node.branches, (None, node.otherwise)):
            own = (
                as_boolean(evaluate_ast(condition, scope), where)
                if condition is not None
                else x.TRUE
            )
            inner: Assigned = {}
            reached = x.conjunction(x.conjunction(active, own), x.opposite(earlier))
            for equation in body:
                self._body(equation, scope, reached, inner)
            parts.append((own, inner))
            earlier = x.disjunction(earlier, own)
        keys = dict.fromkeys(key for _, inner in parts for key in inner)
        for key in keys:
            variable, _, place = next(inner[key] for _, inner in parts if key in inner)
            value = x.previous(x.var(variable))
            for own, inner in reversed(parts):
                value = x.conditional(
                    own, inner[key][1] if key in inner else x.previous(x.var(variable)), value
                )
            assigned[key] = (variable, value, place)

    def _body_call(self, call: s.Call, scope: Scope, active: Expr) -> None:
        where = scope.place(call)
        path = scope.instance.path
        if call.name == "assert":
            assertion = read_assertion(call, scope, path)
            assertion.condition = x.disjunction(x.opposite(active), assertion.condition)
            assertion.at_events = True
            self.flat.assertions.append(assertion)
        elif call.name == "terminate":
            if len(call.arguments) != 1:
                raise TypeFault("terminate takes one message.", where)
            message = as_scalar(evaluate_ast(call.arguments[0], scope), where)
            self.flat.terminations.append(Termination(active, message, where))
        elif call.name == "reinit":
            if len(call.arguments) != 2:
                raise TypeFault("reinit takes a state and its new value.", where)
            state, value = (evaluate_ast(a, scope) for a in call.arguments)
            if shape(state) != shape(value):
                raise TypeFault(
                    f"reinit of size {shape(state) or 1} with size {shape(value) or 1}.", where
                )
            for one, new in zip(flatten(state), flatten(value), strict=True):
                target = as_scalar(one, where)
                if target.op != "var" or target.variable.variability != "continuous":
                    raise TypeFault(f"reinit needs a state; '{x.show(target)}' is not one.", where)
                self.flat.reinits.append(Reinit(active, target, as_scalar(new, where), where, path))
        else:
            raise Unsupported(f"the call of '{call.name}' in a 'when' cannot be computed.", where)

    # --- algorithm sections ---

    def algorithm(
        self,
        statements: Sequence[s.Statement],
        scope: Scope,
        into: list[FlatEquation],
        initial: bool,
    ) -> None:
        """One algorithm section: everything it assigns gets an equation."""
        if not statements:
            return
        path = scope.instance.path
        where = scope.place(statements[0])
        self._mark_discrete(statements, scope)
        members: dict[str, Member] = {}
        names: dict[str, Value] = {}
        for target in assigned_names(statements):
            root = target.parts[0].name
            if root in names or scope.instance is None:
                continue
            if root not in scope.instance.declared:
                raise LookupFault(
                    f"'{target.text}' cannot be assigned here.",
                    scope.place(target),
                    "Declare it in this class.",
                )
            members[root] = scope.instance.member(root)
            names[root] = members_as_values(members[root], lambda v: self._entry(v, initial))
        before = dict(names)
        activation: Callable[[s.Expression, Scope], Expr] | None = (
            None if initial else self.activation
        )
        execution = Execution(self.model, Budget(), path or "the model", frozenset(), activation)
        execution.run_all(statements, Scope(scope.instance, scope.definition, names))
        for root, member in members.items():
            for variable, value, entry in _leaves(member, names[root], before[root]):
                if value is not entry:
                    if variable.variability in ("parameter", "constant") and not initial:
                        raise TypeFault(
                            f"'{variable.name}' is a {variable.variability} and cannot be assigned.",
                            where,
                        )
                    if value.traits & FIRES:
                        value = previous_as_pre(value)
                    into.append(FlatEquation(x.var(variable), value, where, path, "algorithm"))

    def _entry(self, variable: Variable, initial: bool) -> Expr:
        """The value of a variable when a section begins (specification 11.1.1)."""
        if variable.variability == "discrete":
            # A leaf of its own for every variable, so that what stays unassigned is recognised.
            return Expr("pre", (x.var(variable),))
        self.model.binding(variable)
        return Expr("noevent", (variable.start if variable.start is not None else x.const(0.0),))

    def _mark_discrete(self, statements: Sequence[s.Statement], scope: Scope) -> None:
        for node in statements:
            if isinstance(node, s.WhenStatement):
                for _, body in node.branches:
                    for target in assigned_names(body):
                        name = s.Ref((target.parts[0],), start=target.start, end=target.end)
                        if target.parts[0].name in scope.instance.declared:
                            self._mark(scope.instance.member(name.parts[0].name))

    def _mark(self, member: Member) -> None:
        for leaf in flatten(member):
            if (
                isinstance(leaf, Variable)
                and leaf.type == "Real"
                and leaf.variability == "continuous"
            ):
                leaf.variability = "discrete"
            elif isinstance(leaf, Instance):
                for name in leaf.declared:
                    self._mark(leaf.member(name))


def previous_as_pre(e: Expr) -> Expr:
    """In a clocked when clause the value at the last tick is the value before the event."""
    return x.transform(e, lambda node: x.previous(node.args[0]) if node.op == "previous" else None)


def pairs(target: Named, value: Value, where: Place) -> list[tuple[Variable, Expr]]:
    """Each scalar of an assigned component with the value for it."""
    if isinstance(target, list):
        if not isinstance(value, list) or len(value) != len(target):
            raise TypeFault(
                f"the sides have sizes {shape(target)} and {shape(value) or 'single value'}.", where
            )
        return [p for t, v in zip(target, value, strict=True) for p in pairs(t, v, where)]
    if isinstance(target, Variable):
        return [(target, as_scalar(value, where))]
    if isinstance(target, Instance):
        fields = fields_of(value, x.var)
        if fields is None or set(fields) != set(target.declared):
            raise TypeFault(f"'{target.path}' cannot take this value.", where)
        return [p for n in target.declared for p in pairs(target.member(n), fields[n], where)]
    raise TypeFault("this cannot be assigned.", where, "Name a variable.")


def _leaves(member: Member, value: Value, before: Value) -> list[tuple[Variable, Expr, Value]]:
    if isinstance(member, list) and isinstance(value, list) and isinstance(before, list):
        return [
            leaf for m, v, b in zip(member, value, before, strict=True) for leaf in _leaves(m, v, b)
        ]
    if isinstance(member, Variable):
        return [(member, as_scalar(value, member.where), before)]
    values = fields_of(value, x.var)
    if isinstance(member, Instance) and isinstance(before, Record) and values is not None:
        return [
            leaf
            for n in member.declared
            for leaf in _leaves(member.member(n), values[n], before.fields[n])
        ]
    return []

"""From a class to its flat model."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from movrel.errors import (
    LookupFault,
    MovrelError,
    Place,
    StructureFault,
    TypeFault,
    Unsupported,
    did_you_mean,
)
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.annotation import experiment_of
from movrel.model.attributes import finish
from movrel.model.classes import ClassTree, Definition
from movrel.model.clock_calls import clock_of
from movrel.model.clocks import Clocks
from movrel.model.connections import ConnectionSets
from movrel.model.discrete import DiscreteParts
from movrel.model.environment import Evaluator, Member, Model, Record, Scope, Value
from movrel.model.evaluate import evaluate_ast, loop_scopes
from movrel.model.execution import read_assertion
from movrel.model.expression import TIME_VARIABLE, Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.model.functions import call_function, call_outputs, operator
from movrel.model.instance import Instance, package_instance
from movrel.model.least_size import check_size
from movrel.model.record import fields_of
from movrel.model.state_machines import CALLS, StateMachines
from movrel.model.unit_parts import add_unit
from movrel.model.values import as_array, as_boolean, as_scalar, flatten, shape

#: Kinds of class that can be run.
RUNNABLE = ("model", "block", "class")


def default_model(definitions: list[Definition], tree: ClassTree) -> Definition:
    """The last non-partial runnable class of a file (of a package: the last inside it)."""
    partial = ""
    deeper: LookupFault | None = None
    for definition in reversed(definitions):
        partial = definition.qualified if definition.node.partial else partial
        if definition.node.kind == "package":
            inner = tree.members(definition)
            if inner:
                try:
                    return default_model(inner, tree)
                except LookupFault as fault:
                    deeper = deeper or fault
        elif definition.node.kind in RUNNABLE and not definition.node.partial:
            return definition
    if partial:
        raise LookupFault(
            f"'{partial}' is partial: there is no complete model to run.",
            hint="Write a model that extends it.",
        )
    raise deeper or LookupFault(
        "there is no model to run in this text.", hint="Name one with --model."
    )


def flatten_model(
    tree: ClassTree, definition: Definition, settings: dict[str, Expr] | None = None
) -> FlatModel:
    """The flat model of a class.

    ``settings`` replaces the bindings of parameters, by flat name, before sizes and conditions are
    decided. Raises a :class:`MovrelError` that names the place of any fault.
    """
    if definition.node.kind not in RUNNABLE:
        raise TypeFault(
            f"'{definition.qualified}' is a {definition.node.kind}; only models can be run.",
            definition.place(),
        )
    if definition.node.partial:
        raise TypeFault(
            f"'{definition.qualified}' is partial: it is meant to be extended.",
            definition.place(),
            "Run a class that extends it.",
        )
    return _Flattening(tree, definition, settings or {}).run()


EVALUATOR = Evaluator(evaluate_ast, call_function, call_outputs, operator, package_instance, finish)


class _Flattening:
    def __init__(self, tree: ClassTree, definition: Definition, settings: dict[str, Expr]) -> None:
        self.model = Model(tree, EVALUATOR, settings)
        self.definition = definition
        self.flat = FlatModel(definition.qualified)
        self.discrete = DiscreteParts(self.flat, self.model)
        self.clocks = Clocks(self.flat, self.model)
        self.machines = StateMachines(self.flat, self.discrete, self.clocks)
        self.sets = ConnectionSets(self.model.streams)
        self.flows: list[Variable] = []
        self.expandable: list[Instance] = []

    def run(self) -> FlatModel:
        try:
            check_size(self.model.tree, self.definition)
            root = Instance(self.model, "", self.definition, {}, None)
            self._walk(root, top=True)
        except RecursionError:
            raise StructureFault(
                "the classes are nested too deeply.", self.definition.place()
            ) from None
        self._add_expandable()
        for variable in self.flat.variables:
            binding = self.model.binding(variable)
            if binding is not None and variable.variability in ("continuous", "discrete"):
                self.flat.equations.append(
                    FlatEquation(
                        x.var(variable), binding, variable.where, variable.component, "binding"
                    )
                )
                variable.binding = None
        self.flat.equations.extend(self.sets.equations(self.flows))
        variables, equations = self.model.streams.equations(self.flat.equations)
        self.flat.variables.extend(variables)
        self.flat.equations.extend(equations)
        self.flat.assertions.extend(self.model.assertions)
        self.flat.terminations.extend(self.model.terminations)
        self._add_package_constants()
        self.clocks.finish()
        self._keep_given_inputs()
        unknown = set(self.model.settings) - self.model.used_settings
        if unknown:
            self._unknown_setting(sorted(unknown)[0])
        self.flat.warnings += self.model.warnings
        self.flat.reads_files = self.model.reads_files
        self.flat.experiment = experiment_of(self.definition, self.model.tree)
        return self.flat

    def _unknown_setting(self, name: str) -> None:
        names = [v.name for v in self.flat.parameters()]
        hint = did_you_mean(name, names, "'movrel check' lists the parameters.")
        raise MovrelError(f"the model has no parameter '{name}'.", hint=hint)

    def _add_package_constants(self) -> None:
        """Constants of packages that could not be folded into numbers."""
        listed = {*self.flat.variables, TIME_VARIABLE}
        queue = [e for eq in self.flat.equations for e in (eq.left, eq.right)]
        queue += [v.binding for v in self.flat.variables if v.binding is not None]
        while queue:
            for variable in x.variables(queue.pop()):
                if variable not in listed:
                    listed.add(variable)
                    self.flat.variables.append(variable)
                    binding = self.model.binding(variable)
                    if binding is not None:
                        queue.append(binding)

    # --- walking the instances ---

    def _walk(self, instance: Instance, top: bool = False) -> None:
        states = set(self.machines.states_of(instance))
        for name, member in instance.all_members():
            if (
                "outer" in instance.declared[name].node.flags
                and "inner" not in instance.declared[name].node.flags
            ):
                continue
            for leaf in flatten(member):
                if isinstance(leaf, Variable):
                    self._add_variable(leaf, top)
                elif isinstance(leaf, Instance) and leaf.is_expandable:
                    self.expandable.append(leaf)
                elif isinstance(leaf, Instance) and leaf not in states:
                    # Inputs and outputs in a public connector of the model are the model's own (specification 4.4.2.2).
                    public = not instance.declared[name].node.protected
                    self._walk(leaf, top and public and leaf.is_connector)
        add_unit(instance, self.flat)
        if states:
            self.machines.add(instance)
        for body in instance.bodies:
            scope = Scope(instance, body)
            node = body.node
            for equation in node.equations:
                self._equation(equation, scope, self.flat.equations)
            for section in node.algorithms:
                self.discrete.algorithm(section, scope, self.flat.equations, initial=False)
            for equation in node.initial_equations:
                self._equation(equation, scope, self.flat.initial_equations)
            for section in node.initial_algorithms:
                self.discrete.algorithm(section, scope, self.flat.initial_equations, initial=True)

    def _keep_given_inputs(self) -> None:
        """An input in a connector that the model itself determines, as equations beyond its unknowns tell, is none of the
        model's inputs."""
        beyond = len(self.flat.equations) - len(self.flat.unknowns())
        for e in self.flat.equations:
            if beyond > 0 and e.kind == "equation" and e.left.op == "var":
                v = e.left.variable
                if v.causality == "input" and "." in v.name:
                    v.causality = ""
                    beyond -= 1

    def _add_expandable(self) -> None:
        """What is connected in expandable connectors; what is only declared there does not exist."""
        self.sets.finish_expandable()
        connected = self.sets.connected

        def add(member: Member) -> None:
            for leaf in flatten(member):
                if isinstance(leaf, Instance):
                    for _, inner in leaf.all_members():
                        add(inner)
                elif isinstance(leaf, Variable) and leaf in connected:
                    self._add_variable(leaf, False)

        for bus in self.expandable:
            add(bus)

    def _add_variable(self, variable: Variable, top: bool) -> None:
        self.flat.variables.append(variable)
        if not top and variable.variability in ("continuous", "discrete"):
            variable.causality = ""  # inputs and outputs inside a model are plain unknowns
        if variable.flow:
            self.flows.append(variable)

    # --- equations ---

    def _equation(self, node: s.AnyEquation, scope: Scope, into: list[FlatEquation]) -> None:
        if isinstance(node, s.Equation):
            self._plain(node, scope, into)
        elif isinstance(node, s.Connect):
            self.sets.add_connect(node, scope)
        elif isinstance(node, s.ForEquation):
            for inner in loop_scopes(node.indices, scope):
                for equation in node.body:
                    self._equation(equation, inner, into)
        elif isinstance(node, s.IfEquation):
            self._if_equation(node, scope, into)
        elif isinstance(node, s.CallEquation):
            self._call(node, scope)
        elif isinstance(node, s.WhenEquation):
            if into is not self.flat.equations:
                raise TypeFault(
                    "a 'when' stands where it cannot: inside a varying 'if' or an initial equation.", scope.place(node),
                    "Move it out; give it the condition of the 'if' as well.",
                )  # fmt: skip
            clock = clock_of(node.branches[0][0], scope)
            if clock is not None:
                self._clocked_when(node, clock, scope)
            else:
                self.discrete.when_equation(node, scope)
        else:
            raise Unsupported("this equation cannot be computed yet.", scope.place(node))

    def _clocked_when(self, node: s.WhenEquation, clock: Expr, scope: Scope) -> None:
        """A when clause with a clock, in which any equations may stand (16.6)."""
        where = scope.place(node)
        condition, body = node.branches[0]
        if all(_sets_variables(e) for e in body):
            self.clocks.when(clock, self.discrete.clocked_when(node, clock, scope), where)
            return
        calls = tuple(e for e in body if isinstance(e, s.CallEquation))
        branches = ((condition, calls), *node.branches[1:])
        self.discrete.clocked_when(replace(node, branches=branches), clock, scope)
        general: list[FlatEquation] = []
        for equation in body:
            if not isinstance(equation, s.CallEquation):
                self._equation(equation, scope, general)
        self.clocks.together(clock, general, where)

    def _plain(self, node: s.Equation, scope: Scope, into: list[FlatEquation]) -> None:
        where = scope.place(node)
        if isinstance(node.left, s.Tuple) and len(node.left.items) > 1:
            self._several_outputs(node, node.left, scope, into)
            return
        left, right = evaluate_ast(node.left, scope), evaluate_ast(node.right, scope)
        for a, b in self._pairs(left, right, where):
            path = scope.instance.path
            into.append(FlatEquation(a, b, where, path))

    def _several_outputs(
        self, node: s.Equation, targets: s.Tuple, scope: Scope, into: list[FlatEquation]
    ) -> None:
        where = scope.place(node)
        if not isinstance(node.right, s.Call):
            raise TypeFault("several outputs can only come from a function call.", where)
        outputs = call_outputs(node.right, scope)
        if len(targets.items) > len(outputs):
            raise TypeFault(
                f"'{node.right.name}' has {len(outputs)} outputs; {len(targets.items)} are asked for.",
                where,
            )
        path = scope.instance.path
        for target, value in zip(targets.items, outputs, strict=False):
            if target is not None:
                for a, b in self._pairs(evaluate_ast(target, scope), value, where):
                    into.append(FlatEquation(a, b, where, path))

    def _pairs(self, left: Value, right: Value, where: Place) -> Iterator[tuple[Expr, Expr]]:
        if isinstance(left, list) or isinstance(right, list):
            if shape(left) != shape(right):
                raise TypeFault(
                    f"the sides of this equation have sizes {shape(left) or 'single value'} and "
                    f"{shape(right) or 'single value'}.", where,
                )  # fmt: skip
            for a, b in zip(as_array(left, where), as_array(right, where), strict=True):
                yield from self._pairs(a, b, where)
        elif isinstance(left, Instance | Record) and isinstance(right, Instance | Record):
            fields, others = fields_of(left, x.var) or {}, fields_of(right, x.var) or {}
            if set(fields) != set(others):
                raise TypeFault(
                    f"the sides are records with different members: {', '.join(sorted(set(fields) ^ set(others)))}.",
                    where,
                )
            for name in fields:
                yield from self._pairs(fields[name], others[name], where)
        else:
            yield as_scalar(left, where), as_scalar(right, where)

    def _if_equation(self, node: s.IfEquation, scope: Scope, into: list[FlatEquation]) -> None:
        where = scope.place(node)
        branches: list[tuple[Expr, tuple[s.AnyEquation, ...]]] = []
        for condition, body in node.branches:
            branches.append((as_boolean(evaluate_ast(condition, scope), where), body))
        branches.append((x.TRUE, node.otherwise))
        if all(self._is_fixed(c) for c, _ in branches):
            for decided, body in branches:
                if self.model.structural_value(decided, "the condition of this 'if'", where):
                    for equation in body:
                        self._equation(equation, scope, into)
                    return
            return
        parts: list[list[FlatEquation]] = []
        for _, body in branches:
            equations: list[FlatEquation] = []
            for equation in body:
                if isinstance(equation, s.Connect):
                    raise TypeFault(
                        "connect inside an 'if' whose condition varies in time.",
                        scope.place(equation),
                    )
                self._equation(equation, scope, equations)
            parts.append(equations)
        if len({len(p) for p in parts}) != 1:
            raise StructureFault(
                f"the branches of this 'if' have {', '.join(str(len(p)) for p in parts)} equations.", where,
                "While the condition varies in time, every branch (and an else) needs the same number.",
            )  # fmt: skip
        for rows in zip(*parts, strict=True):
            into.append(self._joined([c for c, _ in branches], list(rows)))

    def _joined(self, conditions: list[Expr], rows: list[FlatEquation]) -> FlatEquation:
        """One equation for all branches; ``v = if ...`` where they all determine the same ``v``."""
        first = rows[0]
        same = first.left.op == "var" and all(
            r.left.op == "var" and r.left.value is first.left.value for r in rows
        )
        sides = [r.right if same else x.subtract(r.left, r.right) for r in rows]
        value = sides[-1]
        for condition, side in zip(reversed(conditions[:-1]), reversed(sides[:-1]), strict=True):
            value = x.conditional(condition, side, value)
        return FlatEquation(first.left if same else x.ZERO, value, first.where, first.component)

    def _is_fixed(self, condition: Expr) -> bool:
        if any(node.op in x.NEVER_FOLDED - {"var", "const"} for node in x.walk(condition)):
            return False
        return all(v.variability in ("parameter", "constant") for v in x.variables(condition))

    def _call(self, node: s.CallEquation, scope: Scope) -> None:
        call = node.call
        where = scope.place(node)
        if call.name in CALLS:
            return  # the state machines are written out by themselves
        if call.name == "assert":
            path = scope.instance.path
            self.flat.assertions.append(read_assertion(call, scope, path))
        elif call.name in ("reinit", "terminate"):
            raise TypeFault(
                f"'{call.name}' stands outside a 'when'.",
                where,
                "Say when: put it into a when equation.",
            )
        else:
            call_outputs(call, scope)  # a call without a result can only assert


def _sets_variables(node: s.AnyEquation) -> bool:
    """Whether an equation in a when clause says directly what variables become."""
    match node:
        case s.Equation():
            return isinstance(node.left, s.Ref | s.Tuple)
        case s.ForEquation():
            return all(_sets_variables(e) for e in node.body)
        case s.IfEquation():
            bodies = [*(body for _, body in node.branches), node.otherwise]
            return all(_sets_variables(e) for body in bodies for e in body)
    return True

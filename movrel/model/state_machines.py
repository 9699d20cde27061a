"""State machines as discrete equations (specification chapter 17).

A machine ticks with a period: that of a ``Clock(period)`` declared beside it, or the default of one
second. At every tick the transitions out of the active state are tested in the order of their
priority; then the equations of the state that is active now are evaluated once.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from movrel.errors import Place, StructureFault, TypeFault
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.clock_calls import ticks
from movrel.model.clocks import Clocks
from movrel.model.discrete import Assigned, DiscreteParts
from movrel.model.environment import Environment, Model, Scope
from movrel.model.evaluate import evaluate_ast
from movrel.model.expression import TIME, Expr, Scalar, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.model.instance import Instance
from movrel.model.lookup import resolve
from movrel.model.values import as_boolean, as_scalar, flatten

#: Period of a machine for which none is given, in seconds.
DEFAULT_PERIOD = 1.0
CALLS = ("transition", "initialState")


#: Paths of nested states with whether each was just reset.
Resets = list[tuple[str, Expr]]


@dataclass(slots=True)
class _Transition:
    source: Instance
    target: Instance
    condition: Expr
    immediate: bool
    reset: bool
    synchronize: bool
    priority: int
    where: Place


@dataclass(slots=True)
class _Machine:
    """Connected states of one composite component."""

    owner: Instance
    states: list[Instance]
    initial: Instance
    transitions: list[_Transition]
    inner: dict[Environment, list[_Machine]] = field(
        default_factory=dict
    )  # machines inside a state
    number: Variable | None = None


class StateMachines:
    """Finds the machines of a model and writes out their equations."""

    def __init__(self, flat: FlatModel, discrete: DiscreteParts, clocks: Clocks) -> None:
        self.clocks = clocks
        self.flat = flat
        self.discrete = discrete
        self.active = discrete.model.machine_states
        self._owned: dict[Environment, Assigned] = {}
        self._values: dict[Variable, tuple[Variable, list[tuple[Expr, Expr]], Place, Expr]] = {}

    # --- finding machines ---

    @staticmethod
    def states_of(instance: Instance) -> list[Instance]:
        """The components of an instance that are states of machines in it."""
        states: dict[Instance, None] = {}
        for _, call, scope in _calls(instance):
            for argument in _references(call):
                state = resolve(argument, scope)
                if isinstance(state, Instance):
                    states[state] = None
                else:
                    raise TypeFault(
                        f"'{argument.text}' is not a state: it is not a block.", scope.place(call)
                    )
        return list(states)

    def add(self, instance: Instance) -> None:
        """All machines of a component that is itself no state."""
        tick = ticks(self._clock(instance))
        for machine in self._machines(instance):
            self._write(machine, tick, x.FALSE, [])
        for variable, branches, place, otherwise in self._values.values():
            value = otherwise
            for condition, branch in reversed(branches):
                value = x.conditional(condition, branch, value)
            self._discrete(variable)
            self.flat.equations.append(
                FlatEquation(x.var(variable), value, place, variable.component, "state machine")
            )
        self._values.clear()

    def _clock(self, instance: Instance) -> Expr:
        """The clock declared beside the states, or one that follows from what they read."""
        for name, declared in instance.declared.items():
            clock = instance.member(name) if declared.node.type_name == "Clock" else None
            if isinstance(clock, Variable):
                return x.var(clock)
        default = Expr("Clock", (x.const(DEFAULT_PERIOD),), "interval")
        return self.clocks.machine(instance.path, default, instance.definition.place())

    def _machines(self, instance: Instance) -> list[_Machine]:
        states = self.states_of(instance)
        for state in states:
            self._declare_active(state)
        transitions: list[_Transition] = []
        initial: list[tuple[Instance, Place]] = []
        for name, call, scope in _calls(instance):
            if name == "initialState":
                initial.append((self._first_state(call, scope), scope.place(call)))
            else:
                transitions.append(self._transition(call, scope))
        group = {state: state for state in states}

        def root(state: Instance) -> Instance:
            while group[state] is not state:
                state = group[state]
            return state

        for t in transitions:
            group[root(t.source)] = root(t.target)
        machines = []
        for chief in dict.fromkeys(root(state) for state in states):
            members = [state for state in states if root(state) is chief]
            starts = [(state, place) for state, place in initial if root(state) is chief]
            if len(starts) != 1:
                names = ", ".join(state.path for state in members)
                raise StructureFault(
                    f"the state machine of {names} has {len(starts)} initial states.",
                    starts[1][1] if len(starts) > 1 else instance.definition.place(), "Mark exactly one with initialState(...).",
                )  # fmt: skip
            own = [t for t in transitions if root(t.source) is chief]
            machine = _Machine(instance, members, starts[0][0], own)
            for state in members:
                if self.states_of(state):
                    machine.inner[state] = self._machines(state)
            machines.append(machine)
        return machines

    def _declare_active(self, state: Instance) -> None:
        if state not in self.active:
            variable = Variable(f"{state.path}.active", "Boolean", "discrete", component=state.path)
            variable.where, variable.description = (
                state.definition.place(),
                "whether this state is active",
            )
            variable.start, variable.fixed = x.FALSE, True
            self.active[state] = variable
            self.flat.variables.append(variable)

    @staticmethod
    def _first_state(call: s.Call, scope: Scope) -> Instance:
        references = _references(call)
        if not references:
            raise TypeFault(
                "initialState needs the state in which the machine begins.",
                scope.place(call),
                "Write initialState(name).",
            )
        state = resolve(references[0], scope)
        assert isinstance(state, Instance)  # states_of refused everything else
        return state

    def _transition(self, call: s.Call, scope: Scope) -> _Transition:
        where = scope.place(call)
        names = ("from", "to", "condition", "immediate", "reset", "synchronize", "priority")
        given: dict[str, s.CallArgument] = dict(zip(names, call.arguments, strict=False)) | {
            n.name: n.value for n in call.named
        }
        missing = [n for n in names[:3] if n not in given]
        if missing:
            raise TypeFault(
                f"the transition lacks its '{missing[0]}'.",
                where,
                "Write transition(from, to, condition).",
            )
        model = self.discrete.model
        condition = as_boolean(evaluate_ast(given["condition"], scope), where)

        def fixed(name: str, default: Scalar) -> Scalar:
            if name not in given:
                return default
            return model.structural_value(
                as_scalar(evaluate_ast(given[name], scope), where), f"'{name}'", where
            )

        def end(name: str) -> Instance:
            reference = given[name]
            state = resolve(reference, scope) if isinstance(reference, s.Ref) else None
            if not isinstance(state, Instance):
                raise TypeFault(f"the '{name}' of a transition must be a state.", where)
            return state

        return _Transition(
            end("from"), end("to"), condition, bool(fixed("immediate", True)),
            bool(fixed("reset", True)), bool(fixed("synchronize", False)), int(fixed("priority", 1)), where,
        )  # fmt: skip

    # --- writing equations ---

    def _new(self, name: str, kind: str, owner: Instance, start: Any) -> Variable:
        variable = Variable(
            name, kind, "discrete", component=owner.path, where=owner.definition.place()
        )
        variable.start, variable.fixed, variable.generated = x.const(start), True, True
        self.flat.variables.append(variable)
        return variable

    def _equal(self, variable: Variable, value: Expr, where: Place | None) -> None:
        self.flat.equations.append(
            FlatEquation(x.var(variable), value, where, variable.component, "state machine")
        )

    def _write(self, machine: _Machine, tick: Expr, restarted: Expr, resets: Resets) -> None:
        """The equations of one machine; ``restarted`` says whether its enclosing state was just reset.

        ``resets`` holds the same for every enclosing state, outermost first.
        """
        owner, where = machine.owner, machine.owner.definition.place()
        label = machine.initial.path
        number = machine.number = self._new(f"state number of {label}", "Integer", owner, 0)
        entered_at = self._new(f"time of entry of {label}", "Real", owner, 0.0)
        ticks = self._new(f"ticks in state of {label}", "Integer", owner, 0)
        index = {state: i + 1 for i, state in enumerate(machine.states)}
        before = x.previous(x.var(number))
        begins = x.disjunction(x.call("==", before, x.const(0)), restarted)
        chosen: Expr = x.const(index[machine.initial])
        fired: Expr = x.FALSE
        reset: Expr = x.FALSE
        after: Expr = before
        counted = x.previous(x.var(ticks))
        since = x.subtract(TIME, x.previous(x.var(entered_at)))
        for t in sorted(machine.transitions, key=lambda t: -t.priority):
            condition = _with_counters(t.condition, counted, since)
            if t.synchronize:
                condition = x.conjunction(
                    condition, self._finished(machine.inner.get(t.source, []))
                )
            if not t.immediate:
                later = self._new(
                    f"transition {t.source.path} to {t.target.path} ({t.where.line})",
                    "Boolean",
                    owner,
                    False,
                )
                # What is counted now, not what was counted before this tick.
                now = _with_counters(t.condition, x.var(ticks), x.subtract(TIME, x.var(entered_at)))
                if t.synchronize:
                    now = x.conjunction(now, self._finished_now(machine.inner.get(t.source, [])))
                self._equal(later, x.conditional(tick, now, x.previous(x.var(later))), t.where)
                condition = x.previous(x.var(later))
            here = x.conjunction(x.call("==", before, x.const(index[t.source])), condition)
            after = x.conditional(here, x.const(index[t.target]), after)
            fired = x.conditional(here, x.TRUE, fired)
            reset = x.conditional(here, x.const(t.reset), reset)
        self._equal(
            number, x.conditional(tick, x.conditional(begins, chosen, after), before), where
        )
        entering = x.disjunction(begins, fired)
        self._equal(
            entered_at,
            x.conditional(x.conjunction(tick, entering), TIME, x.previous(x.var(entered_at))),
            where,
        )
        count = x.conditional(entering, x.const(1), x.add(counted, x.const(1)))
        self._equal(ticks, x.conditional(tick, count, counted), where)
        resetting = self._new(f"reset of {label}", "Boolean", owner, False)
        self._equal(
            resetting,
            x.conjunction(tick, x.disjunction(begins, x.conjunction(fired, reset))),
            where,
        )
        for state in machine.states:
            here = x.call("==", x.var(number), x.const(index[state]))
            active = self.active[state]
            enclosing = self.active.get(owner)
            shown = here if enclosing is None else x.conjunction(here, x.var(enclosing))
            self._equal(active, shown, state.definition.place())
            restarting = x.conjunction(here, x.var(resetting))
            self._state(
                machine, state, x.conjunction(tick, here), [*resets, (state.path, restarting)]
            )

    def _finished(self, machines: list[_Machine]) -> Expr:
        return self._in_final(machines, x.previous)

    def _finished_now(self, machines: list[_Machine]) -> Expr:
        return self._in_final(machines, lambda e: e)

    def _in_final(self, machines: list[_Machine], of: Callable[[Expr], Expr]) -> Expr:
        result: Expr = x.TRUE
        for machine in machines:
            leaving = {t.source for t in machine.transitions}
            final: Expr = x.FALSE
            for state in machine.states:
                if state not in leaving:
                    final = x.disjunction(final, of(x.var(self.active[state])))
            result = x.conjunction(result, final)
        return result

    def _state(self, machine: _Machine, state: Instance, ticking: Expr, resets: Resets) -> None:
        """The variables and equations of one state, and the machines inside it."""
        inner_states = set(self.states_of(state))
        assigned: Assigned = {}
        for name, member in state.all_members():
            declared = state.declared[name]
            if "outer" in declared.node.flags and "inner" not in declared.node.flags:
                continue
            for leaf in flatten(member):
                if isinstance(leaf, Variable):
                    self.flat.variables.append(leaf)
                    leaf.causality = ""
                    binding = self.discrete.model.binding(leaf)
                    if binding is not None and leaf.variability in ("discrete", "continuous"):
                        assigned[leaf] = (
                            leaf,
                            binding,
                            leaf.where or declared.definition.place(declared.node),
                        )
                        leaf.binding = None
                elif isinstance(leaf, Instance) and leaf not in inner_states:
                    raise StructureFault(
                        f"the state '{state.path}' holds the component '{leaf.path}'; only variables, equations and states "
                        "can be in a state.", leaf.definition.place(), "Put it outside and switch it by a variable.",
                    )  # fmt: skip
        for body in state.bodies:
            scope = Scope(state, body)
            for node in body.node.equations:
                if isinstance(node, s.CallEquation) and node.call.name in CALLS:
                    continue
                self.discrete._body(node, scope, ticking, assigned)
        for variable, value, place in assigned.values():
            value = _with_previous(value, resets, self.discrete.model)
            assignment = self._values.get(variable)
            if assignment is None:
                assignment = self._values[variable] = (
                    variable,
                    [],
                    place,
                    x.previous(x.var(variable)),
                )
            assignment[1].append((ticking, value))
        for inner in machine.inner.get(state, []):
            self._write(inner, ticking, resets[-1][1], resets)

    def _discrete(self, variable: Variable) -> None:
        if variable.type == "Real" and variable.variability == "continuous":
            variable.variability = "discrete"


def _calls(instance: Instance) -> list[tuple[str, s.Call, Scope]]:
    calls = []
    for body in instance.bodies:
        for node in body.node.equations:
            if isinstance(node, s.CallEquation) and node.call.name in CALLS:
                calls.append((node.call.name, node.call, Scope(instance, body)))
    return calls


def _references(call: s.Call) -> list[s.Ref]:
    given = dict(zip(("from", "to"), call.arguments, strict=False)) | {
        n.name: n.value for n in call.named
    }
    wanted = ("from", "to") if call.name == "transition" else ("from",)
    return [state for name in wanted if isinstance(state := given.get(name), s.Ref)]


def _with_counters(e: Expr, ticks: Expr, since: Expr) -> Expr:
    return x.transform(
        e, lambda n: ticks if n.op == "ticksInState" else since if n.op == "timeInState" else None
    )


def _with_previous(e: Expr, resets: Resets, model: Model) -> Expr:
    """``previous(v)``: the value at the last tick, or the start value when the state that owns ``v`` was just reset."""

    def change(node: Expr) -> Expr | None:
        if node.op != "previous" or node.args[0].op != "var":
            return None
        variable = node.args[0].variable
        model.binding(variable)
        start = (
            variable.start
            if variable.start is not None
            else x.FALSE
            if variable.type == "Boolean"
            else x.const(0)
        )
        for path, resetting in reversed(resets):
            if f"{variable.component}.".startswith(f"{path}."):
                return x.conditional(resetting, start, x.previous(node.args[0]))
        return x.previous(node.args[0])

    return x.transform(e, change)

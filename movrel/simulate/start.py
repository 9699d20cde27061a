"""The first instant of a run: states, memory and guesses that satisfy the start's equations, or an earlier run's end."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from movrel.equations.parameters import parameter_vector, start_value
from movrel.equations.start_solver import NoStart, Places
from movrel.errors import RunFault, StructureFault
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.simulate.coupling import Coupling
from movrel.simulate.explanation import Explanation
from movrel.simulate.limits import number_of
from movrel.simulate.machine import Machine
from movrel.simulate.options import RunOptions
from movrel.simulate.relation_iteration import RelationIteration
from movrel.simulate.remarks import failed_wishes
from movrel.simulate.trajectory import FinalState

Array = npt.NDArray[np.float64]

#: Rounds in which units and model must agree about the start.
START_ROUNDS = 50
#: Difference of a fixed start value from what the rest of the start gives, as a share of both, and what is mere rounding, as
#: a share of the largest value of its unit.
AGREE, ROUNDED = 1e-6, 1e-13


class Start:
    """Fills the memory and guesses of a machine; parameters that the start determines get their values."""

    def __init__(
        self,
        machine: Machine,
        parameters: dict[Variable, Scalar],
        p: Array,
        explanation: Explanation,
    ) -> None:
        self.machine = machine
        self.parameters, self.p = parameters, p
        self.explanation = explanation
        #: What is to be said about the start that was found.
        self.remarks: list[str] = []

    def states(self, t: float, units: Coupling | None, options: RunOptions) -> Array:
        """The states at the start; units take part in finding them."""
        if units is None:
            return self._solve(t)
        units.enter(t, options.stop, options.tolerance)
        for _ in range(START_ROUNDS):
            states = self._solve(t)
            if not units.exchange(t, states):
                break
        units.leave(t, states)
        for _ in range(START_ROUNDS):
            states = self._solve(t)
            if units.agrees_at_start(t, states):
                return states
        raise RunFault(
            "no start was found at which the inputs and outputs of the units agree.",
            hint="Put something with storage, or a delay, between them.",
        )

    def _solve(self, t: float) -> Array:
        machine = self.machine
        system = machine.system
        system.reduced.starts.refuse_contradictions(self.parameters)
        values = self._consistent(t, Places(self.look_for))
        if not np.isfinite(values).all():
            self.explanation.refuse_not_finite(
                t, list(zip(system.initial_solved, values, strict=True)), "at the start"
            )
        place: dict[Variable, int] = system.once(
            "start positions", lambda: {v: i for i, v in enumerate(system.initial_solved)}
        )

        def at_start(variables: list[Variable]) -> Array:
            return values[[place[v] for v in variables]]

        for v, value in zip(
            system.ordered.solved_parameters,
            at_start(system.ordered.solved_parameters),
            strict=True,
        ):
            self.parameters[v] = value
        self._refuse_contradictions(values, place)
        if system.ordered.solved_parameters:
            self.p[:] = parameter_vector(system.parameters, self.parameters)
        self.remarks = failed_wishes(
            system, self.parameters, {k: values[at] for k, at in place.items()}
        )
        machine.guesses[:] = at_start(system.implicit)
        machine.m[system.memory.pre_at : system.memory.sample_at] = at_start(system.ordered.pre.of)
        return at_start(system.states)

    def _refuse_contradictions(self, values: Array, place: dict[Variable, int]) -> None:
        """Raise :class:`StructureFault` where a fixed start value is not what the rest of the start gives."""
        for start, others in ((s.start, s.others) for s in self.machine.system.ordered.surplus):
            v = start.left.variable
            said, got = float(x.evaluate(start.right, self.parameters)), float(values[place[v]])
            size = max(abs(said), abs(got), self.look_for(v)[1])
            alike = [abs(values[at]) for other, at in place.items() if other.unit == v.unit]
            if not abs(said - got) <= max(AGREE * size, ROUNDED * max(alike)):
                raise StructureFault(
                    f"'{v.name}' is to start at {said:g}, fixed, and the rest of the start of the model "
                    f"makes it {got:g}: {others}.",
                    start.where,
                    "Correct one of them, or take fixed = true away.",
                )

    def look_for(self, v: Variable) -> tuple[float, float, float, float]:
        """Guess, declared size (0 without one) and bounds of an unknown of the start."""
        starts = self.machine.system.reduced.starts
        own = starts.attributes(v)
        low, high = (number_of(e, self.parameters) for e in (own.minimum, own.maximum))
        return (
            start_value(v, self.parameters, starts),
            abs(number_of(own.nominal, self.parameters) or 0.0),
            -math.inf if low is None else low,
            math.inf if high is None else high,
        )

    def _consistent(self, t: float, places: Places) -> Array:
        """Solve the start until its relations agree with the solution."""
        machine, initial = self.machine, self.machine.system.initial
        count = len(self.machine.system.slots)
        iteration = RelationIteration(np.zeros(count))
        while iteration.go_on(machine.m[:count]):
            try:
                values, g = initial.solve_with_homotopy(t, self.p, machine.m, places)
            except NoStart as fault:
                raise self.explanation.no_start(fault) from None
            held = machine.held_literally(g)
            different = np.nonzero(held != machine.m[:count])[0]
            if not len(different):
                return np.asarray(values)
            chosen = different[:1] if iteration.one_by_one else different
            machine.m[chosen] = held[chosen]
        names = ", ".join(f"'{slot.text}'" for slot in self.machine.system.slots[:5])
        raise RunFault(f"no consistent state of the relations was found at the start ({names}).")

    def go_on(self, begin: FinalState) -> Array:
        """Take states, discrete values and relations from the end of an earlier run."""
        machine = self.machine
        system = machine.system
        missing = [v.name for v in system.states if v.name not in begin.values]
        if missing:
            raise StructureFault(f"the earlier run has no '{missing[0]}'; it was of another model.")
        pre = [begin.values.get(v.name, 0.0) for v in system.ordered.pre.of]
        machine.m[system.memory.pre_at : system.memory.sample_at] = pre
        machine.guesses[:] = [begin.values.get(v.name, 0.0) for v in system.implicit]
        states = np.array([begin.values[v.name] for v in system.states], dtype=float)
        for i, slot in enumerate(system.slots):
            machine.m[i] = begin.held.get(slot.text, machine.m[i])
        return states

    def nominal(self, variable: Variable) -> float:
        """The size by which a variable's tolerance counts: declared, or 1."""
        nominal = self.machine.system.reduced.starts.attributes(variable).nominal
        if nominal is not None:
            return abs(float(x.evaluate(nominal, self.parameters))) or 1.0
        return 1.0

"""The derivatives of rates and outputs of a model, exact from its graph, at any states and inputs.

Implicit unknowns are eliminated by the implicit function theorem; the reduction of the index and algebraic loops are in
them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.graphs import Graphs, graphs_of, vector
from movrel.equations.parameters import parameter_values, parameter_vector
from movrel.errors import MovrelError, RunFault, did_you_mean
from movrel.model.expression import Variable
from movrel.session import LoadedModel
from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: Step of a difference as a share of a parameter.
DIFFERENCE = 1e-6


@dataclass(frozen=True, slots=True)
class Slope:
    """The four matrices at a point, with the rates of the states and the values of the outputs there."""

    a: Array
    b: Array
    c: Array
    d: Array
    rates: Array
    outputs: Array


class Slopes:
    """Of a machine's model, from inputs (of the model itself, or parameters) to variables.

    Raises :class:`MovrelError` for names that there are not.
    """

    def __init__(
        self,
        model: LoadedModel,
        machine: Machine,
        inputs: Sequence[str],
        outputs: Sequence[str],
        settings: Mapping[str, float | bool | str],
    ) -> None:
        self.model, self.machine = model, machine
        self.inputs, self.outputs = list(inputs), list(outputs)
        self._given = model.settings(settings)
        made = self._made = graphs_of(machine.system.ordered)
        graph = made.running
        wanted = [_expression(made, model, name) for name in outputs]
        self._signs = np.array([sign for _, sign in wanted], dtype=float).reshape(-1, 1)
        whole = ca.vertcat(made.rates, vector([e for e, _ in wanted]), graph.open_residuals())
        arguments = [graph.t, graph.x, graph.p, made.memory.symbols, graph.s]
        unknowns = ca.vertcat(graph.x, graph.s, graph.p)
        self._function = ca.Function(
            "slopes", arguments, [ca.densify(ca.jacobian(whole, unknowns)), ca.densify(whole)]
        )
        self._place: dict[str, int] = {v.name: i for i, v in enumerate(made.parameters)}
        self._own = {v.name: v for v in model.flat.variables}
        for name in inputs:
            if name not in self._place or name not in self._own:
                known = [u.name for u in made.parameters if _may_be_input(u)]
                raise MovrelError(
                    f"'{name}' is neither an input nor a parameter of the model.",
                    hint=did_you_mean(name, known, ""),
                )

    def values(self) -> Array:
        """The present values of the inputs."""
        return np.array([float(self.machine.p[self._place[name]]) for name in self.inputs])

    def move(self, values: Array) -> None:
        """Give the inputs other values; parameters that follow from them do so, too."""
        given = self._given | {
            name: float(v)
            for name, v in zip(self.inputs, values, strict=True)
            if self._is_parameter(name)
        }
        self.machine.p[:] = self._parameters(given)
        for name, value in zip(self.inputs, values, strict=True):
            self.machine.p[self._place[name]] = value

    def at(self, t: float, states: Array) -> Slope:
        """The matrices at states. Raises :class:`RunFault` where there are none."""
        machine = self.machine
        machine.row(t, states, None)
        s = machine.guesses.copy()
        m = machine.m[: self._made.memory.symbols.shape[0]]
        matrix, values = (
            np.array(a, dtype=float) for a in self._function(t, states, machine.p, m, s)
        )
        values = values.reshape(-1)
        n, k, q = len(states), len(s), len(self.outputs)
        explicit = matrix[: n + q]
        by_x, by_p = explicit[:, :n], explicit[:, n + k :]
        if k:
            implicit = matrix[n + q :]
            try:
                solved = np.linalg.solve(
                    implicit[:, n : n + k], np.hstack([implicit[:, :n], implicit[:, n + k :]])
                )
            except np.linalg.LinAlgError:
                raise RunFault(
                    f"the equations are singular at {t:g} s; there is no linear model."
                ) from None
            through = explicit[:, n : n + k] @ solved
            by_x, by_p = by_x - through[:, :n], by_p - through[:, n:]
        by_inputs = by_p @ self._parameter_slopes()
        if not np.isfinite(by_x).all() or not np.isfinite(by_inputs).all():
            raise RunFault(
                f"a derivative is not finite at {t:g} s; there is no linear model.",
                hint="Linearise at another instant.",
            )
        signs = self._signs
        return Slope(
            by_x[:n], by_inputs[:n], by_x[n:] * signs, by_inputs[n:] * signs,
            values[:n], values[n : n + q] * signs.reshape(-1),
        )  # fmt: skip

    def _is_parameter(self, name: str) -> bool:
        v = self._own[name]
        return v.variability == "parameter" and v.type == "Real"

    def _parameters(self, given: dict[str, float]) -> Array:
        made = self._made
        values = {v.name: value for v, value in parameter_values(self.model.flat, given).items()}
        every = [*made.ordered.flat.variables, *made.parameters]
        named = {v: values.get(v.name, 0.0) for v in every}
        return np.array(parameter_vector(made.parameters, named), dtype=float)

    def _parameter_slopes(self) -> Array:
        """How all parameters change with each input: those that follow from it do so, too; shape ``(parameters, inputs)``."""
        slopes = np.zeros((len(self._made.parameters), len(self.inputs)))
        for k, name in enumerate(self.inputs):
            at = self._place[name]
            slopes[at, k] = 1.0
            if not self._is_parameter(name):
                continue
            value = float(self.machine.p[at])
            step = DIFFERENCE * (abs(value) or 1.0)
            up, down = (
                self._parameters(self._given | {name: value + side * step}) for side in (1.0, -1.0)
            )
            slopes[:, k] = (up - down) / (2 * step)
        return slopes


def _expression(made: Graphs, model: LoadedModel, name: str) -> tuple[Any, float]:
    """A variable over the symbols of the graph, and its sign. Raises :class:`MovrelError`."""
    by_name = model.by_name
    v = by_name.get(name)
    if v is None or v.type == "String":
        raise MovrelError(
            f"the model has no variable '{name}'.", hint=did_you_mean(name, by_name, "")
        )
    ordered = made.ordered
    own = next((u for u in ordered.flat.variables if u.name == name), v)
    alias = ordered.reduced.aliases.get(own)
    of, sign = (alias.of, float(alias.sign)) if alias is not None else (own, 1.0)
    if of in ordered.reduced.fixed:
        return ca.SX(float(ordered.reduced.fixed[of])), sign
    try:
        return made.running.value(of), sign
    except KeyError:
        raise MovrelError(f"'{name}' is not a variable over time.") from None


def _may_be_input(v: Variable) -> bool:
    return v.causality == "input" or (
        v.variability == "parameter" and v.type == "Real" and not v.final
    )

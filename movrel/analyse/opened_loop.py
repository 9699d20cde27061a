"""A loop opened at a wire that carries a signal, to see what it would return.

The wire gets a disturbance ``d`` between its source ``y`` and everything that it feeds. The linear model from ``d`` to ``y``
with the loop closed gives that of the open loop exactly: with ``u = y + d``, ``d`` is ``u - y``, which is an output feedback.
"""

from __future__ import annotations

import numpy as np

from movrel.analyse.linear_model import LinearModel
from movrel.errors import MovrelError, RunFault
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.session import LoadedModel

#: A return that is 1 but for this share of it closes an algebraic loop upon itself.
SINGULAR = 1e-12


class OpenedLoop:
    """A model with a disturbance on the wire at ``name``, a signal at either end of it.

    ``loaded`` is the model, ``disturbance`` and ``source`` are names in it. Raises :class:`MovrelError` where there is no such
    wire.
    """

    def __init__(self, model: LoadedModel, name: str) -> None:
        self.at = name
        wires = _Wires(model.flat, name)
        self.source = wires.source.name
        self.disturbance = f"{self.source}.disturbance"
        self.loaded = LoadedModel(model.tree, model.definition, self._disturb)

    def _disturb(self, flat: FlatModel) -> None:
        wires = _Wires(flat, self.at)
        source = wires.source
        disturbance = Variable(
            self.disturbance, unit=source.unit, causality="input", description="on the wire"
        )
        disturbance.start = x.ZERO
        flat.variables.append(disturbance)
        gone = set(wires.equations)
        flat.equations[:] = [e for e in flat.equations if e not in gone]
        fed = x.add(x.var(source), x.var(disturbance))
        where = wires.equations[0].where
        for end in wires.ends:
            flat.equations.append(FlatEquation(x.var(end), fed, where, end.component, "connection"))

    def opened(self, closed: LinearModel) -> LinearModel:
        """The open loop from the linear model between ``disturbance`` and ``source``.

        What returns is taken with a minus, so that the loop is closed by feeding it back with a minus.
        """
        a, b, c, d = closed.a, closed.b, closed.c, float(closed.d[0, 0])
        through = 1.0 + d
        if abs(through) <= SINGULAR * max(1.0, abs(d)):
            raise RunFault(
                f"the loop at '{self.at}' is algebraic and returns what it is given; it cannot be opened there."
            )
        goes_in, returns = f"into {self.at}", f"back at {self.at}"
        point = closed.point | {goes_in: closed.point[self.source]}
        point[returns] = -closed.point[self.source]
        units = dict(closed.units)
        if unit := units.get(self.source):
            units |= {goes_in: unit, returns: unit}
        note = f"the loop is opened at {self.at}; what returns is taken with a minus."
        return LinearModel(
            closed.states, [goes_in], [returns], a - b @ c / through, b / through, -c / through, np.array([[-d / through]]),
            point, units, closed.time, [*closed.notes, note], closed.rates,
        )  # fmt: skip


class _Wires:
    """The connections that carry one signal: the equations, the ``source`` and the ``ends`` that it feeds."""

    def __init__(self, flat: FlatModel, name: str) -> None:
        by_name = flat.by_name()
        start = by_name.get(name)
        pairs = [e for e in flat.equations if e.kind == "connection" and _joins(e)]
        if start is None or not any(start in _sides(e) for e in pairs):
            raise MovrelError(
                f"there is no wire at '{name}'.",
                hint="Name a signal at one end of a wire, such as the output of a controller.",
            )
        members = [start]
        self.equations: list[FlatEquation] = []
        for member in members:  # grows
            for e in pairs:
                if member in _sides(e) and e not in self.equations:
                    self.equations.append(e)
                    members += [v for v in _sides(e) if v not in members]
        sources = [v for v in members if v.direction == "output"]
        # A connector of an assembly is passed on inside by more wires: the source is the innermost output.
        sources.sort(key=lambda v: -v.name.count("."))
        if not sources or any(v.direction not in ("input", "output") for v in members):
            raise MovrelError(
                f"'{name}' carries no signal.",
                hint="A loop is opened where one part gives another a value.",
            )
        self.source = sources[0]
        self.ends = [v for v in members if v is not self.source]


def _joins(e: FlatEquation) -> bool:
    return e.left.op == "var" and e.right.op == "var"


def _sides(e: FlatEquation) -> tuple[Variable, Variable]:
    return e.left.variable, e.right.variable

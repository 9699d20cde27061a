"""A model driven by measured inputs: the model as a part of another one whose tables feed it."""

from __future__ import annotations

import itertools
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError, did_you_mean
from movrel.model.classes import ClassTree
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]

#: What the model is called inside, and its place before all names.
PART, PREFIX = "plant", "plant."
#: Error of a thinned input as a share of its range.
THINNED = 1e-4
_numbers = itertools.count(1)


@dataclass(frozen=True, slots=True)
class MeasuredData:
    """Measurements of one experiment: instants in s, rising; outputs by variable and inputs by input of the model, in the
    declared units of these; ``held`` are inputs that stay as they are until the next instant."""

    name: str
    time: Array
    outputs: Mapping[str, Array]
    inputs: Mapping[str, Array] = field(default_factory=dict)
    held: Collection[str] = ()


@dataclass(slots=True)
class MeasuredModel:
    """The model with its inputs driven; starts of states that are free are parameters of it."""

    loaded: LoadedModel
    #: The parameter of each start value that is free, by its place (``basin.level.start``).
    starts: dict[str, str]

    def place(self, name: str) -> str:
        """What a parameter of the model, or a free start value, is called here."""
        return self.starts.get(name) or f"{PREFIX}{name}"


def driven(model: LoadedModel, data: MeasuredData, starts: Collection[str] = ()) -> MeasuredModel:
    """A model whose inputs follow measurements.

    ``starts`` are places of start values that become parameters. Raises :class:`MovrelError` for names that there are
    not.
    """
    inputs = {v.name: v for v in model.flat.variables if v.causality == "input"}
    for name in data.inputs:
        if name not in inputs:
            raise MovrelError(
                f"the model has no input '{name}'.",
                hint=did_you_mean(name, inputs, "Declare it as an input of the model itself."),
            )
    own: dict[str, str] = {}
    modifiers: list[str] = []
    lines: list[str] = []
    for k, place in enumerate(starts):
        variable = place.removesuffix(".start")
        v = model.by_name.get(variable)
        if v is None or v.variability != "continuous":
            raise MovrelError(f"the model has no state '{variable}' with a start value.")
        own[place] = f"start_{k + 1}"
        unit = f'(unit="{v.unit}")' if v.unit else ""
        lines.append(f"  parameter Real start_{k + 1}{unit} = 0;")
        modifiers.append(_nested(variable.split("."), f"start=start_{k + 1}, fixed=true"))
    equations: list[str] = []
    for k, (name, values) in enumerate(data.inputs.items(), 1):
        t, u = _thinned(data.time, np.asarray(values, float), name in data.held)
        rows = "; ".join(f"{a!r}, {b!r}" for a, b in zip(t.tolist(), u.tolist(), strict=True))
        lines.append(f"  parameter Real table_{k}[:, :] = [{rows}];")
        way = "hold" if name in data.held else "linear"
        equations.append(f"  {PART}.{name} = Movrel.Tables.{way}(table_{k}, time);")
    given = f"({', '.join(modifiers)})" if modifiers else ""
    name = f"Measured{next(_numbers)}"
    text = "\n".join(
        [
            f"model {name}",
            *lines,
            f"  {model.name} {PART}{given};",
            "equation",
            *equations,
            f"end {name};",
        ]
    )
    tree = ClassTree()
    tree.folders = list(model.tree.folders)
    for file, own_text in model.tree.own_texts().items():
        tree.add_text(own_text, file)
    (definition,) = tree.add_text(text, f"{name}.mo")
    return MeasuredModel(LoadedModel(tree, definition), own)


def _nested(names: list[str], inner: str) -> str:
    """``a(b(c(inner)))``."""
    text = inner
    for name in reversed(names):
        text = f"{name.partition('[')[0]}({text})"
    return text


def _thinned(t: Array, u: Array, held: bool) -> tuple[Array, Array]:
    """The corners of a signal: what stays when points are left out that a straight line, or the value before, gives."""
    good = np.isfinite(u)
    t, u = t[good], u[good]
    if held:
        keep = np.concatenate([[True], np.diff(u) != 0])
        keep[-1] = True
        return t[keep], u[keep]
    tolerance = THINNED * float(np.ptp(u)) if len(u) else 0.0
    keep = np.zeros(len(t), bool)
    keep[[0, -1]] = True
    waiting = [(0, len(t) - 1)]
    while waiting:
        a, b = waiting.pop()
        if b - a < 2:
            continue
        line = u[a] + (u[b] - u[a]) * (t[a + 1 : b] - t[a]) / (t[b] - t[a])
        off = np.abs(u[a + 1 : b] - line)
        k = int(np.argmax(off))
        if off[k] > tolerance:
            keep[a + 1 + k] = True
            waiting += [(a, a + 1 + k), (a + 1 + k, b)]
    return t[keep], u[keep]

"""Load, build once, run many times: what notebooks, the command line and the workers use."""

from __future__ import annotations

import threading
import time as clock
from collections.abc import Callable, Mapping
from functools import cached_property
from pathlib import Path

from movrel.collection import collect_after, rare_collections
from movrel.equations.sort_model import sort_model
from movrel.equations.sorted_model import Sorted
from movrel.equations.system import System, build_system
from movrel.equations.unit_check import check_units
from movrel.errors import LookupFault, MovrelError, did_you_mean
from movrel.kept_models import keep, key_of, read_kept
from movrel.model import expression as x
from movrel.model.classes import ClassTree, Definition
from movrel.model.expression import Variable
from movrel.model.flat import FlatModel
from movrel.model.flatten import default_model, flatten_model
from movrel.simulate.options import run_options
from movrel.simulate.recording import Listener
from movrel.simulate.run import Run
from movrel.simulate.trajectory import FinalState, Trajectory
from movrel.units import read_quantity

#: Bytes of a model that nothing was made of yet, and for each variable of its flat form and of a system (measured).
BYTES, BYTES_FLAT, BYTES_SYSTEM = 10_000, 4_000, 12_000


class LoadedModel:
    """A model with its sorted system; structural parameters that change lead to a new system."""

    def __init__(
        self,
        tree: ClassTree,
        definition: Definition,
        change: Callable[[FlatModel], None] | None = None,
    ) -> None:
        """``change`` is made to the flat model, for what no text says; such a model is not kept on disk."""
        self.tree = tree
        self.definition = definition
        self._change = change
        self.seconds: dict[str, float] = {}
        self._systems: dict[tuple[tuple[str, float], ...], System] = {}
        self._flat: FlatModel | None = None
        self._ordered: Sorted | None = None
        self._keys: dict[tuple[tuple[str, float], ...], str | None] = {}
        self._lock = threading.RLock()  # several threads may ask for what is made only once

    @property
    def name(self) -> str:
        return self.definition.qualified

    @property
    def size(self) -> int:
        """About how many bytes it takes by now."""
        flat, systems = self._flat, list(self._systems.values())
        variables = len(flat.variables) if flat is not None else 0
        return BYTES + variables * (BYTES_FLAT + sum(BYTES_SYSTEM * len(s.others) for s in systems))

    @property
    def flat(self) -> FlatModel:
        """The flat model with the values written in the text."""
        with self._lock:
            if self._flat is None:
                self._read_kept()
            if self._flat is None:
                began = clock.perf_counter()
                with rare_collections():
                    self._flat = self._flatten(None)
                collect_after(len(self._flat.variables))
                self.seconds["flatten"] = clock.perf_counter() - began
            return self._flat

    def _flatten(self, structural: dict[str, x.Expr] | None) -> FlatModel:
        flat = flatten_model(self.tree, self.definition, structural)
        if self._change is not None:
            self._change(flat)
        return flat

    @cached_property
    def by_name(self) -> dict[str, Variable]:
        """The variables of the flat model by name."""
        return self.flat.by_name()

    @cached_property
    def warnings(self) -> list[str]:
        """What is odd about the model but does not keep it from running: units that do not agree."""
        return [*self.flat.warnings, *(mismatch.sentence() for mismatch in check_units(self.flat))]

    @property
    def ordered(self) -> Sorted:
        """The equations in solving order, with the values written in the text."""
        with self._lock:
            flat = self.flat
            if self._ordered is None:
                self._keep({}, self._sort(flat))
            return self._sort(flat)

    def _sort(self, flat: FlatModel) -> Sorted:
        if self._ordered is None:
            began = clock.perf_counter()
            with rare_collections():
                self._ordered = sort_model(flat)
            self.seconds["sort"] = clock.perf_counter() - began
        return self._ordered

    def _read_kept(self) -> None:
        """Take over what another process has built."""
        key = self._key({})
        kept = read_kept(key) if key else None
        if kept is None:
            return
        if isinstance(kept, System):
            self._systems[()] = kept
            kept = kept.ordered
        self._ordered, self._flat = kept, kept.flat

    def _keep(self, structural: Mapping[str, float], made: Sorted | System) -> None:
        key = self._key(structural)
        if key:
            keep(key, made, sum(self.seconds.values()))

    def _key(self, structural: Mapping[str, float]) -> str | None:
        key = tuple(sorted(structural.items()))
        if key not in self._keys:
            changed = self._change is not None
            self._keys[key] = None if changed else key_of(self.tree, self.name, structural)
        return self._keys[key]

    @property
    def system(self) -> System:
        return self.system_for({})

    def system_for(self, structural: Mapping[str, float]) -> System:
        """The sorted system for given values of structural parameters."""
        key = tuple(sorted(structural.items()))
        with self._lock:
            if not structural:
                self.flat  # noqa: B018 - which may come with the system
            if key not in self._systems:
                self._systems[key] = self._built(structural)
            return self._systems[key]

    def _built(self, structural: Mapping[str, float]) -> System:
        mark = self._key(structural) if structural else None
        kept = read_kept(mark) if mark else None
        if isinstance(kept, System):
            return kept
        if structural:
            began = clock.perf_counter()
            given = {name: x.const(value) for name, value in structural.items()}
            flat = self._flatten(given)
            ordered = None
        else:
            flat = self.flat
            ordered = self._sort(flat)
            began = clock.perf_counter()
        with rare_collections():
            system = build_system(flat, ordered)
        self.seconds["build"] = clock.perf_counter() - began
        self._keep(structural, system)
        return system

    def check_start(self) -> None:
        """Raise :class:`MovrelError` where fixed start values may contradict each other and do."""
        ordered = self.ordered
        if (ordered.surplus or ordered.reduced.starts.meetings) and not ordered.units:
            self.prepare().first_instant()

    def prepare(
        self,
        set: Mapping[str, float | bool | str] | None = None,
        start: float | None = None,
        stop: float | None = None,
        interval: float | None = None,
        solver: str | None = None,
        tolerance: float | None = None,
        listener: Listener | None = None,
        step: float | None = None,
        go_on: Trajectory | None = None,
        begin: FinalState | None = None,
        resume: FinalState | None = None,
    ) -> Run:
        """A run ready to go, its settings checked; it starts where ``go_on`` or ``begin`` ended.

        With ``resume`` it is the rest of a run that stood there (:meth:`Run.standing`).
        """
        begin = go_on.final if go_on is not None else begin
        if go_on is not None and begin is None:
            raise MovrelError(
                "the earlier run did not reach its end, so nothing can go on from it."
            )
        start = begin.time if begin is not None and start is None else start
        options = run_options(self.flat.experiment, start, stop, interval, solver, tolerance, step)
        settings = self.settings(set) if set else {}
        structural = {n: v for n, v in settings.items() if self.by_name[n].structural}
        return Run(self.system_for(structural), options, settings, listener, begin, resume)

    def simulate(
        self,
        start: float | None = None,
        stop: float | None = None,
        interval: float | None = None,
        solver: str | None = None,
        tolerance: float | None = None,
        set: Mapping[str, float | bool | str] | None = None,
        listener: Listener | None = None,
        step: float | None = None,
        go_on: Trajectory | None = None,
    ) -> Trajectory:
        """Run the model.

        Times in seconds, ``set`` maps flat parameter names to values in the declared unit, or to texts such as
        ``"20 cm"``. Settings
        left out come from the model's experiment annotation. ``step`` is the step of a fixed-step solver
        or the longest step of another; ``go_on`` is an earlier run at whose end this one starts. Raises
        :class:`MovrelError` for bad settings, :class:`movrel.errors.RunFault` when the run fails.
        """
        return self.prepare(
            set, start, stop, interval, solver, tolerance, listener, step, go_on
        ).go()

    def settings(self, given: Mapping[str, float | bool | str]) -> dict[str, float]:
        """Values of parameters as numbers in declared units. Raises :class:`MovrelError` for those that cannot be set."""
        by_name = self.by_name
        settings: dict[str, float] = {}
        for name, value in given.items():
            variable = by_name.get(name)
            if variable is None or variable.variability != "parameter":
                raise self._no_parameter(name, variable)
            if variable.final:
                raise MovrelError(f"'{name}' is final and cannot be set.", variable.where)
            settings[name] = _fitting(variable, value)
        return settings

    def _no_parameter(self, name: str, variable: Variable | None) -> LookupFault:
        if variable is not None:
            return LookupFault(
                f"'{name}' is a {variable.variability} variable, not a parameter.",
                variable.where,
                "Set a parameter.",
            )
        hint = did_you_mean(
            name, (v.name for v in self.flat.parameters()), "'movrel check' lists the parameters."
        )
        return LookupFault(f"the model has no parameter '{name}'.", hint=hint)

    def __reduce__(self) -> tuple[object, tuple[dict[str, str], str]]:
        return _restore, (
            self.tree.own_texts(),
            self.name,
        )


def _fitting(variable: Variable, given: float | bool | str) -> float:
    value = _read(variable, given) if isinstance(given, str) else given
    if variable.type == "Boolean" and not isinstance(value, bool) and value not in (0, 1):
        raise MovrelError(f"'{variable.name}' is true or false; {value!r} is not.", variable.where)
    if variable.type == "Integer" and (isinstance(value, bool) or int(value) != value):
        raise MovrelError(f"'{variable.name}' is a whole number; {value!r} is not.", variable.where)
    if variable.type == "String":
        raise MovrelError(f"'{variable.name}' is a text and cannot be set.", variable.where)
    return (
        bool(value)
        if variable.type == "Boolean"
        else int(value)
        if variable.type == "Integer"
        else float(value)
    )


def _read(variable: Variable, text: str) -> float | bool:
    """A value as somebody typed it: a number with any fitting unit, or true or false."""
    word = text.strip()
    if word in ("true", "false"):
        return word == "true"
    quantity = read_quantity(word, variable.unit)
    if quantity is None:
        raise MovrelError(f"'{variable.name}': '{text}' is not a number, true or false.")
    return quantity.value


def _restore(texts: dict[str, str], name: str) -> LoadedModel:
    tree = ClassTree()
    for file, text in texts.items():
        tree.add_text(text, file)
    definition = tree.find(name)
    assert definition is not None
    return LoadedModel(tree, definition)


def load(*sources: str | Path, model: str | None = None, text: str | None = None) -> LoadedModel:
    """Load a model from files or package folders, or from a text.

    ``model`` is the qualified name of the class to run; without it the last non-partial model of
    the last source is taken. Raises :class:`MovrelError` naming the place of any fault.
    """
    tree = ClassTree()
    loaded: list[Definition] = []
    for source in sources:
        loaded = tree.add_path(Path(source))
    if text is not None:
        loaded = tree.add_text(text, "text.mo")
    if not loaded and model is None:
        raise MovrelError("nothing was loaded.", hint="Name a file that holds a model.")
    if model is None:
        return LoadedModel(tree, default_model(loaded, tree))
    definition = tree.find(model)
    if definition is None and loaded:
        definition = tree.lookup(model, loaded[-1])
    if definition is None:
        raise LookupFault(
            f"no class '{model}' was loaded.", hint="Give its full name, such as Package.Model."
        )
    return LoadedModel(tree, definition)

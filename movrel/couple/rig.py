"""A model run as a rig: cut into units, each loaded, coupled by a master, recorded like any other run."""

from __future__ import annotations

import math
import time as clock
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.couple.master import Control, Master
from movrel.couple.members import (
    ConstantMember,
    ForeignMember,
    Member,
    OwnMember,
    compile_part,
    constant_expressions,
)
from movrel.couple.partition import Partition, partition
from movrel.couple.power import PowerBalance
from movrel.couple.recorded import Recorder, rig_columns, start_of
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, RunCancelled
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flatten import flatten_model
from movrel.project.rig_settings import RigSettings, rig_settings
from movrel.session import LoadedModel
from movrel.simulate.options import STEP_LIMIT, RunOptions, run_options
from movrel.simulate.recipes import Recipe
from movrel.simulate.recording import Listener, Progress
from movrel.simulate.trajectory import Event, FinalState, Statistics, Trajectory

Array = npt.NDArray[np.float64]

#: Rows that are handed on together at most.
BLOCK = 4096


def settings_of(loaded: LoadedModel) -> RigSettings | None:
    """How a model is coupled; None for one that is no rig."""
    return rig_settings(loaded.definition)


def cut(loaded: LoadedModel, structural: Mapping[str, float] | None = None) -> Partition:
    """The units of a model and the signals between them. Raises :class:`MovrelError`."""
    given = {name: x.const(value) for name, value in (structural or {}).items()}
    return partition(flatten_model(loaded.tree, loaded.definition, given))


class RigModel(LoadedModel):
    """A loaded model whose runs are those of a rig."""

    def __init__(self, loaded: LoadedModel, coupling: RigSettings) -> None:
        super().__init__(loaded.tree, loaded.definition)
        self.__dict__.update(loaded.__dict__)
        self.coupling = coupling

    def prepare_rig(
        self, set: Mapping[str, float | bool | str] | None = None, step: float | None = None, **options: Any
    ) -> RigRun:  # fmt: skip
        """A run ready to go; ``step`` in s takes the place of the rig's own."""
        return prepare_rig(self, self.coupling, set, step=step, **options)

    def simulate(  # type: ignore[override]
        self, set: Mapping[str, float | bool | str] | None = None, **options: Any
    ) -> Trajectory:
        """Run the rig; settings as for any model."""
        run = self.prepare_rig(set, **options)
        run.listener = Listener()
        return run.go()


def coupled(loaded: LoadedModel) -> LoadedModel:
    """The same model; one that is coupled as a rig runs as one from now on."""
    coupling = settings_of(loaded)
    return loaded if coupling is None else RigModel(loaded, coupling)


class RigRun:
    """One run of a rig; the same to its caller as :class:`movrel.simulate.run.Run`."""

    def __init__(
        self,
        rig: Partition,
        settings: RigSettings,
        options: RunOptions,
        values: Mapping[str, float],
        listener: Listener | None = None,
        control: Control | None = None,
    ) -> None:
        self.rig, self.settings, self.options = rig, settings, options
        self.settable = {v.name: v for v in rig.flat.parameters()}
        self.set_values = dict(values)
        self.listener = listener or Listener(listens=False)
        self.control = control or Control()
        self.messages: list[str] = []
        self.master: Master | None = None
        self.members: list[Member] = []
        self.statistics = Statistics()
        #: What somebody turned while it ran: the instant, the parameter, its new value.
        self.turned: list[tuple[float, str, float]] = []
        self._times: list[float] = []
        self._rows: list[Array] = []
        self._kept: list[tuple[Array, Array]] = []
        self._last_look = clock.perf_counter()
        self._point = -1
        self.parameters = parameter_values(rig.flat, self.set_values)
        self.columns = rig_columns(rig, self.parameters)

    @property
    def events(self) -> list[Event]:
        return self.master.events if self.master is not None else []

    # --- the whole run ---

    def go(self) -> Trajectory:
        """Compute until the stop time.

        Raises :class:`movrel.errors.RunFault` with the unit that failed, and :class:`RunCancelled`.
        """
        began = clock.perf_counter()
        try:
            self.members = loaded_members(self.rig, self.parameters, self.set_values)
            o = self.options
            master = self.master = Master(
                self.rig, self.members, self.settings, o.start, o.stop, o.tolerance, self._store,
                Control(self._between), {v: start_of(v, self.parameters) for v in self.rig.outer},
            )  # fmt: skip
            self.recorder = Recorder(self.rig, self.members, master.network)
            self.statistics = master.statistics
            self.statistics.seconds["load"] = clock.perf_counter() - began
            began = clock.perf_counter()
            master.initialise()
            self.statistics.seconds["start"] = clock.perf_counter() - began
            self.messages += master.notes
            began = clock.perf_counter()
            try:
                master.run()
            finally:
                self.statistics.seconds["run"] = clock.perf_counter() - began
                self.messages += [n for n in master.notes if n not in self.messages]
                for m in self.members:
                    self.messages += m.messages()
            self.messages += power_remarks(master.power.balances())
            if master.ended:
                self.messages.append(master.ended)
            if master.behind > 0:
                self.messages.append(
                    f"the run was behind the clock by up to {master.behind:.3g} s: the machine is too slow for this pace."
                )
            return self.summary()
        finally:
            for m in self.members:
                m.close()
            self.members = []

    def _store(self, t: float) -> None:
        """Keep an instant where one is due: at points of the output grid, at events, at the end."""
        grid = self.options.interval
        event = bool(self.events) and self.events[-1].time == t
        point = (t - self.options.start) / grid
        if not (event or t >= self.options.stop or math.floor(point + 1e-6) > self._point):
            return
        self._point = max(self._point, math.floor(point + 1e-6))
        self._times.append(t)
        self._rows.append(self.recorder.row())
        if len(self._times) >= BLOCK:
            self.pass_on()

    def _between(self, t: float) -> None:
        """Called between two steps: tell how far it is, hear what somebody wants."""
        self.control.poll(t)
        if clock.perf_counter() - self._last_look < self.listener.period:
            return
        self._last_look = clock.perf_counter()
        self.pass_on()
        self.tell()
        if self.listener.stopped():
            raise RunCancelled(f"Stopped at {t:g} s.")

    def tell(self) -> None:
        """Tell how far it is."""
        if self.master is not None:
            reached = self.master.time
            self.listener.progress(Progress(reached, self.settings.step, len(self.events)))

    def turn(self, name: str, value: float) -> None:
        """Give a parameter of a constant another value while the rig runs. Raises :class:`MovrelError`."""
        variable = self.settable.get(name)
        if variable is None or self.master is None:
            raise MovrelError(f"there is no parameter '{name}' to turn.")
        self.set_values[name] = value
        values = parameter_values(self.rig.flat, self.set_values)
        for k, m in enumerate(self.members):
            if m.turn(values):
                self.master.network.collect(k)
        t = self.master.time
        self.turned.append((t, name, value))
        self.events.append(Event(t, f"{name} turned to {value:g}"))

    # --- what was computed ---

    def recipes(self) -> dict[int, Recipe]:
        """None: what units give follows from nothing that is known."""
        return {}

    def unsent(self) -> list[tuple[Array, Array]]:
        """The rows since the listener was last given some."""
        rows = self._block()
        return [rows] if rows is not None else []

    def _block(self) -> tuple[Array, Array] | None:
        if not self._times:
            return None
        block = np.array(self._times), np.array(self._rows)
        self._times, self._rows = [], []
        if self.listener.keep:
            self._kept.append(block)
        return block

    def pass_on(self) -> None:
        block = self._block()
        if block is not None and self.listener.listens:
            self.listener.chunk(*block)

    def summary(self) -> Trajectory:
        """What was computed until now."""
        self.pass_on()
        reached = self.master.time if self.master is not None else self.options.start
        kept = self._kept
        time = np.concatenate([t for t, _ in kept]) if kept else np.zeros(0)
        table = np.concatenate([r for _, r in kept]) if kept else np.zeros((0, 0))
        return Trajectory(
            time, table, lambda: self.columns, self.events, self.statistics, self.messages, reached,
            reached >= self.options.stop, None,
        )  # fmt: skip

    def ended_at(self) -> FinalState | None:
        """Units keep no state from which another run could go on."""
        return None


def power_remarks(balances: list[PowerBalance]) -> list[str]:
    """What to say about power that appeared or vanished between units."""
    return [
        f"power at {b.name}: {100 * b.share:+.2g} % appeared in the coupling."
        if b.created > 0
        else f"power at {b.name}: {100 * b.share:+.2g} % vanished in the coupling."
        for b in balances
        if b.passed > 0 and abs(b.share) >= 1e-4
    ]


def loaded_members(
    rig: Partition, parameters: Mapping[Variable, Scalar], values: Mapping[str, float]
) -> list[Member]:
    """All units of a rig, loaded; units of our own are compiled side by side.

    Raises :class:`MovrelError` naming a unit that cannot be loaded; then none stays loaded.
    """
    constants = {
        part.name: constant_expressions(part) for part in rig.parts if part.flat is not None
    }
    own = [p for p in rig.parts if p.flat is not None and constants[p.name] is None]
    with ThreadPoolExecutor() as pool:
        compiled = dict(zip((p.name for p in own), pool.map(compile_part, own), strict=True))
    members: list[Member] = []
    try:
        for part in rig.parts:
            expressions = constants.get(part.name)
            if part.foreign is not None:
                members.append(ForeignMember(part, rig.flat, parameters))
            elif expressions is not None:
                members.append(ConstantMember(part, parameters, expressions))
            else:
                members.append(OwnMember(part, compiled[part.name], values))
    except BaseException:
        for m in members:
            m.close()
        raise
    return members


def prepare_rig(
    loaded: LoadedModel,
    settings: RigSettings,
    set: Mapping[str, float | bool | str] | None = None,
    start: float | None = None,
    stop: float | None = None,
    interval: float | None = None,
    solver: str | None = None,
    tolerance: float | None = None,
    step: float | None = None,
) -> RigRun:
    """A run of a rig, its settings checked; ``step`` is another communication step than the rig's own, in s.

    Raises :class:`MovrelError` for settings that do not fit.
    """
    values = loaded.settings(set or {})
    options = run_options(loaded.flat.experiment, start, stop, interval, solver, tolerance)
    settings = replace(settings, step=step) if step is not None else settings
    if (options.stop - options.start) / settings.step > STEP_LIMIT:
        raise MovrelError(
            f"the run would take more than {STEP_LIMIT:g} communication steps.",
            hint="Take a longer step.",
        )
    structural = {n: v for n, v in values.items() if loaded.by_name[n].structural}
    return RigRun(cut(loaded, structural), settings, options, values)

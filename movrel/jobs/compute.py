"""Computing one run: what a worker does with an order."""

from __future__ import annotations

import time as clock
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from typing import Any, TypeAlias

import numpy as np
import numpy.typing as npt
from peewee import DatabaseError, InterfaceError

from movrel.couple.master import Control
from movrel.couple.rig import RigModel, RigRun, coupled
from movrel.edits.scenario_model import ScenarioModel, with_changes
from movrel.errors import MovrelError, RunCancelled
from movrel.jobs.attempt import Attempt, Superseded
from movrel.jobs.interim import Interim
from movrel.jobs.rig_control import RigControl
from movrel.simulate.recipes import Recipe
from movrel.simulate.recording import Listener, Progress
from movrel.simulate.run import Run as SingleRun
from movrel.simulate.trajectory import Event, FinalState
from movrel.views.run_data import RunState
from movrel.workspace import projects, results
from movrel.workspace.announce import announce
from movrel.workspace.tables import Run, database, now
from movrel.workspace.verdicts import judge_run

Array = npt.NDArray[np.float64]
#: A run of a model, or of a rig.
Computation: TypeAlias = SingleRun | RigRun

#: Seconds between two looks at whether somebody stopped the run.
LOOK_PERIOD = 0.25
#: The same for a rig, which is watched while it runs.
WATCH_PERIOD = 0.1
#: Events that are kept with a run at most.
MOST_EVENTS = 5000
#: Seconds between two notes of where a run stands, and the share of the time that these may take.
NOTE_PERIOD, NOTE_SHARE = 2.0, 0.05


class _Recorder:
    """Writes chunks and progress of one attempt at a run."""

    def __init__(
        self,
        attempt: Attempt,
        computation: Computation,
        reached: float,
        interim: Interim | None,
        recipes: Mapping[int, Recipe],
    ) -> None:
        options = computation.options
        self.attempt, self.number = attempt, attempt.number
        self.start, self.stop = options.start, options.stop
        #: How far an earlier attempt came: what is shown never goes back.
        self._reached = reached
        self.period = WATCH_PERIOD if isinstance(computation, RigRun) else LOOK_PERIOD
        self._computation = computation
        #: Those of the attempt that wrote the first piece.
        self._recipes = recipes if interim else computation.recipes()
        self._events_sent = 0
        #: The last instant that is stored, and whether everything that was to be stored is.
        self.last_time = interim.state.time if interim else options.start
        self.kept_all = True
        self.chunk_number = interim.chunks if interim else 0
        self.points = interim.points if interim else 0
        self._next_note = clock.monotonic() + NOTE_PERIOD
        self._pending: list[tuple[Array, Array]] = []
        self._last = clock.monotonic()
        self._goes_on = True

    def chunk(self, time: Array, table: Array) -> None:
        self._pending.append((time, table))
        if (
            clock.monotonic() - self._last > self.period
            or sum(len(t) for t, _ in self._pending) > 20_000
        ):
            self.flush()

    def flush(self) -> None:
        if self._pending:
            time = np.concatenate([t for t, _ in self._pending])
            table = np.concatenate([rows for _, rows in self._pending])
            self._pending.clear()
            self.kept_all = False
            if self.chunk_number == 0:
                self.attempt.update(recipes={str(k): r for k, r in self._recipes.items()})
            with self.attempt.writing():
                results.write_chunk(self.number, self.chunk_number, time, table, self._recipes)
            self.kept_all = True
            self.chunk_number += 1
            self.points += len(time)
            self.last_time = float(time[-1])

    def progress(self, reached: Progress) -> None:
        self._last = clock.monotonic()
        share = max((reached.time - self.start) / (self.stop - self.start), self._reached)
        self.flush()
        reached_now: dict[str, Any] = {
            "progress": share,
            "time_reached": reached.time,
            "points": self.points,
        }
        if self._events_sent < min(reached.events, MOST_EVENTS):
            reached_now["events"] = kept_events(self._computation.events)
            self._events_sent = len(reached_now["events"])
        self.attempt.update(**reached_now)
        reached_now.pop("events", None)
        announce(
            "run",
            run=self.number,
            state=RunState.RUNNING,
            step=reached.step,
            event_count=reached.events,
            **reached_now,
        )
        self._note_where_it_stands()
        self._goes_on = self.attempt.goes_on()

    def _note_where_it_stands(self) -> None:
        """Keep from time to time what another worker needs to take the run up, should this one be lost."""
        run, began = self._computation, clock.monotonic()
        if began < self._next_note or not isinstance(run, SingleRun):
            return
        state = run.standing()
        if state is None:
            return  # asked soon again
        self.flush()
        interim = Interim(
            state, self.chunk_number, self.points, run.statistics.as_dict(), list(run.messages), kept_events(run.events)
        )  # fmt: skip
        self.attempt.note(interim)
        took = clock.monotonic() - began
        self._next_note = began + max(NOTE_PERIOD, took / NOTE_SHARE)

    def stopped(self) -> bool:
        return not self._goes_on


def kept_events(events: Sequence[Event]) -> list[dict[str, Any]]:
    """Events as they are kept with a run."""
    return [{"time": e.time, "cause": e.cause} for e in events[:MOST_EVENTS]]


def compute(
    number: int, job: int | None = None, leaving: Callable[[], bool] = lambda: False
) -> None:
    """Compute a run as ``job`` of the queue and record how it ended; never leaves it 'running'.

    Does nothing when the run was stopped before, or another attempt has it; is given back when the worker is ``leaving``.
    """
    attempt = Attempt(number, job, leaving)
    if attempt.begin():
        # What another attempt does is not this one's business.
        with suppress(Superseded):
            _carry_out(attempt, Run.get_by_id(number))


def _carry_out(attempt: Attempt, order: Run) -> None:
    computation: Computation | None = None
    recorder: _Recorder | None = None

    def finish(state: RunState, reason: str, place: str = "") -> None:
        _finish(attempt, order, state, reason, computation, recorder, place)

    try:
        texts = projects.snapshot(order.project_id, order.revisions)
        prepared = with_changes(texts, order.model, order.changes, {})
        interim = attempt.interim
        computation = _prepared(attempt, order, prepared)
        kept = {int(k): recipe for k, recipe in order.recipes.items()}
        recorder = _Recorder(attempt, computation, order.progress, interim, kept)
        computation.listener = Listener(
            recorder.progress, recorder.chunk, recorder.stopped, recorder.period, keep=False
        )
        announce(
            "run",
            run=order.id,
            project=order.project_id,
            model=order.model,
            state=RunState.RUNNING,
            progress=order.progress,
        )
        computation.go()
        finish(RunState.DONE, "")
    except RunCancelled as fault:
        if attempt.state() == RunState.RUNNING:
            attempt.hand_back()  # nobody stopped it: the worker leaves
        else:
            finish(RunState.STOPPED, fault.message)
    except MovrelError as fault:
        finish(RunState.FAILED, fault.sentence(), getattr(fault, "component", ""))
    except MemoryError:
        finish(RunState.FAILED, "the machine has not enough memory for this run.")
    except Superseded:
        raise
    except (InterfaceError, DatabaseError) as fault:
        if database.is_closed() or not _answers():
            raise  # it is gone: another worker takes the run up when it is back
        words = str(fault).splitlines()[0].rstrip(".")
        finish(
            RunState.FAILED,
            f"the database refused the results of this run: {words}. What was stored before is kept.",
        )
    except Exception as fault:  # the last line of defence: the run must not stay 'running'
        finish(
            RunState.FAILED,
            f"an internal fault stopped the run ({type(fault).__name__}: {fault}).",
        )
        raise


def _prepared(attempt: Attempt, order: Run, prepared: ScenarioModel) -> Computation:
    """The computation of a run, of a rig by its master."""
    loaded = coupled(prepared.loaded)
    if not isinstance(loaded, RigModel):
        begin = _begin(order)
        if attempt.interim is None:
            return loaded.prepare(set=prepared.values, begin=begin, **order.options)
        options = order.options if begin is None else {"start": begin.time} | order.options
        run = loaded.prepare(set=prepared.values, resume=attempt.interim.state, **options)
        attempt.interim.hand_over(run)
        return run
    rig = loaded.prepare_rig(prepared.values, **order.options)
    rig.control = Control(RigControl(attempt, rig).poll)
    return rig


def _answers() -> bool:
    """Whether the database can still be asked."""
    try:
        database.execute_sql("SELECT 1")
    except (InterfaceError, DatabaseError):
        return False
    return True


def _begin(order: Run) -> FinalState | None:
    """Where the run begins that goes on from another one."""
    if order.goes_on is None:
        return None
    earlier = Run.get_or_none(Run.id == order.goes_on)
    if earlier is None or earlier.final is None:
        raise MovrelError("the run from which this one goes on is gone, or did not reach its end.")
    return FinalState(earlier.final["time"], earlier.final["values"], earlier.final["held"])


def _finish(
    attempt: Attempt,
    order: Run,
    state: RunState,
    reason: str,
    computation: Computation | None,
    recorder: _Recorder | None,
    place: str = "",
) -> None:
    changes: dict[str, Any] = {"state": state, "reason": reason, "place": place, "ended": now()}
    if computation is not None and recorder is not None:
        try:
            for time, table in computation.unsent():
                recorder.chunk(time, table)
            recorder.flush()
        except DatabaseError:
            if state is RunState.DONE:
                raise  # what was computed must not pass for whole
            # It refuses still; the pieces that it has are whole.
        partial = computation.summary()
        changes |= {
            "points": recorder.points,
            "progress": 1.0 if state is RunState.DONE else order.progress,
            "time_reached": partial.final_time if recorder.kept_all else recorder.last_time,
            "messages": [*order.messages, *partial.messages],
            "statistics": partial.statistics.as_dict(),
            "events": kept_events(partial.events),
        }
        if state is not RunState.DONE:
            del changes["progress"]
        changes["interim"] = None
        if state is RunState.DONE and (end := computation.ended_at()) is not None:
            changes["final"] = {"time": end.time, "values": end.values, "held": end.held}
    attempt.update(**changes)
    if changes.get("points"):
        judge_run(order.id)
    figures = {k: changes[k] for k in ("points", "time_reached") if k in changes}
    announce(
        "run", run=order.id, project=order.project_id, model=order.model, state=state, **figures
    )
    if order.repeats is not None and (first := Run.get_or_none(Run.id == order.repeats)):
        announce(
            "run", run=first.id, project=first.project_id, model=first.model, state=first.state
        )

"""One attempt at a run, by one job of the queue: what it writes counts only while no other job has the run."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from peewee import Expression

from movrel.jobs.interim import Interim
from movrel.views.run_data import RunState
from movrel.workspace import results
from movrel.workspace.tables import Run, database, now


class Superseded(Exception):
    """Another attempt has the run."""


class Attempt:
    """The run ``number`` as the job ``job`` has it; ``leaving`` says whether this worker is about to end."""

    def __init__(self, number: int, job: int | None, leaving: Callable[[], bool]) -> None:
        self.number, self.leaving = number, leaving
        self.job = Run.select(Run.job).where(Run.id == number).scalar() if job is None else job

        #: Where an earlier attempt stood, from where this one goes on.
        self.interim: Interim | None = None

    def _mine(self) -> Expression:
        own = Run.job.is_null() if self.job is None else Run.job == self.job
        return (Run.id == self.number) & own

    def begin(self) -> bool:
        """Take the run up where an earlier attempt stood, without what it left beyond; False when it was stopped or
        somebody else has it."""
        free = Run.job.is_null() if self.job is None else Run.job.is_null() | (Run.job <= self.job)
        with database.atomic():
            begun = (
                Run.update(
                    state=RunState.RUNNING, job=self.job, started=now(), reason="", points=0, time_reached=None
                )
                .where(
                    (Run.id == self.number)
                    & (free & (Run.state == RunState.QUEUED) | self._mine() & (Run.state == RunState.RUNNING))
                )
                .execute()
            )  # fmt: skip
            if not begun:
                return False
            self.interim = Interim.read(
                Run.select(Run.interim).where(Run.id == self.number).scalar()
            )
            if self.interim is not None:
                done = self.interim
                self.update(points=done.points, time_reached=done.state.time)
            results.forget(self.number, self.interim.chunks if self.interim else 0)
        return True

    def note(self, interim: Interim) -> None:
        """Keep where the run stands. Raises :class:`Superseded`."""
        self.update(interim=interim.as_json())

    def state(self) -> str:
        """The state of the run. Raises :class:`Superseded`."""
        state = Run.select(Run.state).where(self._mine()).scalar()
        if state is None:
            raise Superseded
        return str(state)

    def goes_on(self) -> bool:
        """Whether to compute on: nobody stopped the run, no other attempt has it, and the worker stays."""
        try:
            return self.state() == RunState.RUNNING and not self.leaving()
        except Superseded:
            return False

    def update(self, **changes: object) -> None:
        """Change the run. Raises :class:`Superseded`."""
        if not Run.update(**changes).where(self._mine()).execute():
            raise Superseded

    @contextmanager
    def writing(self) -> Iterator[None]:
        """Results that are written inside are kept together, if the run is still this attempt's.

        Raises :class:`Superseded`.
        """
        with database.atomic():
            if not Run.select(Run.id).where(self._mine()).for_update("FOR SHARE").exists():
                raise Superseded
            yield

    def hand_back(self) -> None:
        """Let another worker take the run up; that is nobody's fault."""
        self.update(state=RunState.QUEUED, job=None)

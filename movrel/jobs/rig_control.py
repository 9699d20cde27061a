"""A rig under way listens to who watches it: it pauses, takes single steps, and takes other values."""

from __future__ import annotations

import time as clock
from typing import Any

from movrel.couple.rig import RigRun
from movrel.errors import MovrelError, RunCancelled
from movrel.jobs.attempt import Attempt
from movrel.views.run_data import RunState
from movrel.workspace.announce import announce
from movrel.workspace.run_commands import commands_after

#: Seconds between two looks while it runs, and while it stands still.
RUNNING, STANDING = 0.1, 0.05


class RigControl:
    """Called between the steps of a run."""

    def __init__(self, attempt: Attempt, run: RigRun) -> None:
        self.attempt, self.number, self.run = attempt, attempt.number, run
        self.paused = False
        self._last = 0
        self._looked = 0.0
        self._steps = 0

    def poll(self, t: float) -> None:
        """Hear what somebody wants; stay here while the run is paused.

        Raises :class:`RunCancelled` when it was stopped meanwhile.
        """
        if self._steps > 0:
            self._steps -= 1
            if self._steps == 0:
                self._say_paused(True)
        elif not self.paused and clock.perf_counter() - self._looked < RUNNING:
            return
        self._hear()
        while self.paused and self._steps == 0:
            self.run.pass_on()
            if not self.attempt.goes_on():
                raise RunCancelled(f"Stopped at {t:g} s.")
            clock.sleep(STANDING)
            self._hear()

    def _hear(self) -> None:
        self._looked = clock.perf_counter()
        for identity, what in commands_after(self.number, self._last):
            self._last = identity
            self._obey(what)

    def _obey(self, what: dict[str, Any]) -> None:
        match what["do"]:
            case "pause":
                self._say_paused(True)
            case "go on":
                self._say_paused(False)
            case "one step":
                self.paused = True
                self._steps = 1
            case "turn":
                try:
                    self.run.turn(what["name"], what["value"])
                except MovrelError as fault:
                    self.run.messages.append(fault.sentence())

    def _say_paused(self, paused: bool) -> None:
        self.paused = paused
        self.run.pass_on()
        self.run.tell()
        announce("run", run=self.number, state=RunState.RUNNING, paused=paused)

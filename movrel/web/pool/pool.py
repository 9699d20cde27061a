"""The children of the gateway: which one answers a request, how many there are, and when one is ended."""

from __future__ import annotations

import contextlib
import os
import signal
import threading
import time as clock
from dataclasses import dataclass, field
from multiprocessing.connection import Connection

from movrel.errors import MovrelError
from movrel.web.pool.limits import Limits, own_memory, processor_seconds
from movrel.web.pool.template import Template

#: Children that are kept, and most at once.
KEPT, MOST = 3, 16
#: Seconds that a request waits for the child that knows its model, counted from when that one began its present work.
PATIENCE = 2.0
#: Seconds after which a child that is not needed ends, and of processor time after which one that works makes room for
#: the others.
IDLE, LONG = 300.0, 4.0
#: Models that a child is thought to know, and bytes of memory from which on it is ended after its work.
KNOWN, LARGE = 64, 900_000_000
#: How nice to the others a child is that works for long.
NICE = 10
#: Seconds that a request waits for a child at most.
QUEUE = 60.0


@dataclass(slots=True, eq=False)
class Child:
    """A process that answers one request after the other."""

    pid: int
    connection: Connection
    #: What it has answered about, the last one last.
    keys: dict[str, None] = field(default_factory=dict)
    #: When it began its present work; None while it has none.
    since: float | None = None
    used: float = 0.0
    #: Processor seconds and bytes that it had used when it began.
    before: float = 0.0
    held: int = 0
    nice: bool = False

    def kill(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)


class Pool:
    """Children on a database."""

    def __init__(self, url: str, limits: Limits) -> None:
        self.limits = limits
        self._template = Template(url, self.limits.memory)
        self._children: list[Child] = []
        self._making = 0
        self._changed = threading.Condition()
        self._template.start()

    def look_after(self, child: Child, gone: bool) -> str:
        """To be called now and then while a child works: the limit that it passed, in words, or that nobody waits."""
        assert child.since is not None
        wall = clock.monotonic() - child.since
        processor = processor_seconds(child.pid) - child.before
        if processor > LONG and not child.nice:
            child.nice = True
            with contextlib.suppress(OSError):
                os.setpriority(os.PRIO_PROCESS, child.pid, NICE)
        if gone and processor > LONG:
            return "longer than anybody waited for it"
        return self.limits.exceeded(wall, processor, own_memory(child.pid) - child.held)

    def working(self) -> list[int]:
        """The numbers of the processes that work on a request."""
        with self._changed:
            return [child.pid for child in self._children if child.since is not None]

    def template_process(self) -> int | None:
        """The number of the process that children are copied from."""
        return self._template.pid

    def end(self) -> None:
        """End all children."""
        self._template.end()

    def borrow(self, key: str) -> Child:
        """A child for one request about ``key``, the caller's alone until it is given back or dismissed.

        Raises :class:`MovrelError` when none becomes free.
        """
        child = self._free(key)
        child.before, child.held = processor_seconds(child.pid), own_memory(child.pid)
        return child

    def _free(self, key: str) -> Child:
        deadline = clock.monotonic() + QUEUE
        with self._changed:
            while True:
                now = clock.monotonic()
                chosen, wait = self._choice(key, now)
                if chosen is not None:
                    chosen.since = now
                    chosen.keys.pop(key, None)
                    chosen.keys[key] = None
                    while len(chosen.keys) > KNOWN:
                        del chosen.keys[next(iter(chosen.keys))]
                    return chosen
                if wait == 0.0:
                    self._making += 1
                    break
                if now > deadline:
                    raise MovrelError(
                        "the server is busy with other requests.", hint="Try again in a moment."
                    )
                self._changed.wait(wait)
        return self._make(key)

    def _choice(self, key: str, now: float) -> tuple[Child | None, float]:
        """A child that may take a request about ``key``; or None and the seconds to wait, 0 for a new child."""
        homes = [c for c in self._children if key in c.keys]
        for home in homes:
            if home.since is None:
                return home, 0.0
        if homes:
            left = min(c.since + PATIENCE - now for c in homes if c.since is not None)
            if left > 0:
                return None, left
        idle = [c for c in self._children if c.since is None and not c.nice]
        if idle:
            return min(idle, key=lambda c: (len(c.keys), c.used)), 0.0
        if len(self._children) + self._making < MOST:
            return None, 0.0
        # One that was long at work is better than none.
        spare = next((c for c in self._children if c.since is None), None)
        return spare, 1.0

    def _make(self, key: str) -> Child:
        try:
            child = Child(*self._template.make())
        except BaseException:
            with self._changed:
                self._making -= 1
            raise
        with self._changed:
            self._making -= 1
            child.since = clock.monotonic()
            child.keys[key] = None
            self._children.append(child)
        return child

    def give_back(self, child: Child) -> None:
        """The child has answered."""
        large = own_memory(child.pid) > LARGE
        with self._changed:
            child.since, child.used = None, clock.monotonic()
            idle = [c for c in self._children if c.since is None and c.used < child.used - IDLE]
            spare = max(0, len(self._children) - KEPT)
            for leaving in [child] if large else idle[:spare]:
                self._children.remove(leaving)
                leaving.connection.close()  # it reads that there is no more work
            self._changed.notify_all()

    def dismiss(self, child: Child) -> None:
        """End a child in the middle of its work."""
        child.kill()
        child.connection.close()
        with self._changed:
            self._children.remove(child)
            self._changed.notify_all()

"""The process in which a unit's binary runs: it obeys commands from a pipe and shares its numbers by memory.

Commands are one byte, or ``J`` with a length and a JSON text for what happens seldom. Answers are ``k`` (done),
or ``j`` and ``e`` (refused) with a length and a JSON text. The unit's own output goes nowhere.
"""

from __future__ import annotations

import ctypes as ct
import json
import mmap
import os
import resource
import struct
import sys
from typing import Any

from movrel.fmi.binding import BINDINGS, Binding, CallFault, Group

#: Messages that are kept, and characters of one.
MESSAGES, LENGTH = 200, 2000
#: Rounds of an event iteration after which the unit is said not to settle.
ROUNDS = 1000


class Child:
    """The unit with its groups of variables; ``numbers`` is the shared memory as doubles."""

    def __init__(self, given: dict[str, Any], numbers: Any) -> None:
        self.numbers = numbers
        self.messages: list[tuple[int, str, str]] = []
        self.dropped = 0
        self.binding: Binding = BINDINGS[given["version"]](given["library"], self._log)
        self.kind: str = given["kind"]
        self.groups: dict[str, list[Group]] = {
            name: [self._group(*row) for row in rows] for name, rows in given["groups"].items()
        }
        self.n, self.indicators = given["states"], given["indicators"]
        self.kept: dict[int, Any] = {}
        self.at: dict[str, int] = given["at"]

    def _log(self, status: int, category: str, text: str) -> None:
        if len(self.messages) < MESSAGES:
            self.messages.append((status, category[:100], text[:LENGTH]))
        else:
            self.dropped += 1

    def _group(self, kind: str, references: list[int], count: int, at: int) -> Group:
        return Group(kind, self.binding.types[kind], references, count, self._view(at, count))

    def _view(self, at: int, count: int) -> Any:
        return (ct.c_double * max(count, 1)).from_buffer(self.numbers, 8 * at)

    # --- what happens seldom ---

    def obey(self, command: dict[str, Any]) -> dict[str, Any]:
        """Carry out a command by its name."""
        return getattr(self, f"do_{command.pop('do')}")(**command) or {}

    def do_instantiate(
        self, name: str, token: str, resources: str, logging: bool, events: bool = False
    ) -> None:
        self.binding.event_mode = events
        self.binding.instantiate(self.kind, name, token, resources, logging)
        self.x = self._view(self.at["x"], self.n)
        self.dx = self._view(self.at["dx"], self.n)
        self.z = self._view(self.at["z"], self.indicators)
        self.clock = self._view(self.at["clock"], 4)

    def do_start(self, start: float, stop: float | None, tolerance: float | None) -> None:
        self.do_enter(start, stop, tolerance)
        for group in self.groups["inputs"]:
            self.binding.set(group)
        self.do_leave()

    def do_enter(self, start: float, stop: float | None, tolerance: float | None) -> None:
        """Begin the initialization."""
        self.binding.setup(start, stop, tolerance)
        for group in self.groups["parameters"]:
            self.binding.set(group)
        self.binding.enter_initialization(start, stop, tolerance)

    def do_exchange(self) -> None:
        """Inputs in, outputs out, during initialization."""
        for group in self.groups["inputs"]:
            self.binding.set(group)
        self._outputs()

    def do_leave(self) -> None:
        """End the initialization."""
        self.binding.exit_initialization()
        if self.kind == "cs" and self.binding.event_mode:
            self.binding.step_mode(ROUNDS)

    def do_event(self) -> dict[str, Any]:
        """The event iteration of model exchange, and back to continuous time."""
        states_changed, following, terminate = False, None, False
        for _ in range(ROUNDS):
            outcome = self.binding.new_discrete_states()
            states_changed |= outcome.states_changed
            terminate |= outcome.terminate
            following = outcome.next_time
            if not outcome.again or terminate:
                break
        else:
            raise CallFault(f"the unit asks for more than {ROUNDS} rounds of event iteration")
        self.binding.call("EnterContinuousTimeMode")
        self.binding.get_states(self.x, self.n)
        self._outputs()
        return {"states_changed": states_changed, "terminate": terminate, "next_time": following}

    def do_nominals(self) -> dict[str, Any]:
        nominals = (ct.c_double * max(self.n, 1))()
        self.binding.get_nominals(nominals, self.n)
        return {"nominals": list(nominals)[: self.n]}

    def do_outputs(self) -> None:
        self._outputs()

    def do_write_texts(self, references: list[int], texts: list[str]) -> None:
        self.binding.set_texts(references, texts)

    def do_texts(self, references: list[int], count: int) -> dict[str, Any]:
        return {"texts": [t[:LENGTH] for t in self.binding.get_texts(references, count)]}

    def do_tune(self) -> None:
        """Set the parameters again while it runs: those that are tunable."""
        for group in self.groups["parameters"]:
            self.binding.set(group)

    def do_slopes(self, references: list[int], slopes: list[float]) -> None:
        """The time derivatives of some inputs for the coming step (FMI 2.0.4, 4.2.1)."""
        self.binding.set_input_slopes(references, slopes)

    def do_save(self, slot: int) -> None:
        """Keep the state of the unit under a number."""
        self.kept[slot] = self.binding.save_state(self.kept.get(slot))

    def do_restore(self, slot: int) -> None:
        """Bring a kept state back; outputs are as they were then."""
        self.binding.restore_state(self.kept[slot])
        self._outputs()

    def do_enter_event(self) -> None:
        self.binding.call("EnterEventMode")
        for group in self.groups["inputs"]:
            self.binding.set(group)

    def do_terminate(self) -> None:
        self.binding.terminate()

    def do_free(self) -> None:
        self.binding.free()

    def do_messages(self) -> dict[str, Any]:
        said, self.messages = self.messages, []
        dropped, self.dropped = self.dropped, 0
        return {"messages": said, "dropped": dropped}

    # --- what happens in every step: time and width stand in 'clock' ---

    def step(self) -> None:
        for group in self.groups["inputs"]:
            self.binding.set(group)
        reached, ended = self.binding.step(self.clock[0], self.clock[1])
        if self.binding.event_pending and not ended:
            ended = self.binding.step_mode(ROUNDS, enter=True)
        self.clock[2], self.clock[3] = reached, float(ended)
        self._outputs()

    def _outputs(self) -> None:
        for group in self.groups["outputs"]:
            self.binding.get(group)

    def _at_point(self) -> None:
        self.binding.set_time(self.clock[0])
        self.binding.set_states(self.x, self.n)
        for group in self.groups["continuous"]:
            self.binding.set(group)

    def rates(self) -> None:
        self._at_point()
        self.binding.get_derivatives(self.dx, self.n)

    def look(self) -> None:
        self._at_point()
        self.binding.get_indicators(self.z, self.indicators)

    def outputs_here(self) -> None:
        self._at_point()
        self._outputs()

    def everything(self) -> None:
        self._at_point()
        self.binding.get_derivatives(self.dx, self.n)
        self._outputs()
        self.binding.get_indicators(self.z, self.indicators)

    def completed(self) -> None:
        self._at_point()
        event, end = self.binding.completed_step()
        self.clock[2], self.clock[3] = float(event), float(end)


def main() -> None:
    """Serve one unit until the pipe is closed."""
    shared, limit = sys.argv[1], int(sys.argv[2])
    resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (100_000_000, 100_000_000))
    commands, answers = os.dup(0), os.dup(1)
    nowhere = os.open(os.devnull, os.O_RDWR)
    for stream in (0, 1, 2):
        os.dup2(nowhere, stream)
    with open(shared, "r+b") as file:
        numbers = mmap.mmap(file.fileno(), 0)
    child: Child | None = None

    def answer(mark: bytes, content: dict[str, Any]) -> None:
        text = json.dumps(content).encode()
        os.write(answers, mark + struct.pack("<I", len(text)) + text)

    def whole(count: int) -> bytes:
        parts = b""
        while len(parts) < count:
            part = os.read(commands, count - len(parts))
            if not part:
                os._exit(0)
            parts += part
        return parts

    while True:
        code = os.read(commands, 1)
        if not code:
            os._exit(0)
        try:
            if code == b"J":
                command = json.loads(whole(struct.unpack("<I", whole(4))[0]))
                if command["do"] == "load":
                    child = Child(command["unit"], numbers)
                    answer(b"j", {})
                else:
                    assert child is not None
                    answer(b"j", child.obey(command))
                continue
            assert child is not None
            {
                b"s": child.step,
                b"x": child.do_exchange,
                b"r": child.rates,
                b"z": child.look,
                b"o": child.outputs_here,
                b"a": child.everything,
                b"c": child.completed,
            }[code]()
            os.write(answers, b"k")
        except CallFault as fault:
            said = child.do_messages() if child is not None else {}
            answer(b"e", {"fault": str(fault), **said})
        except OSError as fault:  # the library cannot be loaded
            answer(b"e", {"fault": f"its binary cannot be loaded: {fault}"})
        except MemoryError:
            answer(b"e", {"fault": f"it wants more than {limit // 1_000_000} MB of memory"})


if __name__ == "__main__":
    main()

"""A unit in a process of its own, as whoever uses it sees it: numbers in shared memory, commands by a pipe."""

from __future__ import annotations

import contextlib
import mmap
import os
import platform
import select
import shutil
import signal
import struct
import subprocess
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError, RunFault
from movrel.fmi.archive import OpenUnit, unpack
from movrel.fmi.commands import command, load_command, read_answer
from movrel.fmi.description import Interface, UnitVariable
from movrel.fmi.host_program import host_program, runs_32_bits
from movrel.fmi.places import places_of

Array = npt.NDArray[np.float64]

#: Seconds that a unit may take for one call, and bytes of memory that it may have.
PATIENCE, MEMORY = 60.0, 4_000_000_000
#: What binaries of other platforms are called, by their folder in the archive.
_NAMES = {
    "win32": "32-bit Windows", "win64": "64-bit Windows", "linux32": "32-bit Linux", "linux64": "64-bit Linux",
    "darwin64": "64-bit macOS", "x86-windows": "32-bit Windows", "x86_64-windows": "64-bit Windows",
    "x86-linux": "32-bit Linux", "x86_64-linux": "64-bit Linux", "x86_64-darwin": "64-bit macOS",
    "aarch64-darwin": "ARM macOS", "aarch64-linux": "ARM Linux", "c-code": "C source",
}  # fmt: skip


#: What the signal means with which a process ended.
_SIGNALS = {
    signal.SIGSEGV: "an invalid address", signal.SIGBUS: "an invalid address", signal.SIGABRT: "it gave up (abort)",
    signal.SIGFPE: "an invalid operation on numbers", signal.SIGILL: "an instruction that this machine lacks",
    signal.SIGKILL: "it was ended, for instance for lack of memory", signal.SIGXFSZ: "it wrote too large a file",
}  # fmt: skip
#: Calls by their codes.
_CALLS = {
    b"r": "getDerivatives",
    b"z": "getEventIndicators",
    b"o": "get",
    b"a": "getDerivatives, get or getEventIndicators",
    b"c": "completedIntegratorStep",
}


class UnitFault(RunFault):
    """A unit that crashed, hung or refused; the sentence says which call it was."""


@dataclass(slots=True)
class Message:
    """What a unit said by its logger."""

    status: int
    category: str
    text: str


@dataclass(frozen=True, slots=True)
class Binary:
    """The binary of a unit for this machine: its path within the archive, and its bits."""

    path: str
    bits: int


#: The folders of binaries that run here, by version and machine.
_FOLDERS = {
    (2, "x86_64"): (("linux64", 64), ("linux32", 32)),
    (3, "x86_64"): (("x86_64-linux", 64), ("x86-linux", 32)),
    (3, "aarch64"): (("aarch64-linux", 64),),
}


def binary_of(unit: OpenUnit, interface: Interface) -> Binary:
    """The binary for this machine, one of 32 bits where there is no other and the machine can run it.

    Raises :class:`MovrelError` saying what the unit contains instead.
    """
    machine = platform.machine().lower()
    own = _FOLDERS.get((unit.description.version, machine), ())
    binaries = unit.binaries()
    wanted = f"{unit.description.identifiers[interface]}.so"
    for folder, bits in own:
        if wanted in binaries.get(folder, []) and (bits == 64 or runs_32_bits()):
            return Binary(f"binaries/{folder}/{wanted}", bits)
    folder = own[0][0] if own else ""
    here = f"this is {_NAMES.get(folder, f'{machine} {platform.system()}')}"
    present = [_NAMES.get(name, f"'{name}'") for name in sorted(binaries)]
    if folder in binaries:
        raise MovrelError(
            f"the unit lacks the file 'binaries/{folder}/{wanted}' that its description names."
        )
    if not present:
        hint = "Ask for a unit with a binary." if not any(n.startswith("sources/") for n in unit.files) else (
            "It has sources: ask for a unit with a binary, or have them compiled."
        )  # fmt: skip
        raise MovrelError(f"the unit contains no binary; {here}.", hint=hint)
    listed = " and ".join([", ".join(present[:-1]), present[-1]] if len(present) > 1 else present)
    what = f"only a {listed} binary" if len(present) == 1 else f"only binaries for {listed}"
    hint = "Ask for a unit for this platform."
    if any(name in binaries for name, _ in own[1:]):
        hint += " Or install what runs 32-bit programs (packages libc6-i386 and gcc-multilib)."
    raise MovrelError(f"the unit contains {what}; {here}.", hint=hint)


@cache
def sandbox() -> tuple[str, ...]:
    """The beginning of a command that shuts a process off from network, other processes and files, empty where that is not
    offered."""
    tool = shutil.which("bwrap")
    if tool is None:
        return ()
    command: tuple[str, ...] = (tool, "--die-with-parent", "--cap-drop", "ALL")
    command += ("--unshare-net", "--unshare-ipc", "--unshare-uts", "--unshare-pid")
    command += ("--proc", "/proc", "--dev", "/dev")
    libraries = os.environ.get("LD_LIBRARY_PATH", "").split(":")
    for folder in (
        "/usr",
        "/lib",
        "/lib32",
        "/lib64",
        "/etc/ld.so.cache",
        *filter(None, libraries),
    ):
        if Path(folder).exists():
            command += ("--ro-bind", folder, folder)
    trial = subprocess.run([*command, "/usr/bin/true"], capture_output=True, check=False)
    return command if trial.returncode == 0 else ()


class UnitProcess:
    """A unit that is loaded in a child process; use it in a ``with`` statement.

    ``inputs`` and ``outputs`` are written and read as arrays of numbers, one after the other as the variables
    come by type (see ``input_places``). ``events`` has a unit of FMI 3 settle its events between steps.
    Raises :class:`UnitFault` for whatever the unit does wrong.
    """

    def __init__(
        self, unit: OpenUnit, interface: Interface, parameters: list[UnitVariable], inputs: list[UnitVariable],
        outputs: list[UnitVariable], patience: float = PATIENCE, memory: int = MEMORY, events: bool = False,
    ) -> None:  # fmt: skip
        d = unit.description
        self.unit = unit
        self.interface = interface
        self.patience = patience
        binary = binary_of(unit, interface)
        places = self.places = places_of(d, interface, parameters, inputs, outputs)
        self.states, self.indicators = places.states, places.indicators
        self.parameter_places, self.input_places = places.parameters, places.inputs
        self.output_places = places.outputs
        at = places.begins()
        self._folder = tempfile.TemporaryDirectory(prefix="unit-")
        root = Path(self._folder.name)
        try:
            unpack(unit, root / "unit")
            shared = root / "numbers"
            shared.write_bytes(bytes(8 * max(places.size, 1)))
            with shared.open("r+b") as file:
                self._memory = mmap.mmap(file.fileno(), 0)
            self._numbers: Array = np.frombuffer(self._memory, dtype=np.float64)
            self._clock = memoryview(self._memory).cast("d")[at["clock"] : at["clock"] + 4]
            host = str(host_program(binary.bits))
            words = [host, str(shared), str(memory)]
            if sandbox():
                own = (
                    "--ro-bind",
                    host,
                    host,
                    "--bind",
                    str(root),
                    str(root),
                    "--chdir",
                    str(root),
                )
                words = [*sandbox(), *own, *words]
            self._process = subprocess.Popen(
                words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, bufsize=0,
                cwd=root, env=self._environment(), start_new_session=True,
            )  # fmt: skip
        except BaseException:
            self._folder.cleanup()
            raise
        assert self._process.stdin is not None and self._process.stdout is not None
        self._to, self._from = self._process.stdin.fileno(), self._process.stdout.fileno()
        self._poll = select.poll()
        self._poll.register(self._from, select.POLLIN)
        self.time = float("nan")
        resources = root / "unit" / "resources"
        try:
            library = str(root / "unit" / binary.path)
            self._send(
                load_command(
                    library, d.version, interface, at, self.states, self.indicators, places.groups
                ),
                "load",
            )
            self.ask(
                "instantiate",
                name=d.name or "unit",
                token=d.token,
                resources=str(resources),
                logging=True,
                events=events,
            )
            if grave := d.grave_categories():
                self.ask("categories", names=grave)
        except BaseException:
            self.close()
            raise

    @staticmethod
    def _environment() -> dict[str, str]:
        passed = ("PATH", "LANG", "LC_ALL", "LD_LIBRARY_PATH")
        return {k: v for k, v in os.environ.items() if k in passed}

    # --- numbers in the shared memory ---

    def view(self, name: str) -> Array:
        """The numbers of ``x``, ``dx``, ``z`` or ``clock``."""
        at, count = self.places.at[name]
        return self._numbers[at : at + count]

    @property
    def numbers(self) -> Array:
        """The shared memory: everything that stands at the places of variables."""
        return self._numbers

    def read(self, place: tuple[int, int]) -> Array:
        """The values of a variable, shape ``(count,)``."""
        return self._numbers[place[0] : place[0] + place[1]]

    # --- commands ---

    def ask(self, name: str, /, **arguments: Any) -> dict[str, Any]:
        """A command that happens seldom, with its answer."""
        return self._send(command(name, **arguments), name)

    def _send(self, content: bytes, name: str) -> dict[str, Any]:
        return self._exchange(b"J" + struct.pack("<I", len(content)) + content, name)

    def step(self, t: float, width: float) -> tuple[float, bool]:
        """A communication step; the time reached, and whether the unit ended the run."""
        clock = self._clock
        clock[0], clock[1] = t, width
        self.time = t
        self._exchange(b"s", "doStep")
        return clock[2], clock[3] != 0.0

    def exchange(self) -> None:
        """Inputs in, outputs out, without a step."""
        self._exchange(b"x", "set, then get")

    def at(self, code: bytes, t: float) -> bool:
        """Rates (``r``), indicators (``z``), outputs (``o``), all of these (``a``) or the end of a step (``c``)
        at the states in ``x``; false where the unit has no values there, and wants a shorter step."""
        self._clock[0] = t
        self.time = t
        self._exchange(code, _CALLS[code])
        return code == b"c" or self._clock[2] == 0.0

    def write_texts(self, texts: Mapping[str, Sequence[str]]) -> None:
        """Set text variables by name, before the start."""
        if texts:
            by_name = self.unit.description.by_name()
            references = [by_name[name].reference for name in texts]
            values = [text for values in texts.values() for text in values]
            self.ask("write_texts", references=references, texts=values)

    def texts(self, variables: Sequence[UnitVariable]) -> list[str]:
        """The values of text variables, arrays one after the other."""
        count = sum(v.count for v in variables)
        references = [v.reference for v in variables]
        return list(self.ask("texts", references=references, count=count)["texts"])

    def messages(self) -> tuple[list[Message], int]:
        """What the unit said since it was last asked, and how many messages more it sent than are kept."""
        answer = self.ask("messages")
        return [Message(*m) for m in answer["messages"]], answer["dropped"]

    def _exchange(self, request: bytes, call: str) -> dict[str, Any]:
        try:
            self._write(request)
            if not self._poll.poll(1000 * self.patience):
                self._kill()
                raise UnitFault(
                    f"the unit did not answer within {self.patience:g} s ({call}{self._when()})."
                )
            mark = os.read(self._from, 1)
            if mark == b"k":
                return {}
            if not mark:
                raise BrokenPipeError
            answer = read_answer(self._whole(struct.unpack("<I", self._whole(4))[0]))
        except (BrokenPipeError, ConnectionResetError):
            raise self._crash(call) from None
        if mark == b"e":
            raise UnitFault(self._refusal(answer))
        return answer

    def _write(self, request: bytes) -> None:
        while request:
            request = request[os.write(self._to, request) :]

    def _whole(self, count: int) -> bytes:
        parts = b""
        while len(parts) < count:
            part = os.read(self._from, count - len(parts))
            if not part:
                raise BrokenPipeError
            parts += part
        return parts

    def _when(self) -> str:
        return f" at {self.time:g} s" if self.time == self.time else ""

    def _refusal(self, answer: dict[str, Any]) -> str:
        said = [text for status, _, text in answer.get("messages", []) if status >= 3] or [
            text for _, _, text in answer.get("messages", [])
        ]
        reason = f": it says '{said[-1].strip()}'" if said else ""
        more = f" (and {answer['dropped']} messages more)" if answer.get("dropped") else ""
        return f"the unit refused{self._when()}: {answer['fault']}{reason}{more}."

    def _crash(self, call: str) -> UnitFault:
        try:
            code = self._process.wait(5)
        except subprocess.TimeoutExpired:
            self._kill()
            code = self._process.wait()
        if code > 128 and sandbox():
            code = 128 - code  # what stands before the program passes a signal on so
        if code < 0:
            number = signal.Signals(-code)
            return UnitFault(
                f"the unit crashed{self._when()} ({call}): {_SIGNALS.get(number, number.name)}."
            )
        return UnitFault(f"the unit ended its process{self._when()} ({call}), with status {code}.")

    def _kill(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self._process.pid, signal.SIGKILL)

    def close(self) -> None:
        """End the process and remove its folder."""
        self._kill()
        self._process.wait()
        for stream in (self._process.stdin, self._process.stdout):
            if stream is not None:
                stream.close()
        self._folder.cleanup()

    def __enter__(self) -> UnitProcess:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        fault: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

"""A unit of our own making, loaded into this very process: no other code than what was compiled from a model here."""

from __future__ import annotations

import ctypes as ct
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.fmi.commands import command, load_command, read_answer
from movrel.fmi.description import UnitDescription, UnitVariable
from movrel.fmi.host_program import host_library
from movrel.fmi.places import places_of
from movrel.fmi.unit_process import Message, UnitFault

Array = npt.NDArray[np.float64]


@cache
def _host() -> ct.CDLL:
    library = ct.CDLL(str(host_library()))
    library.host_new.restype, library.host_new.argtypes = ct.c_void_p, (ct.c_void_p,)
    library.host_do.argtypes = (ct.c_void_p, ct.c_int)
    library.host_obey.argtypes = (ct.c_void_p, ct.c_char_p, ct.c_size_t)
    library.host_answer.restype = ct.c_void_p
    library.host_answer.argtypes = (ct.c_void_p, ct.POINTER(ct.c_size_t))
    library.host_free.restype, library.host_free.argtypes = None, (ct.c_void_p,)
    return library


class UnitHere:
    """A unit for co-simulation with the same commands as a :class:`movrel.fmi.unit_process.UnitProcess`."""

    def __init__(
        self,
        description: UnitDescription,
        library: Path,
        parameters: list[UnitVariable],
        inputs: list[UnitVariable],
        outputs: list[UnitVariable],
    ) -> None:
        places = self.places = places_of(description, "cs", parameters, inputs, outputs)
        self.parameter_places, self.input_places = places.parameters, places.inputs
        self.output_places = places.outputs
        memory = bytearray(8 * max(places.size, 1))
        self.numbers: Array = np.frombuffer(memory, dtype=np.float64)
        self.time = float("nan")
        self._said: list[Message] = []
        self._library = _host()
        self._host = ct.c_void_p(self._library.host_new(self.numbers.ctypes.data))
        self._do = self._library.host_do
        self._clock = memoryview(memory).cast("d")[places.at["clock"][0] :][:4]
        self._obey(
            load_command(
                str(library), description.version, "cs", places.begins(), 0, 0, places.groups
            )
        )
        self.ask(
            "instantiate", name=description.name, token=description.token, resources="", logging=True, events=False,
        )  # fmt: skip

    def read(self, place: tuple[int, int]) -> Array:
        """The values of a variable, shape ``(count,)``."""
        return self.numbers[place[0] : place[0] + place[1]]

    def ask(self, name: str, /, **arguments: Any) -> dict[str, Any]:
        """A command that happens seldom, with its answer. Raises :class:`UnitFault`."""
        return self._obey(command(name, **arguments))

    def step(self, t: float, width: float) -> tuple[float, bool]:
        """A communication step; the time reached, and whether the unit ended the run."""
        clock = self._clock
        clock[0], clock[1] = t, width
        self.time = t
        if self._do(self._host, _STEP):
            raise self._fault()
        return clock[2], clock[3] != 0.0

    def exchange(self) -> None:
        """Inputs in, outputs out, without a step."""
        if self._do(self._host, _EXCHANGE):
            raise self._fault()

    def _obey(self, content: bytes) -> dict[str, Any]:
        if self._library.host_obey(self._host, content, len(content)):
            raise self._fault()
        return self._answer()

    def _answer(self) -> dict[str, Any]:
        length = ct.c_size_t()
        at = self._library.host_answer(self._host, ct.byref(length))
        return read_answer(ct.string_at(at, length.value))

    def _fault(self) -> UnitFault:
        answer = self._answer()
        said = [Message(*m) for m in answer["messages"]]
        self._said += said
        when = f" at {self.time:g} s" if self.time == self.time else ""
        errors = [m.text for m in said if m.status >= 3]
        reason = errors[-1].strip().rstrip(".") if errors else str(answer["fault"])
        return UnitFault(f"the unit cannot go on{when}: {reason}.")

    def messages(self) -> tuple[list[Message], int]:
        """What the unit said since it was last asked, and how many messages more it sent than are kept."""
        answer = self.ask("messages")
        said, self._said = [*self._said, *(Message(*m) for m in answer["messages"])], []
        return said, answer["dropped"]

    def close(self) -> None:
        """Give its memory back."""
        if self._host:
            self._library.host_free(self._host)
            self._host = ct.c_void_p()


_STEP, _EXCHANGE = ord("s"), ord("x")

"""A unit of our own making, loaded into this very process: no other code than what was compiled from a model here."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.fmi.binding import CallFault
from movrel.fmi.child import Child
from movrel.fmi.description import UnitDescription, UnitVariable
from movrel.fmi.places import places_of
from movrel.fmi.unit_process import Message, UnitFault

Array = npt.NDArray[np.float64]


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
        self._child = Child(
            {
                "library": str(library), "version": description.version, "kind": "cs", "groups": places.groups,
                "states": 0, "indicators": 0, "at": places.begins(),
            }, memory,
        )  # fmt: skip
        self._clock = memoryview(memory).cast("d")[places.at["clock"][0] :][:4]
        self.ask(
            "instantiate", name=description.name, token=description.token, resources="", logging=True
        )  # fmt: skip

    def read(self, place: tuple[int, int]) -> Array:
        """The values of a variable, shape ``(count,)``."""
        return self.numbers[place[0] : place[0] + place[1]]

    def ask(self, command: str, **arguments: Any) -> dict[str, Any]:
        """A command that happens seldom, with its answer. Raises :class:`UnitFault`."""
        try:
            return self._child.obey({"do": command, **arguments})
        except CallFault as fault:
            raise self._fault(fault) from None

    def step(self, t: float, width: float) -> tuple[float, bool]:
        """A communication step; the time reached, and whether the unit ended the run."""
        clock = self._clock
        clock[0], clock[1] = t, width
        self.time = t
        try:
            self._child.step()
        except CallFault as fault:
            raise self._fault(fault) from None
        return clock[2], clock[3] != 0.0

    def exchange(self) -> None:
        """Inputs in, outputs out, without a step."""
        try:
            self._child.do_exchange()
        except CallFault as fault:
            raise self._fault(fault) from None

    def _fault(self, fault: CallFault) -> UnitFault:
        said = [text for status, _, text in self._child.messages if status >= 3]
        when = f" at {self.time:g} s" if self.time == self.time else ""
        reason = said[-1].strip().rstrip(".") if said else str(fault)
        return UnitFault(f"the unit cannot go on{when}: {reason}.")

    def messages(self) -> tuple[list[Message], int]:
        """What the unit said since it was last asked, and how many messages more it sent than are kept."""
        answer = self._child.do_messages()
        return [Message(*m) for m in answer["messages"]], answer["dropped"]

    def close(self) -> None:
        """Give its memory back."""
        self._child.do_free()

"""The functions of a unit's library, called through ctypes; this runs in the child process alone."""

from __future__ import annotations

import ctypes as ct
import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

OK, WARNING, DISCARD, ERROR, FATAL = range(5)
#: How the standard names what a function returned.
STATUS = ("OK", "Warning", "Discard", "Error", "Fatal", "Pending")

#: C types of values by what a variable's type is called in the functions' names.
TYPES_2: dict[str, Any] = {"Real": ct.c_double, "Integer": ct.c_int, "Boolean": ct.c_int}
TYPES_3: dict[str, Any] = {
    "Float64": ct.c_double, "Float32": ct.c_float, "Int8": ct.c_int8, "UInt8": ct.c_uint8, "Int16": ct.c_int16,
    "UInt16": ct.c_uint16, "Int32": ct.c_int32, "UInt32": ct.c_uint32, "Int64": ct.c_int64, "UInt64": ct.c_uint64,
    "Boolean": ct.c_bool,
}  # fmt: skip


class CallFault(Exception):
    """A function of the unit that is missing, or that returned something bad."""


@dataclass(slots=True)
class EventOutcome:
    """What an event of a unit for model exchange brought."""

    again: bool
    terminate: bool
    states_changed: bool
    next_time: float | None


class Group:
    """Values of variables of one type, read or written together; ``numbers`` are their doubles in shared memory."""

    def __init__(
        self, kind: str, c_type: Any, references: list[int], count: int, numbers: Any
    ) -> None:
        self.kind = kind
        self.references = (ct.c_uint32 * max(len(references), 1))(*references)
        self.length = len(references)
        self.count = count
        self.numbers = numbers
        self.plain = c_type is ct.c_double
        self.values = numbers if self.plain else (c_type * max(count, 1))()

    def to_unit(self) -> None:
        """Round the doubles to values of the type."""
        if not self.plain:
            whole = self.kind not in ("Float32",)
            for i in range(self.count):
                number = self.numbers[i]
                self.values[i] = round(number) if whole else number

    def from_unit(self) -> None:
        if not self.plain:
            for i in range(self.count):
                self.numbers[i] = float(self.values[i])


class Binding(ABC):
    """A library of one version; every call raises :class:`CallFault` for a bad status.

    ``logger`` gets status, category and text of each message.
    """

    prefix: str
    types: dict[str, Any]

    def __init__(self, library: str, logger: Callable[[int, str, str], None]) -> None:
        self.library = ct.CDLL(library)
        self.logger = logger
        self.instance: Any = None
        self._functions: dict[str, Any] = {}
        self.discarded = False
        #: Whether events are settled between steps in a mode of their own (FMI 3), and whether one is due.
        self.event_mode = self.event_pending = False

    def function(self, name: str) -> Any:
        function = self._functions.get(name)
        if function is None:
            try:
                function = getattr(self.library, self.prefix + name)
            except AttributeError:
                raise CallFault(f"the unit lacks the function {self.prefix}{name}") from None
            self._functions[name] = function
        return function

    def call(self, name: str, *arguments: Any) -> int:
        """Call a function that gives a status. Raises :class:`CallFault` for Error and Fatal."""
        status = int(self.function(name)(self.instance, *arguments))
        if status not in (OK, WARNING, DISCARD):
            said = (
                STATUS[status]
                if 0 <= status < len(STATUS)
                else f"the number {status}, which is no status"
            )
            raise CallFault(f"{self.prefix}{name} returned {said}")
        return status

    def get(self, group: Group) -> None:
        if group.length:
            self.call(
                f"Get{group.kind}",
                group.references,
                ct.c_size_t(group.length),
                group.values,
                *self.size_of(group),
            )
            group.from_unit()

    def set(self, group: Group) -> None:
        if group.length:
            group.to_unit()
            self.call(
                f"Set{group.kind}",
                group.references,
                ct.c_size_t(group.length),
                group.values,
                *self.size_of(group),
            )

    def size_of(self, group: Group) -> tuple[Any, ...]:
        return ()

    #: Whether functions for values are told how many values there are, besides how many variables.
    counts_values = False

    def set_texts(self, references: list[int], texts: list[str]) -> None:
        """Values of text variables, arrays one after the other."""
        n, count = len(references), len(texts)
        values = (ct.c_char_p * count)(*[text.encode() for text in texts])
        self.call("SetString", (ct.c_uint32 * n)(*references), ct.c_size_t(n), values, *self._how_many(count))  # fmt: skip

    def get_texts(self, references: list[int], count: int) -> list[str]:
        """The ``count`` values of text variables; bytes that are no UTF-8 are replaced."""
        n, values = len(references), (ct.c_char_p * count)()
        self.call("GetString", (ct.c_uint32 * n)(*references), ct.c_size_t(n), values, *self._how_many(count))  # fmt: skip
        return [(text or b"").decode("utf-8", "replace") for text in values]

    def _how_many(self, count: int) -> tuple[Any, ...]:
        return (ct.c_size_t(count),) if self.counts_values else ()

    @abstractmethod
    def instantiate(
        self, kind: str, name: str, token: str, resources: str, logging: bool
    ) -> None: ...

    @abstractmethod
    def setup(self, start: float, stop: float | None, tolerance: float | None) -> None: ...

    @abstractmethod
    def enter_initialization(
        self, start: float, stop: float | None, tolerance: float | None
    ) -> None: ...

    def exit_initialization(self) -> None:
        self.call("ExitInitializationMode")

    @abstractmethod
    def step(self, t: float, width: float) -> tuple[float, bool]:
        """One communication step; the time that was reached and whether the unit ended the run."""

    @abstractmethod
    def new_discrete_states(self) -> EventOutcome: ...

    @abstractmethod
    def completed_step(self) -> tuple[bool, bool]:
        """Whether an event is wanted, and whether the run is to end."""

    def set_time(self, t: float) -> None:
        self.call("SetTime", ct.c_double(t))

    def set_states(self, x: Any, n: int) -> None:
        if n:
            self.call("SetContinuousStates", x, ct.c_size_t(n))

    def get_states(self, x: Any, n: int) -> None:
        if n:
            self.call("GetContinuousStates", x, ct.c_size_t(n))

    def get_nominals(self, x: Any, n: int) -> None:
        if n:
            self.call("GetNominalsOfContinuousStates", x, ct.c_size_t(n))

    @abstractmethod
    def get_derivatives(self, dx: Any, n: int) -> None: ...

    def get_indicators(self, z: Any, n: int) -> None:
        if n:
            self.call("GetEventIndicators", z, ct.c_size_t(n))

    #: How a version names the functions for states of the whole unit.
    state_words: str

    def save_state(self, kept: Any | None = None) -> Any:
        """A copy of the unit's whole state; ``kept`` is an older copy whose room is used again."""
        place = kept if kept is not None else ct.c_void_p()
        self.call(f"Get{self.state_words}", ct.byref(place))
        return place

    def restore_state(self, kept: Any) -> None:
        self.call(f"Set{self.state_words}", kept)

    def set_input_slopes(self, references: list[int], slopes: list[float]) -> None:
        """Time derivatives of inputs for the coming step. Raises :class:`CallFault` where the version has none."""
        raise CallFault("this version of the standard has no derivatives of inputs")

    def step_mode(self, rounds: int, enter: bool = False) -> bool:
        """Settle the events of a unit for co-simulation and go back to stepping; whether it wants the run to end."""
        if enter:
            self.call("EnterEventMode")
        self.event_pending = ended = False
        for _ in range(rounds):
            outcome = self.new_discrete_states()
            ended |= outcome.terminate
            if not outcome.again or ended:
                break
        else:
            raise CallFault(f"the unit asks for more than {rounds} rounds of event iteration")
        self.call("EnterStepMode")
        return ended

    def terminate(self) -> None:
        self.call("Terminate")

    def free(self) -> None:
        if self.instance:
            function = self.function("FreeInstance")
            function.restype = None
            function(self.instance)
            self.instance = None


#: Values behind the message of a logger that are looked at: whole numbers and addresses, and real numbers. They come in
#: registers of their own kind (System V ABI of x86-64, AAPCS of ARM), as if the function had these parameters.
_WORDS, _REALS = 6, 8
_LOGGER_2 = ct.CFUNCTYPE(
    None,
    ct.c_void_p,
    ct.c_char_p,
    ct.c_int,
    ct.c_char_p,
    ct.c_char_p,
    *[ct.c_void_p] * _WORDS,
    *[ct.c_double] * _REALS,
)
_PLACEHOLDER = re.compile(
    r"%(?:(%)|([-+ #0]*\d*(?:\.\d+)?)(hh|h|ll|l|z|j|t|L)?([diouxXeEfFgGcsp]))"
)


def formatted(text: str, words: Sequence[int | None], reals: Sequence[float]) -> str:
    """A message in the manner of printf with its values put in; what there are no values for stays as it is."""
    whole, real = iter(words), iter(reals)

    def value(match: re.Match[str]) -> str:
        percent, flags, width, kind = match.groups()
        if percent:
            return "%"
        if kind in "eEfFgG":
            number = next(real, None)
            return match[0] if number is None else f"%{flags}{kind}" % number
        word = next(whole, -1)
        if word == -1:
            return match[0]
        if kind == "s":
            content = ct.c_char_p(word).value if word else b"(null)"
            return f"%{flags}s" % (content or b"").decode("utf-8", "replace")
        size = ct.c_int64 if width in ("l", "ll", "z", "j", "t") else ct.c_int
        number = size(word or 0).value
        return (
            chr(number & 0xFF)
            if kind == "c"
            else f"%{flags}{'x' if kind == 'p' else kind}" % number
        )

    return _PLACEHOLDER.sub(value, text)


_ALLOCATE_2 = ct.CFUNCTYPE(ct.c_void_p, ct.c_size_t, ct.c_size_t)
_FREE_2 = ct.CFUNCTYPE(None, ct.c_void_p)
_FINISHED_2 = ct.CFUNCTYPE(None, ct.c_void_p, ct.c_int)


class _Callbacks2(ct.Structure):
    _fields_ = (
        ("logger", ct.c_void_p), ("allocate", ct.c_void_p), ("free", ct.c_void_p), ("finished", ct.c_void_p),
        ("environment", ct.c_void_p),
    )  # fmt: skip


class _EventInfo2(ct.Structure):
    _fields_ = (
        ("again", ct.c_int), ("terminate", ct.c_int), ("nominals", ct.c_int), ("states", ct.c_int), ("defined", ct.c_int),
        ("next", ct.c_double),
    )  # fmt: skip


class Binding2(Binding):
    """FMI 2.0."""

    prefix, types, state_words = "fmi2", TYPES_2, "FMUstate"

    def instantiate(self, kind: str, name: str, token: str, resources: str, logging: bool) -> None:
        runtime = ct.CDLL(None)

        def log(
            _: Any, __: Any, status: int, category: bytes | None, text: bytes | None, *values: Any
        ) -> None:
            words = (text or b"").decode("utf-8", "replace")
            self.logger(
                status,
                (category or b"").decode("utf-8", "replace"),
                formatted(words, values[:_WORDS], values[_WORDS:]),
            )

        self._logger = _LOGGER_2(log)
        runtime.calloc.restype = ct.c_void_p
        self._callbacks = _Callbacks2(
            ct.cast(self._logger, ct.c_void_p), ct.cast(runtime.calloc, ct.c_void_p), ct.cast(runtime.free, ct.c_void_p),
            None, None,
        )  # fmt: skip
        create = self.function("Instantiate")
        create.restype = ct.c_void_p
        made = create(
            name.encode(), ct.c_int(0 if kind == "me" else 1), token.encode(), f"file://{resources}".encode(),
            ct.byref(self._callbacks), ct.c_int(0), ct.c_int(logging),
        )  # fmt: skip
        if not made:
            raise CallFault("fmi2Instantiate returned nothing")
        self.instance = ct.c_void_p(made)

    def set_input_slopes(self, references: list[int], slopes: list[float]) -> None:
        n = len(references)
        self.call(
            "SetRealInputDerivatives", (ct.c_uint32 * n)(*references), ct.c_size_t(n), (ct.c_int * n)(*[1] * n),
            (ct.c_double * n)(*slopes),
        )  # fmt: skip

    def setup(self, start: float, stop: float | None, tolerance: float | None) -> None:
        self.call(
            "SetupExperiment", ct.c_int(tolerance is not None), ct.c_double(tolerance or 0.0), ct.c_double(start),
            ct.c_int(stop is not None), ct.c_double(stop or 0.0),
        )  # fmt: skip

    def enter_initialization(
        self, start: float, stop: float | None, tolerance: float | None
    ) -> None:
        self.call("EnterInitializationMode")

    def step(self, t: float, width: float) -> tuple[float, bool]:
        status = self.call("DoStep", ct.c_double(t), ct.c_double(width), ct.c_int(1))
        if status != DISCARD:
            return t + width, False
        reached, ended = ct.c_double(t), ct.c_int(0)
        self.call("GetRealStatus", ct.c_int(2), ct.byref(reached))
        self.call("GetBooleanStatus", ct.c_int(3), ct.byref(ended))
        return reached.value, bool(ended.value)

    def new_discrete_states(self) -> EventOutcome:
        info = _EventInfo2()
        self.call("NewDiscreteStates", ct.byref(info))
        return EventOutcome(
            bool(info.again),
            bool(info.terminate),
            bool(info.states),
            info.next if info.defined else None,
        )

    def completed_step(self) -> tuple[bool, bool]:
        event, end = ct.c_int(0), ct.c_int(0)
        self.call("CompletedIntegratorStep", ct.c_int(1), ct.byref(event), ct.byref(end))
        return bool(event.value), bool(end.value)

    def get_derivatives(self, dx: Any, n: int) -> None:
        if n:
            self.call("GetDerivatives", dx, ct.c_size_t(n))


_LOGGER_3 = ct.CFUNCTYPE(None, ct.c_void_p, ct.c_int, ct.c_char_p, ct.c_char_p)


class Binding3(Binding):
    """FMI 3.0."""

    prefix, types, state_words = "fmi3", TYPES_3, "FMUState"
    counts_values = True

    def instantiate(self, kind: str, name: str, token: str, resources: str, logging: bool) -> None:
        def log(_: Any, status: int, category: bytes | None, text: bytes | None) -> None:
            self.logger(
                status,
                (category or b"").decode("utf-8", "replace"),
                (text or b"").decode("utf-8", "replace"),
            )

        self._logger = _LOGGER_3(log)
        common = (
            name.encode(),
            token.encode(),
            f"{resources}/".encode(),
            ct.c_bool(False),
            ct.c_bool(logging),
        )
        if kind == "me":
            create = self.function("InstantiateModelExchange")
            arguments: tuple[Any, ...] = (*common, None, self._logger)
        else:
            create = self.function("InstantiateCoSimulation")
            arguments = (
                *common, ct.c_bool(self.event_mode), ct.c_bool(self.event_mode), None, ct.c_size_t(0), None, self._logger, None,
            )  # fmt: skip
        create.restype = ct.c_void_p
        made = create(*arguments)
        if not made:
            raise CallFault(f"{self.prefix}Instantiate… returned nothing")
        self.instance = ct.c_void_p(made)

    def size_of(self, group: Group) -> tuple[Any, ...]:
        return (ct.c_size_t(group.count),)

    def setup(self, start: float, stop: float | None, tolerance: float | None) -> None:
        pass  # the start is told when the initialization mode is entered

    def enter_initialization(
        self, start: float, stop: float | None, tolerance: float | None
    ) -> None:
        self.call(
            "EnterInitializationMode", ct.c_bool(tolerance is not None), ct.c_double(tolerance or 0.0), ct.c_double(start),
            ct.c_bool(stop is not None), ct.c_double(stop or 0.0),
        )  # fmt: skip

    def step(self, t: float, width: float) -> tuple[float, bool]:
        where, how_far, end, early, last, arguments = self._step_arguments
        where.value, how_far.value, last.value = t, width, t + width
        status = self.call("DoStep", *arguments)
        reached = last.value if early.value or end.value or status == DISCARD else t + width
        self.event_pending = self.event_mode and bool(self._event_due.value)
        return reached, bool(end.value)

    @cached_property
    def _step_arguments(self) -> tuple[Any, ...]:
        """What a step is called with, made once: it is called often."""
        where, how_far, last = ct.c_double(), ct.c_double(), ct.c_double()
        event, end, early = ct.c_bool(), ct.c_bool(), ct.c_bool()
        self._event_due = event
        results = (ct.byref(event), ct.byref(end), ct.byref(early), ct.byref(last))
        return where, how_far, end, early, last, (where, how_far, ct.c_bool(True), *results)

    def new_discrete_states(self) -> EventOutcome:
        again, end, nominals, states, defined = (ct.c_bool(False) for _ in range(5))
        following = ct.c_double(0.0)
        self.call(
            "UpdateDiscreteStates", ct.byref(again), ct.byref(end), ct.byref(nominals), ct.byref(states), ct.byref(defined),
            ct.byref(following),
        )  # fmt: skip
        return EventOutcome(
            bool(again.value),
            bool(end.value),
            bool(states.value),
            following.value if defined.value else None,
        )

    def completed_step(self) -> tuple[bool, bool]:
        event, end = ct.c_bool(False), ct.c_bool(False)
        self.call("CompletedIntegratorStep", ct.c_bool(True), ct.byref(event), ct.byref(end))
        return bool(event.value), bool(end.value)

    def get_derivatives(self, dx: Any, n: int) -> None:
        if n:
            self.call("GetContinuousStateDerivatives", dx, ct.c_size_t(n))


BINDINGS: dict[int, type[Binding]] = {2: Binding2, 3: Binding3}

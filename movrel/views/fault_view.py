"""A fault as the screen shows it."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.errors import MovrelError, Place


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault in plain words: what, where, and what to do."""

    message: str
    hint: str
    where: Place | None
    #: The newest revision, when an edit was made against an older one.
    current: int | None = None


def fault_view(fault: MovrelError) -> Fault:
    return Fault(fault.message, fault.hint, fault.where)

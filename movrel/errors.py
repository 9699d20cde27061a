"""The one family of errors, raised where a fault is known and shown once."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Place:
    """A position in a source text; lines and columns count from one."""

    file: str
    line: int
    column: int

    def __str__(self) -> str:
        return f"{self.file}:{self.line}:{self.column}"


class MovrelError(Exception):
    """A fault a person can mend.

    ``message`` is a sentence that names the thing at fault, ``where`` the place in the source (if
    there is one), ``hint`` what to do about it.
    """

    def __init__(self, message: str, where: Place | None = None, hint: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.where = where
        self.hint = hint

    def sentence(self) -> str:
        """The whole of it on one line: place, message, cure."""
        place = f"{self.where}: " if self.where else ""
        hint = f" {self.hint}" if self.hint else ""
        return f"{place}{self.message}{hint}"

    def __str__(self) -> str:
        return self.sentence()


class SyntaxFault(MovrelError):
    """The text is not Modelica."""


class LookupFault(MovrelError):
    """A name leads nowhere, or to the wrong sort of thing."""


class NotFound(MovrelError):
    """There is no such project, model, run or revision."""


class TypeFault(MovrelError):
    """Things were combined that do not fit together."""


class StructureFault(MovrelError):
    """The equations cannot determine the unknowns."""


class Unsupported(MovrelError):
    """Valid Modelica that Movrel cannot compute yet; refused rather than ignored."""


class UnitFault(MovrelError):
    """A unit that is unknown or does not fit."""


class EditFault(MovrelError):
    """An edit that cannot be applied to the text."""


class RunFault(MovrelError):
    """The computation stopped: an assertion, no solution, a solver that gave up.

    ``component`` is the part of the model in which it did, as far as that is known.
    """

    def __init__(
        self, message: str, where: Place | None = None, hint: str = "", component: str = ""
    ) -> None:
        super().__init__(message, where, hint)
        self.component = component


class RunCancelled(MovrelError):
    """Somebody stopped the run."""


def did_you_mean(name: str, known: Iterable[str], otherwise: str = "") -> str:
    """A hint that names the nearest of the known names, or something else to do when none is near."""
    from difflib import get_close_matches

    close = get_close_matches(name, list(known), 1)
    return f"Did you mean '{close[0]}'?" if close else otherwise

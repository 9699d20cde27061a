"""What whoever exports a unit chooses."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, TypeAlias

from movrel.errors import MovrelError
from movrel.fmi.description import Interface

#: How a unit for co-simulation integrates: with variable steps (RODAS), or fixed ones of order 4.
UnitSolver: TypeAlias = Literal["variable", "fixed"]

#: What a unit can tell while it runs.
LogKind: TypeAlias = Literal["events", "steps", "warnings"]


@dataclass(frozen=True, slots=True)
class ExportOptions:
    """The choices of an export.

    ``parameters`` names those that stay visible, None for all; others keep their values inside.
    ``outputs`` names variables that become outputs besides those that the model declares. A
    ``sealed`` unit lists no internal variables and has no sources. ``step`` in seconds is that of the fixed solver.
    ``log`` names the kinds of messages that an importer can ask for; what makes a call fail is always told.
    ``platforms`` names platforms to compile for, None for this machine's.
    """

    version: int = 3
    interfaces: tuple[Interface, ...] = ("me", "cs")
    parameters: frozenset[str] | None = None
    outputs: frozenset[str] = frozenset()
    sealed: bool = False
    solver: UnitSolver = "variable"
    step: float = 0.0
    documentation: bool = True
    symbol: bool = True
    log: tuple[LogKind, ...] = ("events", "steps", "warnings")
    platforms: tuple[str, ...] | None = None
    settings: dict[str, float] = field(default_factory=dict)

    def check(self) -> None:
        """Refuse choices that do not go together. Raises :class:`MovrelError`."""
        if self.version not in (2, 3):
            raise MovrelError(
                f"there is no version {self.version} of the standard here.", hint="Take 2 or 3."
            )
        if not self.interfaces:
            raise MovrelError(
                "a unit needs model exchange, co-simulation, or both.", hint="Take me, cs or both."
            )
        if self.solver == "fixed" and not self.step > 0:
            raise MovrelError("a fixed step needs its size.", hint="Give a step in seconds.")

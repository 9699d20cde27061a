"""Whether foreign code may run here: whoever serves several people decides by the content of a unit."""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import MovrelError
from movrel.fmi.archive import OpenUnit


class NotAllowed(MovrelError):
    """Nobody has said yet that the code of this unit may run."""


def _everything(_: str) -> bool:
    return True


_judge: Callable[[str], bool] = _everything


def ask_before_running(judge: Callable[[str], bool]) -> None:
    """Have ``judge`` decide from now on, given the digest of a unit's archive. Without it a unit may run."""
    global _judge
    _judge = judge


def check_permission(unit: OpenUnit) -> None:
    """Raises :class:`NotAllowed` for a unit that nobody has allowed yet."""
    if not _judge(unit.digest):
        raise NotAllowed(
            f"'{unit.path.name}' holds foreign code that nobody has allowed to run yet.",
            hint="Open Units, look at what is inside, and allow it.",
        )

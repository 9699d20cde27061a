"""What can go wrong in a workspace, beyond the faults of the rooms below."""

from __future__ import annotations

from movrel.errors import MovrelError


class StaleRevision(MovrelError):
    """The edit was made against a revision that is no longer the newest."""

    def __init__(self, current: int, summary: str) -> None:
        super().__init__(
            f"this was edited in the meantime ('{summary}'), so your change was not applied.",
            hint="Look at the new state, then change it again.",
        )
        self.current = current

"""Where a run stands while it goes on, kept so that another worker can take it up there."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from movrel.simulate.run import Run
from movrel.simulate.trajectory import Event, FinalState


@dataclass(frozen=True, slots=True)
class Interim:
    """All values at one instant, and what is stored of the run until then: pieces of results and points in them."""

    state: FinalState
    chunks: int
    points: int
    statistics: dict[str, Any]
    messages: list[str]
    events: list[dict[str, Any]]

    def as_json(self) -> dict[str, Any]:
        """For the database."""
        return asdict(self)

    @staticmethod
    def read(kept: dict[str, Any] | None) -> Interim | None:
        """Back from there."""
        return None if kept is None else Interim(FinalState(**kept.pop("state")), **kept)

    def hand_over(self, run: Run) -> None:
        """Give the rest of a run what happened before."""
        run.events += [Event(e["time"], e["cause"]) for e in self.events]
        run.messages[:] = [*self.messages, *(m for m in run.messages if m not in self.messages)]
        run.messages.append(
            f"another worker took the run up at {self.state.time:g} s: the one before was lost or ended."
        )
        for name, count in self.statistics.items():
            if isinstance(count, int):
                setattr(run.statistics, name, getattr(run.statistics, name) + count)

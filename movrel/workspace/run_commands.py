"""What somebody wants of a rig while it runs: pause, go on, one step, another value of a parameter."""

from __future__ import annotations

from typing import Any, Literal, TypeAlias

from movrel.errors import MovrelError
from movrel.views.run_data import RunState
from movrel.workspace import runs
from movrel.workspace.tables import RunCommand

#: What can be said to a running rig.
Wish: TypeAlias = Literal["pause", "go on", "one step", "turn"]


def command(number: int, do: Wish, name: str = "", value: float = 0.0) -> None:
    """Say something to a run. Raises :class:`MovrelError` for one that has ended or is no rig."""
    run = runs.run(number)
    if RunState(run.state).finished:
        raise MovrelError("this run has already ended.", hint="Run it again.")
    if not run.statistics.get("rig"):
        raise MovrelError("only rigs can be paused and turned while they run.")
    if do == "turn" and name not in run.parameters:
        raise MovrelError(f"the run has no parameter '{name}'.")
    RunCommand.create(run=number, what={"do": do, "name": name, "value": value})


def commands_after(number: int, last: int) -> list[tuple[int, dict[str, Any]]]:
    """What was said to a run since a command, in its order."""
    rows = (
        RunCommand.select(RunCommand.id, RunCommand.what)
        .where((RunCommand.run == number) & (RunCommand.id > last))
        .order_by(RunCommand.id)
    )
    return [(row.id, row.what) for row in rows]

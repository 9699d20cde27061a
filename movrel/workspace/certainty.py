"""How sure the numbers of a run are: the same run once more, more exactly, and what that changes."""

from __future__ import annotations

from movrel.couple.rig import settings_of
from movrel.edits.scenario_model import with_changes
from movrel.errors import MovrelError
from movrel.simulate.options import FIXED_STEP, run_options
from movrel.unit_words import in_words
from movrel.views.run_data import RunState
from movrel.workspace import projects, runs
from movrel.workspace.tables import Run

#: What such a run is a run of, beside the scenarios.
TIGHTER = "more exactly"
#: The tolerance of the repeated run as a share of the first one's, and the least that makes sense.
SHARE, LEAST = 1e-2, 1e-12


def order_more_exactly(number: int) -> Run:
    """Put the same run on record at a hundredth of its tolerance, or at half its fixed step; one that is there already and
    did not fail is given again.

    Raises :class:`MovrelError` where it cannot be computed more exactly.
    """
    run = runs.run(number)
    if run.repeats is not None:
        raise MovrelError("this run repeats another one already.", hint="Choose that one.")
    before = (
        Run.select()
        .where((Run.repeats == number) & Run.deleted.is_null())
        .order_by(Run.id.desc())
        .first()
    )
    if before is not None and before.state not in (RunState.FAILED, RunState.STOPPED):
        return before
    texts = projects.snapshot(run.project_id, run.revisions)
    loaded = with_changes(texts, run.model, run.changes, {}).loaded
    if settings_of(loaded) is not None:
        raise MovrelError(
            "a rig is checked at half its step.",
            hint="Ask whether the step is small enough on its page.",
        )
    options = run_options(loaded.flat.experiment, **run.options)
    if options.solver in FIXED_STEP:
        step = 0.5 * (options.step or options.interval)
        words, changed = f"step {in_words(step)}", {"step": step}
    else:
        tolerance = max(SHARE * options.tolerance, LEAST)
        if not tolerance < options.tolerance:
            raise MovrelError(
                f"this run is at a tolerance of {options.tolerance:g} already; it cannot be computed more exactly."
            )
        words, changed = f"tolerance {tolerance:.3g}", {"tolerance": tolerance}
    return runs.again(
        run, f"{run.name} · {words}", run.options | changed, scenario=TIGHTER, repeats=run.id, goes_on=run.goes_on
    )  # fmt: skip


def more_exact(run: Run) -> Run | None:
    """The run that repeats this one more exactly, if there is one that came to its end."""
    if run.checked_by is None:
        return None
    return Run.get_or_none((Run.id == run.checked_by) & Run.deleted.is_null())


def note_more_exact(run: Run) -> Run | None:
    """Where a run that is done repeats another one: that one, which knows of it from now on."""
    if run.repeats is None or run.state != RunState.DONE:
        return None
    first = Run.get_or_none((Run.id == run.repeats) & Run.deleted.is_null())
    if first is not None:
        Run.update(checked_by=run.id).where(Run.id == first.id).execute()
        first.checked_by = run.id
    return first

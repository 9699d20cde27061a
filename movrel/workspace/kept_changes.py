"""Changes that were made to a model since a run, taken out of it and kept as a scenario."""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import class_annotation
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.language.unset_value import Written, unset_value
from movrel.model.prepared import VENDOR, Scenario, scenarios_of, scenarios_text
from movrel.workspace import ledger, projects
from movrel.workspace.editing import Target, again, edit
from movrel.workspace.ledger import START
from movrel.workspace.scenario_edits import checked_name, free_colour
from movrel.workspace.tables import Revision, Run


def changes_since(at: Target, run: Run) -> dict[str, tuple[str | None, str]]:
    """What the text gives now to parameters and start values that it gave otherwise when the run was ordered.

    By place: the text then (None for the default) and the text now. Parts that came or went are no such change.
    """
    then_taken = projects.snapshot(run.project_id, run.revisions)
    then = projects.definition_of(then_taken, at.qualified)
    texts = Written(then.source, then.node), Written(at.source, at.cls)
    loaded = projects.loaded_model(at.taken, at.qualified)
    rows = {row["name"]: row for row in ledger.rows(loaded.flat, at.definition, loaded.ordered.states)}
    known = projects.loaded_model(then_taken, at.qualified).by_name
    found: dict[str, tuple[str | None, str]] = {}
    for name, row in rows.items():
        place = name.partition("[")[0]  # a table is given as a whole
        if row["group"] == "watch" or not row["editable"] or place in found or name.removesuffix(START) not in known:
            continue
        before, after = (t.value(*_path(place)) for t in texts)
        if before == after:
            continue
        if after is None and place != name:
            continue  # a whole table that is the default again has no text of its own
        found[place] = before, after if after is not None else _text(row)
    return found


def keep_as_scenario(project: int, qualified: str, revision: int, run: Run, name: str) -> Revision:
    """Make a scenario of what was changed since a run, and give the base its values of then."""

    def make(at: Target) -> tuple[str, str]:
        changes = changes_since(at, run)
        if not changes:
            raise EditFault(f"no value differs from run {run.number}.", hint="Change a value first.")
        text, source, cls = at.source.text, at.source, at.cls
        for place, (before, _) in changes.items():
            patches = unset_value(source, cls, _path(place)) if before is None else set_value(source, cls, _path(place), before)
            text = apply(text, patches)
            source, cls = again(at, text)
        found = scenarios_of(at.definition)
        found.append(Scenario(checked_name(found, name), free_colour(found), {p: now for p, (_, now) in changes.items()}))
        text = apply(text, class_annotation.set_annotation(source, cls, [VENDOR, "scenarios"], scenarios_text(found)))
        return text, f"kept {len(changes)} change{'s' if len(changes) != 1 else ''} as the scenario {name}"

    return edit(project, qualified, revision, make)


def _path(place: str) -> list[str]:
    return [*place[: -len(START)].split("."), "start"] if place.endswith(START) else place.split(".")


def _text(row: dict[str, object]) -> str:
    value = row["expression"] if row["expression"] is not None else row["value"]
    return str(value).lower() if isinstance(value, bool) else str(value)

"""Projects, snapshots and the names that runs give themselves."""

from __future__ import annotations

from datetime import UTC, datetime

from movrel.edits.values import Parameter
from movrel.project.snapshot import loaded_model, models
from movrel.sheet.arrangement import layouts_of
from movrel.workspace import projects, run_list, runs
from movrel.workspace.editing import apply_edit
from movrel.workspace.tables import Project
from tests.conftest import EXAMPLES

MODEL = "VarrowQuay.Sump"


def test_an_example_is_loaded_once(project: int) -> None:
    assert projects.load_example(EXAMPLES / "VarrowQuay") is None
    assert Project.get_by_id(project).example == "VarrowQuay"


def test_a_newer_version_brings_its_new_examples_and_leaves_the_rest(project: int) -> None:
    files = {f.path: f for f in projects.files(project)}
    kept = files["VarrowQuay/Leaf.mo"]
    files["VarrowQuay/RopeLoft.mo"].delete_instance(
        recursive=True
    )  # as if it had not been there yet
    kept.deleted = datetime.now(UTC)
    kept.save()
    assert projects.load_example(EXAMPLES / "VarrowQuay") is not None
    paths = [f.path for f in projects.files(project)]
    assert "VarrowQuay/RopeLoft.mo" in paths and "VarrowQuay/Leaf.mo" not in paths
    assert projects.load_example(EXAMPLES / "VarrowQuay") is None


def test_the_recorder_is_prepared_as_the_model_says(project: int) -> None:
    definition = next(d for d in models(projects.snapshot(project)) if d.name == "OilCoolerThree")
    (layout,) = layouts_of(definition)
    assert [strip.names for strip in layout.strips] == [["oil.T", "tubes.T", "shell.T"], ["skin.Q"]]


def test_snapshots_of_equal_texts_share_what_was_compiled(project: int) -> None:
    first, second = projects.snapshot(project), projects.snapshot(project)
    assert first == second and loaded_model(first, MODEL) is loaded_model(second, MODEL)
    revision = first.revisions["VarrowQuay/Sump.mo"]
    apply_edit(project, MODEL, revision, Parameter("basin.area", "15"))
    third = projects.snapshot(project)
    assert third != first and loaded_model(third, MODEL) is not loaded_model(first, MODEL)
    old = projects.snapshot(project, first.revisions)
    assert old == first, "old revisions can be computed again at any time"


def test_runs_name_themselves_by_what_differs_from_the_first(project: int) -> None:
    def change(name: str, text: str) -> None:
        revision = projects.snapshot(project).revisions["VarrowQuay/Sump.mo"]
        apply_edit(project, MODEL, revision, Parameter(name, text))

    names = [runs.order(project, MODEL, {}).name, runs.order(project, MODEL, {}).name]
    change("outlet.diameter", "20 cm")
    names.append(runs.order(project, MODEL, {}).name)
    change("gusts.height", "60 l/s")
    names.append(runs.order(project, MODEL, {"stop": 600.0}).name)
    change("outlet.diameter", "15 cm")
    change("gusts.height", "40")
    names.append(runs.order(project, MODEL, {}).name)
    assert names == [
        "base", "base", "outlet.diameter 20 cm", "gusts.height 60 l/s · outlet.diameter 20 cm · stop 600", "base",
    ]  # fmt: skip
    found = run_list.newest(project, MODEL)
    assert [r.number for r in found] == [5, 4, 3, 2, 1]
    assert run_list.last_of_each(project)[MODEL].id == found[0].id

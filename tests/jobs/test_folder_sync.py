"""A folder and its project follow each other: nothing is lost on either side."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from movrel.jobs.folder_sync import FolderSync
from movrel.workspace import folders, projects
from movrel.workspace.tables import ModelFile, Revision, database

TANK = "model Tank\n  parameter Real A = 2;\n  Real h(start = 1, fixed = true);\nequation\n  A*der(h) = -0.1;\nend Tank;\n"


class Opened:
    """A folder with its project, and the screen as HTTP."""

    def __init__(self, folder: Path, client: FlaskClient) -> None:
        self.folder, self.client = folder, client
        with database.connection_context():
            self.project = folders.folder_project(folder).id
        self.sync_of = FolderSync(self.project, folder)
        self.sync()

    def sync(self) -> None:
        with database.connection_context():
            self.sync_of.sync()

    def write(self, name: str, text: str | bytes) -> None:
        path = self.folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(text if isinstance(text, bytes) else text.encode())

    def read(self, name: str) -> str:
        return (self.folder / name).read_text()

    def texts(self) -> dict[str, str]:
        with database.connection_context():
            return dict(projects.snapshot(self.project).files)

    def edit(self, model: str, **edit: object) -> None:
        address = f"/api/projects/{self.project}/models/{model}"
        revision = self.client.get(address).json["revision"]
        answer = self.client.post(f"{address}/edits", json={"revision": revision, "edit": edit})
        assert answer.status_code == 200, answer.json

    def problem(self) -> str:
        listed = self.client.get("/api/projects").json["projects"]
        problem = next(p for p in listed if p["id"] == self.project)["problem"]
        return problem["message"] if problem else ""

    def summaries(self, model: str) -> list[str]:
        answer = self.client.get(f"/api/projects/{self.project}/models/{model}/revisions").json
        return [r["summary"] for r in answer["revisions"]]


@pytest.fixture
def opened(tmp_path: Path, client: FlaskClient) -> Opened:
    folder = tmp_path / "yard"
    folder.mkdir()
    (folder / "Tank.mo").write_text(TANK)
    return Opened(folder, client)


def test_each_side_follows_the_other(opened: Opened) -> None:
    assert opened.texts() == {"Tank.mo": TANK}
    opened.edit("Tank", do="parameter", name="A", text="3")
    opened.sync()
    assert opened.read("Tank.mo") == TANK.replace("A = 2", "A = 3")
    opened.write("Tank.mo", TANK.replace("A = 2", "A = 4"))
    opened.sync()
    assert "A = 4" in opened.texts()["Tank.mo"]
    assert opened.summaries("Tank")[0] == "changed by another program: line 2"
    # Undo goes back over what another program did, and the file follows.
    opened.edit("Tank", do="undo")
    opened.sync()
    assert "A = 3" in opened.read("Tank.mo")
    before = os.stat(opened.folder / "Tank.mo").st_mtime_ns
    opened.sync()
    assert os.stat(opened.folder / "Tank.mo").st_mtime_ns == before


def test_files_come_and_go_on_both_sides(opened: Opened) -> None:
    opened.write("Yard/Gate.mo", "within Yard;\nmodel Gate end Gate;\n")
    opened.write("Yard/package.mo", "package Yard end Yard;\n")
    opened.write("Yard/package.order", "Gate\n")
    opened.write(".git/Tank.mo", "nonsense")
    opened.sync()
    assert set(opened.texts()) == {"Tank.mo", "Yard/package.mo", "Yard/Gate.mo"}
    answer = opened.client.post(
        f"/api/projects/{opened.project}/files",
        json={"path": "Yard/Weir.mo", "text": "within Yard;\nmodel Weir end Weir;\n"},
    )
    assert answer.status_code == 200
    opened.sync()
    assert opened.read("Yard/Weir.mo") == "within Yard;\nmodel Weir end Weir;\n"
    assert opened.read("Yard/package.order") == "Gate\nWeir\n"
    (opened.folder / "Yard/Gate.mo").unlink()
    assert (
        opened.client.post(f"/api/projects/{opened.project}/models/Tank/delete").status_code == 200
    )
    opened.sync()
    assert set(opened.texts()) == {"Yard/package.mo", "Yard/Weir.mo"}
    assert not (opened.folder / "Tank.mo").exists()
    assert sorted(p.name for p in opened.folder.iterdir()) == [".git", "Yard"]


def test_a_file_that_comes_back_goes_on_with_its_history(opened: Opened) -> None:
    opened.edit("Tank", do="parameter", name="A", text="3")
    opened.sync()
    kept = opened.read("Tank.mo")
    (opened.folder / "Tank.mo").unlink()
    opened.sync()
    assert opened.texts() == {}
    opened.write("Tank.mo", kept.replace("A = 3", "A = 4"))
    opened.sync()
    assert "A = 4" in opened.texts()["Tank.mo"]
    assert len(opened.summaries("Tank")) == 3


def test_a_file_that_is_written_between_look_and_answer_is_not_lost(
    opened: Opened, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened.edit("Tank", do="parameter", name="A", text="3")
    look = opened.sync_of._on_disk

    def looked() -> object:
        seen = look()
        opened.write("Tank.mo", TANK.replace("start = 1", "start = 8"))
        monkeypatch.undo()
        return seen

    monkeypatch.setattr(opened.sync_of, "_on_disk", looked)
    opened.sync()
    opened.sync()
    assert "A = 3" in opened.read("Tank.mo")
    with database.connection_context():
        beside = Revision.select().where(Revision.author == folders.DISK)
        assert any("start = 8" in revision.text for revision in beside)


def test_what_changed_on_both_sides_is_kept_twice(opened: Opened) -> None:
    opened.edit("Tank", do="parameter", name="A", text="5")
    opened.write("Tank.mo", TANK.replace("start = 1", "start = 7"))
    opened.sync()
    assert "A = 5" in opened.read("Tank.mo")
    assert "A = 5" in opened.texts()["Tank.mo"]
    with database.connection_context():
        file = ModelFile.get((ModelFile.project == opened.project) & (ModelFile.path == "Tank.mo"))
        beside = Revision.get((Revision.file == file) & (Revision.author == folders.DISK))
    assert "start = 7" in beside.text
    opened.edit("Tank", do="restore", revision=beside.id)
    opened.sync()
    assert "start = 7" in opened.read("Tank.mo")


def test_changes_of_both_sides_that_do_not_touch_are_brought_together(opened: Opened) -> None:
    opened.write("Tank.mo", TANK.replace("end Tank;", "  // the outlet is never closed\nend Tank;"))
    opened.edit("Tank", do="parameter", name="A", text="5")
    opened.sync()
    both = TANK.replace("A = 2", "A = 5").replace(
        "end Tank;", "  // the outlet is never closed\nend Tank;"
    )
    assert opened.read("Tank.mo") == both == opened.texts()["Tank.mo"]
    assert "brought together" in opened.summaries("Tank")[0]
    opened.sync()  # and that is the end of it
    assert opened.read("Tank.mo") == both
    opened.edit("Tank", do="undo")
    opened.sync()
    assert "never closed" not in opened.read("Tank.mo") and "A = 5" in opened.read("Tank.mo")


def test_a_text_that_cannot_be_read_is_said_and_waited_for(opened: Opened) -> None:
    opened.write("Tank.mo", TANK.replace("equation", "equation oh no"))
    opened.sync()
    assert opened.texts() == {"Tank.mo": TANK}
    assert "Tank.mo on the disk cannot be read (line 4)" in opened.problem()
    opened.edit("Tank", do="parameter", name="A", text="6")
    opened.sync()
    assert "A = 6" in opened.read("Tank.mo")
    kept = list((opened.folder / ".movrel/kept").iterdir())
    assert "oh no" in kept[0].read_text()
    assert opened.problem() == ""
    opened.write("Tank.mo", "\ufeffmodel Tank Real h = 1;\r\nend Tank;\r\n")
    opened.write("Bad.mo", b"\xff\xfe")
    opened.sync()
    assert opened.texts()["Tank.mo"] == "model Tank Real h = 1;\nend Tank;\n"
    assert "not UTF-8" in opened.problem()


def test_ends_of_lines_and_marks_of_a_file_stay(opened: Opened) -> None:
    opened.write("Tank.mo", b"\xef\xbb\xbf" + TANK.replace("\n", "\r\n").encode())
    opened.sync()
    opened.edit("Tank", do="parameter", name="A", text="9")
    opened.sync()
    data = (opened.folder / "Tank.mo").read_bytes()
    assert data == b"\xef\xbb\xbf" + TANK.replace("A = 2", "A = 9").replace("\n", "\r\n").encode()


def test_data_beside_models_follows_too(opened: Opened) -> None:
    opened.write("rain.csv", "0,1\n1,2\n")
    opened.sync()
    with database.connection_context():
        assert list(folders.data_files(opened.project)) == ["rain.csv"]
        assert (
            Path(projects.snapshot(opened.project).folder) / "rain.csv"
        ).read_text() == "0,1\n1,2\n"
    opened.write("rain.csv", "0,3\n1,4\n")
    opened.sync()
    with database.connection_context():
        assert "0,3" in (Path(projects.snapshot(opened.project).folder) / "rain.csv").read_text()
    (opened.folder / "rain.csv").unlink()
    opened.sync()
    with database.connection_context():
        assert folders.data_files(opened.project) == {}

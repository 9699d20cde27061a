"""``movrel open`` from the command line: the files of a folder on the screen, and back; and models as text for others."""

from __future__ import annotations

import json
import shutil
import signal
import subprocess
import sys
import urllib.request
from pathlib import Path

import numpy as np

import movrel
from movrel.workspace.cluster import free_port
from tests.conftest import EXAMPLES, ROOT, wait_until

QUAY = EXAMPLES / "VarrowQuay"


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "movrel", *arguments]
    return subprocess.run(
        command, capture_output=True, text=True, cwd=ROOT, timeout=120, check=False
    )


def asked(address: str, body: object = None) -> dict[str, object]:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(address, data, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request, timeout=20) as answer:
        found = json.load(answer)
        assert isinstance(found, dict)
        return found


def test_a_folder_is_served_and_both_sides_follow(tmp_path: Path) -> None:
    shutil.copytree(QUAY, tmp_path / "VarrowQuay")
    file, port = tmp_path / "VarrowQuay" / "Sump.mo", free_port()
    command = [sys.executable, "-m", "movrel", "open", str(tmp_path), "--port", str(port)]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT)
    try:
        assert process.stdout is not None
        assert "Movrel is ready" in process.stdout.readline()
        model = f"http://127.0.0.1:{port}/api/projects/1/models/VarrowQuay.Sump"
        view = asked(model)
        edit = {"do": "parameter", "name": "outlet.diameter", "text": "0.2"}
        asked(f"{model}/edits", {"revision": view["revision"], "edit": edit})
        wait_until(lambda: "diameter = 0.2" in file.read_text(), what="the edit in the file")
        file.write_text(file.read_text().replace("diameter = 0.2", "diameter = 0.25"))
        wait_until(
            lambda: "changed by another program" in str(asked(model)["summary"]), what="the change"
        )
        assert "diameter = 0.25" in str(asked(f"{model}/text")["text"])
        assert sorted(p.name for p in tmp_path.iterdir()) == [".movrel", "VarrowQuay"]
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(30)


def test_what_cannot_be_opened_is_said(tmp_path: Path) -> None:
    done = run("open", str(tmp_path / "nowhere"))
    assert done.returncode == 2
    assert "there is no folder" in done.stderr


def test_a_model_leaves_as_one_file_and_is_looked_at(tmp_path: Path) -> None:
    out = tmp_path / "sump.mo"
    done = run("modelica", "export", str(QUAY), "--model", "VarrowQuay.Sump", "--output", str(out))
    assert done.returncode == 0, done.stderr
    expected = movrel.load(QUAY, model="VarrowQuay.Sump").simulate(stop=100)
    assert np.array_equal(movrel.load(out).simulate(stop=100).table, expected.table)
    looked = run("modelica", "report", str(out))
    assert looked.returncode == 0
    assert "1 models" in looked.stdout and "left out: Movrel" in looked.stdout
    out.write_text("model A Valves.Gate gate; end A;")
    looked = run("modelica", "report", str(out))
    assert looked.returncode == 2
    assert "missing: Valves.Gate, named by A (sump.mo:1)" in looked.stdout
    refused = run("modelica", "export", str(out), "--output", str(tmp_path / "gone" / "a.mo"))
    assert refused.returncode == 2 and "does not exist" in refused.stderr

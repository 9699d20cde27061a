"""Models leave as text that needs nothing else, and text of others comes in with a report."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError
from movrel.exchange.modelica.incoming import Decisions, import_report, read_files, texts_to_add
from movrel.exchange.modelica.outgoing import archive, one_file, write_files
from movrel.model.classes import ClassTree
from movrel.session import LoadedModel

QUAY = Path(__file__).resolve().parents[2] / "examples" / "VarrowQuay"
MODELS = (QUAY / "package.order").read_text().split()


def quay(name: str) -> LoadedModel:
    return movrel.load(QUAY, model=f"VarrowQuay.{name}")


def alone(text: str) -> LoadedModel:
    """A model of a text, where the component library is not at hand."""
    tree = ClassTree(library=None)
    loaded = tree.add_text(text, "alone.mo")
    model = movrel.load(text=text).name
    definition = tree.find(model)
    assert definition is not None
    assert loaded[-1].qualified == model.split(".")[0]
    return LoadedModel(tree, definition)


def flat_text(model: LoadedModel) -> list[str]:
    """All that is computed; generated names hold line numbers and are left out."""
    return [
        *(f"{v.name} {v.variability} {v.unit} {v.binding!r} {v.start!r}" for v in model.flat.variables if not v.generated),
        *(repr(e) for e in model.flat.equations if "transition" not in repr(e) and "when" not in repr(e)),
    ]  # fmt: skip


@pytest.mark.parametrize("name", MODELS)
def test_every_example_is_the_same_from_one_file_without_the_library(name: str) -> None:
    model = quay(name)
    text = one_file(model.tree, model.definition)
    assert flat_text(alone(text)) == flat_text(model)


def test_results_are_identical_to_the_bit(tmp_path: Path) -> None:
    model = quay("Sump")
    expected = model.simulate(stop=600)
    text = one_file(model.tree, model.definition)
    assert np.array_equal(movrel.load(text=text).simulate(stop=600).table, expected.table)
    written = write_files(model.tree, model.definition, tmp_path / "out")
    assert "VarrowQuay/package.mo" in written
    assert (tmp_path / "out/VarrowQuay/package.order").read_text() == "Sump\n"
    again = movrel.load(
        tmp_path / "out" / "Movrel", tmp_path / "out" / "VarrowQuay", model="VarrowQuay.Sump"
    )
    assert np.array_equal(again.simulate(stop=600).table, expected.table)
    with pytest.raises(MovrelError, match="is not empty"):
        write_files(model.tree, model.definition, tmp_path / "out")


def test_an_archive_comes_back_without_what_is_there_already() -> None:
    model = quay("Leaf")
    texts, _ = read_files("leaf.zip", archive(model.tree, model.definition))
    report = import_report({}, texts)
    assert report.can_be_taken
    assert "Movrel.Process" not in str(report.models)
    assert report.models == ["VarrowQuay.Leaf"]
    assert "Movrel" in report.left_out
    added = texts_to_add({}, texts)
    assert list(added) == ["VarrowQuay/package.mo", "VarrowQuay/Leaf.mo"]
    # A second time everything is there.
    assert import_report(added, texts).classes == 0
    # With another text it clashes, and says where.
    other = {**texts, "VarrowQuay/Leaf.mo": "within VarrowQuay;\nmodel Leaf Real x = 1; end Leaf;"}
    clashing = import_report(added, other)
    assert [c.name for c in clashing.clashes] == ["VarrowQuay.Leaf"]
    with pytest.raises(MovrelError, match=r"another class 'VarrowQuay\.Leaf', with another text"):
        texts_to_add(added, other)


FOREIGN = """within Yard;
model Tank
  Valves.Gate gate(opening = 0.5, locked = false);
  Movrel.Process.Basin basin;
  Gauges.Level gauge;
equation
  connect(basin.outlet, gate.a);
  connect(gate.done, alarm.a);
  gauge.height = basin.level;
end Tank;
"""


def foreign() -> dict[str, str]:
    return {
        "Yard/package.mo": 'package Yard "of another company" end Yard;',
        "Yard/Tank.mo": FOREIGN.replace("  connect(gate.done, alarm.a);\n", ""),
    }


def test_what_is_missing_is_listed_with_its_use() -> None:
    report = import_report({}, foreign())
    assert not report.can_be_taken
    gate = next(m for m in report.missing if m.name == "Valves.Gate")
    assert (gate.used_by, gate.file, gate.line) == ("Yard.Tank", "Yard/Tank.mo", 3)
    assert gate.ports == ["a"]
    assert gate.parameters == ["locked", "opening"]
    assert "Movrel.Process.Orifice" in gate.candidates
    assert report.troubles == []
    with pytest.raises(MovrelError, match=r"the class '\S+' is missing"):
        texts_to_add({}, foreign())


def test_a_stub_is_open_and_lets_the_rest_run() -> None:
    decisions = Decisions(stubs=frozenset({"Valves.Gate", "Gauges.Level"}))
    report = import_report({}, foreign(), decisions)
    assert report.can_be_taken
    assert all(m.decided == "stub" for m in report.missing)
    added = texts_to_add({}, foreign(), decisions)
    assert "model Gate" in added["Valves/Gate.mo"]
    tree = ClassTree()
    for path, text in added.items():
        tree.add_text(text, path)
    tank = tree.find("Yard.Tank")
    assert tank is not None
    ordered = LoadedModel(tree, tank)
    assert {"gate.opening", "gate.locked", "gauge.height"} <= set(ordered.by_name)


def test_a_class_of_ours_takes_the_place_of_a_missing_one() -> None:
    coming = {
        "Line.mo": "model Line Movrel.Process.Basin basin(level(start = 1)); Valves.Gate gate;\n"
        "equation connect(basin.outlet, gate.a); end Line;"
    }
    replaced = Decisions(replacements={"Valves.Gate": "Movrel.Process.Orifice"})
    report = import_report({}, coming, replaced)
    assert report.can_be_taken
    assert [(m.name, m.decided) for m in report.missing] == [
        ("Valves.Gate", "Movrel.Process.Orifice")
    ]
    assert "Movrel.Process.Orifice gate;" in texts_to_add({}, coming, replaced)["Line.mo"]


def test_models_that_cannot_be_run_say_why() -> None:
    coming = {
        "A.mo": "model A Real x; equation der(x) = 1; x = 2; end A;",
        "B.mo": 'function f input Real u; output Real y; external "C" y = g(u); end f;\n'
        "model B Real x = f(time); end B;",
        "C.mo": "model C Real x = time; end C;",
    }
    report = import_report({}, coming)
    assert {t.name for t in report.troubles} == {"A", "B"}
    assert report.can_be_taken
    assert report.models == ["A", "B", "C"]


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("a.zip", b"nothing", "neither Modelica text nor a ZIP"),
        ("a.mo", b"\xff\xfe\x00", "not UTF-8"),
        ("a.zip", b"", "neither Modelica text nor a ZIP"),
    ],
)
def test_what_is_no_text_is_refused(name: str, data: bytes, sentence: str) -> None:
    with pytest.raises(MovrelError, match=sentence):
        read_files(name, data)


def test_an_archive_without_models_is_refused() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("notes.txt", "x")
    with pytest.raises(MovrelError, match="holds no Modelica files"):
        read_files("a.zip", out.getvalue())

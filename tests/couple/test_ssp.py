"""System structures: written and read back, and one of another maker with everything that the standard has."""

from __future__ import annotations

import io
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from movrel.couple.as_ssp import ssp_of
from movrel.couple.rig import cut, prepare_rig, settings_of
from movrel.errors import MovrelError
from movrel.exchange.ssp.as_model import ReadRig, model_of_archive
from movrel.exchange.ssp.read import SspArchive, read_archive
from movrel.session import LoadedModel, load
from tests.conftest import EXAMPLES
from tests.couple.rigs import OSCILLATORS, loaded, prepared, run

Build = Callable[..., Path]
SPACES = (
    'xmlns:ssd="http://ssp-standard.org/SSP1/SystemStructureDescription" '
    'xmlns:ssc="http://ssp-standard.org/SSP1/SystemStructureCommon" '
    'xmlns:ssv="http://ssp-standard.org/SSP1/SystemStructureParameterValues" '
    'xmlns:ssm="http://ssp-standard.org/SSP1/SystemStructureParameterMapping" '
    'xmlns:ssb="http://ssp-standard.org/SSP1/SystemStructureSignalDictionary" xmlns:them="urn:them"'
)
NOTE = '<ssc:Annotation type="them.colour"><them:paint  colour = "teal"><!-- kept --></them:paint></ssc:Annotation>'


def spring(name: str, more: str = "") -> str:
    return f"""<ssd:Component name="{name}" source="resources/spring.fmu" implementation="CoSimulation">
      <ssd:Connectors><ssd:Connector name="x" kind="output"><ssc:Real unit="m"/></ssd:Connector>
      <ssd:Connector name="force" kind="input"><ssc:Real unit="N/kg"/></ssd:Connector></ssd:Connectors>{more}</ssd:Component>"""


STRUCTURE = f"""<?xml version="1.0" encoding="UTF-8"?>
<ssd:SystemStructureDescription {SPACES} version="1.0" name="Quay">
 <ssd:System name="Quay">
  <ssd:Connectors><ssd:Connector name="seen" kind="output"><ssc:Real unit="m"/></ssd:Connector></ssd:Connectors>
  <ssd:ParameterBindings><ssd:ParameterBinding><ssd:ParameterValues><ssv:ParameterSet version="1.0" name="outer">
    <ssv:Parameters><ssv:Parameter name="group.inner.stiffness"><ssv:Real value="4"/></ssv:Parameter>
    <ssv:Parameter name="nobody.k"><ssv:Real value="1"/></ssv:Parameter></ssv:Parameters>
    </ssv:ParameterSet></ssd:ParameterValues></ssd:ParameterBinding></ssd:ParameterBindings>
  <ssd:Elements>
   {
    spring(
        "left",
        f'''<ssd:ElementGeometry x1="0" y1="0" x2="60" y2="40"/><ssd:ParameterBindings>
     <ssd:ParameterBinding><ssd:ParameterValues><ssv:ParameterSet version="1.0" name="set"><ssv:Parameters>
     <ssv:Parameter name="hard"><ssv:Real value="0.9"/></ssv:Parameter>
     <ssv:Parameter name="far"><ssv:Real value="-10000" unit="cm"/></ssv:Parameter></ssv:Parameters></ssv:ParameterSet>
     </ssd:ParameterValues><ssd:ParameterMapping><ssm:ParameterMapping version="1.0">
     <ssm:MappingEntry source="hard" target="stiffness"><ssc:LinearTransformation factor="10"/></ssm:MappingEntry>
     <ssm:MappingEntry source="far" target="wall"/>
     </ssm:ParameterMapping></ssd:ParameterMapping></ssd:ParameterBinding></ssd:ParameterBindings>
     <ssd:Annotations>{NOTE}</ssd:Annotations>''',
    )
}
   <ssd:System name="group">
    <ssd:Connectors><ssd:Connector name="push" kind="input"><ssc:Real unit="N/kg"/></ssd:Connector></ssd:Connectors>
    <ssd:ParameterBindings><ssd:ParameterBinding source="values.ssv"/></ssd:ParameterBindings>
    <ssd:Elements>{spring("inner")}</ssd:Elements>
    <ssd:Connections><ssd:Connection startConnector="push" endElement="inner" endConnector="force"/></ssd:Connections>
   </ssd:System>
   <ssd:SignalDictionaryReference name="bus" dictionary="signals">
    <ssd:Connectors><ssd:Connector name="place" kind="inout"><ssc:Real unit="m"/></ssd:Connector></ssd:Connectors>
   </ssd:SignalDictionaryReference>
  </ssd:Elements>
  <ssd:Connections>
   <ssd:Connection startElement="left" startConnector="x" endElement="bus" endConnector="place"/>
   <ssd:Connection startElement="bus" startConnector="place" endElement="group" endConnector="push">
     <ssc:LinearTransformation factor="-2" offset="0.5"/></ssd:Connection>
   <ssd:Connection startElement="left" startConnector="x" endConnector="seen"/>
   <ssd:Connection startElement="left" startConnector="gone" endElement="group" endConnector="push"/>
  </ssd:Connections>
  <ssd:SignalDictionaries><ssd:SignalDictionary name="signals" source="signals.ssb"/></ssd:SignalDictionaries>
 </ssd:System>
 <ssd:DefaultExperiment startTime="0" stopTime="2"/>
</ssd:SystemStructureDescription>
"""
VALUES = f"""<ssv:ParameterSet {SPACES} version="1.0" name="values"><ssv:Parameters>
<ssv:Parameter name="inner.wall"><ssv:Real value="-100"/></ssv:Parameter></ssv:Parameters></ssv:ParameterSet>"""
SIGNALS = f"""<ssb:SignalDictionary {SPACES} version="1.0"><ssb:DictionaryEntry name="place"><ssc:Real unit="m"/>
</ssb:DictionaryEntry></ssb:SignalDictionary>"""


def archive(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, content in files.items():
            packed.writestr(name, content)
    return out.getvalue()


def foreign(unit: Path, structure: str = STRUCTURE) -> bytes:
    return archive(
        {
            "SystemStructure.ssd": structure.encode(), "values.ssv": VALUES.encode(), "signals.ssb": SIGNALS.encode(),
            "resources/spring.fmu": unit.read_bytes(),
        }
    )  # fmt: skip


def opened(read: ReadRig, folder: Path) -> LoadedModel:
    for path, content in read.files.items():
        (folder / path).parent.mkdir(parents=True, exist_ok=True)
        (folder / path).write_bytes(content)
    (folder / f"{read.name}.mo").write_text(read.text)
    return load(folder / f"{read.name}.mo")


def test_a_structure_of_another_maker(tmp_path: Path, hand_written: Build) -> None:
    read = model_of_archive(foreign(hand_written(2)), "quay.ssp")
    model = opened(read, tmp_path)
    assert "nobody.k" in "".join(read.report)
    assert "left.gone" in "".join(read.report)
    found = run(model, {"step": 0.001, "inputs": "extrapolated"}, interval=0.1)
    t = found.time
    # A word of the language gets a number. left: x'' = -9 x from 1; inner: y'' = -4 y - 2 cos 3t + 0.5 from 1.
    assert np.abs(found["left.x"] - np.cos(3 * t)).max() < 1e-6
    steady, driven = 0.125, 0.4
    inner = driven * np.cos(3 * t) + steady + (1 - steady - driven) * np.cos(2 * t)
    assert np.abs(found["group.inner_1.x"] - inner).max() < 1e-4
    assert np.array_equal(found["seen"], found["left.x"])
    assert "{{0,0},{60,40}}" in read.text


def around(content: bytes) -> bytes:
    """An archive whose system holds another archive."""
    structure = f"""<ssd:SystemStructureDescription {SPACES} version="1.0" name="Outer"><ssd:System name="Outer">
      <ssd:Connectors><ssd:Connector name="seen" kind="output"><ssc:Real unit="m"/></ssd:Connector></ssd:Connectors>
      <ssd:Elements><ssd:Component name="pair" type="application/x-ssp-package" source="resources/pair.ssp">
      <ssd:Connectors><ssd:Connector name="seen" kind="output"><ssc:Real unit="m"/></ssd:Connector></ssd:Connectors>
      </ssd:Component></ssd:Elements>
      <ssd:Connections><ssd:Connection startElement="pair" startConnector="seen" endConnector="seen"/></ssd:Connections>
      </ssd:System><ssd:DefaultExperiment startTime="0" stopTime="2"/></ssd:SystemStructureDescription>"""
    return archive({"SystemStructure.ssd": structure.encode(), "resources/pair.ssp": content})


def test_an_archive_within_an_archive_is_a_system(tmp_path: Path, hand_written: Build) -> None:
    inner = foreign(hand_written(2))
    read = model_of_archive(around(around(inner)), "outer.ssp")
    found = run(opened(read, tmp_path), {"step": 0.001, "inputs": "extrapolated"}, interval=0.1)
    assert np.abs(found["seen"] - np.cos(3 * found.time)).max() < 1e-6
    assert np.array_equal(found["pair.pair.left.x"], found["seen"])
    assert len(read.files) == 1 and "left.gone" in "".join(read.report)
    for _ in range(6):
        inner = around(inner)
    with pytest.raises(MovrelError, match="archives are nested more than 5 deep"):
        model_of_archive(inner, "deep.ssp")


def test_annotations_of_others_stay_byte_for_byte(tmp_path: Path, hand_written: Build) -> None:
    model = opened(model_of_archive(foreign(hand_written(2)), "quay.ssp"), tmp_path)
    written = ssp_of(prepared(model), model.definition, {}, "2.0")
    content = SspArchive(written.archive).read("SystemStructure.ssd")
    assert NOTE.encode() in content
    assert b'version="2.0"' in content
    again = read_archive(SspArchive(written.archive))
    assert again.namespaces["them"] == "urn:them"
    assert [e.annotations for e in again.system.elements if e.name == "left"] == [[NOTE.encode()]]


@pytest.mark.parametrize("version", ["1.0", "2.0"])
def test_a_rig_written_and_read_back_gives_identical_results(tmp_path: Path, version: str) -> None:
    model = loaded(OSCILLATORS, "Oscillators")
    made = prepared(model, {"order": "sequential", "step": 0.02}, set={"other.c": 6.0})
    written = ssp_of(made, model.definition, {"one": (-100.0, 0.0, -60.0, 40.0)}, version)
    direct = run(model, {"order": "sequential", "step": 0.02}, set={"other.c": 6.0})
    read = model_of_archive(written.archive, "rig.ssp")
    assert read.report == []
    back = opened(read, tmp_path)
    coupling = settings_of(back)
    assert coupling is not None
    assert (coupling.order, coupling.step) == ("sequential", 0.02)
    found = prepare_rig(back, coupling, tolerance=1e-9).go()
    for name in ("one.s", "one.v", "other.f"):
        assert np.array_equal(found[name], direct[name])
    structure = read_archive(SspArchive(written.archive))
    assert structure.system.elements[0].extent == (-100.0, 0.0, -60.0, 40.0)
    assert {u.name for u in structure.units} == {"m", "m/s", "N"}


def test_the_lift_rig_leaves_as_an_archive(tmp_path: Path) -> None:
    target = tmp_path / "lift.ssp"
    model = load(EXAMPLES / "VarrowQuay", model="VarrowQuay.LiftRig")
    coupling = settings_of(model)
    assert coupling is not None
    made = prepare_rig(model, coupling, stop=1.0)
    target.write_bytes(ssp_of(made, model.definition, {}, "1.0").archive)
    command = [
        sys.executable,
        "-m",
        "movrel",
        "rig",
        "run",
        str(target),
        "--output",
        str(tmp_path / "out.csv"),
    ]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    rows = (tmp_path / "out.csv").read_text().splitlines()
    assert rows[0].startswith("time,")
    assert float(rows[-1].split(",")[0]) == 1.0


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (("<ssd:System ", "<ssd:Sysstem "), "not well-formed|no element 'System'"),
        (('version="1.0" name="Quay"', 'version="7" name="Quay"'), "version '7'"),
        (('kind="output"', 'kind="sideways"'), "kind 'sideways'"),
        (("resources/spring.fmu", "resources/other.fmu"), "lacks the file 'resources/other.fmu'"),
        (('x1="0"', 'x1="far"'), "'far', not a number"),
        (("<?xml version", "<!DOCTYPE a><?xml version"), "document type"),
        (("values.ssv", "none.ssv"), "lacks the file 'none.ssv'"),
    ],
)
def test_what_cannot_be_read_is_named(
    hand_written: Build, change: tuple[str, str], words: str
) -> None:
    with pytest.raises(MovrelError, match=words):
        model_of_archive(foreign(hand_written(2), STRUCTURE.replace(*change)), "quay.ssp")


def test_archives_that_are_none() -> None:
    for content in (
        b"",
        b"PK not a zip",
        archive({"other.txt": b""}),
        archive({"../../evil": b""}),
    ):
        with pytest.raises(MovrelError):
            model_of_archive(content, "bad.ssp")


def test_mangled_structures_never_end_in_a_traceback(hand_written: Build) -> None:
    content = STRUCTURE.encode()
    random = np.random.default_rng(7)
    for _ in range(60):
        at, length = random.integers(0, len(content)), random.integers(1, 40)
        broken = content[:at] + content[at + length :]
        files = {
            "SystemStructure.ssd": broken,
            "resources/spring.fmu": hand_written(2).read_bytes(),
        }
        try:
            read = model_of_archive(archive(files | {"values.ssv": VALUES.encode(), "signals.ssb": SIGNALS.encode()}), "m.ssp")  # fmt: skip
            cut(load(text=read.text))
        except MovrelError as fault:
            assert fault.message

"""Rules of the standard: our own units keep them all, and each that another breaks is told with its clause."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile
from pathlib import Path

import pytest
from PIL import Image

import movrel
from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.fmi.archive import open_unit
from movrel.fmi.rules import findings
from tests.exchange.hand_written import CHAIN, SPRING

QUAY = Path(__file__).resolve().parents[2] / "examples" / "VarrowQuay"
TYPES = """package P type Mode = enumeration(off, low, high); model All "Every sort of variable" parameter Mode mode = Mode.low; parameter Integer n(min=1, max=5) = 2;
  parameter Boolean on = true; parameter String label = "valve"; final parameter Real two = 2; parameter Real T(unit="K", displayUnit="degC") = 300;
  parameter Real late = 2*T; parameter Real guess(fixed=false); input Real u(unit="m3/s", displayUnit="l/s"); input Boolean b; input Integer k; output Real y; output Boolean hot;
  output Integer count(start=0, fixed=true); Real x[2](each start=1, each fixed=true, each unit="m"); Mode now;
  initial equation guess = x[1] + 1; equation der(x[1]) = u - x[1]; der(x[2]) = guess*x[1]; y = x[1] + k; hot = x[2] > 2;
  when hot then count = pre(count) + 1; end when; now = if b then Mode.high else mode; end All; end P;"""


def opened(folder: Path, text: str) -> list[str]:
    path = folder / "unit.fmu"
    with zipfile.ZipFile(path, "w") as out:
        out.writestr("modelDescription.xml", text)
        out.writestr(
            "binaries/x86_64-linux/unit3.so" if "Chain" in text else "binaries/linux64/unit2.so",
            b"x",
        )
    return [f"{f.clause} {f.text}" for f in findings(open_unit(path))]


@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("name", ["Sump", "WinchDrive", "ShiftController", "P.All"])
def test_our_own_units_keep_the_rules(name: str, version: int, tmp_path: Path) -> None:
    model = (
        movrel.load(text=TYPES, model=name)
        if name == "P.All"
        else movrel.load(QUAY, model=f"VarrowQuay.{name}")
    )
    for sealed in (False, True):
        if sealed and name != "P.All":
            continue  # a sealed unit needs its binary
        path = tmp_path / f"{sealed}.fmu"
        path.write_bytes(
            export_unit(
                model,
                ExportOptions(version=version, sealed=sealed, platforms=None if sealed else ()),
            ).archive
        )
        assert findings(open_unit(path)) == []


@pytest.mark.parametrize("version", [2, 3])
def test_the_symbol_is_inside_unless_it_is_left_out(version: int) -> None:
    model = movrel.load(QUAY, model="VarrowQuay.LiftLeaf")
    place = "model.png" if version == 2 else "terminalsAndIcons/icon.png"
    for wanted in (True, False):
        made = export_unit(model, ExportOptions(version=version, symbol=wanted, platforms=()))
        archive = zipfile.ZipFile(io.BytesIO(made.archive))
        assert (place in archive.namelist()) is wanted
        if not wanted:
            continue
        again = export_unit(model, ExportOptions(version=version, platforms=()))
        assert zipfile.ZipFile(io.BytesIO(again.archive)).read(place) == archive.read(place)
        picture = Image.open(io.BytesIO(archive.read(place)))
        assert picture.format == "PNG" and picture.size == (256, 256)
        # 300 units across: white inside the frame, ink in its input on the left, nothing in the corner.
        at = [
            picture.getpixel((round((x + 150) * 256 / 300), round((150 - y) * 256 / 300)))
            for x, y in ((50, 60), (-110, 0), (-140, 140))
        ]
        assert at[0] == (255, 255, 255, 255) and at[1][3] == 255 and max(at[1][:3]) < 90
        assert at[2][3] == 0
        if version == 3:
            root = ET.fromstring(archive.read("terminalsAndIcons/terminalsAndIcons.xml"))
            corners = {"x1": "-150", "y1": "-150", "x2": "150", "y2": "150"}
            assert root[0].tag == "GraphicalRepresentation"
            assert root[0][1].attrib == corners
            assert root[0][0].attrib == corners | {"suggestedScalingFactorTo_mm": "0.1"}


def test_every_sort_of_variable_comes_back_as_it_was(tmp_path: Path) -> None:
    model = movrel.load(text=TYPES, model="P.All")
    for version in (2, 3):
        made = export_unit(model, ExportOptions(version=version, platforms=()))
        path = tmp_path / "all.fmu"
        path.write_bytes(made.archive)
        read = open_unit(path).description
        assert [(v.name, v.reference, v.kind, v.causality, v.variability, v.initial, v.start, v.sizes, v.unit, v.display_unit, v.minimum,
                 v.maximum, v.enumeration, v.derivative_of, v.description) for v in read.variables] == [
            (v.name, v.reference, v.kind, v.causality, v.variability, v.initial, v.start, v.sizes, v.unit, v.display_unit, v.minimum,
             v.maximum, v.enumeration, v.derivative_of, v.description) for v in made.description.variables]  # fmt: skip
        assert read.outputs == made.description.outputs
        assert read.derivatives == made.description.derivatives
        assert read.initial_unknowns == made.description.initial_unknowns
        by_name = read.by_name()
        assert by_name["mode"].enumeration == ("off", "low", "high")
        assert by_name["guess"].causality == by_name["late"].causality == "calculatedParameter"
        assert by_name["label"].start == ["valve"]
        litres = next(u for u in read.units if u.name == "m3/s")
        assert litres.powers == {"m": 3, "s": -1}
        assert litres.displays == {"l/s": (pytest.approx(1000.0), 0.0)}
        kelvin = next(u for u in read.units if u.name == "K")
        assert kelvin.displays["degC"] == (1.0, pytest.approx(-273.15))


def test_the_hand_written_units_are_told_what_they_lack(tmp_path: Path) -> None:
    assert opened(tmp_path, SPRING) == []
    chain = opened(tmp_path, CHAIN)
    assert all(
        "initial unknowns" in text or "among the outputs" in text or "continuous" in text
        for text in chain
    )
    assert "2.4.8 The output 'y_Float64' is not listed among the outputs." in chain


@pytest.mark.parametrize(
    ("terminals", "finding"),
    [
        ("<fmiTerminalsAndIcons fmiVersion='3.0'><Terminals><Terminal name='a'><TerminalMemberVariable variableName='x' "
         "memberName='m'/></Terminal></Terminals></fmiTerminalsAndIcons>", None),
        ("<fmiTerminalsAndIcons fmiVersion='3.0'><Terminals><Terminal name='a'><Terminal name='b'><TerminalMemberVariable "
         "variableName='lost'/></Terminal></Terminal></Terminals></fmiTerminalsAndIcons>",
         "2.4.9 The terminal 'a.b' names 'lost', which is no variable."),
        ("<fmiTerminalsAndIcons>", "2.4.9 The terminals cannot be read: the description is not well-formed XML"),
        ("<Other/>", "2.4.9 The terminals cannot be read: the terminals begin with 'Other'."),
    ],
)  # fmt: skip
def test_terminals_are_read_and_judged(terminals: str, finding: str | None, tmp_path: Path) -> None:
    path = tmp_path / "unit.fmu"
    with zipfile.ZipFile(path, "w") as out:
        out.writestr("modelDescription.xml", CHAIN)
        out.writestr("terminalsAndIcons/terminalsAndIcons.xml", terminals)
    unit = open_unit(path)
    said = [f"{f.clause} {f.text}" for f in findings(unit) if f.clause == "2.4.9"]
    if finding is None:
        assert said == [] and unit.description.terminals[0].members == {"m": "x"}
    else:
        assert len(said) == 1 and said[0].startswith(finding)


@pytest.mark.parametrize(
    ("old", "new", "finding"),
    [
        ('start="-0.5"', "", "2.2.7 'wall' lacks a start value."),
        ('unit="N/kg" start="0"', 'unit="N/g" start="0"', "2.2.2 The unit 'N/g' of 'force' is not defined."),
        ('displayUnit="mm"', 'displayUnit="cm"', "2.2.2 The display unit 'cm' of 'x' is not defined for 'm'."),
        ('start="4" min="0"', 'start="4" min="5"', "2.2.7 The start value 4 of 'stiffness' lies outside its limits."),
        ('start="4" min="0"', 'start="4" min="5" max="3"', "2.2.7 The minimum of 'stiffness' lies above its maximum."),
        ('causality="output" initial="exact"', 'initial="exact"', None),
        ('<Unknown index="3"/><Unknown index="4"/>', '<Unknown index="3"/>', "2.2.8 'der(v)' is unknown at the start and not listed among the initial unknowns."),
        ('dependencies="2"', 'dependencies="6"', "2.2.8 'der(x)' depends on 'stiffness', which is no known."),
        ('variability="discrete"><Boolean', 'variability="continuous"><Boolean', "2.2.7 'touching' is Boolean and continuous; only real variables can be."),
        ('causality="parameter" variability="fixed"><Real start="4"', 'causality="parameter" variability="discrete"><Real start="4"', "2.2.7 'stiffness' is parameter and discrete, which do not go together."),
        ('name="strikes"', 'name="number of strikes"', "2.2.9 The name 'number of strikes' does not follow the structured convention."),
        ('modelIdentifier="unit2" canHandle', 'modelIdentifier="2unit" canHandle', "2.3 The model identifier '2unit' is no identifier of C."),
    ],
)  # fmt: skip
def test_each_broken_rule_is_told_with_its_clause(
    old: str, new: str, finding: str | None, tmp_path: Path
) -> None:
    text = SPRING.replace(old, new)
    assert text != SPRING
    told = opened(tmp_path, text)
    if finding is not None:
        assert finding in told

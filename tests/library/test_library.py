"""The component library as a whole: every part can be found, believed, put on a sheet, and is tested."""

from __future__ import annotations

import importlib.util
import re
from pathlib import Path
from types import ModuleType

import pytest

import movrel
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.session import LoadedModel
from movrel.sheet.symbols import icon
from movrel.views.examples import examples
from movrel.views.reference import page_of
from movrel.views.shelf import PORTS
from movrel.views.shelf import _library as shelf_of_the_library
from tests.conftest import ROOT


def _generator() -> ModuleType:
    spec = importlib.util.spec_from_file_location("make_library", ROOT / "docs" / "make_library.py")
    assert spec is not None and spec.loader is not None
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    return made


PAGE = _generator()
TREE = ClassTree()
ROOT_PACKAGE = TREE.find("Movrel")
assert ROOT_PACKAGE is not None
PARTS: list[Definition] = PAGE.parts(TREE, ROOT_PACKAGE)

#: What is put at each kind of port so that a part can be computed alone.
ENDS = {
    "Movrel.Translational.Rod": "Movrel.Translational.Mass {e}; {c}({e}.a, {p});",
    "Movrel.Rotational.Shaft": "Movrel.Rotational.Inertia {e}; {c}({e}.a, {p});",
    "Movrel.Thermal.ThermalNode": "Movrel.Thermal.HeatCapacity {e}(T_start=290 + {k}); {c}({e}.a, {p});",
    "Movrel.Process.LiquidPort": "Movrel.Process.GasVessel {e}(V_total=100, V_start=50, p_start=1000*{k}); {c}({e}.port, {p});",
    "Movrel.Hydraulics.OilPort": "Movrel.Hydraulics.Chamber {e}(V=1e-3, p_start=1e5*{k}); {c}({e}.port, {p});",
    "Movrel.Pneumatics.GasPort": "Movrel.Pneumatics.Chamber {e}(V_0=1e-3, p_start=1e5*{k}); {c}({e}.a, {p});",
    "Movrel.Electrical.Terminal": "Movrel.Electrical.Resistor {e}(R=3); Movrel.Electrical.VoltageSource {e}s(V={k}); "
    "Movrel.Electrical.Ground {e}g; {c}({e}.a, {p}); {c}({e}.b, {e}s.a); {c}({e}s.b, {e}g.a);",
}
#: Parts that mean something only in company; the tests of their field compute them.
IN_COMPANY = {
    "FileTable",
    "Mixtures.Inflow",
    "IdealOpAmp",
    "Junction",
    "MixtureAnalyser",
    "Outfall",
    "StirredReactor",
    "Resistance",
}


def bench(part: Definition) -> str:
    """A model of a part with something at each of its ports."""
    declared, wired = "", ""
    for number, port in enumerate(icon(TREE, part).ports):
        name = f"p.{port.name}"
        if port.direction == "in":
            signal = (
                "mod(time, 0.4) > 0.2"
                if port.class_name.endswith("LogicIn")
                else "0.5 + 0.3*sin(30*time)"
            )
            wired += (
                f"{name} = fill({signal}, size({name}, 1)); "
                if port.array
                else f"{name} = {signal}; "
            )
        elif port.class_name in ENDS:
            for k in range(1, 4) if port.array else [0]:
                here = f"{name}[{k}]" if k else name
                text = ENDS[port.class_name].format(
                    e=f"e{number}_{k}", c="connect", p=here, k=number + k + 1
                )
                for statement in text.split(";"):
                    if "connect(" in statement:
                        wired += f"{statement.strip()}; "
                    elif statement.strip():
                        declared += f"{statement.strip()}; "
    return f"model M {part.qualified} p; {declared} equation {wired} end M;"


def test_the_library_is_large_and_its_names_are_told_apart() -> None:
    assert len(PARTS) > 150
    assert len({p.qualified for p in PARTS}) == len(PARTS)


@pytest.mark.parametrize("part", PARTS, ids=lambda p: p.qualified.removeprefix("Movrel."))
def test_every_part_can_be_found_and_believed(part: Definition) -> None:
    page = page_of(TREE, part)
    assert page.description and page.info and page.source, (
        "it says what it is, its equation and where that is from"
    )
    assert page.synonyms, "other trades' words find it"
    assert page.icon.graphics, "it has a symbol"
    assert all(p.description for p in page.parameters) and all(p.description for p in page.ports)
    assert page.equations or page.fault or part.name in ("Junction", "State", "ZerosPoles"), (
        "its equations can be shown"
    )


@pytest.mark.parametrize(
    "part",
    [
        p
        for p in PARTS
        if p.name not in IN_COMPANY and p.qualified.partition("Process.")[2] not in IN_COMPANY
    ],
    ids=lambda p: p.qualified.removeprefix("Movrel."),
)
def test_every_part_computes_by_itself_with_its_defaults(part: Definition) -> None:
    # Carriers change state thousands of times a second.
    stop = 1e-4 if part.name.startswith("Interleaved") else 0.05 if "Pwm" in part.name else 1
    r = movrel.load(text=bench(part)).simulate(stop=stop, interval=0.01)
    assert r.time[-1] > 0


@pytest.mark.parametrize(
    "example", examples(), ids=lambda e: e.qualified.removeprefix("Movrel.Examples.")
)
def test_every_example_runs_and_prepares_its_recorder(example: Definition) -> None:
    strips = note.members(note.find(example.node.annotation, "__Movrel")).get("recorder")
    model = LoadedModel(TREE, example)
    names = {v.name for v in model.flat.variables}
    assert strips and all(name in names for strip in strips for name in strip)
    assert example.node.comment


def test_the_page_of_the_library_is_up_to_date_and_names_a_test_for_each_part() -> None:
    page = PAGE.library_page()
    assert page == Path(ROOT / "docs" / "library.md").read_text(encoding="utf-8"), (
        "run docs/make_library.py"
    )
    rows = re.findall(r"^\| (\w[\w.]*) \|.*\| (.*?) \|$", page, re.M)
    assert len(rows) - page.count("| part |") >= len(PARTS) - 1
    assert [name for name, tests in rows if not tests] == []


def test_examples_do_not_lie_on_the_shelf() -> None:
    classes = [entry.class_name for entry in shelf_of_the_library()]
    ports = [entry for entry in shelf_of_the_library() if entry.group == PORTS]
    assert (
        len(classes) == len(PARTS) + len(ports)
        and len(ports) == 14
        and not any(".Examples." in c for c in classes)
    )

"""A rig as an SSP archive: units of others as they are, models of our own as units made for it."""

from __future__ import annotations

import html
import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from movrel import __version__
from movrel.couple.foreign_names import foreign_names
from movrel.couple.members import constant_expressions
from movrel.couple.partition import UnitPart
from movrel.couple.rig import RigRun
from movrel.errors import UnitFault
from movrel.exchange.fmi.export import export_flat
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.ssp.as_model import RIG_ANNOTATION
from movrel.exchange.ssp.structure import (
    SspBinding,
    SspConnection,
    SspConnector,
    SspElement,
    SspSystem,
    SspUnit,
    SspValue,
    SystemStructure,
)
from movrel.exchange.ssp.write import ssp_archive
from movrel.fmi.archive import open_unit
from movrel.fmi.description import UnitVariable
from movrel.model import annotation as note
from movrel.model import expression as x
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition
from movrel.model.expression import Variable
from movrel.model.resource_files import resource_file
from movrel.project.rig_settings import rig_text
from movrel.units import unit

Extent = tuple[float, float, float, float]
_BASES = ("m", "kg", "s", "A", "K", "mol", "cd")
_TYPES = {"Real": "Real", "Integer": "Integer", "Boolean": "Boolean", "enumeration": "Integer"}


@dataclass(slots=True)
class WrittenRig:
    """The archive, and what is to be said about it."""

    archive: bytes
    notes: list[str] = field(default_factory=list)


def ssp_of(
    run: RigRun, definition: Definition, places: Mapping[str, Extent], version: str = "1.0"
) -> WrittenRig:
    """The archive of a rig with the values of a run. ``places`` are extents of parts on the sheet.

    Raises :class:`movrel.errors.MovrelError` for a part that cannot be a unit, and for a missing file.
    """
    return _Writer(run, definition, places, version).write()


class _Writer:
    def __init__(
        self, run: RigRun, definition: Definition, places: Mapping[str, Extent], version: str
    ) -> None:
        self.run, self.rig, self.places = run, run.rig, places
        self.definition, self.version = definition, version
        self.files: dict[str, bytes] = {}
        self.notes: list[str] = []
        self.kept = _foreign_annotations(definition)
        self.elements: dict[UnitPart, SspElement] = {}
        self.connector: dict[Variable, tuple[str, str]] = {}

    def write(self) -> WrittenRig:
        name = self.definition.name
        for k, part in enumerate(self.rig.parts):
            self._add(part, k)
        system = SspSystem(name, description=_comment(self.definition))
        system.elements = list(self.elements.values())
        for c in self.rig.connections:
            if c.source in self.rig.outer:
                continue
            system.connections.append(
                SspConnection(self.connector[c.source], self.connector[c.target])
            )
        self._ports(system)
        system.annotations = self.kept.get("", [])
        o = self.run.options
        structure = SystemStructure(
            name, system, self.version, _comment(self.definition), tool=f"Movrel {__version__}",
            units=self._units(), start=o.start, stop=o.stop,
        )  # fmt: skip
        coupling = html.escape(rig_text(self.run.settings), quote=True)
        ours = f'<ssc:Annotation type="{RIG_ANNOTATION}"><coupling coupling="{coupling}"/></ssc:Annotation>'
        structure.annotations = [ours.encode("utf-8")]
        structure.namespaces = dict(self.kept_namespaces)
        return WrittenRig(ssp_archive(structure, self.files), self.notes)

    @property
    def kept_namespaces(self) -> dict[str, str]:
        return _pairs(_carried(self.definition).get("namespaces"))

    # --- units ---

    def _add(self, part: UnitPart, k: int) -> None:
        name = _element_name(part)
        element = SspElement(name, extent=self._place(part, k))
        if part.foreign is not None:
            self._foreign(part, element)
        else:
            self._own(part, element)
        element.annotations = self.kept.get(name, [])
        self.elements[part] = element

    def _place(self, part: UnitPart, k: int) -> Extent:
        x1, y1 = 100.0 * (k % 5), -100.0 * (k // 5)
        return self.places.get(part.name.split(" + ")[0], (x1, y1, x1 + 40.0, y1 + 40.0))

    def _foreign(self, part: UnitPart, element: SspElement) -> None:
        own = part.foreign
        assert own is not None
        path = resource_file(own.file, own.folders, own.where)
        element.source = f"resources/{path.name}"
        self.files[element.source] = path.read_bytes()
        element.implementation = "CoSimulation" if own.kind == "cs" else "ModelExchange"
        opened = open_unit(path)
        known = opened.description.by_name()
        values: list[SspValue] = []
        for p in own.parameters:
            v = known[p.name]
            if v.count > 1:
                self.notes.append(
                    f"the array '{part.name}.{p.name}' keeps the values that the unit has."
                )
            else:
                values.append(_value(v, float(x.evaluate(p.value, self.run.parameters))))
        if values:
            element.bindings = [SspBinding(f"{part.name} values", values)]
        names = foreign_names(part, self.rig.flat, opened)
        for port in part.inputs:
            self._connector(element, port, names[port][0], "input")
        for port in part.outputs:
            self._connector(element, port, names[port][0], "output")

    def _own(self, part: UnitPart, element: SspElement) -> None:
        """A unit made of equations of our own; variables go without the part's name where it is one part."""
        flat = part.flat
        assert flat is not None
        prefix = f"{part.name}."
        single = " + " not in part.name
        names = {
            v: v.name.removeprefix(prefix) if single else v.name
            for v in [*part.inputs, *part.outputs]
        }
        chosen = {v.name: v for v in flat.variables}
        for name, value in self.run.set_values.items():
            if name in chosen:
                chosen[name].binding = x.const(value)
        if single:
            for v in flat.variables:
                v.name = v.name.removeprefix(prefix)
        for v in flat.variables:
            v.protected = False
        options = ExportOptions(
            version=2, interfaces=("cs",), outputs=frozenset(names[v] for v in part.outputs)
        )
        made = export_flat(flat, f"{self.definition.name}.{element.name}", "", options)
        if constant_expressions(part) is not None:
            self.notes.append(f"the constants of '{part.name}' are parameters of its unit.")
        element.source = f"resources/{element.name}.fmu"
        element.implementation = "CoSimulation"
        self.files[element.source] = made.archive
        for v, kind in [(v, "input") for v in part.inputs] + [(v, "output") for v in part.outputs]:
            self._connector(element, v, names[v], kind)

    def _connector(self, element: SspElement, v: Variable, name: str, kind: str) -> None:
        made = SspConnector(
            name, "input" if kind == "input" else "output", _TYPES.get(v.type, "Real"), v.unit
        )
        element.connectors.append(made)
        self.connector[v] = element.name, name

    # --- the system itself ---

    def _ports(self, system: SspSystem) -> None:
        """Ports of the rig itself: outputs that a unit feeds."""
        for v, c in self.rig.through.items():
            if "." in v.name or c.source not in self.connector:
                continue
            kind = _TYPES.get(v.type, "Real")
            system.connectors.append(SspConnector(v.name, "output", kind, v.unit))
            system.connections.append(SspConnection(self.connector[c.source], ("", v.name)))
        if self.rig.outer:
            names = ", ".join(v.name for v in self.rig.outer)
            self.notes.append(f"inputs of the rig itself are left out: {names}.")

    def _units(self) -> list[SspUnit]:
        texts = {c.unit for e in self.elements.values() for c in e.connectors if c.unit}
        texts |= {
            v.unit for e in self.elements.values() for b in e.bindings for v in b.values if v.unit
        }
        made: list[SspUnit] = []
        for text in sorted(texts):
            try:
                si = unit(text)
            except UnitFault:
                made.append(SspUnit(text))
                continue
            powers = {b: int(p) for b, p in zip(_BASES, si.dimension, strict=True) if p}
            made.append(SspUnit(text, powers, si.factor, si.offset))
        return made


def _element_name(part: UnitPart) -> str:
    return re.sub(r"\W+", "_", part.name)


def _value(v: UnitVariable, value: float) -> SspValue:
    """A value of a parameter as the standard writes it."""
    if v.kind == "Boolean":
        return SspValue(v.name, "Boolean", "true" if value else "false")
    if v.kind == "Real":
        return SspValue(v.name, "Real", repr(value), v.unit)
    return SspValue(v.name, "Integer", str(int(value)))


def _comment(definition: Definition) -> str:
    comment = definition.node.comment
    return comment if isinstance(comment, str) else ""


def _carried(definition: Definition) -> dict[str, object]:
    given = note.members(note.find(definition.node.annotation, VENDOR)).get("ssp")
    return given if isinstance(given, dict) else {}


def _pairs(given: object) -> dict[str, str]:
    return {
        str(p[0]): str(p[1])
        for p in (given if isinstance(given, list) else [])
        if isinstance(p, list) and len(p) == 2
    }


def _foreign_annotations(definition: Definition) -> dict[str, list[bytes]]:
    """Annotations of others that were read with the rig, by the element they stood at."""
    kept: dict[str, list[bytes]] = {}
    given = _carried(definition).get("annotations")
    for pair in given if isinstance(given, list) else []:
        if isinstance(pair, list) and len(pair) == 2:
            kept.setdefault(str(pair[0]), []).append(str(pair[1]).encode("utf-8"))
    return kept

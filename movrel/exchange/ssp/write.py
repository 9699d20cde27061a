"""Writing an SSP archive."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile

from movrel.exchange.ssp.read import STRUCTURE
from movrel.exchange.ssp.structure import (
    SspBinding,
    SspConnector,
    SspElement,
    SspSystem,
    SystemStructure,
)
from movrel.fmi.write_description import number

_SPACES = {
    "ssd": "http://ssp-standard.org/SSP1/SystemStructureDescription",
    "ssc": "http://ssp-standard.org/SSP1/SystemStructureCommon",
    "ssv": "http://ssp-standard.org/SSP1/SystemStructureParameterValues",
    "ssm": "http://ssp-standard.org/SSP1/SystemStructureParameterMapping",
}
#: The time that stands in all archives, so that the same rig gives the same bytes.
_TIMESTAMP = (2026, 1, 1, 0, 0, 0)


def ssp_archive(structure: SystemStructure, files: dict[str, bytes]) -> bytes:
    """The archive: the structure, and ``files`` by their paths in it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in sorted({**files, STRUCTURE: structure_xml(structure)}.items()):
            entry = zipfile.ZipInfo(name, _TIMESTAMP)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            archive.writestr(entry, content)
    return out.getvalue()


def structure_xml(structure: SystemStructure) -> bytes:
    """``SystemStructure.ssd``; annotations of others stand in it byte for byte."""
    return _Writer().document(structure)


class _Writer:
    def __init__(self) -> None:
        self.raw: list[bytes] = []

    def document(self, s: SystemStructure) -> bytes:
        spaces = {p: uri for p, uri in s.namespaces.items() if p not in _SPACES} | _SPACES
        attributes = {f"xmlns:{p}" if p else "xmlns": uri for p, uri in spaces.items()}
        root = ET.Element("ssd:SystemStructureDescription", attributes)
        root.set("version", s.version)
        root.set("name", s.name)
        for name, value in (
            ("description", s.description), ("author", s.author), ("generationTool", s.tool),
        ):  # fmt: skip
            if value:
                root.set(name, value)
        self._system(root, s.system)
        if s.units:
            units = ET.SubElement(root, "ssd:Units")
            for u in s.units:
                node = ET.SubElement(units, "ssc:Unit", {"name": u.name})
                powers = {k: str(v) for k, v in u.powers.items()}
                scale = {"factor": number(u.factor)} if u.factor != 1.0 else {}
                scale |= {"offset": number(u.offset)} if u.offset != 0.0 else {}
                ET.SubElement(node, "ssc:BaseUnit", powers | scale)
        if s.start is not None or s.stop is not None:
            times = {k: number(v) for k, v in (("startTime", s.start), ("stopTime", s.stop)) if v is not None}  # fmt: skip
            ET.SubElement(root, "ssd:DefaultExperiment", times)
        self._annotations(root, s.annotations)
        ET.indent(root, "  ")
        text = ET.tostring(root, encoding="unicode").encode("utf-8")
        for k, content in enumerate(self.raw):
            text = text.replace(f"<ssc:Annotation movrel-place='{k}' />".encode(), content)
            text = text.replace(f'<ssc:Annotation movrel-place="{k}" />'.encode(), content)
        return b'<?xml version="1.0" encoding="UTF-8"?>\n' + text + b"\n"

    def _annotations(self, node: ET.Element, annotations: list[bytes]) -> None:
        if not annotations:
            return
        holder = ET.SubElement(node, "ssd:Annotations")
        for content in annotations:
            ET.SubElement(holder, "ssc:Annotation", {"movrel-place": str(len(self.raw))})
            self.raw.append(content)

    def _system(self, node: ET.Element, system: SspSystem) -> None:
        own = ET.SubElement(node, "ssd:System", {"name": system.name})
        self._described(own, system)
        if system.elements:
            holder = ET.SubElement(own, "ssd:Elements")
            for e in system.elements:
                if isinstance(e, SspSystem):
                    self._system(holder, e)
                else:
                    self._component(holder, e)
        if system.connections:
            holder = ET.SubElement(own, "ssd:Connections")
            for c in system.connections:
                ends: dict[str, str] = {}
                for side, (element, connector) in (("start", c.start), ("end", c.end)):
                    if element:
                        ends[f"{side}Element"] = element
                    ends[f"{side}Connector"] = connector
                if c.suppress:
                    ends["suppressUnitConversion"] = "true"
                line = ET.SubElement(holder, "ssd:Connection", ends)
                if c.factor != 1.0 or c.offset != 0.0:
                    scale = {"factor": number(c.factor), "offset": number(c.offset)}
                    ET.SubElement(line, "ssc:LinearTransformation", scale)
                if c.points:
                    xs, ys = (" ".join(number(p[k]) for p in c.points) for k in (0, 1))
                    ET.SubElement(line, "ssd:ConnectionGeometry", {"pointsX": xs, "pointsY": ys})
        if system.canvas is not None:
            ET.SubElement(own, "ssd:SystemGeometry", _extent(system.canvas))
        if system.notes:
            holder = ET.SubElement(own, "ssd:GraphicalElements")
            for n in system.notes:
                ET.SubElement(holder, "ssd:Note", {**_extent(n.extent), "text": n.text})
        self._annotations(own, system.annotations)

    def _component(self, node: ET.Element, e: SspElement) -> None:
        attributes = {"name": e.name, "type": e.type, "source": e.source}
        if e.implementation != "any":
            attributes["implementation"] = e.implementation
        own = ET.SubElement(node, "ssd:Component", attributes)
        self._described(own, e)
        self._annotations(own, e.annotations)

    def _described(self, node: ET.Element, e: SspElement) -> None:
        """What components and systems have alike, in the order that the schema wants."""
        if e.description:
            node.set("description", e.description)
        if e.connectors:
            holder = ET.SubElement(node, "ssd:Connectors")
            for c in e.connectors:
                self._connector(holder, c)
        if e.extent is not None:
            ET.SubElement(node, "ssd:ElementGeometry", _extent(e.extent))
        if e.bindings:
            holder = ET.SubElement(node, "ssd:ParameterBindings")
            for b in e.bindings:
                self._binding(holder, b)

    def _connector(self, node: ET.Element, c: SspConnector) -> None:
        own = ET.SubElement(node, "ssd:Connector", {"name": c.name, "kind": c.kind})
        if c.description:
            own.set("description", c.description)
        ET.SubElement(own, f"ssc:{c.type}", {"unit": c.unit} if c.unit and c.type == "Real" else {})
        if c.place is not None:
            at = {"x": number(c.place[0]), "y": number(c.place[1])}
            ET.SubElement(own, "ssd:ConnectorGeometry", at)

    def _binding(self, node: ET.Element, b: SspBinding) -> None:
        own = ET.SubElement(node, "ssd:ParameterBinding", {"prefix": b.prefix} if b.prefix else {})
        values = ET.SubElement(own, "ssd:ParameterValues")
        holder = ET.SubElement(values, "ssv:ParameterSet", {"version": "1.0", "name": b.name})
        parameters = ET.SubElement(holder, "ssv:Parameters")
        for v in b.values:
            p = ET.SubElement(parameters, "ssv:Parameter", {"name": v.name})
            ET.SubElement(
                p, f"ssv:{v.type}", {"value": v.value} | ({"unit": v.unit} if v.unit else {})
            )
        if b.mapping is not None:
            mapping = ET.SubElement(own, "ssd:ParameterMapping")
            entries = ET.SubElement(mapping, "ssm:ParameterMapping", {"version": "1.0"})
            for m in b.mapping:
                e = ET.SubElement(
                    entries, "ssm:MappingEntry", {"source": m.source, "target": m.target}
                )
                if m.factor != 1.0 or m.offset != 0.0:
                    scale = {"factor": number(m.factor), "offset": number(m.offset)}
                    ET.SubElement(e, "ssc:LinearTransformation", scale)


def _extent(e: tuple[float, float, float, float]) -> dict[str, str]:
    return {k: number(v) for k, v in zip(("x1", "y1", "x2", "y2"), e, strict=True)}

"""Reading an SSP archive: its structure, parameter sets, mappings and signal dictionaries, embedded or in files."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Iterator
from pathlib import PurePosixPath
from xml.parsers import expat

from movrel.errors import MovrelError
from movrel.exchange.ssp.structure import (
    KINDS,
    SspBinding,
    SspConnection,
    SspConnector,
    SspElement,
    SspMapping,
    SspNote,
    SspSystem,
    SspUnit,
    SspValue,
    SystemStructure,
)

#: Largest archive content in bytes, most files, deepest nesting of systems.
CONTENT_LIMIT, FILE_LIMIT, DEPTH_LIMIT = 2_000_000_000, 20_000, 50
#: Deepest nesting of archives, and what stands between the path of one and that of a file in it.
ARCHIVE_DEPTH, INSIDE = 5, "!/"
STRUCTURE = "SystemStructure.ssd"
_TYPES = ("Real", "Integer", "Boolean", "String", "Enumeration", "Binary")
_NUMBERS_3 = {"Float64": "Real", "Float32": "Real"} | dict.fromkeys(
    ("Int8", "UInt8", "Int16", "UInt16", "Int32", "UInt32", "Int64", "UInt64"), "Integer"
)


class SspFault(MovrelError):
    """An archive or structure that cannot be read."""


class SspArchive:
    """The files of an archive, each read when it is asked for. Raises :class:`SspFault`."""

    def __init__(self, content: bytes, name: str = "the archive") -> None:
        self.name = name
        try:
            self._zip = zipfile.ZipFile(io.BytesIO(content))
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
            raise SspFault(
                f"'{name}' is not a ZIP archive, which every .ssp file is.",
                hint="Fetch the file again.",
            ) from None
        entries = self._zip.infolist()
        if len(entries) > FILE_LIMIT or sum(e.file_size for e in entries) > CONTENT_LIMIT:
            raise SspFault(f"'{name}' holds more than can be read.")
        for e in entries:
            pure = PurePosixPath(e.filename.replace("\\", "/"))
            if pure.is_absolute() or ".." in pure.parts or ":" in e.filename:
                raise SspFault(f"'{name}' wants to write outside its folder: '{e.filename}'.")
        self.names = [e.filename for e in entries if not e.is_dir()]
        self._inner: dict[str, SspArchive] = {}

    def inner(self, path: str) -> SspArchive:
        """An archive within this one."""
        if path not in self._inner:
            self._inner[path] = SspArchive(self.read(path), path)
        return self._inner[path]

    def read(self, path: str) -> bytes:
        """A file by its path, one of an archive within this one by both. Raises :class:`SspFault` naming it."""
        outer, inside, rest = path.partition(INSIDE)
        if inside:
            return self.inner(outer).read(rest)
        clean = path.removeprefix("./")
        if clean not in self.names:
            raise SspFault(f"'{self.name}' lacks the file '{path}', which its structure names.")
        try:
            return self._zip.read(clean)
        except (zipfile.BadZipFile, RuntimeError, OSError, NotImplementedError, EOFError):
            raise SspFault(f"'{path}' in '{self.name}' is damaged.") from None


def read_archive(archive: SspArchive) -> SystemStructure:
    """The structure of an archive. Raises :class:`SspFault` naming the element at fault."""
    return _Reader(archive).structure(archive.read(STRUCTURE))


def _local(tag: object) -> str:
    return str(tag).rpartition("}")[2]


def _children(node: ET.Element, *names: str) -> Iterator[ET.Element]:
    for child in node:
        if _local(child.tag) in names:
            yield child


def _child(node: ET.Element, name: str) -> ET.Element | None:
    return next(_children(node, name), None)


def _number(node: ET.Element, name: str, otherwise: float) -> float:
    text = node.get(name)
    if text is None:
        return otherwise
    try:
        return float(text)
    except ValueError:
        raise SspFault(
            f"'{name}' of the element '{_local(node.tag)}' is '{text}', not a number."
        ) from None


def parsed(content: bytes, file: str) -> ET.Element:
    """The root of a document. Raises :class:`SspFault` with line and column."""
    if b"<!DOCTYPE" in content or b"<!ENTITY" in content:
        raise SspFault(
            f"'{file}' holds a document type or entities, which the standard does not have."
        )
    try:
        return ET.fromstring(content)
    except ET.ParseError as fault:
        line, column = fault.position
        raise SspFault(
            f"'{file}' is not well-formed XML: {fault.msg.split(':')[0]} in line {line}, column {column}."
        ) from None
    except (ValueError, LookupError, RecursionError) as fault:
        raise SspFault(f"'{file}' cannot be read: {fault}.") from None


class _Raw:
    """The bytes of all ``Annotation`` elements of a document, in its order, and the namespaces of its root."""

    def __init__(self, content: bytes) -> None:
        self.content = content
        self.texts: list[bytes] = []
        self.namespaces: dict[str, str] = {}
        self._open: list[tuple[int, int]] = []
        self._depth = 0
        self._parser = expat.ParserCreate()
        self._parser.StartElementHandler = self._start
        self._parser.EndElementHandler = self._end
        self._parser.Parse(content, True)

    def _start(self, name: str, attributes: dict[str, str]) -> None:
        if self._depth == 0:
            self.namespaces = {
                k.partition(":")[2]: v for k, v in attributes.items() if k == "xmlns" or k.startswith("xmlns:")
            }  # fmt: skip
        self._depth += 1
        if name.rpartition(":")[2] == "Annotation" and not self._open:
            self._open.append((self._parser.CurrentByteIndex, self._depth))
            self.texts.append(b"")

    def _end(self, name: str) -> None:
        if self._open and self._open[-1][1] == self._depth:
            begin = self._open.pop()[0]
            end = self.content.index(b">", self._parser.CurrentByteIndex) + 1
            self.texts[-1] = self.content[begin:end]
        self._depth -= 1


class _Reader:
    def __init__(self, archive: SspArchive, level: int = 0) -> None:
        self.archive, self.level = archive, level
        #: Units of measurement of archives within this one.
        self.inner_units: list[SspUnit] = []
        self.unused: dict[str, None] = {}
        self._raw: dict[ET.Element, bytes] = {}

    def structure(self, content: bytes) -> SystemStructure:
        root = parsed(content, STRUCTURE)
        if _local(root.tag) != "SystemStructureDescription":
            raise SspFault(
                f"'{STRUCTURE}' begins with '{_local(root.tag)}', not with 'SystemStructureDescription'."
            )
        version = root.get("version", "")
        if not version.startswith(("1.", "2.")):
            raise SspFault(f"the structure is of version '{version}'; 1.0 and 2.0 can be read.")
        raw = _Raw(content)
        outermost = list(self._outermost(root))
        self._raw = dict(zip(outermost, raw.texts, strict=True))
        system = _child(root, "System")
        if system is None:
            raise SspFault(f"'{STRUCTURE}' has no element 'System'.")
        made = SystemStructure(
            root.get("name", "system"), self._system(system, 0), version, root.get("description", ""),
            root.get("author", ""), root.get("generationTool", ""),
        )  # fmt: skip
        made.units = self._units(root)
        own = {u.name for u in made.units}
        made.units += [u for u in self.inner_units if u.name not in own]
        experiment = _child(root, "DefaultExperiment")
        if experiment is not None:
            if experiment.get("startTime") is not None:
                made.start = _number(experiment, "startTime", 0.0)
            if experiment.get("stopTime") is not None:
                made.stop = _number(experiment, "stopTime", 1.0)
        made.annotations = self._annotations(root)
        made.namespaces = raw.namespaces
        if _child(root, "MetaData") is not None:
            self._say("meta data of the structure")
        made.unused = list(self.unused)
        return made

    def _outermost(self, node: ET.Element) -> Iterator[ET.Element]:
        """The annotations in the order of the document, none inside another."""
        for child in node:
            if _local(child.tag) == "Annotation":
                yield child
            else:
                yield from self._outermost(child)

    def _say(self, text: str) -> None:
        self.unused[text] = None

    def _annotations(self, node: ET.Element) -> list[bytes]:
        holder = _child(node, "Annotations")
        return [self._raw[a] for a in _children(holder, "Annotation")] if holder is not None else []

    def _units(self, root: ET.Element) -> list[SspUnit]:
        units: list[SspUnit] = []
        holder = _child(root, "Units")
        for node in _children(holder, "Unit") if holder is not None else ():
            base = _child(node, "BaseUnit")
            made = SspUnit(node.get("name", ""))
            if base is not None:
                made.powers = {
                    k: int(_number(base, k, 0))
                    for k in ("kg", "m", "s", "A", "K", "mol", "cd", "rad")
                    if base.get(k) is not None
                }
                made.factor, made.offset = (
                    _number(base, "factor", 1.0),
                    _number(base, "offset", 0.0),
                )
            units.append(made)
        return units

    # --- systems and components ---

    def _system(self, node: ET.Element, depth: int) -> SspSystem:
        if depth > DEPTH_LIMIT:
            raise SspFault(f"systems are nested more than {DEPTH_LIMIT} deep.")
        made = SspSystem(node.get("name", ""))
        self._fill(made, node)
        canvas = _child(node, "SystemGeometry")
        made.canvas = self._extent(canvas) if canvas is not None else None
        holder = _child(node, "SignalDictionaries")
        for d in _children(holder, "SignalDictionary") if holder is not None else ():
            made.dictionaries[d.get("name", "")] = self._dictionary(d)
        holder = _child(node, "Elements")
        for child in holder if holder is not None else ():
            what = _local(child.tag)
            if what == "System":
                made.elements.append(self._system(child, depth + 1))
            elif what == "Component":
                made.elements.append(self._component(child, depth))
            elif what == "SignalDictionaryReference":
                reference = SspElement(child.get("name", ""), type="dictionary")
                self._fill(reference, child)
                reference.dictionary = child.get("dictionary", "")
                made.elements.append(reference)
            else:
                self._say(f"the element '{what}'")
        holder = _child(node, "Connections")
        for child in _children(holder, "Connection") if holder is not None else ():
            made.connections.append(self._connection(child))
        holder = _child(node, "GraphicalElements")
        for child in holder if holder is not None else ():
            if _local(child.tag) == "Note":
                made.notes.append(SspNote(child.get("text", ""), self._extent(child)))
            else:
                self._say(f"the graphical element '{_local(child.tag)}'")
        return made

    def _component(self, node: ET.Element, depth: int) -> SspElement:
        source, kind = node.get("source", ""), node.get("type", "application/x-fmu-sharedlibrary")
        if "ssp" in kind or source.endswith((".ssd", ".ssp")):
            return self._nested_file(node, source, depth)
        made = SspElement(node.get("name", ""), source, kind)
        wanted = node.get("implementation", "any")
        if wanted in ("any", "ModelExchange", "CoSimulation", "ScheduledExecution"):
            made.implementation = wanted  # type: ignore[assignment]
        self._fill(made, node)
        return made

    def _nested_file(self, node: ET.Element, source: str, depth: int) -> SspSystem:
        """A system that lies in a file of its own: a structure, or a whole archive within the archive."""
        if source.endswith(".ssp"):
            made = self._nested_archive(source)
        else:
            content = self.archive.read(source)
            root = parsed(content, source)
            system = _child(root, "System")
            if system is None:
                raise SspFault(f"'{source}' has no element 'System'.")
            raw = _Raw(content)
            self._raw |= dict(zip(self._outermost(root), raw.texts, strict=True))
            made = self._system(system, depth + 1)
        made.name = node.get("name", made.name)
        made.bindings += self._bindings(node)
        return made

    def _nested_archive(self, source: str) -> SspSystem:
        """The system of an archive within this one, its files by their paths from here."""
        if self.level >= ARCHIVE_DEPTH:
            raise SspFault(f"archives are nested more than {ARCHIVE_DEPTH} deep.")
        archive = self.archive.inner(source)
        structure = _Reader(archive, self.level + 1).structure(archive.read(STRUCTURE))
        self.inner_units += structure.units
        for text in structure.unused:
            self._say(text)
        waiting: list[SspElement] = [structure.system]
        while waiting:
            element = waiting.pop()
            if element.source:
                element.source = f"{source}{INSIDE}{element.source.removeprefix('./')}"
            if isinstance(element, SspSystem):
                waiting += element.elements
        return structure.system

    def _fill(self, made: SspElement, node: ET.Element) -> None:
        made.description = node.get("description", "")
        if not made.name:
            raise SspFault(f"an element '{_local(node.tag)}' has no name.")
        holder = _child(node, "Connectors")
        made.connectors = [
            self._connector(c)
            for c in (_children(holder, "Connector") if holder is not None else ())
        ]
        made.bindings = self._bindings(node)
        place = _child(node, "ElementGeometry")
        made.extent = self._extent(place) if place is not None else None
        made.annotations = self._annotations(node)

    def _extent(self, node: ET.Element) -> tuple[float, float, float, float]:
        return (
            _number(node, "x1", 0.0), _number(node, "y1", 0.0), _number(node, "x2", 0.0), _number(node, "y2", 0.0),
        )  # fmt: skip

    def _connector(self, node: ET.Element) -> SspConnector:
        kind = node.get("kind", "")
        if kind not in KINDS:
            raise SspFault(
                f"the connector '{node.get('name')}' is of kind '{kind}', which there is not."
            )
        made = SspConnector(node.get("name", ""), kind, description=node.get("description", ""))
        self._typed(made, node)
        place = _child(node, "ConnectorGeometry")
        if place is not None:
            made.place = _number(place, "x", 0.0), _number(place, "y", 0.0)
        return made

    def _typed(self, made: SspConnector, node: ET.Element) -> None:
        for child in node:
            name = _local(child.tag)
            if name in _TYPES or name in _NUMBERS_3:
                made.type = _NUMBERS_3.get(name, name)
                made.unit = child.get("unit", "")
            elif name == "Dimension" and child.get("size") is not None:
                made.size *= int(_number(child, "size", 1))

    def _dictionary(self, node: ET.Element) -> list[SspConnector]:
        source = node.get("source")
        inner = (
            parsed(self.archive.read(source), source)
            if source
            else next(iter(node.iter("{*}SignalDictionary")), None)
        )
        if inner is node:
            inner = next(
                (n for n in node.iter() if n is not node and _local(n.tag) == "SignalDictionary"),
                None,
            )
        signals: list[SspConnector] = []
        for entry in inner.iter() if inner is not None else ():
            if _local(entry.tag) == "DictionaryEntry":
                made = SspConnector(entry.get("name", ""), "inout")
                self._typed(made, entry)
                signals.append(made)
        return signals

    # --- parameters ---

    def _bindings(self, node: ET.Element) -> list[SspBinding]:
        holder = _child(node, "ParameterBindings")
        return [
            self._binding(b)
            for b in (_children(holder, "ParameterBinding") if holder is not None else ())
        ]

    def _binding(self, node: ET.Element) -> SspBinding:
        source = node.get("source")
        if source:
            root = parsed(self.archive.read(source), source)
        else:
            holder = _child(node, "ParameterValues")
            inner = _child(holder, "ParameterSet") if holder is not None else None
            if inner is None:
                return SspBinding("", [], node.get("prefix", ""))
            root = inner
        made = SspBinding(root.get("name", ""), self._values(root), node.get("prefix", ""))
        mapping = _child(node, "ParameterMapping")
        if mapping is not None:
            file = mapping.get("source")
            inner = (
                parsed(self.archive.read(file), file)
                if file
                else _child(mapping, "ParameterMapping")
            )
            if inner is not None:
                made.mapping = [self._mapping(m) for m in _children(inner, "MappingEntry")]
        return made

    def _values(self, root: ET.Element) -> list[SspValue]:
        values: list[SspValue] = []
        holder = _child(root, "Parameters")
        for p in _children(holder, "Parameter") if holder is not None else ():
            for child in p:
                name = _local(child.tag)
                kind = _NUMBERS_3.get(name, name)
                if kind in _TYPES:
                    values.append(
                        SspValue(
                            p.get("name", ""), kind, child.get("value", ""), child.get("unit", "")
                        )
                    )
        return values

    def _mapping(self, node: ET.Element) -> SspMapping:
        made = SspMapping(node.get("source", ""), node.get("target", ""))
        made.suppress = node.get("suppressUnitConversion") in ("true", "1")
        other = self._transform(node, made)
        if other:
            self._say(f"the {other} of the parameter '{made.target}'")
        return made

    def _transform(self, node: ET.Element, made: SspMapping | SspConnection) -> str:
        """Read a linear transformation; the name of one of another kind is returned."""
        for child in node:
            name = _local(child.tag)
            if name == "LinearTransformation":
                made.factor = _number(child, "factor", 1.0)
                made.offset = _number(child, "offset", 0.0)
            elif name.endswith("Transformation"):
                return name
        return ""

    def _connection(self, node: ET.Element) -> SspConnection:
        made = SspConnection(
            (node.get("startElement", ""), node.get("startConnector", "")),
            (node.get("endElement", ""), node.get("endConnector", "")),
            suppress=node.get("suppressUnitConversion") in ("true", "1"),
        )
        made.mapped = self._transform(node, made)
        if made.mapped:
            self._say(
                f"the {made.mapped} between '{'.'.join(made.start)}' and '{'.'.join(made.end)}'"
            )
        for child in node:
            if _local(child.tag) == "ConnectionGeometry":
                xs, ys = (child.get(k, "").split() for k in ("pointsX", "pointsY"))
                try:
                    made.points = [(float(a), float(b)) for a, b in zip(xs, ys, strict=False)]
                except ValueError:
                    self._say("the points of a connection that are no numbers")
        return made

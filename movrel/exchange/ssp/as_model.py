"""A system structure as a model: each unit a class and a part, each connection a wire, nested systems classes."""

from __future__ import annotations

import html
import re
import tempfile
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath

from movrel.errors import MovrelError, UnitFault
from movrel.exchange.fmi.unit_class import PartChoices, class_of_unit, is_settable, names_in_class
from movrel.exchange.ssp.read import SspArchive, SspFault, read_archive
from movrel.exchange.ssp.structure import (
    SspBinding,
    SspConnection,
    SspConnector,
    SspElement,
    SspSystem,
    SspValue,
    SystemStructure,
)
from movrel.fmi.archive import OpenUnit, open_unit
from movrel.fmi.description import Interface, UnitVariable
from movrel.language.class_annotation import quoted
from movrel.language.names import FUNCTIONS, RESERVED, is_name
from movrel.project.rig_settings import RigSettings, rig_text
from movrel.units import convert

#: The annotation of ours that carries how a rig is coupled, and its attribute.
RIG_ANNOTATION = "movrel.rig"
#: Where units lie beside the model.
FOLDER = "Units"
#: Communication steps of a run where neither structure nor units suggest any.
STEPS = 1000
#: Size of a part and distance of two where the structure has no drawing.
SIZE, DISTANCE, IN_A_ROW = 40.0, 100.0, 5
_PORTS = {
    ("input", "Real"): "SignalIn", ("output", "Real"): "SignalOut", ("input", "Boolean"): "LogicIn",
    ("output", "Boolean"): "LogicOut", ("input", "Integer"): "CountIn", ("output", "Integer"): "CountOut",
}  # fmt: skip


@dataclass(slots=True)
class ReadRig:
    """A model's name and text, the units beside it by path, and what of the structure is not used."""

    name: str
    text: str
    files: dict[str, bytes]
    report: list[str] = field(default_factory=list)


def model_of_archive(content: bytes, file: str) -> ReadRig:
    """The model of an SSP archive. Raises :class:`MovrelError` naming the element at fault."""
    archive = SspArchive(content, file)
    return _Builder(archive, read_archive(archive)).build()


@dataclass(slots=True)
class _Unit:
    """A unit with the class that stands for it."""

    opened: OpenUnit
    class_name: str
    kind: Interface
    names: dict[str, str]


class _Names:
    """Names of one scope, each used once."""

    def __init__(self) -> None:
        self._used: set[str] = set()

    def free(self, wanted: str, capital: bool = False) -> str:
        stem = re.sub(r"\W+", "_", wanted, flags=re.ASCII).strip("_") or "part"
        stem = stem[:1].upper() + stem[1:] if capital else stem
        if not is_name(stem) or stem in RESERVED | FUNCTIONS:
            stem = f"{stem}_1" if stem[:1].isalpha() else f"part_{stem}"
        name, k = stem, 2
        while name in self._used:
            name, k = f"{stem}_{k}", k + 1
        self._used.add(name)
        return name


class _Builder:
    def __init__(self, archive: SspArchive, structure: SystemStructure) -> None:
        self.archive, self.structure = archive, structure
        self.report = list(structure.unused)
        self.files: dict[str, bytes] = {}
        self.units: dict[tuple[str, str], _Unit] = {}
        self.classes = _Names()
        self.texts: list[str] = []
        self.annotations: list[tuple[str, bytes]] = [("", a) for a in structure.annotations]
        self.settings: RigSettings | None = None
        self.steps: list[float] = []

    def build(self) -> ReadRig:
        s = self.structure
        name = self.classes.free(s.system.name or s.name, capital=True)
        body, equations = self._inside(s.system, "")
        head = f"model {name}{_words(s.description or s.system.description)}"
        stop = s.stop if s.stop is not None else 1.0
        start = s.start or 0.0
        step = min(self.steps) if self.steps else (stop - start) / STEPS
        rig = self._carried() or rig_text(RigSettings(step=step))
        vendor = [f"rig={rig}"]
        kept = [(where, a) for where, a in self.annotations if not _is_ours(a)]
        if kept:
            pairs = ", ".join(f"{{{quoted(w)}, {quoted(a.decode('utf-8'))}}}" for w, a in kept)
            spaces = ", ".join(f"{{{quoted(p)}, {quoted(u)}}}" for p, u in s.namespaces.items())
            vendor.append(f"ssp=Ssp(annotations={{{pairs}}}, namespaces={{{spaces}}})")
        report = list(dict.fromkeys(self.report))
        begin = f"StartTime={start:.15g}, " if start else ""
        lines = [
            head, *self.texts, *(f"  {line}" for line in body), "equation",
            *(f"  {line}" for line in equations), "  annotation (",
            f"    experiment({begin}StopTime={stop:.15g}),", *self._page(report),
            f"    __Movrel({', '.join(vendor)}));", f"end {name};",
        ]  # fmt: skip
        return ReadRig(name, "\n".join(lines) + "\n", self.files, report)

    def _page(self, report: list[str]) -> list[str]:
        """Documentation that says what of the structure is not used."""
        if not report:
            return []
        items = "".join(f"<li>{html.escape(line)}</li>" for line in report)
        text = f"<html><p>Read from {html.escape(self.archive.name)}. Not used:</p><ul>{items}</ul></html>"
        return [f"    Documentation(info={quoted(text)}),"]

    def _carried(self) -> str | None:
        """How the rig was coupled, where the structure carries our own annotation."""
        for _, a in self.annotations:
            if _is_ours(a):
                match = re.search(rb'coupling="([^"]*)"', a)
                if match:
                    return match[1].decode("utf-8").replace("&quot;", '"').replace("&amp;", "&")
        return None

    # --- systems ---

    def _inside(self, system: SspSystem, path: str) -> tuple[list[str], list[str]]:
        """Declarations and equations of a system."""
        names = _Names()
        own = {c.name: names.free(c.name) for c in system.connectors}
        self.annotations += [(path, a) for a in system.annotations]
        body = [
            f"{line}" for c in system.connectors if (line := self._port(c, own[c.name])) is not None
        ]
        parts: dict[str, str] = {}
        ports: dict[tuple[str, str], str] = {("", k): v for k, v in own.items()}
        modifiers = self._parameters(system)
        for k, e in enumerate(system.elements):
            if e.dictionary or e.type == "dictionary":
                continue
            part = parts[e.name] = names.free(e.name)
            where = f"{path}.{e.name}" if path else e.name
            place = _placement(e.extent or _grid(k))
            if isinstance(e, SspSystem):
                class_name = self._nested(e, where, modifiers.get(e.name, []))
                inner = _Names()
                ports |= {(e.name, c.name): f"{part}.{inner.free(c.name)}" for c in e.connectors}
                body.append(f"{class_name} {part}{_words(e.description)} annotation ({place});")
                continue
            unit = self._unit(e)
            self.annotations += [(where, a) for a in e.annotations]
            by_name = unit.opened.description.by_name()
            given = self._modifiers(e, unit, modifiers.get(e.name, []))
            ports |= {
                (e.name, v.name): f"{part}.{unit.names[v.name]}"
                for v in by_name.values()
                if v.causality in ("input", "output")
            }
            text = f"({', '.join(given)})" if given else ""
            body.append(
                f"{unit.class_name} {part}{text}{_words(e.description)} annotation ({place});"
            )
        equations = self._wires(system, ports, names, body)
        return body, equations

    def _port(self, c: SspConnector, name: str) -> str | None:
        kind = "Real" if c.type not in ("Boolean", "Integer") else c.type
        port = _PORTS.get((c.kind, kind))
        if c.kind == "parameter":
            unit = f"(unit={quoted(c.unit)})" if c.unit else ""
            return f"parameter {kind} {name}{unit} = {'false' if kind == 'Boolean' else 0}{_words(c.description)};"
        if port is None:
            self.report.append(f"the connector '{c.name}' of kind {c.kind}")
            return None
        unit = f"(unit={quoted(c.unit)})" if c.unit and kind == "Real" else ""
        x, y = c.place or (0.0 if c.kind == "input" else 1.0, 0.5)
        px, py = -100 + 200 * x, -100 + 200 * y
        extent = f"{{{{{px - 10:g},{py - 10:g}}},{{{px + 10:g},{py + 10:g}}}}}"
        return (
            f"Movrel.Signals.{port} {name}{unit}{_words(c.description)} "
            f"annotation (Placement(transformation(extent={extent})));"
        )

    def _nested(self, system: SspSystem, path: str, given: list[tuple[str, SspValue]]) -> str:
        name = self.classes.free(system.name, capital=True)
        if given:
            # Values from further outside belong to elements within.
            system.bindings.append(
                SspBinding("", [SspValue(n, v.type, v.value, v.unit) for n, v in given])
            )
        body, equations = self._inside(system, path)
        lines = [
            f"  model {name}{_words(system.description)}", *(f"    {line}" for line in body), "  equation",
            *(f"    {line}" for line in equations),
            '    annotation (Icon(graphics={Rectangle(extent={{-100,100},{100,-100}}), '
            'Text(extent={{-150,140},{150,104}}, textString="%name")}));',
            f"  end {name};",
        ]  # fmt: skip
        self.texts += lines
        return name

    def _parameters(self, system: SspSystem) -> dict[str, list[tuple[str, SspValue]]]:
        """Values of a system's parameter sets, by the element within that they are for."""
        by_element: dict[str, list[tuple[str, SspValue]]] = {}
        elements = {e.name for e in system.elements}
        for name, value in _bound(system.bindings):
            element, dot, rest = name.partition(".")
            if dot and element in elements:
                by_element.setdefault(element, []).append((rest, value))
            else:
                self.report.append(
                    f"the value of '{name}', which no element of '{system.name}' has"
                )
        return by_element

    # --- units ---

    def _unit(self, e: SspElement) -> _Unit:
        key = e.source, e.implementation
        if key in self.units:
            return self.units[key]
        if not e.source.lower().endswith(".fmu") and "fmu" not in e.type:
            raise SspFault(
                f"the component '{e.name}' is '{e.source}', and only units (.fmu) can be run.",
                hint="Replace it by a unit.",
            )
        content = self.archive.read(e.source)
        base = PurePosixPath(e.source).name
        file = f"{FOLDER}/{base if base.lower().endswith('.fmu') else base + '.fmu'}"
        if self.files.get(file, content) != content:
            file = f"{FOLDER}/{e.name}.fmu"
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / PurePosixPath(file).name
            path.write_bytes(content)
            opened = open_unit(path)
        d = opened.description
        wanted: dict[str, Interface] = {"ModelExchange": "me", "CoSimulation": "cs"}
        kind = wanted.get(e.implementation, "cs" if "cs" in d.interfaces else "me")
        if e.implementation == "ScheduledExecution" or kind not in d.interfaces:
            raise SspFault(
                f"the component '{e.name}' is wanted for {e.implementation}, which it does not offer."
            )
        name = self.classes.free(d.name.rpartition(".")[2] or e.name, capital=True)
        if d.experiment.step:
            self.steps.append(d.experiment.step)
        text = class_of_unit(opened, PartChoices(name, kind, file))
        self.texts += [f"  {line}" for line in text.splitlines()]
        self.files[file] = content
        unit = self.units[key] = _Unit(opened, name, kind, names_in_class(d))
        return unit

    def _modifiers(
        self, e: SspElement, unit: _Unit, outer: list[tuple[str, SspValue]]
    ) -> list[str]:
        by_name = unit.opened.description.by_name()
        chosen: dict[str, str] = {}
        for name, value in [*_bound(e.bindings), *outer]:
            v = by_name.get(name)
            if v is None:
                self.report.append(f"the value of '{e.name}.{name}', which the unit does not have")
                continue
            try:
                text = _number(value, v)
            except (MovrelError, ValueError) as fault:
                self.report.append(f"the value of '{e.name}.{name}': {fault}")
                continue
            if is_settable(v):
                chosen[unit.names[name]] = f"{unit.names[name]}={text}"
            elif v.causality == "input":
                chosen[unit.names[name]] = f"{unit.names[name]}(start={text})"
            else:
                self.report.append(f"the start value of '{e.name}.{name}', which is no input")
        return list(chosen.values())

    # --- wires ---

    def _wires(
        self, system: SspSystem, ports: dict[tuple[str, str], str], names: _Names, body: list[str]
    ) -> list[str]:
        equations: list[str] = []
        for c in self._resolved(system):
            start, end = ports.get(c.start), ports.get(c.end)
            if start is None or end is None:
                missing = c.start if start is None else c.end
                self.report.append(f"the connection of '{'.'.join(p for p in missing if p)}'")
                continue
            if c.mapped:
                continue  # reported when it was read
            if c.factor == 1.0 and c.offset == 0.0 and not c.suppress:
                equations.append(f"connect({start}, {end});")
                continue
            change = names.free("change")
            body.append(
                f"Movrel.Signals.UnitChange {change}(factor={c.factor!r}, offset={c.offset!r}) "
                f"annotation ({_placement(_grid(len(body)))});"
            )
            equations += [f"connect({start}, {change}.u);", f"connect({change}.y, {end});"]
        return equations

    def _resolved(self, system: SspSystem) -> list[SspConnection]:
        """The connections of a system; those by way of a signal dictionary lead straight from source to reader."""
        references = {e.name for e in system.elements if e.dictionary or e.type == "dictionary"}
        direct: list[SspConnection] = []
        into: dict[tuple[str, str], SspConnection] = {}
        out: list[SspConnection] = []
        dictionary = {e.name: e.dictionary for e in system.elements}
        for c in system.connections:
            if c.end[0] in references:
                into[(dictionary[c.end[0]], c.end[1])] = c
            elif c.start[0] in references:
                out.append(c)
            else:
                direct.append(c)
        for c in out:
            source = into.get((dictionary[c.start[0]], c.start[1]))
            if source is None:
                self.report.append(
                    f"the signal '{c.start[1]}' of a dictionary, which nobody writes"
                )
                continue
            direct.append(
                SspConnection(
                    source.start, c.end, source.factor * c.factor, source.offset * c.factor + c.offset,
                    source.suppress or c.suppress,
                )
            )  # fmt: skip
        return direct


def _bound(bindings: list[SspBinding]) -> list[tuple[str, SspValue]]:
    """The values of parameter sets by the names that they are for; later ones win where a name comes twice."""
    bound: dict[str, SspValue] = {}
    for b in bindings:
        by_name = {v.name: v for v in b.values}
        if b.mapping is None:
            bound |= {f"{b.prefix}{name}": v for name, v in by_name.items()}
            continue
        for m in b.mapping:
            v = by_name.get(m.source)
            if v is None:
                continue
            if m.factor != 1.0 or m.offset != 0.0:
                v = SspValue(v.name, v.type, repr(m.factor * float(v.value) + m.offset), "")
            bound[f"{b.prefix}{m.target}"] = v
    return list(bound.items())


def _number(value: SspValue, v: UnitVariable) -> str:
    """A value as the language writes it, in the variable's own unit. Raises :class:`MovrelError` or ``ValueError``."""
    if v.kind == "Boolean":
        return "true" if value.value.strip().lower() in ("true", "1") else "false"
    if v.kind == "String":
        raise MovrelError("texts cannot be set.")
    number = float(value.value)
    if value.unit and v.unit and value.unit != v.unit:
        try:
            number = convert(number, value.unit, v.unit)
        except UnitFault as fault:
            raise MovrelError(fault.message) from None
    return f"{int(number)}" if v.kind in ("Integer", "Enumeration") else repr(number)


def _is_ours(annotation: bytes) -> bool:
    return RIG_ANNOTATION.encode() in annotation.partition(b">")[0]


def _words(text: str) -> str:
    return f" {quoted(' '.join(text.split()))}" if text.strip() else ""


def _grid(k: int) -> tuple[float, float, float, float]:
    x, y = DISTANCE * (k % IN_A_ROW), -DISTANCE * (k // IN_A_ROW)
    return x, y, x + SIZE, y + SIZE


def _placement(e: tuple[float, float, float, float]) -> str:
    return f"Placement(transformation(extent={{{{{e[0]:g},{e[1]:g}}},{{{e[2]:g},{e[3]:g}}}}}))"

"""The XML files of a unit: its description for FMI 2.0.4 and 3.0.2, and what stands beside it."""

from __future__ import annotations

import math
import xml.etree.ElementTree as ET
from collections.abc import Iterable, Sequence

from movrel.fmi.description import UnitDescription, UnitVariable, Unknown

#: Elements of FMI 3 by the kind of a variable.
ELEMENTS_3 = {
    "Real": "Float64", "Integer": "Int32", "Boolean": "Boolean", "Enumeration": "Enumeration", "String": "String",
}  # fmt: skip
_INTERFACES = {"me": "ModelExchange", "cs": "CoSimulation"}


def as_xml(root: ET.Element) -> bytes:
    """The document, indented, in UTF-8."""
    ET.indent(root, "  ")
    return (
        b'<?xml version="1.0" encoding="UTF-8"?>\n'
        + ET.tostring(root, encoding="unicode").encode("utf-8")
        + b"\n"
    )


def number(value: float) -> str:
    """A number as XML Schema writes a double."""
    if math.isnan(value):
        return "NaN"
    if math.isinf(value):
        return "INF" if value > 0 else "-INF"
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(float(value))


def description_xml(d: UnitDescription) -> bytes:
    """``modelDescription.xml`` of either version."""
    return as_xml(_Version2(d).root() if d.version == 2 else _Version3(d).root())


class _Writer:
    version: str
    token: str

    def __init__(self, d: UnitDescription) -> None:
        self.d = d

    def root(self) -> ET.Element:
        d = self.d
        root = ET.Element(
            "fmiModelDescription",
            {"fmiVersion": self.version, "modelName": d.name, self.token: d.token},
        )
        _set(
            root,
            description=d.description,
            author=d.author,
            generationTool=d.tool,
            generationDateAndTime=d.made,
        )
        root.set("variableNamingConvention", "structured")
        self.beside(root)
        for interface in d.interfaces:
            element = ET.SubElement(
                root, _INTERFACES[interface], {"modelIdentifier": d.identifiers[interface]}
            )
            for name, value in d.flags.get(interface, {}).items():
                element.set(name, value)
            self.sources(element, d.sources.get(interface, []))
        self._units(root)
        self._types(root)
        if d.log_categories:
            categories = ET.SubElement(root, "LogCategories")
            for name, text in d.log_categories.items():
                ET.SubElement(categories, "Category", {"name": name, "description": text})
        experiment = ET.SubElement(root, "DefaultExperiment")
        for name, given in (
            ("startTime", d.experiment.start), ("stopTime", d.experiment.stop), ("tolerance", d.experiment.tolerance),
            ("stepSize", d.experiment.step),
        ):  # fmt: skip
            if given is not None:
                experiment.set(name, number(given))
        variables = ET.SubElement(root, "ModelVariables")
        for v in d.variables:
            self.variable(variables, v)
        self.structure(ET.SubElement(root, "ModelStructure"))
        return root

    def beside(self, root: ET.Element) -> None:
        """Further attributes of the root."""

    def sources(self, element: ET.Element, files: list[str]) -> None:
        """Where the version lists source files."""

    def variable(self, into: ET.Element, v: UnitVariable) -> None:
        raise NotImplementedError

    def structure(self, into: ET.Element) -> None:
        raise NotImplementedError

    def _units(self, root: ET.Element) -> None:
        if not self.d.units:
            return
        units = ET.SubElement(root, "UnitDefinitions")
        for u in self.d.units:
            element = ET.SubElement(units, "Unit", {"name": u.name})
            base = ET.SubElement(element, "BaseUnit")
            for symbol, power in u.powers.items():
                base.set(symbol, str(power))
            if u.factor != 1.0:
                base.set("factor", number(u.factor))
            if u.offset != 0.0:
                base.set("offset", number(u.offset))
            for name, (factor, offset) in u.displays.items():
                shown = ET.SubElement(element, "DisplayUnit", {"name": name})
                if factor != 1.0:
                    shown.set("factor", number(factor))
                if offset != 0.0:
                    shown.set("offset", number(offset))

    def enumerations(self) -> dict[tuple[str, ...], str]:
        """Names of the enumeration types by their items, in the order of the variables."""
        return {v.enumeration: v.declared_type for v in self.d.variables if v.kind == "Enumeration"}

    def quantities(self) -> dict[str, UnitVariable]:
        """One variable of each declared type of real numbers."""
        return {
            v.declared_type: v for v in self.d.variables if v.kind == "Real" and v.declared_type
        }

    def real_type(self, into: ET.Element, name: str, v: UnitVariable) -> None:
        raise NotImplementedError

    def enumeration_type(self, into: ET.Element, name: str, items: Iterable[str]) -> None:
        raise NotImplementedError

    def _types(self, root: ET.Element) -> None:
        quantities, enumerations = self.quantities(), self.enumerations()
        if not quantities and not enumerations:
            return
        types = ET.SubElement(root, "TypeDefinitions")
        for name, v in quantities.items():
            self.real_type(types, name, v)
        for items, name in enumerations.items():
            self.enumeration_type(types, name, items)


def _items(element: ET.Element, items: Iterable[str]) -> None:
    """The items of an enumeration, numbered from one."""
    for value, item in enumerate(items, 1):
        ET.SubElement(element, "Item", {"name": item, "value": str(value)})


def _set(element: ET.Element, **attributes: str) -> None:
    for name, value in attributes.items():
        if value:
            element.set(name, value)


def _real_attributes(element: ET.Element, v: UnitVariable) -> None:
    _set(element, declaredType=v.declared_type, quantity=v.quantity, unit=v.unit)
    if v.unit:
        _set(element, displayUnit=v.display_unit)
    _limits(element, v)
    if v.nominal is not None and v.nominal != 0.0 and math.isfinite(v.nominal):
        element.set("nominal", number(abs(v.nominal)))


def _limits(element: ET.Element, v: UnitVariable) -> None:
    for name, value in (("min", v.minimum), ("max", v.maximum)):
        if value is not None and math.isfinite(value):
            element.set(name, number(value) if v.kind == "Real" else str(int(value)))


def _starts(v: UnitVariable) -> str:
    def one(value: float | str) -> str:
        if v.kind == "Boolean":
            return "true" if value else "false"
        if v.kind in ("Integer", "Enumeration"):
            return str(int(value))
        return number(float(value))

    return " ".join(one(value) for value in v.start or ())


class _Version2(_Writer):
    version, token = "2.0", "guid"

    def beside(self, root: ET.Element) -> None:
        root.set("numberOfEventIndicators", str(self.d.event_indicators))

    def sources(self, element: ET.Element, files: list[str]) -> None:
        if files:
            listed = ET.SubElement(element, "SourceFiles")
            for name in files:
                ET.SubElement(listed, "File", {"name": name})

    def real_type(self, into: ET.Element, name: str, v: UnitVariable) -> None:
        element = ET.SubElement(ET.SubElement(into, "SimpleType", {"name": name}), "Real")
        _set(element, quantity=v.quantity, unit=v.unit)

    def enumeration_type(self, into: ET.Element, name: str, items: Iterable[str]) -> None:
        element = ET.SubElement(ET.SubElement(into, "SimpleType", {"name": name}), "Enumeration")
        _items(element, items)

    def variable(self, into: ET.Element, v: UnitVariable) -> None:
        scalar = ET.SubElement(
            into, "ScalarVariable", {"name": v.name, "valueReference": str(v.reference)}
        )
        _set(
            scalar,
            description=v.description,
            causality=v.causality,
            variability=v.variability,
            initial=v.initial or "",
        )
        element = ET.SubElement(scalar, v.kind)
        if v.kind == "Real":
            _real_attributes(element, v)
            if v.derivative_of is not None:
                element.set("derivative", str(self._index(v.derivative_of)))
        elif v.kind in ("Integer", "Enumeration"):
            _set(
                element,
                declaredType=v.declared_type,
                quantity=v.quantity if v.kind == "Integer" else "",
            )
            _limits(element, v)
        if v.start is not None:
            element.set("start", str(v.start[0]) if v.kind == "String" else _starts(v))

    def _index(self, reference: int) -> int:
        if not hasattr(self, "_indices"):
            self._indices = {v.reference: i for i, v in enumerate(self.d.variables, 1)}
        return self._indices[reference]

    def structure(self, into: ET.Element) -> None:
        for name, unknowns in (
            ("Outputs", self.d.outputs), ("Derivatives", self.d.derivatives), ("InitialUnknowns", self.d.initial_unknowns),
        ):  # fmt: skip
            if unknowns:
                listed = ET.SubElement(into, name)
                for u in unknowns:
                    element = ET.SubElement(
                        listed, "Unknown", {"index": str(self._index(u.reference))}
                    )
                    if u.dependencies is not None:
                        known = sorted((self._index(r), kind) for r, kind in u.dependencies.items())
                        element.set("dependencies", " ".join(str(i) for i, _ in known))
                        element.set("dependenciesKind", " ".join(kind for _, kind in known))


class _Version3(_Writer):
    version, token = "3.0", "instantiationToken"

    def real_type(self, into: ET.Element, name: str, v: UnitVariable) -> None:
        _set(ET.SubElement(into, "Float64Type", {"name": name}), quantity=v.quantity, unit=v.unit)

    def enumeration_type(self, into: ET.Element, name: str, items: Iterable[str]) -> None:
        element = ET.SubElement(into, "EnumerationType", {"name": name})
        _items(element, items)

    def variable(self, into: ET.Element, v: UnitVariable) -> None:
        element = ET.SubElement(
            into,
            v.width or ELEMENTS_3[v.kind],
            {"name": v.name, "valueReference": str(v.reference)},
        )
        _set(
            element,
            description=v.description,
            causality=v.causality,
            variability=v.variability,
            initial=v.initial or "",
        )
        if v.kind == "Real":
            _real_attributes(element, v)
            if v.derivative_of is not None:
                element.set("derivative", str(v.derivative_of))
        elif v.kind in ("Integer", "Enumeration"):
            _set(
                element,
                declaredType=v.declared_type,
                quantity=v.quantity if v.kind == "Integer" else "",
            )
            _limits(element, v)
        for size in v.sizes:
            ET.SubElement(element, "Dimension", {"start": str(size)})
        if v.start is not None:
            if v.kind == "String":
                for text in v.start:
                    ET.SubElement(element, "Start", {"value": str(text)})
            else:
                element.set("start", _starts(v))

    def structure(self, into: ET.Element) -> None:
        for name, unknowns in (
            ("Output", self.d.outputs), ("ContinuousStateDerivative", self.d.derivatives),
            ("InitialUnknown", self.d.initial_unknowns), ("EventIndicator", [Unknown(r) for r in self.d.indicators]),
        ):  # fmt: skip
            for u in unknowns:
                element = ET.SubElement(into, name, {"valueReference": str(u.reference)})
                if u.dependencies is not None:
                    element.set("dependencies", " ".join(str(r) for r in u.dependencies))
                    element.set("dependenciesKind", " ".join(u.dependencies.values()))


def build_description_xml(identifier: str) -> bytes:
    """``sources/buildDescription.xml`` of FMI 3: one file that includes the others."""
    root = ET.Element("fmiBuildDescription", {"fmiVersion": "3.0"})
    configuration = ET.SubElement(root, "BuildConfiguration", {"modelIdentifier": identifier})
    files = ET.SubElement(configuration, "SourceFileSet", {"language": "C99"})
    ET.SubElement(files, "SourceFile", {"name": "all.c"})
    ET.SubElement(configuration, "Library", {"name": "m"})
    return as_xml(root)


#: Millimetres for a unit of a symbol's coordinates, as a tool may draw it.
MILLIMETRES = "0.1"


def terminals_xml(d: UnitDescription, extent: Sequence[float] | None = None) -> bytes:
    """``terminalsAndIcons/terminalsAndIcons.xml`` of FMI 3 (2.5.3): where the icon lies, if there is one, from its lower
    left to its upper right, and the connectors of the model."""
    root = ET.Element("fmiTerminalsAndIcons", {"fmiVersion": "3.0"})
    if extent is not None:
        corners = {name: f"{v:g}" for name, v in zip(("x1", "y1", "x2", "y2"), extent, strict=True)}
        graphics = ET.SubElement(root, "GraphicalRepresentation")
        scaled = corners | {"suggestedScalingFactorTo_mm": MILLIMETRES}
        ET.SubElement(graphics, "CoordinateSystem", scaled)
        ET.SubElement(graphics, "Icon", corners)
    if not d.terminals:
        return as_xml(root)
    terminals = ET.SubElement(root, "Terminals")
    for t in d.terminals:
        element = ET.SubElement(
            terminals, "Terminal", {"name": t.name, "matchingRule": "bus", "terminalKind": t.kind}
        )
        for member, variable in t.members.items():
            kind = "inflow" if member in t.flows else "signal"
            ET.SubElement(
                element, "TerminalMemberVariable",
                {"variableName": variable, "memberName": member, "variableKind": kind},
            )  # fmt: skip
    return as_xml(root)

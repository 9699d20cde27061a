"""Reading ``modelDescription.xml`` of FMI 2 and 3."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from typing import get_args

from movrel.errors import MovrelError
from movrel.fmi.description import (
    BaseUnit,
    Causality,
    DependencyKind,
    Experiment,
    Initial,
    Interface,
    Kind,
    UnitDescription,
    UnitVariable,
    Unknown,
    Variability,
)

_KINDS_3: dict[str, Kind] = {
    "Float64": "Real", "Float32": "Real", "Int8": "Integer", "UInt8": "Integer", "Int16": "Integer", "UInt16": "Integer",
    "Int32": "Integer", "UInt32": "Integer", "Int64": "Integer", "UInt64": "Integer", "Boolean": "Boolean",
    "String": "String", "Binary": "Binary", "Enumeration": "Enumeration", "Clock": "Clock",
}  # fmt: skip
_KINDS_2: dict[str, Kind] = {
    "Real": "Real", "Integer": "Integer", "Boolean": "Boolean", "String": "String", "Enumeration": "Enumeration",
}  # fmt: skip
_INTERFACES: dict[str, Interface] = {"ModelExchange": "me", "CoSimulation": "cs"}
#: Most values that an array may have.
VALUE_LIMIT = 10_000_000


class DescriptionFault(MovrelError):
    """A description that cannot be read, or that breaks a rule without which nothing works."""


def read_description(content: bytes) -> UnitDescription:
    """The description in a file. Raises :class:`DescriptionFault` naming the element at fault."""
    root = well_formed(content)
    if root.tag != "fmiModelDescription":
        raise DescriptionFault(
            f"the description begins with '{root.tag}', not with 'fmiModelDescription'."
        )
    given = root.get("fmiVersion", "")
    if given == "2.0":
        return _Reader2(root, 2).read()
    if given.startswith("3."):
        return _Reader3(root, 3).read()
    raise DescriptionFault(
        f"the unit is of version '{given}' of the standard; versions 2.0 and 3.0 can be used."
        if given
        else "the description does not say which version of the standard it follows (fmiVersion)."
    )


def well_formed(content: bytes) -> ET.Element:
    """The root of an XML text that needs nothing from elsewhere. Raises :class:`DescriptionFault`."""
    if b"<!DOCTYPE" in content or b"<!ENTITY" in content:
        raise DescriptionFault(
            "the description holds a document type or entities, which the standard does not have."
        )
    try:
        return ET.fromstring(content)
    except ET.ParseError as fault:
        line, column = fault.position
        reason = fault.msg.split(":")[0]
        raise DescriptionFault(
            f"the description is not well-formed XML: {reason} in line {line}, column {column}."
        ) from None
    except (ValueError, LookupError, RecursionError) as fault:
        raise DescriptionFault(f"the description cannot be read: {fault}.") from None


class _Reader:
    token: str

    def __init__(self, root: ET.Element, version: int) -> None:
        self.root = root
        self.version = version
        self.enumerations: dict[str, tuple[str, ...]] = {}
        self.types: dict[str, ET.Element] = {}

    def read(self) -> UnitDescription:
        root = self.root
        name = self._needed(root, "modelName")
        token = self._needed(root, self.token)
        self._types()
        elements = {e.tag: e for e in root if e.tag in _INTERFACES}
        if not elements:
            if root.find("ScheduledExecution") is not None:
                raise DescriptionFault(
                    "the unit is for scheduled execution only; model exchange and co-simulation can be used."
                )
            raise DescriptionFault("the unit offers neither model exchange nor co-simulation.")
        interfaces = tuple(i for tag, i in _INTERFACES.items() if tag in elements)
        d = UnitDescription(
            version=self.version, name=name, token=token, interfaces=interfaces,
            identifiers={_INTERFACES[tag]: self._needed(e, "modelIdentifier") for tag, e in elements.items()},
            variables=[], description=root.get("description", ""), author=root.get("author", ""),
            tool=root.get("generationTool", ""), made=root.get("generationDateAndTime", ""),
            flags={_INTERFACES[tag]: dict(e.attrib) for tag, e in elements.items()},
            sources={_INTERFACES[tag]: [f.get("name", "") for f in e.findall("SourceFiles/File")] for tag, e in elements.items()},
        )  # fmt: skip
        for identifier in d.identifiers.values():
            if not identifier.replace("_", "a").isalnum():
                raise DescriptionFault(
                    f"the model identifier '{identifier}' is not a name of a file."
                )
        d.units = [self._unit(e) for e in root.findall("UnitDefinitions/Unit")]
        d.log_categories = {
            e.get("name", ""): e.get("description", "")
            for e in root.findall("LogCategories/Category")
        }
        experiment = root.find("DefaultExperiment")
        if experiment is not None:
            d.experiment = Experiment(
                *(
                    self._number(experiment, n)
                    for n in ("startTime", "stopTime", "tolerance", "stepSize")
                )
            )
        listed = root.find("ModelVariables")
        if listed is None:
            raise DescriptionFault("the description lists no variables (ModelVariables).")
        d.variables = self.variables(listed)
        self.check_names(d.variables)
        structure = root.find("ModelStructure")
        if structure is None:
            raise DescriptionFault("the description has no ModelStructure.")
        self.structure(d, structure)
        return d

    def variables(self, listed: ET.Element) -> list[UnitVariable]:
        raise NotImplementedError

    def structure(self, d: UnitDescription, element: ET.Element) -> None:
        raise NotImplementedError

    def check_names(self, variables: list[UnitVariable]) -> None:
        seen: set[str] = set()
        for v in variables:
            if v.name in seen:
                raise DescriptionFault(f"two variables are named '{v.name}'.")
            seen.add(v.name)

    # --- attributes ---

    def _needed(self, element: ET.Element, name: str) -> str:
        value = element.get(name)
        if not value:
            where = element.get("name")
            raise DescriptionFault(
                f"{element.tag}{f' {where!r}' if where else ''} lacks the attribute '{name}'."
            )
        return value

    def _number(self, element: ET.Element, name: str) -> float | None:
        text = element.get(name)
        if text is None:
            return None
        try:
            return float(text.replace("INF", "inf"))
        except ValueError:
            where = element.get("name")
            raise DescriptionFault(
                f"'{name}' of {element.tag}{f' {where!r}' if where else ''} is not a number: '{text}'."
            ) from None

    def _whole(self, element: ET.Element, name: str) -> int:
        text = self._needed(element, name)
        if not text.isdigit() or int(text) >= 2**32:
            raise DescriptionFault(
                f"'{name}' of '{element.get('name', element.tag)}' is not a whole number: '{text}'."
            )
        return int(text)

    def _among(self, element: ET.Element, name: str, allowed: tuple[str, ...], default: str) -> str:
        value = element.get(name, default)
        if value not in allowed:
            raise DescriptionFault(
                f"'{name}' of '{element.get('name', element.tag)}' is '{value}', which is not in the standard."
            )
        return value

    def _common(self, element: ET.Element, kind: Kind) -> UnitVariable:
        causality: Causality = self._among(element, "causality", get_args(Causality), "local")  # type: ignore[assignment]
        usual = "continuous" if kind == "Real" else "discrete"
        if causality in ("parameter", "calculatedParameter", "structuralParameter"):
            usual = "fixed"
        variability: Variability = self._among(element, "variability", get_args(Variability), usual)  # type: ignore[assignment]
        given = element.get("initial")
        initial: Initial | None = None
        if given is not None:
            initial = self._among(element, "initial", get_args(Initial), given)  # type: ignore[assignment]
        return UnitVariable(
            self._needed(element, "name"), self._whole(element, "valueReference"), kind, causality, variability, initial,
            description=element.get("description", ""),
        )  # fmt: skip

    def _numeric(self, v: UnitVariable, element: ET.Element) -> None:
        declared = element.get("declaredType", "")
        v.declared_type = declared
        behind = self.types.get(declared)
        if declared and behind is None:
            raise DescriptionFault(f"'{v.name}' is of the type '{declared}', which is not defined.")

        def said(name: str) -> str:
            own = element.get(name, "")
            return own or (behind.get(name, "") if behind is not None else "")

        def number(name: str) -> float | None:
            own = self._number(element, name)
            return own if own is not None or behind is None else self._number(behind, name)

        v.unit, v.display_unit, v.quantity = said("unit"), said("displayUnit"), said("quantity")
        v.minimum, v.maximum, v.nominal = number("min"), number("max"), number("nominal")
        v.enumeration = self.enumerations.get(declared, ())

    def _values(self, v: UnitVariable, text: str | None) -> list[float] | None:
        if text is None:
            return None
        try:
            if v.kind == "Boolean":
                return [
                    {"true": 1.0, "false": 0.0, "1": 1.0, "0": 0.0}[word] for word in text.split()
                ]
            return [float(word.replace("INF", "inf")) for word in text.split()]
        except (ValueError, KeyError):
            raise DescriptionFault(
                f"the start value of '{v.name}' is not of its type: '{text[:40]}'."
            ) from None

    def _unit(self, element: ET.Element) -> BaseUnit:
        made = BaseUnit(self._needed(element, "name"))
        base = element.find("BaseUnit")
        if base is not None:
            for name, value in base.attrib.items():
                if name in ("factor", "offset"):
                    setattr(made, name, self._number(base, name))
                else:
                    try:
                        made.powers[name] = int(value)
                    except ValueError:
                        raise DescriptionFault(
                            f"the power of '{name}' in the unit '{made.name}' is '{value}'."
                        ) from None
        for shown in element.findall("DisplayUnit"):
            factor, offset = self._number(shown, "factor"), self._number(shown, "offset")
            made.displays[self._needed(shown, "name")] = (
                1.0 if factor is None else factor,
                offset or 0.0,
            )
        return made

    def _types(self) -> None:
        raise NotImplementedError

    @staticmethod
    def _kinds(element: ET.Element, names: list[int]) -> dict[int, DependencyKind]:
        kinds = element.get("dependenciesKind", "").split() or ["dependent"] * len(names)
        if len(kinds) != len(names) or not set(kinds) <= set(get_args(DependencyKind)):
            raise DescriptionFault(
                "dependencies and their kinds do not go together in the ModelStructure."
            )
        return dict(zip(names, kinds, strict=True))  # type: ignore[arg-type]

    @staticmethod
    def _references(element: ET.Element, name: str) -> list[int]:
        try:
            return [int(word) for word in element.get(name, "").split()]
        except ValueError:
            raise DescriptionFault(
                f"'{name}' in the ModelStructure is not a list of numbers."
            ) from None


class _Reader2(_Reader):
    token = "guid"

    def _types(self) -> None:
        for element in self.root.findall("TypeDefinitions/SimpleType"):
            name = self._needed(element, "name")
            for inner in element:
                if inner.tag in _KINDS_2:
                    self.types[name] = inner
                if inner.tag == "Enumeration":
                    self.enumerations[name] = tuple(
                        i.get("name", "") for i in inner.findall("Item")
                    )

    def variables(self, listed: ET.Element) -> list[UnitVariable]:
        found: list[UnitVariable] = []
        derivatives: list[tuple[UnitVariable, int]] = []
        for scalar in listed:
            if scalar.tag != "ScalarVariable":
                raise DescriptionFault(f"'{scalar.tag}' stands among the variables.")
            typed = next((e for e in scalar if e.tag in _KINDS_2), None)
            if typed is None:
                raise DescriptionFault(f"the variable '{scalar.get('name', '')}' has no type.")
            v = self._common(scalar, _KINDS_2[typed.tag])
            self._numeric(v, typed)
            text = typed.get("start")
            v.start = (
                ([text] if text is not None else None)
                if v.kind == "String"
                else self._values(v, text)
            )
            if typed.get("derivative") is not None:
                derivatives.append((v, self._whole(typed, "derivative")))
            found.append(v)
        for v, index in derivatives:
            if not 1 <= index <= len(found):
                raise DescriptionFault(
                    f"'{v.name}' is the derivative of variable {index}, which does not exist."
                )
            v.derivative_of = found[index - 1].reference
        return found

    def structure(self, d: UnitDescription, element: ET.Element) -> None:
        text = self.root.get("numberOfEventIndicators", "0")
        if not text.isdigit():
            raise DescriptionFault(f"numberOfEventIndicators is '{text}'.")
        d.event_indicators = int(text)

        def unknowns(path: str) -> list[Unknown]:
            made = []
            for u in element.findall(path):
                index = self._whole(u, "index")
                named = self._references(u, "dependencies")
                if any(not 1 <= i <= len(d.variables) for i in (index, *named)):
                    raise DescriptionFault(
                        "the ModelStructure names a variable that does not exist."
                    )
                kinds = self._kinds(u, named)
                dependencies = {d.variables[i - 1].reference: kind for i, kind in kinds.items()}
                made.append(
                    Unknown(
                        d.variables[index - 1].reference,
                        dependencies if u.get("dependencies") is not None else None,
                    )
                )
            return made

        d.outputs = unknowns("Outputs/Unknown")
        d.derivatives = unknowns("Derivatives/Unknown")
        d.initial_unknowns = unknowns("InitialUnknowns/Unknown")


class _Reader3(_Reader):
    token = "instantiationToken"

    def _types(self) -> None:
        for element in self.root.findall("TypeDefinitions/*"):
            name = self._needed(element, "name")
            self.types[name] = element
            if element.tag == "EnumerationType":
                self.enumerations[name] = tuple(i.get("name", "") for i in element.findall("Item"))

    def variables(self, listed: ET.Element) -> list[UnitVariable]:
        found: list[UnitVariable] = []
        sizes_by_reference: dict[int, tuple[UnitVariable, list[ET.Element]]] = {}
        for element in listed:
            kind = _KINDS_3.get(element.tag)
            if kind is None:
                raise DescriptionFault(f"'{element.tag}' stands among the variables.")
            v = self._common(element, kind)
            v.width = element.tag
            self._numeric(v, element)
            if kind in ("String", "Binary"):
                v.start = [e.get("value", "") for e in element.findall("Start")] or None
            else:
                v.start = self._values(v, element.get("start"))
            if element.get("derivative") is not None:
                v.derivative_of = self._whole(element, "derivative")
            dimensions = element.findall("Dimension")
            if dimensions:
                sizes_by_reference[len(found)] = (v, dimensions)
            found.append(v)
            for alias in element.findall("Alias"):
                found.append(
                    UnitVariable(
                        self._needed(alias, "name"),
                        v.reference,
                        v.kind,
                        "local",
                        v.variability,
                        unit=v.unit,
                        width=v.width,
                        display_unit=alias.get("displayUnit", v.display_unit),
                        description=alias.get("description", ""),
                    )  # fmt: skip
                )
        by_reference = {v.reference: v for v in found}
        for v, dimensions in sizes_by_reference.values():
            v.sizes = tuple(self._size(v, dimension, by_reference) for dimension in dimensions)
            if v.count > VALUE_LIMIT:
                raise DescriptionFault(
                    f"'{v.name}' has {v.count} values; at most {VALUE_LIMIT} can be used."
                )
            if v.start is not None and len(v.start) == 1 and v.count != 1:
                v.start = v.start * v.count
        return found

    def _size(
        self, v: UnitVariable, dimension: ET.Element, by_reference: dict[int, UnitVariable]
    ) -> int:
        if dimension.get("start") is not None:
            return self._whole(dimension, "start")
        size = by_reference.get(self._whole(dimension, "valueReference"))
        if size is None or size.start is None or not isinstance(size.start[0], float):
            raise DescriptionFault(f"the size of '{v.name}' is not known.")
        return int(size.start[0])

    def structure(self, d: UnitDescription, element: ET.Element) -> None:
        known = {v.reference for v in d.variables}

        def unknowns(tag: str) -> list[Unknown]:
            made = []
            for u in element.findall(tag):
                reference = self._whole(u, "valueReference")
                named = self._references(u, "dependencies")
                if not {reference, *named} <= known:
                    raise DescriptionFault(
                        "the ModelStructure names a variable that does not exist."
                    )
                made.append(
                    Unknown(
                        reference,
                        self._kinds(u, named) if u.get("dependencies") is not None else None,
                    )
                )
            return made

        d.outputs = unknowns("Output")
        d.derivatives = unknowns("ContinuousStateDerivative")
        d.initial_unknowns = unknowns("InitialUnknown")
        by_reference = d.by_reference()
        d.indicators = [u.reference for u in unknowns("EventIndicator")]
        d.event_indicators = sum(by_reference[r].count for r in d.indicators)

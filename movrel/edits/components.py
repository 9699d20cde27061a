"""Components of one's own: a class declared in the model, and the text of classes that are there."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Literal

from movrel.edits.figure_table import attribute_text, in_si_unit, units_text
from movrel.edits.ports import with_place_on_symbol
from movrel.edits.target import Coordinate, Edited, Name, Target, Text, target_of
from movrel.errors import EditFault, MovrelError
from movrel.language import class_annotation, edit_class
from movrel.language import syntax as s
from movrel.language.clauses import line_indent
from movrel.language.margins import indented, outdented
from movrel.language.names import check_name, free_name
from movrel.language.parse_cache import parse_cached
from movrel.language.parser import parse
from movrel.language.patch import Patch, apply
from movrel.language.python_code import Code, translate
from movrel.language.typed_quantities import as_typed
from movrel.model import annotation as note
from movrel.model.classes import Definition
from movrel.project.snapshot import Snapshot
from movrel.sheet.symbols import icon
from movrel.units import convert, normalise, read_quantity, si_unit

#: The connectors of code components.
INPUT, OUTPUT = "Movrel.Signals.SignalIn", "Movrel.Signals.SignalOut"


@dataclass(frozen=True, slots=True)
class KeepComponent:
    """A component's class, to be declared in the model or (``replaces``) to change one there."""

    text: Text
    replaces: Name = ""
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    do: Literal["component"] = "component"

    def apply(self, target: Target) -> Edited:
        name = component_class(self.text).name
        _, text = with_component(target.snapshot, target.qualified, self.text, self.replaces)
        if self.replaces:
            return Edited(target.rewritten(text), f"changed the equations of {name}")
        source, cls = target.again(text)
        part = free_name(cls, name)
        is_port = component_class(self.text).kind == "connector"
        half = 10 if is_port else 30
        place = edit_class.placement(
            ((self.x - half, self.y - half), (self.x + half, self.y + half))
        )
        if is_port:
            place = with_place_on_symbol(place, icon(target.tree, target.definition))
        text = apply(text, edit_class.insert_component(source, cls, name, part, place))
        return Edited(target.rewritten(text), f"inserted {part}", [part])


def component_class(text: str) -> s.ClassDef:
    """The one class that a text declares. Raises :class:`EditFault` or :class:`movrel.errors.SyntaxFault`."""
    source = parse(text if text.rstrip().endswith(";") else text.rstrip() + ";", "component")
    if len(source.tree.classes) != 1 or source.tree.classes[0].form != "long":
        raise EditFault("the text must declare one class.", hint="Write model Name ... end Name;")
    return source.tree.classes[0]


#: How a connector looks whose text does not say it.
CONNECTOR_ICON = (
    "{Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, "
    "fillColor={40,44,60}, fillPattern=FillPattern.Solid)}"
)


def _with_icon(text: str) -> str:
    """A connector's text with a symbol, where it says none."""
    source = parse(text, "component")
    (cls,) = source.tree.classes
    if cls.kind != "connector" or note.find(cls.annotation, "Icon") is not None:
        return text
    return apply(
        text,
        class_annotation.set_annotation(source, cls, ["Icon", "graphics"], CONNECTOR_ICON),
    )


def with_component(
    snapshot: Snapshot, qualified: str, text: str, replaces: str = ""
) -> tuple[Snapshot, str]:
    """The project with a class declared in a model, and the new text of the model's file."""
    target = target_of(snapshot, qualified)
    source, cls = target.source, target.cls
    body = text.strip() if text.strip().endswith(";") else text.strip() + ";"
    name = component_class(text).name
    body = _with_icon(body)
    if replaces:
        old = next(
            (e for e in cls.elements if isinstance(e, s.ClassDef) and e.name == replaces), None
        )
        if old is None:
            raise EditFault(f"'{cls.name}' has no class '{replaces}' of its own.")
        if name != replaces:
            raise EditFault(
                f"the class must keep its name '{replaces}'.", hint="Rename it in the view Text."
            )
        block = indented(body.rstrip(";"), line_indent(source, old.start), first=False)
        new = apply(source.text, [Patch(old.start, old.end, block)])
    else:
        check_name(cls, name)
        new = apply(source.text, edit_class.insert_elements(source, cls, [body], first=True))
    parse_cached(new, source.file)
    return snapshot.changed(source.file, new), new


def code_text(code: Code) -> str:
    """The Modelica text of a code component, its period in any unit of time."""
    period = code.period.strip()
    if period:
        quantity = read_quantity(period, "s")
        if quantity is None or quantity.value <= 0:
            raise EditFault(
                f"the sampling period '{period}' is not a time above zero.",
                hint="Type for example 0.1 s.",
            )
        period = f"{quantity.value:.15g}"
    declared = {}
    for name, typed in code.parameters.items():
        if not typed.strip():
            raise EditFault(f"the parameter '{name}' has no value.", hint="Type for example 2 N/m.")
        expression, unit, si, _ = in_si_unit(name, typed, "")
        declared[name] = f"{units_text(unit, si)} = {expression}"
    units = {name: normalise(unit) for name, unit in code.units.items() if unit.strip()}
    for name, unit in units.items():
        if si_unit(unit) != unit:
            raise EditFault(
                f"the signal '{name}' has the unit '{unit}'.",
                hint=f"Signals count in SI units: {si_unit(unit)}.",
            )
    return translate(replace(code, period=period, parameters=declared, units=units))


def code_of(target: Target, class_name: str) -> Code | None:
    """The Python text from which a component was made, with its inputs, outputs, memory and period."""
    definition = target.tree.find(class_name)
    if definition is None:
        return None
    code = note.members(note.find(definition.node.annotation, note.VENDOR)).get("code")
    if not isinstance(code, dict) or not isinstance(code.get("source"), str):
        return None
    inputs: list[str] = []
    outputs: list[str] = []
    parameters: dict[str, str] = {}
    units: dict[str, str] = {}
    period = ""
    for element in definition.node.elements:
        if isinstance(element, s.Component):
            kind = target.tree.lookup(element.type_name, definition)
            for qualified, names in ((INPUT, inputs), (OUTPUT, outputs)):
                if kind is not None and kind.qualified == qualified:
                    names.append(element.name)
                    units |= {element.name: u} if (u := attribute_text(element, "unit")) else {}
            if element.name == "period" and element.modification and element.modification.value:
                period = definition.source.slice(element.modification.value) + " s"
            elif "parameter" in element.prefixes:
                parameters[element.name] = _typed_value(definition, element)
    memory = {}
    for item in code.get("memory") or []:
        name, _, value = str(item).partition("=")
        memory[name] = float(value or 0)
    return Code(
        definition.name, code["source"], inputs, outputs, memory, period, definition.node.comment, parameters, units
    )  # fmt: skip


def _typed_value(definition: Definition, node: s.Component) -> str:
    """The value of a parameter as it is typed: in the unit in which it is shown."""
    value = node.modification.value if node.modification else None
    text = definition.source.slice(value) if value is not None else ""
    si = attribute_text(node, "unit")
    shown = attribute_text(node, "displayUnit") or si
    if shown != si:
        with suppress(ValueError, MovrelError):  # a formula counts in SI units
            return f"{convert(float(text), si, shown):.15g} {shown}"
    return f"{as_typed(text)} {si}".strip()


def class_text(target: Target, class_name: str) -> str:
    """The text of a class of the project, as if it stood alone."""
    definition = target.tree.find(class_name)
    if definition is None:
        raise EditFault(f"there is no class '{class_name}'.")
    return text_alone(definition)


def text_alone(definition: Definition) -> str:
    """The text of a class without the margin at which it stands."""
    margin = len(line_indent(definition.source, definition.node.start))
    return outdented(definition.source.slice(definition.node), margin) + ";\n"

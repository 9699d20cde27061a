"""Giving a model structure: copies, assemblies, exposed parameters, swapped classes, components of one's own."""

from __future__ import annotations

import re
from typing import Any

from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.margins import outdented
from movrel.language.patch import Patch, apply
from movrel.language.python_code import Code, translate
from movrel.language.unset_value import Written, unset_value
from movrel.model import assembly, dissolving, exposure, fragment
from movrel.model import swap as swapping
from movrel.model.classes import Definition
from movrel.model.drawing import sheet
from movrel.units import read_quantity
from movrel.workspace import inspection, projects
from movrel.workspace.editing import Target, again, edit, listed, target
from movrel.workspace.sheet_edits import insertable
from movrel.workspace.tables import Revision


def copied(project: int, qualified: str, parts: list[str]) -> str:
    """The text of parts and the wires between them, for the clipboard."""
    found = target(project, qualified)
    return fragment.copy(found.tree, found.definition, parts)


def paste(project: int, qualified: str, revision: int, text: str, x: float | None, y: float | None) -> tuple[Revision, list[str]]:
    """Put copied parts on the sheet, their middle at a point if one is given; gives their names."""
    names: list[str] = []

    def make(at: Target) -> tuple[list[Patch], str]:
        nonlocal names
        shift = _shift_to(text, x, y)
        patches, names = fragment.paste(at.tree, at.definition, text, shift)
        return patches, f"pasted {listed(names)}" if names else "pasted figures"

    return edit(project, qualified, revision, make), names


def duplicate(project: int, qualified: str, revision: int, parts: list[str], dx: float, dy: float) -> tuple[Revision, list[str]]:
    """Put copies of parts beside them."""
    names: list[str] = []

    def make(at: Target) -> tuple[list[Patch], str]:
        nonlocal names
        text = fragment.copy(at.tree, at.definition, parts)
        patches, names = fragment.paste(at.tree, at.definition, text, (dx, dy))
        return patches, f"duplicated {listed(parts)}"

    return edit(project, qualified, revision, make), names


def _shift_to(text: str, x: float | None, y: float | None) -> tuple[float, float]:
    """How far pasted parts move so that their common middle comes to lie at a point."""
    if x is None or y is None:
        return 0.0, 0.0
    corners = [
        tuple(map(float, m))
        for m in re.findall(r"extent\s*=\s*\{\{\s*([-\d.]+)\s*,\s*([-\d.]+)\s*\},\s*\{\s*([-\d.]+)\s*,\s*([-\d.]+)", text)
    ]
    origins = re.findall(r"origin\s*=\s*\{\s*([-\d.]+)\s*,\s*([-\d.]+)\s*\}", text)
    if not corners:
        return 0.0, 0.0
    if origins:
        xs, ys = [float(o[0]) for o in origins], [float(o[1]) for o in origins]
    else:
        xs, ys = [v for c in corners for v in (c[0], c[2])], [v for c in corners for v in (c[1], c[3])]
    middle = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    return 2.0 * round((x - middle[0]) / 2), 2.0 * round((y - middle[1]) / 2)


# --- assemblies ---


def make_assembly(
    project: int, qualified: str, revision: int, parts: list[str], name: str, description: str = ""
) -> tuple[Revision, str]:
    """Replace parts by one assembly of them; gives the name of the new part."""
    class_name = _class_name(name)
    part_name = class_name[:1].lower() + class_name[1:]
    if part_name == class_name or part_name in edit_class.RESERVED:
        part_name = f"{class_name}1"

    def make(at: Target) -> tuple[list[Patch], str]:
        nonlocal part_name
        part_name = _free(at.cls, part_name, set(parts))
        patches = assembly.make(at.tree, at.definition, parts, class_name, part_name, description)
        return patches, f"made the assembly {class_name} of {listed(parts)}"

    return edit(project, qualified, revision, make), part_name


def dissolve(project: int, qualified: str, revision: int, name: str) -> tuple[Revision, list[str]]:
    """Put the parts of an assembly in its place."""
    names: list[str] = []

    def make(at: Target) -> tuple[str, str]:
        nonlocal names
        text, names = dissolving.dissolve(at.tree, at.definition, name)
        return text, f"dissolved the assembly {name}"

    return edit(project, qualified, revision, make), names


def expose(
    project: int, qualified: str, revision: int, parameter: str, name: str = "", description: str = "", group: str = ""
) -> tuple[Revision, str]:
    """Let the user of an assembly set a parameter of one of its parts; gives the name it got."""
    model = projects.loaded_model(projects.snapshot(project), qualified)
    variable = model.by_name.get(parameter)
    if variable is None:
        raise EditFault(f"the model has no parameter '{parameter}'.")
    path = parameter.split(".")
    given = name.strip()

    def make(at: Target) -> tuple[list[Patch], str]:
        nonlocal given
        if not given:
            given = path[-1] if not _taken(at.cls, path[-1]) else "_".join(path[-2:])
            given = _free(at.cls, given, set())
        text = Written(at.source, at.cls).value(*path)
        if text is None:
            value = parameter_values(model.flat, {}).get(id(variable))
            text = _literal(value)
        return exposure.expose(at.tree, at.definition, path, given, text, description, group), f"exposed {parameter} as {given}"

    return edit(project, qualified, revision, make), given


def hide(project: int, qualified: str, revision: int, name: str) -> Revision:
    """Take an exposed parameter away again."""
    return edit(
        project, qualified, revision, lambda at: (exposure.hide(at.tree, at.definition, name), f"hid the parameter {name}")
    )


def reset(project: int, qualified: str, revision: int, parameter: str) -> Revision:
    """Give a parameter of a part its default back."""
    return edit(
        project, qualified, revision,
        lambda at: (unset_value(at.source, at.cls, parameter.split(".")), f"reset {parameter} to its default"),
    )  # fmt: skip


# --- swapping ---


def plan_swap(project: int, qualified: str, part: str, class_name: str) -> dict[str, Any]:
    """What a swap would keep, ask and lose."""
    found = target(project, qualified)
    new = insertable(found.tree, qualified, class_name)
    plan = swapping.plan(found.tree, found.definition, part, new, fitting_ports)
    return {"ports": plan.ports, "choices": plan.choices, "lost": plan.lost, "broken": plan.broken}


def swap(project: int, qualified: str, revision: int, part: str, class_name: str, ports: dict[str, str]) -> Revision:
    """Give a part another class; what could not be kept is told by :func:`plan_swap`."""

    def make(at: Target) -> tuple[list[Patch], str]:
        new = insertable(at.tree, qualified, class_name)
        plan = swapping.plan(at.tree, at.definition, part, new, fitting_ports)
        return swapping.swap(at.tree, at.definition, part, new, ports, plan), f"swapped {part} for {new.name}"

    return edit(project, qualified, revision, make)


def fitting_ports(a: dict[str, Any], b: dict[str, Any]) -> bool:
    """Whether one port can take the place of another."""
    return a["direction"] == b["direction"] and (a["class"] == b["class"] or a["domain"] == b["domain"] != "other")


# --- components of one's own ---


def keep_component(
    project: int, qualified: str, revision: int, text: str, replaces: str, x: float, y: float
) -> tuple[Revision, str | None]:
    """Declare a component's class in the model and put a part of it on the sheet, or change the class."""
    name = inspection.component_class(text).name
    part: str | None = None

    def make(at: Target) -> tuple[str, str]:
        nonlocal part
        _, new = inspection.with_component(at.taken, qualified, text, replaces)
        if replaces:
            return new, f"changed the equations of {name}"
        source, cls = again(at, new)
        part = edit_class.free_name(cls, name)
        corners = (x - 30, y - 30), (x + 30, y + 30)
        return apply(new, edit_class.insert_component(source, cls, name, part, edit_class.placement(corners))), f"inserted {part}"

    return edit(project, qualified, revision, make), part


def code_text(code: Code) -> str:
    """The Modelica text of a code component, its period in any unit of time."""
    period = code.period.strip()
    if period:
        quantity = read_quantity(period, "s")
        if quantity is None or quantity.value <= 0:
            raise EditFault(f"the sampling period '{period}' is no time above zero.", hint="Type for example 0.1 s.")
        period = f"{quantity.value:.15g}"
    return translate(Code(code.name, code.source, code.inputs, code.outputs, code.memory, period, code.description))


def code_of(project: int, qualified: str, class_name: str) -> dict[str, Any] | None:
    """The Python text from which a component was made, with its inputs, outputs, memory and period."""
    from movrel.model import annotation as note

    found = target(project, qualified).tree.find(class_name)
    if found is None:
        return None
    code = note.members(note.find(found.node.annotation, "__Movrel")).get("code")
    if not isinstance(code, dict) or not isinstance(code.get("source"), str):
        return None
    names: dict[str, list[str]] = {"RealInput": [], "RealOutput": []}
    period = ""
    for element in found.node.elements:
        if isinstance(element, s.Component):
            last = element.type_name.rpartition(".")[2]
            if last in names:
                names[last].append(element.name)
            if element.name == "period" and element.modification and element.modification.value:
                period = found.source.slice(element.modification.value) + " s"
    memory = {}
    for item in code.get("memory") or []:
        name, _, value = str(item).partition("=")
        memory[name] = float(value or 0)
    return {
        "name": found.name, "source": code["source"], "inputs": names["RealInput"], "outputs": names["RealOutput"],
        "memory": memory, "period": period, "description": found.node.comment,
    }  # fmt: skip


def class_text(project: int, class_name: str, qualified: str) -> str:
    """The text of a class of the project."""
    definition = target(project, qualified).tree.find(class_name)
    if definition is None:
        raise EditFault(f"there is no class '{class_name}'.")
    return _dedented(definition)


def _dedented(definition: Definition) -> str:
    margin = len(edit_class.indent_at(definition.source, definition.node.start))
    return outdented(definition.source.slice(definition.node), margin) + ";\n"


def hierarchy(project: int, qualified: str, depth: int = 6) -> dict[str, Any]:
    """The parts of a model and the parts of these, as far as they are assemblies of the project."""
    found = target(project, qualified)

    def visit(definition: Definition, level: int) -> list[dict[str, Any]]:
        entries = []
        for part in sheet(found.tree, definition)["components"]:
            inner = found.tree.find(part["class"])
            own = inner is not None and inner.source.file in found.taken.revisions
            entries.append(
                {
                    "name": part["name"],
                    "class": part["class"],
                    "description": part["description"],
                    "opens": own,
                    "parts": visit(inner, level + 1) if own and inner is not None and level < depth else [],
                }
            )
        return entries

    return {"model": qualified, "parts": visit(found.definition, 0)}


def _class_name(name: str) -> str:
    words = [w for w in re.split(r"\W+|_", name.strip()) if w]
    text = "".join(w[:1].upper() + w[1:] for w in words)
    if not text or not re.match(r"[A-Za-z]", text):
        raise EditFault(f"'{name}' cannot be the name of an assembly.", hint="Use letters and digits, beginning with a letter.")
    return text


def _taken(cls: s.ClassDef, name: str) -> bool:
    return any(isinstance(e, s.Component | s.ClassDef) and e.name == name for e in cls.elements)


def _free(cls: s.ClassDef, name: str, leaving: set[str]) -> str:
    if not _taken(cls, name) or name in leaving:
        return name
    number = 2
    while _taken(cls, f"{name}{number}"):
        number += 1
    return f"{name}{number}"


def _literal(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return '"' + value + '"'
    if isinstance(value, int | float):
        return f"{value:.15g}"
    raise EditFault("this parameter has no value that could be passed on.")

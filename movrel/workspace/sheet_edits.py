"""Building on the sheet: parts and wires come, move and go, each as a patch of the text."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch, apply
from movrel.model.classes import ClassTree, parse_cached
from movrel.model.drawing import icon, sheet
from movrel.model.flatten import RUNNABLE
from movrel.simulate.options import run_options
from movrel.units import read_quantity
from movrel.workspace import projects
from movrel.workspace.edits import class_node
from movrel.workspace.tables import Revision

#: Width of a new part on the sheet, in units of the drawing; the height follows from its symbol.
PART_WIDTH = 40.0
#: Farthest that something can lie from the middle of a sheet.
REACH = 20_000.0

Make = Callable[[Source, s.ClassDef], tuple[list[Patch], str]]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a part lies: its corners and its turn in degrees."""

    name: str
    extent: list[float]
    rotation: float = 0.0


def _edit(project: int, qualified: str, revision: int, make: Make) -> Revision:
    """Apply patches that ``make`` finds in the class, as one revision."""
    taken = projects.snapshot(project)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, qualified))

    def change(text: str) -> tuple[str, str]:
        source = parse_cached(text, file.path)
        patches, summary = make(source, class_node(source.tree, qualified, source.tree.within))
        return apply(text, patches), summary

    return projects.change_text(file.id, revision, change)


def insert_part(project: int, qualified: str, revision: int, class_name: str, x: float, y: float) -> tuple[Revision, str]:
    """Put a part of a class on the sheet with its middle at a point; gives the revision and its name."""
    tree = projects.class_tree(projects.snapshot(project))
    found = tree.find(class_name)
    if found is None or found.predefined:
        raise EditFault(f"there is no class '{class_name}' to insert.", hint="Choose one from the shelf.")
    if found.node.kind not in (*RUNNABLE, "connector") or found.node.partial:
        raise EditFault(f"'{class_name}' cannot be a part: it is {'partial' if found.node.partial else f'a {found.node.kind}'}.")
    if found.qualified == qualified:
        raise EditFault("a model cannot hold itself.")
    x1, y1, x2, y2 = icon(tree, found)["extent"]
    width = PART_WIDTH if found.node.kind != "connector" else PART_WIDTH / 2
    height = width * abs(y2 - y1) / (abs(x2 - x1) or 1.0)
    name = ""

    def make(source: Source, cls: s.ClassDef) -> tuple[list[Patch], str]:
        nonlocal name
        name = edit_class.free_name(cls, class_name)
        corners = (x - width / 2, y - height / 2), (x + width / 2, y + height / 2)
        _check_reach([*corners[0], *corners[1]])
        return edit_class.insert_component(source, cls, class_name, name, edit_class.placement(corners)), f"inserted {name}"

    return _edit(project, qualified, revision, make), name


def move_parts(project: int, qualified: str, revision: int, places: list[Place]) -> Revision:
    """Put parts somewhere else, together."""

    def make(source: Source, cls: s.ClassDef) -> tuple[list[Patch], str]:
        patches: list[Patch] = []
        for place in places:
            _check_reach(place.extent)
            x1, y1, x2, y2 = place.extent
            text = edit_class.placement(((x1, y1), (x2, y2)), place.rotation % 360)
            patches += edit_class.place_component(source, cls, place.name, text)
        return patches, f"moved {_listed([place.name for place in places])}"

    return _edit(project, qualified, revision, make)


def delete_things(project: int, qualified: str, revision: int, parts: list[str], wires: list[tuple[str, str]]) -> Revision:
    """Take parts, with their wires, and single wires off the sheet."""
    taken = projects.snapshot(project)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, qualified))

    def change(text: str) -> tuple[str, str]:
        # One after the other, as a wire may go with a part that goes too.
        for left, right in wires:
            source = parse_cached(text, file.path)
            cls = class_node(source.tree, qualified, source.tree.within)
            text = apply(text, edit_class.delete_connection(source, cls, left, right))
        for name in parts:
            source = parse_cached(text, file.path)
            cls = class_node(source.tree, qualified, source.tree.within)
            text = apply(text, edit_class.delete_component(source, cls, name))
        what = [*parts, *(f"the wire of {left} and {right}" for left, right in wires)]
        return text, f"deleted {_listed(what)}"

    return projects.change_text(file.id, revision, change)


def rename_part(project: int, qualified: str, revision: int, name: str, new: str) -> Revision:
    """Give a part another name, in declarations, equations and wires."""
    return _edit(
        project, qualified, revision,
        lambda source, cls: (edit_class.rename_component(source, cls, name, new.strip()), f"renamed {name} → {new.strip()}"),
    )  # fmt: skip


def connect(project: int, qualified: str, revision: int, left: str, right: str) -> Revision:
    """Wire two ports. Refused in words of the trade when they do not go together."""
    taken = projects.snapshot(project)
    tree = projects.class_tree(taken)
    ports = _ports(tree, sheet(tree, projects.definition_of(taken, qualified)))
    refusal = misfit(ports.get(left), ports.get(right), left, right)
    if refusal:
        raise EditFault(refusal)
    return _edit(
        project, qualified, revision,
        lambda source, cls: (edit_class.add_connection(source, cls, left, right), f"connected {left} and {right}"),
    )  # fmt: skip


def misfit(a: dict[str, Any] | None, b: dict[str, Any] | None, left: str, right: str) -> str:
    """Why two ports cannot be connected, or nothing."""
    for port, name in ((a, left), (b, right)):
        if port is None:
            return f"there is no port '{name}'."
    assert a is not None and b is not None
    if a["direction"] and b["direction"]:
        if a["direction"] == b["direction"] and not (a["outside"] or b["outside"]):
            word = "receive" if a["direction"] == "in" else "give"
            return f"'{left}' and '{right}' both {word} a signal; connect an output with an input."
        return ""
    if a["class"] != b["class"] and (a["domain"] != b["domain"] or bool(a["direction"]) != bool(b["direction"])):
        return f"'{left}' is {_kind(a)} and '{right}' is {_kind(b)}; only ports of the same kind can be connected."
    return ""


def _kind(port: dict[str, Any]) -> str:
    domain = port["domain"]
    if domain == "other":
        return f"a {port['class'].rpartition('.')[2]}"
    return f"{'an' if domain[0] in 'aeiou' else 'a'} {domain} port"


def _ports(tree: ClassTree, drawn: dict[str, Any]) -> dict[str, dict[str, Any]]:
    """Every port on a sheet by the name with which it is wired."""
    found: dict[str, dict[str, Any]] = {}
    for part in drawn["components"]:
        definition = tree.find(part["class"])
        if definition is not None and tree.is_kind(definition, "connector"):
            found[part["name"]] = part["port"] | {"outside": True}
        for port in part["icon"]["ports"]:
            found[f"{part['name']}.{port['name']}"] = port | {"outside": False}
    return found


#: Run settings by their names on the screen: the place in the annotation, and the unit of a number.
SETTINGS = {
    "start": ("StartTime", "s"), "stop": ("StopTime", "s"), "interval": ("Interval", "s"), "tolerance": ("Tolerance", "1"),
    "solver": ("__Movrel.solver", ""), "step": ("__Movrel.step", "s"),
}  # fmt: skip


def set_setting(project: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a run setting another value; times in any unit of time."""
    if name not in SETTINGS:
        raise EditFault(f"there is no run setting '{name}'.")
    place, unit = SETTINGS[name]
    taken = projects.snapshot(project)
    before = projects.loaded_model(taken, qualified).flat.experiment
    given: Any
    if name == "solver":
        given, value = typed.strip(), f'"{typed.strip()}"'
    else:
        quantity = read_quantity(typed, unit)
        if quantity is None:
            raise EditFault(f"'{typed}' is not a number.", hint="Type a number, with a unit of time if you like.")
        given, value = quantity.value, f"{quantity.value:.15g}"
    changed = replace(before, **{name: given})
    run_options(changed)  # refuses what cannot be run

    def make(source: Source, cls: s.ClassDef) -> tuple[list[Patch], str]:
        return edit_class.set_experiment(source, cls, place, value), f"run setting {name}: {typed.strip()}"

    return _edit(project, qualified, revision, make)


def replace_text(project: int, qualified: str, revision: int, text: str) -> Revision:
    """Store a new text of the file that holds a model; text that does not parse is refused with its place."""
    taken = projects.snapshot(project)
    file, _, _ = projects.file_of(taken, projects.definition_of(taken, qualified))

    def change(old: str) -> tuple[str, str]:
        source = parse_cached(text, file.path)
        class_node(source.tree, qualified, source.tree.within)
        _ = projects.class_tree(taken.changed(file.path, text))
        return text, "edited the text"

    return projects.change_text(file.id, revision, change)


def _check_reach(extent: list[float]) -> None:
    if len(extent) != 4 or not all(-REACH <= v <= REACH for v in extent):
        raise EditFault("that is too far from the middle of the sheet.")


def _listed(names: list[str]) -> str:
    shown = ", ".join(names[:3])
    return shown if len(names) <= 3 else f"{shown} and {len(names) - 3} more"

"""Classes that were not delivered: what is used of them, a stub with that, and classes of ours that have it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from movrel.language import syntax as s
from movrel.language.tree_search import walk_nodes
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, components, declaration

#: Classes of ours that are proposed for a missing one.
PROPOSED = 12
#: The connector at the other end of a signal.
_OPPOSITE = {
    "Movrel.Signals.SignalIn": "Movrel.Signals.SignalOut", "Movrel.Signals.SignalOut": "Movrel.Signals.SignalIn",
    "Movrel.Signals.LogicIn": "Movrel.Signals.LogicOut", "Movrel.Signals.LogicOut": "Movrel.Signals.LogicIn",
    "Movrel.Signals.CountIn": "Movrel.Signals.CountOut", "Movrel.Signals.CountOut": "Movrel.Signals.CountIn",
}  # fmt: skip
_ZEROS = {"Real": "0", "Integer": "0", "Boolean": "false"}


@dataclass(slots=True)
class Need:
    """What is used of a missing class: ports with the connector that they need (empty where nothing tells), parameters
    with the type of their value, other variables that are read."""

    name: str
    scope: Definition
    node: s.Node
    count: int
    is_base: bool = False
    ports: dict[str, str] = field(default_factory=dict)
    parameters: dict[str, str] = field(default_factory=dict)
    values: set[str] = field(default_factory=set)


def needs_of(
    tree: ClassTree,
    classes: list[Definition],
    missing: Mapping[str, list[tuple[Definition, s.Node]]],
) -> list[Need]:
    """What is used of each missing class."""
    needs: dict[str, Need] = {}
    for written, places in missing.items():
        name = written.lstrip(".")
        scope, node = places[0]
        need = needs.setdefault(name, Need(name, scope, node, 0))
        need.count += len(places)
        for around, place in places:
            need.is_base |= isinstance(place, s.Extends)
            if isinstance(place, s.Component):
                _of_component(tree, around, place, need)
    return [n for n in needs.values() if n.scope in classes or n.count]


def _of_component(tree: ClassTree, scope: Definition, node: s.Component, need: Need) -> None:
    if node.modification is not None:
        for argument in node.modification.arguments:
            if isinstance(argument, s.Modify) and argument.modification is not None:
                value = argument.modification.value
                need.parameters.setdefault(argument.name.split(".")[0], _type_of(value))
    for item in walk_nodes(scope.node):
        if isinstance(item, s.Connect):
            for one, other in ((item.left, item.right), (item.right, item.left)):
                names = [part.name for part in one.parts]
                if names[0] == node.name and len(names) > 1:
                    connector = _connector(tree, scope, other)
                    if connector or names[1] not in need.ports:
                        need.ports[names[1]] = connector
        elif isinstance(item, s.Ref) and item.parts[0].name == node.name and len(item.parts) > 1:
            need.values.add(item.parts[1].name)
    need.values -= need.ports.keys() | need.parameters.keys()


def _type_of(value: object) -> str:
    if isinstance(value, s.Boolean):
        return "Boolean"
    return "String" if isinstance(value, s.String) else "Real"


def _connector(tree: ClassTree, scope: Definition, other: s.Ref) -> str:
    """The connector that fits to the other end of a connection; empty where that is missing too."""
    names = [part.name for part in other.parts]
    port = declaration(tree, scope, names)
    if port is None:
        return ""
    cls = class_of(tree, *port)
    if cls is None:
        return ""
    return _OPPOSITE.get(cls.qualified, cls.qualified) if len(names) > 1 else cls.qualified


def stand_in(tree: ClassTree, need: Need) -> tuple[str, str]:
    """Path and text of a stub: the ports open, outputs zero, parameters without effect."""
    *packages, last = need.name.split(".")
    lines = [f'model {last} "Stands in for a class that was not delivered"']
    for name, kind in sorted(need.parameters.items()):
        lines.append(
            f"  parameter {kind} {name}{'' if kind == 'String' else ' = ' + _ZEROS[kind]};"
        )
    ports = {name: kind or "Movrel.Signals.SignalIn" for name, kind in need.ports.items()}
    for k, (name, kind) in enumerate(sorted(ports.items())):
        y = round(100 - 200 * (k + 1) / (len(ports) + 1))
        out = kind.endswith("Out")
        x = 100 if out else -100
        extent = f"{{{{{x - 10},{y - 10}}},{{{x + 10},{y + 10}}}}}"
        lines.append(f"  {kind} {name} annotation (Placement(transformation(extent={extent})));")
    lines += [f"  Real {name} = 0;" for name in sorted(need.values)]
    outputs = [(n, k) for n, k in sorted(ports.items()) if k.endswith("Out")]
    if outputs:
        lines.append("equation")
        lines += [f"  {n} = {'false' if 'Logic' in k else '0'};" for n, k in outputs]
    lines.append(
        "  annotation (Icon(graphics={Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, "
        'pattern=LinePattern.Dash), Text(extent={{-90,30},{90,-30}}, textString="%name")}));'
    )
    lines.append(f"end {last};")
    there = 0
    while there < len(packages) and tree.find(".".join(packages[: there + 1])) is not None:
        there += 1
    for name in reversed(packages[there:]):
        lines = [f"package {name}", *(f"  {line}" for line in lines), f"end {name};"]
    within = f"within {'.'.join(packages[:there])};\n" if there else ""
    return f"{need.name.replace('.', '/')}.mo", within + "\n".join(lines) + "\n"


def candidates(tree: ClassTree, need: Need) -> list[str]:
    """Classes of the library that have all ports that are used, of fitting connectors, best first."""
    if need.is_base or not need.ports:
        return []
    library = tree.find("Movrel")
    ranked: list[tuple[int, int, str]] = []
    for cls in _parts(tree, library) if library is not None else []:
        own = {c.name: (o, c) for o, c in components(tree, cls)}
        if not all(
            name in own and _fits(tree, own[name], kind) for name, kind in need.ports.items()
        ):
            continue
        missing = sum(name not in own for name in (*need.parameters, *need.values))
        likeness = 0 if need.name.rpartition(".")[2].lower() in cls.name.lower() else 1
        ranked.append((missing, likeness, cls.qualified))
    return [name for _, _, name in sorted(ranked)[:PROPOSED]]


def _fits(tree: ClassTree, declared: tuple[Definition, s.Component], kind: str) -> bool:
    cls = class_of(tree, *declared)
    return cls is not None and tree.is_kind(cls, "connector") and kind in ("", cls.qualified)


def _parts(tree: ClassTree, package: Definition) -> list[Definition]:
    found: list[Definition] = []
    for cls in tree.members(package):
        if cls.node.kind == "package" and cls.name != "Examples":
            found += _parts(tree, cls)
        elif cls.node.kind in ("model", "block") and not cls.node.partial:
            found.append(cls)
    return found

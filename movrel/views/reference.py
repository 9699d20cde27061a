"""A class of the component library, or of a project, looked up: purpose, ports, parameters, equations, source, examples."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.equations import typeset
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, NotFound
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import components
from movrel.model.expression import Expr, Scalar, Variable
from movrel.project.snapshot import Snapshot, class_tree
from movrel.session import LoadedModel
from movrel.sheet.elements import Icon, Port
from movrel.sheet.symbols import icon, whole_icon
from movrel.views.examples import examples, used_by

#: Most equations that a page shows.
LISTED = 40


@dataclass(frozen=True, slots=True)
class PartParameter:
    """A parameter of a part."""

    name: str
    description: str
    unit: str
    #: The value as the text gives it.
    default: str
    minimum: str
    maximum: str
    choices: list[str]
    #: Whether it follows from others and cannot be set.
    derived: bool


@dataclass(frozen=True, slots=True)
class PartExample:
    """A model of the library that shows a part at work."""

    class_name: str
    name: str
    description: str


@dataclass(frozen=True, slots=True)
class PartPage:
    """A class looked up: what it is for, its ports, parameters and equations, where they come from."""

    class_name: str
    name: str
    package: str
    description: str
    info: str
    source: str
    synonyms: list[str]
    icon: Icon
    ports: list[Port]
    parameters: list[PartParameter]
    equations: list[str]
    #: Why equations and parameters cannot be shown; empty when they are.
    fault: str
    examples: list[PartExample]


def part_page(snapshot: Snapshot, qualified: str) -> PartPage:
    """What there is to know of a class that can be put on a sheet. Raises :class:`NotFound`."""
    tree = class_tree(snapshot)
    definition = tree.find(qualified)
    if definition is None or definition.predefined or definition.node.kind == "package":
        raise NotFound(f"there is no part '{qualified}'.", hint="Look for it on the shelf.")
    return page_of(tree, definition)


def page_of(tree: ClassTree, definition: Definition) -> PartPage:
    """The page of a class."""
    own = note.members(note.find(definition.node.annotation, note.VENDOR))
    source = own.get("source")
    equations, parameters, fault = _inside(tree, definition)
    return PartPage(
        class_name=definition.qualified,
        name=definition.name,
        package=definition.parent.node.comment.partition(":")[0]
        if definition.parent is not None
        else "",
        description=definition.node.comment,
        info=info_of(definition),
        source=source if isinstance(source, str) else "",
        synonyms=[w for w in own.get("synonyms") or [] if isinstance(w, str)],
        icon=icon(tree, definition),
        ports=whole_icon(tree, definition).ports,
        parameters=parameters,
        equations=equations,
        fault=fault,
        examples=[
            PartExample(e.qualified, e.name, e.node.comment)
            for e in examples()
            if definition.qualified in used_by(e.qualified)
        ],
    )


def info_of(definition: Definition) -> str:
    """The documentation of a class, as its annotation has it."""
    info = note.members(note.find(definition.node.annotation, "Documentation")).get("info")
    return info if isinstance(info, str) else ""


@dataclass(frozen=True, slots=True)
class DocumentationView:
    """What a model is, in one line and at length."""

    description: str
    info: str


def _inside(tree: ClassTree, definition: Definition) -> tuple[list[str], list[PartParameter], str]:
    """Equations typeset, parameters with their defaults, and why there are none."""
    try:
        flat = LoadedModel(tree, definition).flat
    except MovrelError as fault:
        return [], [], fault.sentence()
    shown = [
        e
        for e in flat.equations
        if not e.component and e.kind not in ("unconnected flow", "binding", "connection")
    ]
    equations = [typeset.equation(*(e.original or (e.left, e.right))) for e in shown[:LISTED]]
    try:
        values = parameter_values(flat, {})
    except MovrelError:
        values = {}
    own = [
        v
        for v in flat.variables
        if v.variability == "parameter" and not v.component and not v.protected and not v.generated
    ]
    texts = {e.name: o.source.slice(e.modification.value) for o, e in components(tree, definition)
             if e.modification is not None and e.modification.value is not None}  # fmt: skip
    rows: dict[str, PartParameter] = {}
    for v in own:  # of an array one row stands for all
        rows.setdefault(v.name.partition("[")[0], _parameter(v, values, texts))
    return equations, list(rows.values()), ""


def _parameter(v: Variable, values: dict[Variable, Scalar], texts: dict[str, str]) -> PartParameter:
    def limit(e: Expr | None) -> str:
        return (
            f"{e.value:g}"
            if e is not None and e.op == "const" and isinstance(e.value, int | float)
            else ""
        )

    value = values.get(v)
    name = v.name.partition("[")[0]
    given = texts.get(name, "")
    if (
        v.type == "enumeration"
        and isinstance(value, int | float)
        and 1 <= value <= len(v.enumeration)
    ):
        given = v.enumeration[int(value) - 1]
    return PartParameter(
        name=name,
        description=v.description,
        unit=v.unit if v.unit != "1" else "",
        default=given,
        minimum=limit(v.minimum),
        maximum=limit(v.maximum),
        choices=list(v.enumeration),
        derived=v.final,
    )

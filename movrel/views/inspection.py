"""Looking into a text before it is kept: what it declares, what is wrong with it, and how it reads typeset."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

from movrel.edits.components import component_class, with_component
from movrel.edits.figure_table import attribute_text
from movrel.edits.target import class_node
from movrel.equations import typeset
from movrel.equations.balance import balance
from movrel.equations.unit_check import check_units
from movrel.errors import MovrelError, Place, SyntaxFault
from movrel.language.parse_cache import parse_cached
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import components
from movrel.project.snapshot import Snapshot, class_tree, loaded_model
from movrel.session import LoadedModel
from movrel.sheet.elements import Icon
from movrel.sheet.symbols import icon
from movrel.sized_cache import SizedCache
from movrel.views.fault_view import Fault

#: Most faults that are listed at once.
LISTED = 20


@dataclass(frozen=True, slots=True)
class PortSummary:
    """A port that a text declares."""

    name: str
    class_name: str
    domain: str
    direction: str


@dataclass(frozen=True, slots=True)
class Named:
    """A parameter or unknown that a text declares."""

    name: str
    unit: str
    description: str


@dataclass(frozen=True, slots=True)
class TypesetEquation:
    """An equation as LaTeX, and its line in the text; 0 when it comes from elsewhere."""

    latex: str
    line: int


@dataclass(frozen=True, slots=True)
class ComponentCheck:
    """What a component's text declares and what is wrong with it."""

    name: str = ""
    ports: list[PortSummary] = field(default_factory=list)
    parameters: list[Named] = field(default_factory=list)
    unknowns: list[Named] = field(default_factory=list)
    equations: list[TypesetEquation] = field(default_factory=list)
    #: What is open or too much, in words; empty when all is well.
    balance: str = ""
    counts: str = ""
    faults: list[Fault] = field(default_factory=list)
    warnings: list[str] = field(default_factory=list)
    icon: Icon | None = None
    #: Whether it is what ports carry, and no part.
    connector: bool = False


def check_component(
    snapshot: Snapshot, qualified: str, text: str, replaces: str = ""
) -> ComponentCheck:
    """What a component's text declares and what is wrong with it, as if it were declared in a model.

    ``replaces`` names a class of the model that the text is to take the place of.
    """
    key = snapshot, qualified, text, replaces
    return _checked.get(key, lambda: _check(snapshot, qualified, text, replaces))


_checked: SizedCache[ComponentCheck] = SizedCache(
    20_000_000, lambda answer: 2_000 * (1 + len(answer.equations) + len(answer.unknowns))
)


def _check(snapshot: Snapshot, qualified: str, text: str, replaces: str) -> ComponentCheck:
    answer = ComponentCheck()
    try:
        name = component_class(text).name
        answer = replace(answer, name=name)
        tree = class_tree(with_component(snapshot, qualified, text, replaces)[0])
    except MovrelError as fault:
        return replace(answer, faults=[_fault(fault, None)])
    definition = tree.find(f"{qualified}.{name}")
    assert definition is not None
    drawn = icon(tree, definition)
    if definition.node.kind == "connector":
        return _connector(answer, tree, definition, drawn)
    model = LoadedModel(tree, definition)
    ports = [PortSummary(p.name, p.class_name, p.domain, p.direction) for p in drawn.ports]
    answer = replace(answer, icon=drawn, ports=ports)

    def line_of(where: Place | None) -> int:
        return _line(where, definition)

    try:
        flat = model.flat
    except MovrelError as fault:
        return replace(answer, faults=[_fault(fault, line_of)])
    named = [
        (v, Named(v.name, v.unit, v.description))
        for v in flat.variables
        if not v.generated and v.variability != "constant"
    ]
    physical = {p.name for p in drawn.ports if not p.direction}
    counted = balance(flat, physical)
    through = f", {counted.through_ports} of them through ports" if counted.through_ports else ""
    warnings = []
    for mismatch in check_units(flat)[:LISTED]:
        line = line_of(mismatch.where)
        warnings.append(f"line {line}: {mismatch.text}" if line else mismatch.text)
    return replace(
        answer,
        parameters=[entry for v, entry in named if v.variability == "parameter"],
        unknowns=[entry for v, entry in named if v.variability != "parameter" and not v.component],
        equations=[
            TypesetEquation(typeset.equation(*(e.original or (e.left, e.right))), line_of(e.where))
            for e in flat.equations
            if e.kind not in ("unconnected flow", "binding")
        ],
        balance=counted.words,
        counts=f"{counted.unknowns} unknowns, {counted.equations} equations{through}",
        warnings=warnings,
    )


def _connector(
    answer: ComponentCheck, tree: ClassTree, definition: Definition, drawn: Icon
) -> ComponentCheck:
    """What a connector carries; each flow needs a potential of its own (specification 9.3.1)."""
    carried: dict[str, list[Named]] = {"": [], "flow": [], "stream": []}
    for _, node in components(tree, definition):
        if "parameter" in node.prefixes or "constant" in node.prefixes:
            continue
        kind = next((word for word in ("flow", "stream") if word in node.prefixes), "")
        words = node.comment.text if node.comment else ""
        carried[kind].append(Named(node.name, attribute_text(node, "unit"), words))
    flows, potentials = len(carried["flow"]), len(carried[""])
    counts = [_numbered(potentials, "potential"), _numbered(flows, "flow")]
    if carried["stream"]:
        counts.append(_numbered(len(carried["stream"]), "stream"))
    return replace(
        answer,
        icon=drawn,
        connector=True,
        unknowns=[entry for entries in carried.values() for entry in entries],
        counts=", ".join(counts),
        balance=""
        if flows == potentials
        else f"A connector needs as many potentials as flows; here are {' and '.join(counts[:2])}.",
    )


def _numbered(count: int, what: str) -> str:
    return f"{count} {what}{'s' if count != 1 else ''}"


def _line(where: Place | None, definition: Definition) -> int:
    """The line within the component's own text."""
    if where is None or where.file != definition.source.file:
        return 0
    return where.line - definition.source.place(definition.node.start).line + 1


def _fault(fault: MovrelError, line_of: Callable[[Place | None], int] | None) -> Fault:
    """A fault with its place in the component's own text."""
    where = None
    if fault.where is not None:
        line = fault.where.line
        if line_of is not None:
            line = line_of(fault.where)
        elif not isinstance(fault, SyntaxFault) and fault.where.file != "component":
            line = 0
        if line > 0:
            where = Place("component", line, fault.where.column)
    return Fault(fault.message, fault.hint, where)


@dataclass(frozen=True, slots=True)
class Finding:
    """A fault (``error``) or a doubt (``warning``) about a text, with its place; line 0 when it is elsewhere."""

    severity: str
    message: str
    hint: str
    line: int
    column: int


@dataclass(frozen=True, slots=True)
class Findings:
    findings: list[Finding]


def check_text(snapshot: Snapshot, qualified: str, path: str, text: str) -> Findings:
    """Faults and warnings of a model if a file of the project had another text."""
    findings: list[Finding] = []

    def add(severity: str, message: str, hint: str, where: Place | None) -> None:
        here = where if where is not None and where.file == path else None
        findings.append(
            Finding(severity, message, hint, here.line if here else 0, here.column if here else 0)
        )

    try:
        class_node(parse_cached(text, path).tree, qualified)
        model = loaded_model(snapshot.changed(path, text), qualified)
        _ = model.flat
        model.check_start()
        for mismatch in check_units(model.flat)[:LISTED]:
            add("warning", mismatch.text, "", mismatch.where)
        for warning in model.flat.warnings[:LISTED]:
            add("warning", warning, "", None)
    except MovrelError as fault:
        add("error", fault.message, fault.hint, fault.where)
    return Findings(findings)

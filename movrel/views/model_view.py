"""What the screen shows of a model, put together from the rooms below."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field, replace

from movrel.edits.present_names import old_names
from movrel.equations.judging import about_parameters, broken
from movrel.equations.parameters import parameter_values
from movrel.equations.sorted_model import Sorted
from movrel.errors import MovrelError, StructureFault
from movrel.language import syntax as s
from movrel.language.typed_quantities import as_typed
from movrel.model.annotation import experiment_of
from movrel.model.classes import ClassTree, Definition
from movrel.project.rig_settings import RigSettings, rig_settings
from movrel.project.snapshot import Snapshot, class_tree, definition_of, loaded_model, semantic_mark
from movrel.project.vendor_annotation import (
    SETTING_UNITS,
    Scenario,
    claims_of,
    scenarios_of,
    time_unit_of,
)
from movrel.session import LoadedModel
from movrel.sheet.arrangement import Layout, layouts_of
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Icon, Sheet, SheetComponent
from movrel.sheet.symbols import icon
from movrel.sheet.wiring import end_of
from movrel.simulate.options import FIXED_STEP, PURPOSES, SOLVERS, RunOptions, run_options
from movrel.sized_cache import SizedCache
from movrel.unit_words import in_words
from movrel.views.fault_view import Fault, fault_view
from movrel.views.ledger import Row, rows
from movrel.views.view_changes import ViewChanges, list_change

#: Parts up to which an edit is answered with the rows of the ledger at once.
AT_ONCE = 150
#: Bytes of views that are kept, and of states that windows may have and be told only the changes of.
KEPT, KNOWN = 30_000_000, 30_000_000
#: About the bytes of a row, or of a part as it is drawn.
BYTES = 2_000


@dataclass(frozen=True, slots=True)
class Settings:
    """How a model is run, and what can be chosen."""

    start: float
    stop: float
    interval: float
    solver: str
    solver_name: str
    #: Of a solver that chooses its steps, and the step of one that does not.
    tolerance: float | None
    step: float | None
    #: What can be chosen: the name for the text and the words for the screen.
    solvers: dict[str, str]
    #: What the chosen solver is good for.
    purpose: str
    #: The unit in which times are shown; empty for the one that suits.
    time_unit: str
    #: The units in which output interval and step were typed; empty for the ones that suit.
    interval_unit: str
    step_unit: str


@dataclass(frozen=True, slots=True)
class Doubt:
    """What a part says about values that do not fit."""

    component: str
    level: str
    message: str


@dataclass(frozen=True, slots=True)
class ModelContent:
    """What the text of a model says of it; the same for the same texts."""

    #: Names this state, so that a later answer can tell only what differs.
    mark: str
    #: The models around it, outermost first, when it is declared inside another one.
    inside: list[str]
    #: The same as long as only the drawing changes: then rows and problem stay too.
    meaning: str
    sheet: Sheet
    #: How the model looks as a part of others.
    symbol: Icon
    rows: list[Row]
    #: Whether rows and problem are there; a large model's are asked for after an edit.
    analysed: bool
    settings: Settings | None
    problem: Fault | None
    doubts: list[Doubt]
    claims: list[str]
    scenarios: list[Scenario]
    layouts: list[Layout]
    #: Old names of the component library in the text, each with its present one.
    old_names: dict[str, str]
    #: How its parts are coupled as units; None for a model that is computed as one.
    rig: RigSettings | None
    #: Given when components, connections, rows and symbols hold only what is not in the known state.
    changes: ViewChanges | None = field(default=None, kw_only=True)


def model_content(
    snapshot: Snapshot, qualified: str, quick: bool = False, known: str = ""
) -> ModelContent:
    """Sheet, ledger rows, settings and faults of a model. Raises :class:`movrel.errors.NotFound`.

    ``quick`` leaves out the rows and faults of a large model; ``analysed`` says so. ``known`` is the
    ``mark`` of a view that the asker has; where it is still at hand only what differs is given.
    """
    definition = definition_of(snapshot, qualified)
    small = sum(isinstance(e, s.Component) for e in definition.node.elements) <= AT_ONCE
    content = _content(snapshot, qualified, small or not quick)
    earlier = _by_mark.find(known)
    _by_mark.get(content.mark, lambda: content)
    differing = _changes(earlier, content) if earlier is not None else None
    return differing or content


def _size(content: ModelContent) -> int:
    """About how many bytes a view takes."""
    drawn = content.sheet
    return BYTES * (1 + len(content.rows) + len(drawn.components) + len(drawn.connections))


#: The views that windows may have, by their marks.
_by_mark: SizedCache[ModelContent] = SizedCache(KNOWN, _size)


def _changes(before: ModelContent, after: ModelContent) -> ModelContent | None:
    """A view with only those components, connections, rows and symbols that are not in an earlier one.

    None where items cannot be told apart: then all must be sent.
    """
    parts = list_change(before.sheet.components, after.sheet.components, lambda c: c.name)
    wires = list_change(
        before.sheet.connections, after.sheet.connections, lambda c: f"{c.from_port} {c.to_port}"
    )
    entries = list_change(before.rows, after.rows, lambda r: r.name)
    if parts is None or wires is None or entries is None:
        return None
    icons = {
        name: icon
        for name, icon in after.sheet.icons.items()
        if before.sheet.icons.get(name) != icon
    }
    drawn = replace(after.sheet, icons=icons, components=parts[1], connections=wires[1])
    return replace(
        after, sheet=drawn, rows=entries[1], changes=ViewChanges(parts[0], wires[0], entries[0])
    )


def _content(snapshot: Snapshot, qualified: str, analysed: bool) -> ModelContent:
    """The whole content, never altered once it is made."""
    key = snapshot, qualified, analysed
    return _contents.get(key, lambda: _made(snapshot, qualified, analysed))


_contents: SizedCache[ModelContent] = SizedCache(KEPT, _size)


def _made(snapshot: Snapshot, qualified: str, analysed: bool) -> ModelContent:
    definition = definition_of(snapshot, qualified)
    tree = class_tree(snapshot)
    drawn = sheet(tree, definition)
    entries: list[Row] = []
    problem: Fault | None = None
    settings: Settings | None = None
    doubts: list[Doubt] = []
    try:
        options = run_options(experiment_of(definition, tree))
        settings = _settings(options, definition)
        if analysed:
            loaded = loaded_model(snapshot, qualified)
            entries, fault = _rows(loaded, definition)
            doubts = _doubts(loaded)
            problem = _problem(fault, drawn) if fault is not None else None
    except MovrelError as fault:
        problem = _problem(fault, drawn)
    mark = hashlib.sha256(
        repr((sorted(snapshot.revisions.items()), qualified, analysed)).encode()
    ).hexdigest()[:16]
    return ModelContent(
        mark=mark,
        inside=_models_around(definition),
        meaning=semantic_mark(snapshot, qualified),
        sheet=replace(drawn, components=_labelled(tree, snapshot, drawn.components, entries)),
        symbol=icon(tree, definition),
        rows=entries,
        analysed=analysed,
        settings=settings,
        problem=problem,
        doubts=doubts,
        claims=[c.text for c in claims_of(definition)],
        scenarios=[_as_typed(scenario) for scenario in scenarios_of(definition)],
        layouts=layouts_of(definition),
        old_names={n.old: n.present for n in old_names(tree, definition.source) if n.old},
        rig=rig_settings(definition),
    )


def _as_typed(scenario: Scenario) -> Scenario:
    """A scenario whose formulae read as they were typed."""
    return replace(scenario, changes={p: as_typed(t) for p, t in scenario.changes.items()})


def _doubts(loaded: LoadedModel) -> list[Doubt]:
    """What the parts say about the values of their parameters."""
    try:
        values = parameter_values(loaded.flat, {})
    except StructureFault:
        return []
    asked = [a for a in loaded.flat.assertions if not a.at_events and about_parameters(a)]
    return [Doubt(a.component, a.level, f"{message}.") for a, message in broken(asked, values)]


def _rows(loaded: LoadedModel, definition: Definition) -> tuple[list[Row], MovrelError | None]:
    """The rows of the ledger, and why the model cannot be run all the same."""
    flat = loaded.flat
    ordered: Sorted | None = None
    reason: MovrelError | None = None
    try:
        _ = parameter_values(flat, {})  # whether parameters depend on each other in a circle
        # Sorting tells whether equations and unknowns match, and which variables are states.
        ordered = loaded.ordered
    except MovrelError as fault:
        reason = fault
    # A rig is solved unit by unit: what lacks in one large system is said of its signals.
    return rows(flat, definition, ordered), None if rig_settings(definition) else reason


def _problem(fault: MovrelError, drawn: Sheet) -> Fault:
    """Why a model cannot be run; inputs that nobody wired say more than the equations that lack for them."""
    if not isinstance(fault, StructureFault):
        return fault_view(fault)
    wired = {end_of(end) for c in drawn.connections for end in (c.from_port, c.to_port)}
    inputs = loose_inputs(drawn, wired)
    if inputs:
        return _loose("input", inputs, "or give {it} a constant")
    chosen = [
        f"{c.name}.{p.name}" for c in drawn.components for p in drawn.icon_of(c).ports
        if p.condition and (c.name, p.name) not in wired
    ]  # fmt: skip
    if chosen:
        return _loose("chosen port", chosen, "or switch {it} off in the part's rows")
    joined = {part for part, _ in wired}
    parts = [
        c.name for c in drawn.components
        if any(not p.direction and p.domain != "state" for p in drawn.icon_of(c).ports) and c.name not in joined
    ]  # fmt: skip
    return _loose("part", parts, "or delete {it}") if parts else fault_view(fault)


def _loose(what: str, names: list[str], cure: str) -> Fault:
    """That some inputs or parts are not wired, in a sentence."""
    shown = ", ".join(names[:6]) + (" …" if len(names) > 6 else "")
    one = len(names) == 1
    return Fault(
        f"{len(names)} {what}{'' if one else 's'} {'is' if one else 'are'} not connected: {shown}.",
        f"Wire {'it' if one else 'them'}, {cure.format(it='it' if one else 'each')}.",
        None,
    )


def _settings(options: RunOptions, definition: Definition) -> Settings:
    fixed = options.solver in FIXED_STEP
    return Settings(
        options.start, options.stop, options.interval, options.solver, SOLVERS[options.solver],
        None if fixed else options.tolerance, (options.step or options.interval) if fixed else None,
        SOLVERS, PURPOSES[options.solver],
        *(time_unit_of(definition, SETTING_UNITS[name]) for name in ("stop", "interval", "step")),
    )  # fmt: skip


def loose_inputs(drawn: Sheet, wired: set[tuple[str, str]]) -> list[str]:
    """Inputs of parts on a sheet that no wire leads to."""
    return [
        f"{part.name}.{port.name}"
        for part in drawn.components
        for port in drawn.icon_of(part).ports
        if port.direction == "in" and (part.name, port.name) not in wired
    ]


def _models_around(definition: Definition) -> list[str]:
    around: list[str] = []
    at = definition.parent
    while at is not None and at.node.kind != "package":
        around.insert(0, at.qualified)
        at = at.parent
    return around


def _labelled(
    tree: ClassTree, snapshot: Snapshot, components: list[SheetComponent], entries: list[Row]
) -> list[SheetComponent]:
    """Every component with the values that its symbol may show as ``%name``, and whether it can be opened."""
    labels: dict[str, dict[str, str]] = {}
    numbers: dict[str, dict[str, float]] = {}
    for row in entries:
        if row.group == "watch" or row.value is None:
            continue
        shown = row.shown if row.shown is not None else row.value
        labels.setdefault(row.component, {})[row.label] = in_words(shown, row.shown_unit)
        if isinstance(row.value, float):
            numbers.setdefault(row.component, {})[row.label] = row.value
    own, complete = labels.get("", {}), []
    for part in components:
        inner = tree.find(part.class_name)
        opens = inner is not None and inner.source.file in snapshot.revisions and part.port is None
        array = " × ".join(own.get(size, size) for size in part.array.split(" × "))
        complete.append(
            replace(
                part, opens=opens, labels=labels.get(part.name, {}), numbers=numbers.get(part.name, {}), array=array
            )
        )  # fmt: skip
    return complete

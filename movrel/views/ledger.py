"""The rows of the ledger: every quantity of a component with its value, unit and words."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal, TypeAlias

from movrel.edits.laws import LAW, laws
from movrel.edits.settable import has_own_start, known_start
from movrel.equations.parameters import is_found_at_start, parameter_values
from movrel.equations.signal_units import signal_units
from movrel.equations.sorted_model import Sorted
from movrel.equations.starts import Starts
from movrel.errors import StructureFault
from movrel.language import syntax as s
from movrel.language.typed_quantities import as_typed
from movrel.language.typed_rows import array_cells
from movrel.language.unset_value import Written
from movrel.model import annotation as note
from movrel.model import expression as x
from movrel.model.classes import Definition
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import FlatModel
from movrel.project.value_place import START
from movrel.sheet.conditions import ValueOf, is_offered, values_by_name
from movrel.units import display_value

#: What a row is for: parameters, start values (and parameters that only these use), or what varies.
RowGroup: TypeAlias = Literal["set", "start", "watch"]


@dataclass(frozen=True, slots=True)
class Row:
    """A row of the ledger; ``value`` in ``unit``, ``shown`` in ``shown_unit``."""

    name: str
    label: str
    component: str
    description: str
    type: str
    #: Whether it flows through a port, counted into the part.
    flow: bool
    unit: str
    shown_unit: str
    group: RowGroup
    value: float | bool | str | None
    shown: float | None
    expression: str | None
    editable: bool
    choices: list[str]
    #: Whether the model's own text gives the value, so that it can be reset to the default.
    modified: bool
    minimum: float | None
    maximum: float | None
    #: Of an element of a vector or matrix: the text of all of it, where that is no list of its elements.
    whole: str | None
    #: The value that the class gives, as it is written, where that is a number.
    default: str
    section: str
    tab: str
    enabled: bool
    #: For a start value: whether it must hold, or only helps.
    fixed: bool | None


_ELEMENT = re.compile(r"^(.*)\[(\d+)(?:,(\d+))?\]$")


def rows(
    flat: FlatModel,
    definition: Definition | None = None,
    ordered: Sorted | None = None,
    given: Mapping[str, float] | None = None,
) -> list[Row]:
    """One row per scalar of a model, and one per start value of a state where the ``ordered`` equations tell these.

    Values are given in the declared unit (``value``) and as shown (``shown``, in ``shown_unit``). With the
    ``definition`` of the model, rows know what its text says about them. ``given`` values take the place of the
    text's, by name.
    """
    try:
        values = parameter_values(flat, dict(given or {}))
    except StructureFault:
        values = {}
    only_for_start = _start_parameters(flat)
    value_of = values_by_name(flat.variables, values)
    texts = Written(definition.source, definition.node) if definition is not None else None
    arrays = _WrittenArrays(texts)
    listed = [
        arrays.of(_parameter_row(v, values, only_for_start, texts, value_of))
        if v.variability == "parameter" and not is_found_at_start(v)
        else _base(v, v.name)
        for v in flat.variables
        if v.variability != "constant" and not v.protected and not v.generated
    ]
    listed += [_law_row(*law, value_of) for law in laws(flat, texts)]
    if ordered is None:
        return listed
    starts = ordered.reduced.starts
    own = [v for v in ordered.states if has_own_start(v, starts)]
    # What the text lets start is listed, too, though it is no state.
    own += [
        v
        for v in flat.variables
        if (is_found_at_start(v) or _has_written_start(v, texts)) and v not in own
    ]
    given_up = _given_up(flat)
    signals = {v.name: both for v, both in signal_units(flat.variables, ordered.reduced).items()}
    listed = [
        _with_signal(replace(row, enabled=row.enabled and row.name not in given_up), signals)
        for row in listed
    ]
    return listed + [_start_row(v, values, texts, starts) for v in own]


def _with_signal(row: Row, signals: dict[str, tuple[str, str]]) -> Row:
    """A row of a signal with the unit of what it is connected with."""
    unit, shown = signals.get(row.name, (row.unit, row.shown_unit))
    return replace(row, unit=unit, shown_unit=shown or unit)


def _has_written_start(v: Variable, texts: Written | None) -> bool:
    return (
        texts is not None
        and v.variability == "continuous"
        and v.fixed is True
        and texts.value(*v.name.split("."), "start") is not None
    )


def _given_up(flat: FlatModel) -> set[str]:
    """Parameters that only give start values which count for nothing any more: something else starts in their place."""
    counting: set[str] = set()
    idle: set[str] = set()
    for v in flat.variables:
        if v.start is not None and v.variability == "continuous":
            used = {u.name for u in x.variables(v.start)}
            (idle if v.fixed is False else counting).update(used)
    return (idle - counting) & {v.name for v in _start_parameters(flat)}


class _WrittenArrays:
    """What the text of a model says of the elements of vectors and matrices."""

    def __init__(self, texts: Written | None) -> None:
        self._texts = texts
        self._known: dict[str, tuple[str | None, list[list[str]] | None]] = {}

    def of(self, row: Row) -> Row:
        """A row with the text of its element, if that is not a number."""
        match = _ELEMENT.match(row.name)
        if match is None or self._texts is None or row.type not in ("Real", "Integer"):
            return row
        name = match[1]
        if name not in self._known:
            text = self._texts.value(*name.split("."))
            self._known[name] = text, array_cells(text) if text is not None else None
        text, cells = self._known[name]
        if text is None:
            return row
        if cells is None:
            return replace(row, whole=as_typed(text), modified="." in name)
        flat = cells if match[3] else [[cell] for line in cells for cell in line]
        try:
            cell = flat[int(match[2]) - 1][int(match[3] or 1) - 1]
        except IndexError:
            return row
        return replace(
            row, expression=None if _is_number(cell) else as_typed(cell), modified="." in name
        )


def _start_parameters(flat: FlatModel) -> set[Variable]:
    in_start = {
        u
        for v in flat.variables
        if v.start is not None and v.variability == "continuous"
        for u in x.variables(v.start)
    }
    elsewhere = {u for e in flat.equations for side in (e.left, e.right) for u in x.variables(side)}
    elsewhere |= {
        u for v in flat.variables if v.binding is not None for u in x.variables(v.binding)
    }
    return in_start - elsewhere


def _parameter_row(
    v: Variable,
    values: dict[Variable, Scalar],
    only_for_start: set[Variable],
    texts: Written | None,
    value_of: ValueOf,
) -> Row:
    row = _base(v, v.name)
    value = values.get(v)
    seen: float | bool | str | None = None
    shown: float | None = None
    if (
        v.type == "enumeration"
        and isinstance(value, int | float)
        and 1 <= value <= len(v.enumeration)
    ):
        seen = v.enumeration[int(value) - 1]
    elif isinstance(value, bool | str):
        seen = value
    elif value is not None:
        seen = float(value)
        shown = display_value(float(value), v.unit, row.shown_unit)
    text = texts.value(*v.name.split(".")) if texts is not None else None
    expression: str | None = None
    if v.binding is not None and v.binding.op != "const":
        expression = as_typed(text or x.show(v.binding))
    elif text is not None and v.type in ("Real", "Integer") and not _is_number(text):
        expression = as_typed(text)
    minimum, maximum = (_limit(e, values, v, row.shown_unit) for e in (v.minimum, v.maximum))
    given = (
        v.declaration.modification.value
        if v.declaration is not None and v.declaration.modification
        else None
    )
    row = replace(
        row,
        group="start" if v in only_for_start else "set",
        value=seen,
        shown=shown,
        expression=expression,
        modified=text is not None and "." in v.name,
        editable=not v.final,
        minimum=minimum,
        maximum=maximum,
        default=given.text if isinstance(given, s.Number) else "",
    )
    return _with_dialog(row, v, value_of)


def _base(v: Variable, name: str) -> Row:
    return Row(
        name=name,
        label=name[len(v.component) + 1 :] if v.component else name,
        component=v.component,
        description=v.description,
        type=v.type,
        flow=v.flow,
        unit=v.unit,
        shown_unit=v.display_unit or v.unit,
        group="watch",
        value=None,
        shown=None,
        expression=None,
        editable=False,
        choices=["false", "true"] if v.type == "Boolean" else list(v.enumeration),
        modified=False,
        whole=None,
        minimum=None,
        maximum=None,
        default="",
        section="",
        tab="",
        enabled=True,
        fixed=None,
    )


def _law_row(name: str, v: Variable, text: str, own: bool, value_of: ValueOf) -> Row:
    row = replace(
        _base(v, name), type=LAW, group="set", editable=True, expression=text, modified=own
    )
    return _with_dialog(row, v, value_of)


def _start_row(
    v: Variable, values: dict[Variable, Scalar], texts: Written | None, starts: Starts
) -> Row:
    row = _base(v, v.name)
    value = known_start(v, values, starts)
    text = texts.value(*v.name.split("."), "start") if texts is not None else None
    return replace(
        row,
        name=v.name + START,
        group="start",
        choices=[],
        value=value,
        shown=display_value(value, v.unit, row.shown_unit),
        editable=True,
        fixed=bool(starts.of(v).fixed),
        modified=text is not None and "." in v.name,
        expression=as_typed(text) if text is not None and not _is_number(text) else None,
    )


def _limit(
    e: x.Expr | None, values: dict[Variable, Scalar], v: Variable, shown_unit: str
) -> float | None:
    if e is None:
        return None
    try:
        return display_value(float(x.evaluate(e, values)), v.unit, shown_unit)
    except (ArithmeticError, ValueError, KeyError, TypeError):
        return None


def _with_dialog(row: Row, v: Variable, value_of: ValueOf) -> Row:
    """Section, tab and condition of a row, as the Dialog annotation says (specification 18.7)."""
    comment = v.declaration.comment if v.declaration is not None else None
    dialog = note.find(comment.annotation if comment else None, "Dialog")
    if dialog is None or dialog.modification is None:
        return row
    members = note.members(dialog)
    prefix = v.component + "." if v.component else ""
    return replace(
        row,
        section=members["group"] if isinstance(members.get("group"), str) else "",
        tab=members["tab"] if isinstance(members.get("tab"), str) else "",
        enabled=is_offered(v.declaration, lambda name: value_of(prefix + name)),
    )


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True

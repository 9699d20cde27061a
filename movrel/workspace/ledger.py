"""The rows of the ledger: every quantity of a component with its value, unit and words."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, StructureFault
from movrel.language import syntax as s
from movrel.language.unset_value import Written
from movrel.model import annotation as note
from movrel.model import expression as x
from movrel.model.classes import Definition
from movrel.model.conditions import holds
from movrel.model.flat import FlatModel, Variable
from movrel.model.laws import LAW, laws
from movrel.units import convert, pretty

#: Ending of the rows that set the start value of a state.
START = ".start"


def rows(flat: FlatModel, definition: Definition | None = None, states: list[Variable] | None = None) -> list[dict[str, Any]]:
    """One row per scalar of a model, and one per start value of a state.

    ``group`` is ``set`` (parameters), ``start`` (start values, and parameters that only these use) or
    ``watch`` (what varies). Values are given in the declared unit (``value``) and as shown (``shown``,
    in ``shown_unit``). With the ``definition`` of the model, rows know what its text says about them.
    """
    try:
        values = parameter_values(flat, {})
    except StructureFault:
        values = {}
    only_for_start = _start_parameters(flat)
    parameters = {v.name: v for v in flat.variables if v.variability == "parameter"}

    def value_of(name: str) -> Any:
        variable = parameters.get(name)
        return values.get(id(variable)) if variable is not None else None

    texts = Written(definition.source, definition.node) if definition is not None else None
    found = [
        _row(v, values, only_for_start, texts, value_of)
        for v in flat.variables
        if v.variability != "constant" and not v.protected and not v.generated
    ]
    found += [_law_row(*law, value_of) for law in laws(flat, texts)]
    return found + [_start_row(v, values, texts) for v in states or [] if _has_own_start(v)]


def _start_parameters(flat: FlatModel) -> set[int]:
    in_start = {
        id(u) for v in flat.variables if v.start is not None and v.variability == "continuous" for u in x.variables(v.start)
    }
    elsewhere = {id(u) for e in flat.equations for side in (e.left, e.right) for u in x.variables(side)}
    elsewhere |= {id(u) for v in flat.variables if v.binding is not None for u in x.variables(v.binding)}
    return in_start - elsewhere


def _row(
    v: Variable, values: dict[int, Any], only_for_start: set[int], texts: Written | None, value_of: Callable[[str], Any]
) -> dict[str, Any]:
    parameter = v.variability == "parameter"
    row = _base(v, v.name[len(v.component) + 1 :] if v.component else v.name, v.name)
    row["group"] = ("start" if id(v) in only_for_start else "set") if parameter else "watch"
    if not parameter:
        return row
    value = values.get(id(v))
    if v.type == "enumeration" and isinstance(value, int | float) and 1 <= value <= len(v.enumeration):
        row["value"] = v.enumeration[int(value) - 1]
    elif isinstance(value, bool | str):
        row["value"] = value
    elif value is not None:
        row["value"] = float(value)
        row["shown"] = shown_value(float(value), v.unit, row["shown_unit"])
    text = texts.value(*v.name.split(".")) if texts is not None else None
    row["modified"] = text is not None and "." in v.name
    if v.binding is not None and v.binding.op != "const":
        row["expression"] = text or x.show(v.binding)
    elif text is not None and v.type in ("Real", "Integer") and not _is_number(text):
        row["expression"] = text
    row["editable"] = not v.final
    row["minimum"], row["maximum"] = (_limit(e, values, v, row["shown_unit"]) for e in (v.minimum, v.maximum))
    given = v.declaration.modification.value if v.declaration is not None and v.declaration.modification else None
    row["default"] = given.text if isinstance(given, s.Number) else ""
    _dialog(row, v, value_of)
    return row


def _base(v: Variable, label: str, name: str) -> dict[str, Any]:
    return {
        "name": name,
        "label": label,
        "component": v.component,
        "description": v.description,
        "type": v.type,
        "flow": v.flow,
        "unit": v.unit,
        "shown_unit": v.display_unit or v.unit,
        "group": "watch",
        "value": None,
        "shown": None,
        "expression": None,
        "editable": False,
        "choices": ["false", "true"] if v.type == "Boolean" else list(v.enumeration),
        "modified": False,
        "minimum": None,
        "maximum": None,
        "default": "",
        "section": "",
        "tab": "",
        "enabled": True,
        "fixed": None,
    }


def _law_row(name: str, v: Variable, text: str, own: bool, value_of: Callable[[str], Any]) -> dict[str, Any]:
    row = _base(v, name[len(v.component) + 1 :], name)
    row |= {"type": LAW, "group": "set", "editable": True, "expression": text, "modified": own}
    _dialog(row, v, value_of)
    return row


def _has_own_start(v: Variable) -> bool:
    """Whether a state's start value is set at the state itself and not by a parameter."""
    return v.start is None or not x.variables(v.start)


def _start_row(v: Variable, values: dict[int, Any], texts: Written | None) -> dict[str, Any]:
    label = v.name[len(v.component) + 1 :] if v.component else v.name
    row = _base(v, label, v.name + START)
    row["group"] = "start"
    row["choices"] = []
    value = 0.0
    if v.start is not None:
        try:
            value = float(x.evaluate(v.start, values))
        except (ArithmeticError, ValueError, KeyError):
            value = 0.0
    row["value"] = value
    row["shown"] = shown_value(value, v.unit, row["shown_unit"])
    row["editable"] = True
    row["fixed"] = bool(v.fixed)
    text = texts.value(*v.name.split("."), "start") if texts is not None else None
    row["modified"] = text is not None and "." in v.name
    row["expression"] = text if text is not None and not _is_number(text) else None
    return row


def _limit(e: x.Expr | None, values: dict[int, Any], v: Variable, shown_unit: str) -> float | None:
    if e is None:
        return None
    try:
        return shown_value(float(x.evaluate(e, values)), v.unit, shown_unit)
    except (ArithmeticError, ValueError, KeyError, TypeError):
        return None


def _dialog(row: dict[str, Any], v: Variable, value_of: Callable[[str], Any]) -> None:
    """Section, tab and condition of a row, as the Dialog annotation says (specification 18.7)."""
    comment = v.declaration.comment if v.declaration is not None else None
    dialog = note.find(comment.annotation if comment else None, "Dialog")
    if dialog is None or dialog.modification is None:
        return
    members = note.members(dialog)
    row["section"] = members["group"] if isinstance(members.get("group"), str) else ""
    row["tab"] = members["tab"] if isinstance(members.get("tab"), str) else ""
    prefix = v.component + "." if v.component else ""
    for argument in dialog.modification.arguments:
        if isinstance(argument, s.Modify) and argument.name == "enable" and argument.modification is not None:
            row["enabled"] = holds(argument.modification.value, lambda name: value_of(prefix + name))


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def shown_value(value: float, unit: str, shown_unit: str) -> float:
    """A value in the unit in which it is shown; unchanged when the units do not fit each other."""
    try:
        return convert(value, unit, shown_unit) if unit and shown_unit != unit else value
    except MovrelError:
        return value


def scale(unit: str, shown_unit: str) -> tuple[float, float]:
    """Factor and offset from the declared to the shown unit."""
    offset = shown_value(0.0, unit, shown_unit)
    return shown_value(1.0, unit, shown_unit) - offset, offset


def readable(value: Any, unit: str = "") -> str:
    """A value for a sentence: at most five significant digits, with its unit."""
    text = _five_digits(value) if isinstance(value, float) else str(value).lower() if isinstance(value, bool) else str(value)
    return f"{text} {pretty(unit)}".strip()


def _five_digits(value: float) -> str:
    """Five significant digits; powers of ten only for what would be long without."""
    text = f"{value:.5g}"
    return f"{float(text):.0f}" if text.endswith("e+05") else text

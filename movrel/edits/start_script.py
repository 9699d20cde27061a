"""The start script of a package of values: its results are named values of the package, kept up to date by every edit."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.figure_rows import figures
from movrel.edits.figure_table import figure_line, in_si_unit
from movrel.edits.target import Changed, Edited, Target, target_of
from movrel.errors import EditFault, MovrelError, Place
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted, set_annotation
from movrel.language.clauses import clause_end
from movrel.language.patch import Patch, apply
from movrel.language.start_script import ScriptResult, run_script
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.project.snapshot import Snapshot, class_tree
from movrel.units import convert, normalise, si_unit


@dataclass(frozen=True, slots=True)
class SetScript:
    """The start script of a package; an empty one takes it away with its results."""

    source: Annotated[str, MaxLen(200_000)]
    do: Literal["script"] = "script"

    def apply(self, target: Target) -> Edited:
        if target.cls.kind != "package":
            raise EditFault(
                "a start script belongs to the values of the whole project.",
                hint="Write it in the view Values, of the whole project.",
            )
        text, count = _with_script(target, self.source)
        words = f"start script: {count} value{'s' if count != 1 else ''}"
        return Edited(
            target.rewritten(text), words if self.source.strip() else "deleted the start script"
        )


def script_of(definition: Definition) -> tuple[str, list[str]]:
    """The start script of a package and the names of what it works out; empty where there is none."""
    vendor = note.members(note.find(definition.node.annotation, note.VENDOR))
    script = vendor.get("script")
    if not isinstance(script, dict) or not isinstance(script.get("source"), str):
        return "", []
    names = script.get("results")
    return script["source"], [n for n in names if isinstance(n, str)] if isinstance(
        names, list
    ) else []


def worked_out(tree: ClassTree, definition: Definition, source: str) -> list[ScriptResult]:
    """What a script works out from the other values of a package. Raises :class:`EditFault` with the line."""
    before = set(script_of(definition)[1])
    rows = {row.name: row for row in figures(tree, definition) if row.name not in before}
    dependent = set(before)
    while more := {
        n for n, row in rows.items() if n not in dependent and dependent & set(row.uses)
    }:
        dependent |= more
    given = {
        name: float(row.value)
        for name, row in rows.items()
        if name not in dependent and isinstance(row.value, int | float) and not row.fault
    }
    others = {e.name for e in definition.node.elements if isinstance(e, s.Component | s.ClassDef)}
    results = run_script(source, given)
    for result in results:
        if result.name in others - before:
            raise EditFault(
                f"line {result.line} of the start script: '{result.name}' is a value already.",
                Place("start script", result.line, 1),
                "Give what the script works out another name.",
            )
    return results


def renewed(snapshot: Snapshot, changed: Changed) -> Changed:
    """An edited file in which the start scripts of its packages were run again."""
    if "script(" not in changed.text:
        return changed
    texts = snapshot.changed(changed.path, changed.text)
    for definition in class_tree(texts).roots.values():
        if definition.source.file != changed.path:
            continue
        source, _ = script_of(definition)
        if source:
            text, _ = _with_script(target_of(texts, definition.qualified), source)
            return Changed(changed.path, text, changed.summary, changed.inserted)
    return changed


def _with_script(target: Target, source: str) -> tuple[str, int]:
    """The text of the file with a script and what it works out, and how many values these are."""
    _, before = script_of(target.definition)
    results = worked_out(target.tree, target.definition, source) if source.strip() else []
    lines = {r.name: _declaration(r) for r in results}
    text = target.source.text
    for name in before:
        if name not in lines:
            file, cls = target.again(text)
            text = apply(text, edit_class.delete_component(file, cls, name))
    file, cls = target.again(text)
    present = {e.name: e for e in cls.elements if isinstance(e, s.Component) and e.name in before}
    patches = [
        Patch(node.start, clause_end(file, node.end), lines[name])
        for name, node in present.items()
        if file.text[node.start : clause_end(file, node.end)] != lines[name]
    ]
    text = apply(text, patches)
    file, cls = target.again(text)
    text = apply(
        text,
        edit_class.insert_elements(file, cls, [v for n, v in lines.items() if n not in present]),
    )
    wanted = (
        {"source": quoted(source), "results": "{" + ", ".join(quoted(n) for n in lines) + "}"}
        if source.strip()
        else {}
    )
    if not wanted:
        file, cls = target.again(text)
        return apply(text, set_annotation(file, cls, [note.VENDOR, "script"], None)), 0
    for key, value in wanted.items():
        file, cls = target.again(text)
        if not lines and key == "results":
            value = "{}"
        text = apply(text, set_annotation(file, cls, [note.VENDOR, "script", key], value))
    return text, len(lines)


def _declaration(result: ScriptResult) -> str:
    """The constant that holds a result, in SI units, shown in the unit that the script names."""
    try:
        unit = normalise(result.unit) if result.unit else ""
        if isinstance(result.value, float):
            expression, unit, si, _ = in_si_unit(result.name, repr(result.value), unit)
            return figure_line(result.name, expression, unit, si, result.note, "constant")
        si = si_unit(unit) if unit else ""

        def number(value: float) -> str:
            return f"{convert(value, unit, si) if unit != si else value:.15g}"

    except MovrelError as fault:
        raise EditFault(
            f"line {result.line} of the start script: {fault.message}",
            Place("start script", result.line, 1),
            fault.hint,
        ) from None
    rows = result.value
    first = rows[0]
    size = f"{len(rows)}, {len(first)}" if isinstance(first, list) else str(len(rows))
    cells = (
        "; ".join(", ".join(number(v) for v in row) for row in rows if isinstance(row, list))
        if isinstance(first, list)
        else ", ".join(number(v) for v in rows if isinstance(v, float))
    )
    shown = "" if unit == si else f', each displayUnit="{unit}"'
    units = f'(each unit="{si}"{shown})' if si else ""
    words = f" {quoted(result.note)}" if result.note else ""
    value = f"[{cells}]" if isinstance(first, list) else f"{{{cells}}}"
    return f"constant Real {result.name}[{size}]{units} = {value}{words};"

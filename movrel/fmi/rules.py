"""What looks wrong in a unit: rules of the standard that a description can break and still be read, each with its clause."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from movrel.fmi.archive import OpenUnit
from movrel.fmi.description import UnitDescription, UnitVariable

#: Which values of ``initial`` go with causality and variability (tables of 2.2.7 in FMI 2, 2.4.7.4 in FMI 3).
_INITIAL: dict[tuple[str, str], tuple[str, ...]] = {
    ("parameter", "fixed"): ("exact",), ("parameter", "tunable"): ("exact",),
    ("structuralParameter", "fixed"): ("exact",), ("structuralParameter", "tunable"): ("exact",),
    ("calculatedParameter", "fixed"): ("calculated", "approx"), ("calculatedParameter", "tunable"): ("calculated", "approx"),
    ("input", "discrete"): (), ("input", "continuous"): (),
    ("output", "constant"): ("exact",), ("output", "discrete"): ("calculated", "exact", "approx"),
    ("output", "continuous"): ("calculated", "exact", "approx"),
    ("local", "constant"): ("exact",), ("local", "fixed"): ("calculated", "approx"),
    ("local", "tunable"): ("calculated", "approx"),
    ("local", "discrete"): ("calculated", "exact", "approx"), ("local", "continuous"): ("calculated", "exact", "approx"),
    ("independent", "continuous"): (),
}  # fmt: skip
_STRUCTURED = re.compile(
    r"(?:der\()?(?:[A-Za-z_]\w*|'[^']+')(?:\[\d+(?:,\d+)*\])?(?:\.(?:[A-Za-z_]\w*|'[^']+')(?:\[\d+(?:,\d+)*\])?)*(?:,\d+)?\)?"
)


@dataclass(frozen=True, slots=True)
class BrokenRule:
    """A rule that a unit breaks: the clause of the standard, and what is wrong."""

    clause: str
    text: str


def findings(unit: OpenUnit) -> list[BrokenRule]:
    """All rules that a unit breaks, in the order of the standard's clauses."""
    d = unit.description
    found = [*_files(unit), *_units(d), *_independent(d)]
    for v in d.variables:
        found += _variable(d, v)
    found += _structure(d)
    found += _terminals(d)
    return found


def _clauses(d: UnitDescription) -> dict[str, str]:
    """Clauses of the version by subject."""
    if d.version == 2:
        return {
            "files": "2.3",
            "units": "2.2.2",
            "types": "2.2.3",
            "variables": "2.2.7",
            "names": "2.2.9",
            "structure": "2.2.8",
        }
    return {
        "files": "2.5.1",
        "units": "2.4.4",
        "types": "2.4.5",
        "variables": "2.4.7",
        "names": "2.4.7.5",
        "structure": "2.4.8",
    }


def _files(unit: OpenUnit) -> Iterator[BrokenRule]:
    d, clause = unit.description, _clauses(unit.description)["files"]
    if not unit.binaries() and not any(n.startswith("sources/") for n in unit.files):
        yield BrokenRule(clause, "There is neither a binary nor a source.")
    for interface, identifier in d.identifiers.items():
        if not re.fullmatch(r"[A-Za-z_]\w*", identifier):
            yield BrokenRule(clause, f"The model identifier '{identifier}' is no identifier of C.")
        for file in d.sources.get(interface, []):
            if f"sources/{file}" not in unit.files:
                yield BrokenRule(clause, f"The source file '{file}' is listed and is not there.")
    for platform, names in unit.binaries().items():
        if not any(n.rpartition(".")[0] in d.identifiers.values() for n in names):
            yield BrokenRule(clause, f"No binary in '{platform}' is named as the model identifier.")


def _units(d: UnitDescription) -> Iterator[BrokenRule]:
    clause = _clauses(d)["units"]
    known = {u.name: u for u in d.units}
    said: set[tuple[str, str]] = set()
    for v in d.variables:
        if v.unit and v.unit not in known and (v.unit, "") not in said:
            said.add((v.unit, ""))
            yield BrokenRule(clause, f"The unit '{v.unit}' of '{v.name}' is not defined.")
        shown = v.display_unit
        defined = known[v.unit].displays if v.unit in known else {}
        if shown and shown != v.unit and shown not in defined and (v.unit, shown) not in said:
            said.add((v.unit, shown))
            yield BrokenRule(
                clause, f"The display unit '{shown}' of '{v.name}' is not defined for '{v.unit}'."
            )


def _independent(d: UnitDescription) -> Iterator[BrokenRule]:
    clause = _clauses(d)["variables"]
    clocks = [v for v in d.variables if v.causality == "independent"]
    if len(clocks) > 1:
        yield BrokenRule(
            clause, f"There are {len(clocks)} independent variables; there may be one."
        )
    if d.version == 3 and not clocks:
        yield BrokenRule(clause, "There is no independent variable.")
    for v in clocks:
        if v.kind != "Real" or v.variability != "continuous" or v.start is not None:
            yield BrokenRule(
                clause,
                f"The independent variable '{v.name}' must be real, continuous and without a start value.",
            )


def _variable(d: UnitDescription, v: UnitVariable) -> Iterator[BrokenRule]:
    clauses = _clauses(d)
    allowed = _INITIAL.get((v.causality, v.variability))
    if allowed is None:
        yield BrokenRule(
            clauses["variables"],
            f"'{v.name}' is {v.causality} and {v.variability}, which do not go together.",
        )
        return
    initial = v.initial or (allowed[0] if allowed else None)
    if v.initial is not None and v.initial not in allowed:
        what = " or ".join(allowed) if allowed else "nothing"
        yield BrokenRule(
            clauses["variables"], f"'initial' of '{v.name}' is {v.initial}; it may be {what}."
        )
    needs_start = initial in ("exact", "approx") or v.causality == "input"
    if needs_start and v.start is None and v.kind not in ("Clock", "Binary", "String"):
        yield BrokenRule(clauses["variables"], f"'{v.name}' lacks a start value.")
    if initial == "calculated" and v.start is not None:
        yield BrokenRule(clauses["variables"], f"'{v.name}' is calculated and has a start value.")
    if v.kind != "Real" and v.variability == "continuous":
        yield BrokenRule(
            clauses["variables"],
            f"'{v.name}' is {v.kind} and continuous; only real variables can be.",
        )
    if v.minimum is not None and v.maximum is not None and v.minimum > v.maximum:
        yield BrokenRule(clauses["variables"], f"The minimum of '{v.name}' lies above its maximum.")
    for value in v.start or []:
        if isinstance(value, float) and (
            (v.minimum is not None and value < v.minimum)
            or (v.maximum is not None and value > v.maximum)
        ):
            yield BrokenRule(
                clauses["variables"],
                f"The start value {value:g} of '{v.name}' lies outside its limits.",
            )
            break
    if v.start is not None and v.kind != "Binary" and len(v.start) != v.count:
        yield BrokenRule(
            clauses["variables"],
            f"'{v.name}' has {v.count} values and {len(v.start)} start values.",
        )
    if v.kind == "Enumeration" and not v.enumeration:
        yield BrokenRule(
            clauses["types"], f"The items of the enumeration '{v.name}' are not defined."
        )
    if not _STRUCTURED.fullmatch(v.name):
        yield BrokenRule(
            clauses["names"], f"The name '{v.name}' does not follow the structured convention."
        )


def _structure(d: UnitDescription) -> Iterator[BrokenRule]:
    clause = _clauses(d)["structure"]
    reals = {v.reference: v for v in reversed(d.variables)}
    outputs = {v.reference for v in d.variables if v.causality == "output" and v.kind != "Clock"}
    listed = {u.reference for u in d.outputs}
    for reference in sorted(outputs - listed):
        yield BrokenRule(
            clause, f"The output '{reals[reference].name}' is not listed among the outputs."
        )
    if d.version == 3 or not any(v.kind != "Real" for v in d.variables):
        for reference in sorted(listed - outputs):
            yield BrokenRule(
                clause, f"'{reals[reference].name}' is listed among the outputs and is none."
            )
    by_reference = d.by_reference()
    for u in d.derivatives:
        if by_reference[u.reference].derivative_of is None:
            yield BrokenRule(
                clause,
                f"'{by_reference[u.reference].name}' is listed as a derivative and does not say of what.",
            )
    knowns = {v.reference for v in d.variables if v.causality in ("input", "independent")}
    knowns |= {
        s for u in d.derivatives if (s := by_reference[u.reference].derivative_of) is not None
    }
    for u in (*d.outputs, *d.derivatives):
        for reference in u.dependencies or {}:
            if reference not in knowns:
                unknown, known = by_reference[u.reference].name, by_reference[reference].name
                yield BrokenRule(clause, f"'{unknown}' depends on '{known}', which is no known.")
    yield from _initial_unknowns(d, clause, by_reference)


def _terminals(d: UnitDescription) -> Iterator[BrokenRule]:
    clause = "2.4.9"
    if d.terminals_fault:
        yield BrokenRule(clause, f"The terminals cannot be read: {d.terminals_fault}")
    by_name = d.by_name()
    for t in d.terminals:
        for variable in t.members.values():
            if variable not in by_name:
                yield BrokenRule(
                    clause, f"The terminal '{t.name}' names '{variable}', which is no variable."
                )


def _initial_unknowns(
    d: UnitDescription, clause: str, by_reference: dict[int, UnitVariable]
) -> Iterator[BrokenRule]:
    wanted: dict[int, str] = {}
    states = {
        s for u in d.derivatives if (s := by_reference[u.reference].derivative_of) is not None
    }
    rates = {u.reference for u in d.derivatives}
    for v in d.variables:
        initial = v.initial or (_INITIAL.get((v.causality, v.variability)) or ("",))[0]
        if initial not in ("approx", "calculated") or v.kind == "Clock":
            continue
        among = (
            v.kind == "Real" and v.reference in states | rates and by_reference[v.reference] is v
        )
        if v.causality in ("output", "calculatedParameter") or among:
            wanted.setdefault(v.reference, v.name)
    for reference in sorted(set(wanted) - {u.reference for u in d.initial_unknowns}):
        yield BrokenRule(
            clause,
            f"'{wanted[reference]}' is unknown at the start and not listed among the initial unknowns.",
        )

"""Edits of the scenarios and claims of a model; they stand in its text."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from movrel.analyse.claims import check, read
from movrel.analyse.curves import StandIn
from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language import class_annotation
from movrel.model.number_rows import number_rows
from movrel.model.prepared import BASE, SWAP, VENDOR, Scenario, claims_of, claims_text, scenarios_of, scenarios_text
from movrel.workspace import projects, scenarios
from movrel.workspace.editing import Make, Target, edit
from movrel.workspace.edits import modelica_value, refuse_broken
from movrel.workspace.ledger import START
from movrel.workspace.tables import Revision, Run

#: Scenarios of one model at most, and colours that the theme has.
MOST, COLOURS = 100, 7


def _edit(project: int, qualified: str, revision: int, change: Callable[[Target, list[Scenario]], str]) -> Revision:
    """Apply a change of the list of scenarios, which says what it did."""

    def make(at: Target) -> tuple[str | list, str]:  # type: ignore[type-arg]
        found = scenarios_of(at.definition)
        words = change(at, found)
        text = scenarios_text(found)
        return class_annotation.set_annotation(at.source, at.cls, [VENDOR, "scenarios"], text), words

    return edit(project, qualified, revision, make)


def _place(found: list[Scenario], name: str) -> int:
    for k, item in enumerate(found):
        if item.name == name:
            return k
    raise EditFault(f"the model has no scenario '{name}'.", hint="It may have been renamed or deleted.")


def checked_name(found: list[Scenario], name: str, old: str = "") -> str:
    name = " ".join(name.split())
    if not name:
        raise EditFault("a scenario needs a name.")
    if len(name) > 100:
        raise EditFault("that name is too long.")
    if name != old and (name == BASE or any(item.name == name for item in found)):
        raise EditFault(f"there already is a scenario '{name}'.", hint="Choose another name.")
    return name


def free_colour(found: list[Scenario]) -> int:
    """The first colour that no scenario has; the base has the first of all."""
    taken = {0, *(item.colour for item in found)}
    return next((c for c in range(COLOURS) if c not in taken), len(found) % COLOURS)


def add(project: int, qualified: str, revision: int, name: str, like: str = BASE) -> Revision:
    """A new scenario, empty or a copy of another one."""

    def change(at: Target, found: list[Scenario]) -> str:
        if len(found) >= MOST:
            raise EditFault(f"a model has {MOST} scenarios at most.", hint="Use a sweep for more.")
        new = Scenario(checked_name(found, name), free_colour(found))
        if like not in ("", BASE):
            copied = found[_place(found, like)]
            new = replace(copied, name=new.name, colour=new.colour)
        found.append(new)
        return f"scenario {new.name}"

    return _edit(project, qualified, revision, change)


def alter(project: int, qualified: str, revision: int, name: str, new: str, colour: int, note: str) -> Revision:
    """Give a scenario another name, colour or note."""

    def change(at: Target, found: list[Scenario]) -> str:
        k = _place(found, name)
        if not 0 <= colour < COLOURS:
            raise EditFault("there is no such colour.")
        found[k] = replace(found[k], name=checked_name(found, new, name), colour=colour, note=note.strip())
        return f"scenario {name}" + (f" is now called {found[k].name}" if found[k].name != name else " changed")

    return _edit(project, qualified, revision, change)


def delete(project: int, qualified: str, revision: int, name: str) -> Revision:
    def change(at: Target, found: list[Scenario]) -> str:
        del found[_place(found, name)]
        return f"deleted the scenario {name}"

    return _edit(project, qualified, revision, change)


def set_value(project: int, qualified: str, revision: int, name: str, place: str, typed: str) -> Revision:
    """Change a value in a scenario: a number with any fitting unit, an expression, or ``redeclare Class`` for a part."""

    def change(at: Target, found: list[Scenario]) -> str:
        k = _place(found, name)
        text = _checked(at, place, typed)
        found[k] = replace(found[k], changes=found[k].changes | {place: text})
        return f"{name}: {place} → {typed.strip()}"

    return _edit(project, qualified, revision, change)


def _checked(at: Target, place: str, typed: str) -> str:
    """The Modelica text of a change, after it was seen to fit the model."""
    typed = typed.strip()
    if not typed.startswith(SWAP):
        model = projects.loaded_model(at.taken, at.qualified)
        variable = model.by_name.get(place.removesuffix(START) if place.endswith(START) else place)
        if variable is None and any(name.startswith(place + "[") for name in model.by_name):
            return _checked_table(at, place, typed)
        if variable is None:
            raise EditFault(f"the model has no '{place}'.")
        if variable.variability != "parameter" and not place.endswith(START):
            raise EditFault(f"'{place}' is computed and cannot be set.", hint="Change a parameter or a start value.")
        if variable.final:
            raise EditFault(f"'{place}' is computed from other values and cannot be set.")
        typed, _ = modelica_value(variable, typed)
    tried = scenarios.applied(at.taken, at.qualified, {place: typed}, {})
    if tried.left_out:
        raise EditFault(tried.left_out[0])
    if tried.values:
        changed = parameter_values(tried.loaded.flat, tried.values)
        refuse_broken(tried.loaded.by_name[place], tried.values[place], changed)
    return typed


def _checked_table(at: Target, place: str, typed: str) -> str:
    """A whole table, typed as such or pasted from a spreadsheet."""
    rows = number_rows(typed) if "\n" in typed or "\t" in typed else []
    text = f"[{'; '.join(', '.join(map(repr, row)) for row in rows)}]" if rows else typed
    tried = scenarios.applied(at.taken, at.qualified, {place: text}, {})
    if tried.left_out:
        raise EditFault(tried.left_out[0])
    return text


def reset_value(project: int, qualified: str, revision: int, name: str, place: str) -> Revision:
    """Have a value of a scenario be that of the base again."""

    def change(at: Target, found: list[Scenario]) -> str:
        k = _place(found, name)
        if place not in found[k].changes:
            raise EditFault(f"'{name}' does not change '{place}'.")
        found[k] = replace(found[k], changes={p: t for p, t in found[k].changes.items() if p != place})
        return f"{name}: {place} as in the base"

    return _edit(project, qualified, revision, change)


def set_setting(project: int, qualified: str, revision: int, name: str, setting: str, typed: str) -> Revision:
    """Give a scenario a run setting of its own; an empty text takes it away."""

    def change(at: Target, found: list[Scenario]) -> str:
        k = _place(found, name)
        kept = {s: t for s, t in found[k].settings.items() if s != setting}
        if typed.strip():
            scenarios.setting(setting, typed)
            kept[setting] = typed.strip()
        found[k] = replace(found[k], settings=kept)
        return f"{name}: {setting} {typed.strip() or 'as in the base'}"

    return _edit(project, qualified, revision, change)


def switch_claim(project: int, qualified: str, revision: int, name: str, claim: str, off: bool) -> Revision:
    """Have a claim be judged in a scenario or not."""

    def change(at: Target, found: list[Scenario]) -> str:
        k = _place(found, name)
        kept = tuple(t for t in found[k].off if t != claim)
        found[k] = replace(found[k], off=(*kept, claim) if off else kept)
        return f"{name}: '{claim}' is {'not ' if off else ''}judged"

    return _edit(project, qualified, revision, change)


def paste(project: int, qualified: str, revision: int, text: str) -> Revision:
    """Take over a table from a spreadsheet: scenarios as columns, places as rows; an empty cell is the base's value.

    The first row names the scenarios; those that are not there come into being.
    """
    rows = [line.split("\t") for line in text.strip("\n").splitlines() if line.strip()]
    if len(rows) < 2 or len(rows[0]) < 2:
        raise EditFault("that is no table of scenarios.", hint="The first row names scenarios, the first column places.")

    def change(at: Target, found: list[Scenario]) -> str:
        names = [" ".join(n.split()) for n in rows[0][1:]]
        for name in names:
            if name and name != BASE and not any(item.name == name for item in found):
                found.append(Scenario(checked_name(found, name), free_colour(found)))
        for row in rows[1:]:
            place = row[0].strip()
            for name, cell in zip(names, row[1:], strict=False):
                if not name or name == BASE:
                    continue
                k = _place(found, name)
                kept = {p: t for p, t in found[k].changes.items() if p != place}
                if cell.strip():
                    kept[place] = _checked(at, place, cell)
                found[k] = replace(found[k], changes=kept)
        return f"scenarios from a table: {len(rows) - 1} rows"

    return _edit(project, qualified, revision, change)


def from_run(project: int, qualified: str, revision: int, run: Run, name: str) -> Revision:
    """A scenario that is what a run was: its changes, and where the base is another one by now, its values."""

    def change(at: Target, found: list[Scenario]) -> str:
        flat = projects.loaded_model(at.taken, at.qualified).flat
        now = parameter_values(flat, {})
        changes = dict(run.changes)
        for v in flat.parameters():
            if v.variability != "parameter" or v.final or v.name in changes or v.name not in run.parameters:
                continue
            if v.binding is None or v.binding.op != "const":
                continue  # it follows from others
            then = run.parameters[v.name]
            if isinstance(then, int | float) and not isinstance(then, bool) and then != now.get(id(v)):
                changes[v.name] = repr(then)
        settings = {k: str(v) for k, v in run.options.items()}
        found.append(Scenario(checked_name(found, name), free_colour(found), changes, settings))
        return f"scenario {name} of run {run.number}"

    return _edit(project, qualified, revision, change)


# --- claims ---


def _edit_claims(project: int, qualified: str, revision: int, change: Callable[[Target, list[str]], str]) -> Revision:
    def made() -> Make:
        def make(at: Target) -> tuple[str | list, str]:  # type: ignore[type-arg]
            texts = [c.text for c in claims_of(at.definition)]
            words = change(at, texts)
            return class_annotation.set_annotation(at.source, at.cls, [VENDOR, "claims"], claims_text(texts)), words

        return make

    return edit(project, qualified, revision, made())


def _checked_claim(at: Target, texts: list[str], text: str) -> str:
    claim = read(text)
    if claim.text in texts:
        raise EditFault("the model claims that already.")
    flat = projects.loaded_model(at.taken, at.qualified).flat
    check(claim, StandIn(flat, parameter_values(flat, {})))
    return claim.text


def add_claim(project: int, qualified: str, revision: int, text: str) -> Revision:
    """Write down what must hold. Refused where it is not understood or names what there is not."""

    def change(at: Target, texts: list[str]) -> str:
        texts.append(_checked_claim(at, texts, text))
        return f"claim: {texts[-1]}"

    return _edit_claims(project, qualified, revision, change)


def change_claim(project: int, qualified: str, revision: int, number: int, text: str | None) -> Revision:
    """Write a claim anew, or with no text take it away."""

    def change(at: Target, texts: list[str]) -> str:
        if not 0 <= number < len(texts):
            raise EditFault("this claim is no longer there.", hint="Look at the newest state.")
        before = texts[number]
        if text is None:
            del texts[number]
            return f"deleted the claim {before}"
        texts[number] = _checked_claim(at, [t for k, t in enumerate(texts) if k != number], text)
        return f"claim: {texts[number]}"

    return _edit_claims(project, qualified, revision, change)

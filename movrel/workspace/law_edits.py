"""What is typed into a row of the ledger: the value of a parameter, or the law of a part."""

from __future__ import annotations

from movrel.errors import EditFault, SyntaxFault
from movrel.language.parser import parse_expression
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value
from movrel.model.laws import laws
from movrel.workspace import edits, projects
from movrel.workspace.editing import Target, edit
from movrel.workspace.tables import Revision


def set_row(project: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a row what somebody typed; see :func:`set_law` and :func:`movrel.workspace.edits.set_parameter`."""
    flat = projects.loaded_model(projects.snapshot(project), qualified).flat
    if any(law == name for law, *_ in laws(flat, None)):
        return set_law(project, qualified, revision, name, typed)
    return edits.set_parameter(project, qualified, revision, name, typed)


def set_law(project: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give a part the law that somebody typed; refused where it does not parse or does not fit the model."""
    text = typed.strip()
    if not text:
        raise EditFault("the row is empty.", hint="Type a law, or press Escape to keep the old one.")
    if len(text) > 2000:
        raise EditFault("that is too long for a law.")
    try:
        parse_expression(text)
    except SyntaxFault:
        raise EditFault(
            f"'{text}' is no expression.", hint="Write 2e-3*reactor.c[1] or the like, several in braces: {…, …}."
        ) from None

    def make(at: Target) -> tuple[list[Patch], str]:
        patches = set_value(at.source, at.cls, name.split("."), text)
        # Names and sizes must fit before anything is stored.
        _ = projects.loaded_model(at.taken.changed(at.source.file, apply(at.source.text, patches)), qualified).flat
        return patches, f"{name} → {text}"

    return edit(project, qualified, revision, make)

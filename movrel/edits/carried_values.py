"""Values that go over from one form of data to another: a motor by its stall torque, then by its constants."""

from __future__ import annotations

import math

from movrel.edits.target import Target
from movrel.equations.parameters import parameter_values
from movrel.language.patch import apply
from movrel.language.set_value import set_value
from movrel.model import annotation as note
from movrel.model.expression import Variable
from movrel.model.flat import FlatModel
from movrel.project.snapshot import loaded_model
from movrel.sheet.conditions import is_offered, values_by_name

#: What makes two values differ, relative to them.
SAME = 1e-9


def with_carried_values(
    target: Target, before: FlatModel, text: str, choice: Variable
) -> tuple[str, list[str]]:
    """The text after another form was chosen in ``choice``, and the names of the rows that got a value.

    A row that is offered now and was not before gets what the part made of the old form. Which of its
    parameters holds that, whatever the form, its declaration says: ``__Movrel(derived="R")``.
    """
    after = loaded_model(target.snapshot.changed(target.source.file, text), target.qualified).flat
    old, new = parameter_values(before, {}), parameter_values(after, {})
    old_of, new_of = values_by_name(before.variables, old), values_by_name(after.variables, new)
    prefix = choice.component + "." if choice.component else ""
    carried = []
    for v in after.variables:
        source = _derived(v)
        if v.component != choice.component or not source or v.final:
            continue
        was, now = old_of(prefix + source), new_of(v.name)
        if not (
            is_offered(v.declaration, lambda name: new_of(prefix + name))
            and not is_offered(v.declaration, lambda name: old_of(prefix + name))
            and isinstance(was, float | int)
            and isinstance(now, float | int)
            and math.isfinite(was)
        ):
            continue
        if abs(was - now) > SAME * max(abs(was), abs(now)):
            file, cls = target.again(text)
            text = apply(text, set_value(file, cls, v.name.split("."), f"{was:.12g}"))
            carried.append(v.name[len(prefix) :])
    return text, carried


def _derived(v: Variable) -> str:
    """The parameter from which a row's value is taken over, or nothing."""
    comment = v.declaration.comment if v.declaration is not None else None
    vendor = note.members(note.find(comment.annotation if comment else None, note.VENDOR))
    name = vendor.get("derived")
    return name if isinstance(name, str) else ""

"""Laws of a part that are given as text: inputs that its dialog asks for, such as the rates of a reactor."""

from __future__ import annotations

from collections.abc import Iterator

from movrel.language.unset_value import Written
from movrel.model import annotation as note
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import FlatModel

#: The type of a row that holds a law.
LAW = "law"


def laws(flat: FlatModel, texts: Written | None) -> Iterator[tuple[str, Variable, str, bool]]:
    """Each law: its name, its first element, its text, and whether the model itself gives it."""
    seen: set[str] = set()
    for v in flat.variables:
        if v.protected or not _is_law(v):
            continue
        name = law_name(v)
        if name in seen:
            continue
        seen.add(name)
        own = texts.value(*name.split(".")) if texts is not None else None
        yield name, v, own or (x.show(v.binding) if v.binding is not None else ""), own is not None


def law_name(v: Variable) -> str:
    """The name of a law without the number of an element."""
    return v.name.rpartition("[")[0] if v.name.endswith("]") else v.name


def _is_law(v: Variable) -> bool:
    """An input of a part with a Dialog annotation (specification 18.7)."""
    if v.direction != "input" or not v.component or v.declaration is None:
        return False
    comment = v.declaration.comment
    return note.find(comment.annotation if comment else None, "Dialog") is not None

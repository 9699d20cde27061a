"""The arrows of state machines on a sheet: which state leads to which, and when."""

from __future__ import annotations

from typing import Any

from movrel.language import syntax as s
from movrel.model.classes import Definition

#: Arguments of ``transition`` in their order (specification 17.1).
_ARGUMENTS = ("from", "to", "condition", "immediate", "reset", "synchronize", "priority")


def transitions(owner: Definition) -> list[dict[str, Any]]:
    """The transitions that a class declares, in the order in which they are written.

    Each has ``from`` (empty for the arrow to the initial state), ``to``, ``condition`` and ``priority`` as text.
    """
    found: list[dict[str, Any]] = []
    for node in owner.node.equations:
        if not isinstance(node, s.CallEquation):
            continue
        given = dict(zip(_ARGUMENTS, node.call.arguments, strict=False)) | {n.name: n.value for n in node.call.named}
        text = {name: " ".join(owner.source.slice(value).split()) for name, value in given.items()}
        if node.call.name == "initialState" and "from" in text:
            found.append({"from": "", "to": text["from"], "condition": "", "priority": ""})
        elif node.call.name == "transition" and {"from", "to", "condition"} <= text.keys():
            found.append({k: text.get(k, "1" if k == "priority" else "") for k in ("from", "to", "condition", "priority")})
    return found

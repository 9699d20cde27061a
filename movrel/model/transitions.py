"""The arrows of state machines on a sheet: which state leads to which, and when."""

from __future__ import annotations

from typing import Any

from movrel.language import syntax as s
from movrel.model.classes import Definition

#: Arguments of ``transition`` in their order (specification 17.1).
_ARGUMENTS = ("from", "to", "condition", "immediate", "reset", "synchronize", "priority")


def call_of(node: Any) -> str:
    """The name of what an equation calls, such as ``transition``; empty for other equations."""
    return node.call.name if isinstance(node, s.CallEquation) else ""


def transitions(owner: Definition, own: bool = True) -> list[dict[str, Any]]:
    """The transitions that a class declares, in the order in which they are written.

    Each has ``from`` (empty for the arrow to the initial state), ``to``, ``condition`` and ``priority`` as text, and
    ``immediate`` and ``reset``. ``number`` counts those that can be edited; it is -1 for the others, as all are when
    the class is not the model's ``own``.
    """
    found: list[dict[str, Any]] = []
    count = 0
    for node in owner.node.equations:
        if not isinstance(node, s.CallEquation):
            continue
        given = dict(zip(_ARGUMENTS, node.call.arguments, strict=False)) | {n.name: n.value for n in node.call.named}
        text = {name: " ".join(owner.source.slice(value).split()) for name, value in given.items()}
        arrow: dict[str, Any] = {k: text.get(k, "") for k in ("from", "to", "condition")}
        arrow |= {"priority": text.get("priority", "1"), "number": -1}
        arrow |= {k: text.get(k, "true") == "true" for k in ("immediate", "reset")}
        if node.call.name == "initialState":
            found.append(arrow | {"from": "", "to": arrow["from"], "priority": ""})
        elif node.call.name == "transition":
            if {"from", "to", "condition"} <= text.keys():
                found.append(arrow | {"number": count if own else -1})
            count += 1
    return found

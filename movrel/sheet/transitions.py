"""The arrows of state machines on a sheet: which state leads to which, and when."""

from __future__ import annotations

from dataclasses import replace

from movrel.language import syntax as s
from movrel.language.typed_quantities import as_typed
from movrel.model.classes import Definition
from movrel.sheet.elements import StateTransition

#: Arguments of ``transition`` in their order (specification 17.1).
_ARGUMENTS = ("from", "to", "condition", "immediate", "reset", "synchronize", "priority")


def call_of(node: object) -> str:
    """The name of what an equation calls, such as ``transition``; empty for other equations."""
    return node.call.name if isinstance(node, s.CallEquation) else ""


def transitions(owner: Definition, own: bool = True) -> list[StateTransition]:
    """The transitions that a class declares, in the order in which they are written.

    ``number`` counts those that can be edited; it is -1 for the others, as all are when the class is not the
    model's ``own``.
    """
    arrows: list[StateTransition] = []
    count = 0
    for node in owner.node.equations:
        if not isinstance(node, s.CallEquation):
            continue
        given = dict(zip(_ARGUMENTS, node.call.arguments, strict=False)) | {
            n.name: n.value for n in node.call.named
        }
        text = {name: " ".join(owner.source.slice(value).split()) for name, value in given.items()}
        arrow = StateTransition(
            from_state=text.get("from", ""),
            to_state=text.get("to", ""),
            condition=as_typed(text.get("condition", "")),
            priority=text.get("priority", "1"),
            immediate=text.get("immediate", "true") == "true",
            reset=text.get("reset", "true") == "true",
            number=-1,
        )
        if node.call.name == "initialState":
            arrows.append(replace(arrow, from_state="", to_state=arrow.from_state, priority=""))
        elif node.call.name == "transition":
            if {"from", "to", "condition"} <= text.keys():
                arrows.append(replace(arrow, number=count if own else -1))
            count += 1
    return arrows

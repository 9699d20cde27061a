"""What a model says about itself in its vendor annotation: its claims."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.model import annotation as note
from movrel.model.classes import Definition


@dataclass(frozen=True, slots=True)
class WrittenClaim:
    """A claim as the model writes it, and its place in the list."""

    number: int
    text: str


def claims_of(definition: Definition) -> list[WrittenClaim]:
    """The claims of ``__Movrel(claims={"max(x) < 1 m", …})``, in their order."""
    given = note.members(note.find(definition.node.annotation, "__Movrel")).get("claims")
    texts = given if isinstance(given, list) else []
    return [WrittenClaim(k, text) for k, text in enumerate(texts) if isinstance(text, str)]

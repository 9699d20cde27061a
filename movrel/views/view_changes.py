"""What a window that shows a model already needs to hear to show its newest state."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class ListChange:
    """How a list differs from the known one, beyond the items that are sent anew."""

    gone: list[str]
    #: All keys in their order, where it is not that of the known list with new items at the end.
    order: list[str] | None


@dataclass(frozen=True, slots=True)
class ViewChanges:
    """The lists of a view that are sent by their changes."""

    components: ListChange
    connections: ListChange
    rows: ListChange


def list_change(
    before: Sequence[T], after: Sequence[T], key: Callable[[T], str]
) -> tuple[ListChange, list[T]] | None:
    """How a list changed, and its items that are new or different; None where items cannot be told apart."""
    known, current = {key(i): i for i in before}, {key(i): i for i in after}
    if len(known) < len(before) or len(current) < len(after):
        return None
    by_itself = [k for k in known if k in current] + [k for k in current if k not in known]
    order = list(current)
    change = ListChange(
        [k for k in known if k not in current], order if order != by_itself else None
    )
    return change, [item for k, item in current.items() if known.get(k) != item]

"""Where a value of a model is set: ``basin.area`` for a parameter, ``basin.level.start`` for a start value."""

from __future__ import annotations

#: Ending of the places of start values.
START = ".start"


def names_of(place: str) -> list[str]:
    """The names that lead to the value, as a modification has them."""
    return place.split(".")


def variable_of(place: str) -> str:
    """The name of the variable whose value or start value it is."""
    return place.removesuffix(START)

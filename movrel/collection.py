"""Rarer garbage collections while a large model is built."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

#: New objects after which garbage is looked for: building makes millions that stay, and every look goes through them.
RARELY = 200_000
#: Variables from which on a model leaves enough garbage.
MANY = 20_000


@contextmanager
def rare_collections() -> Iterator[None]:
    """Look for garbage less often inside; what other threads make meanwhile is collected later too."""
    before = gc.get_threshold()
    gc.set_threshold(max(RARELY, before[0]), *before[1:])
    try:
        yield
    finally:
        gc.set_threshold(*before)


def collect_after(count: int) -> None:
    """Look for garbage once after ``count`` things were built, if they are so many that what they leave counts."""
    if count > MANY:
        gc.collect()

"""Rarer garbage collections while a large model is built."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

#: New objects after which garbage is looked for: building makes millions that stay, and every look goes through them.
RARELY = 200_000


@contextmanager
def rare_collections(cleared: bool = False) -> Iterator[None]:
    """Look for garbage less often inside; what other threads make meanwhile is collected later too.

    With ``cleared`` it is looked for at the end if much was made, as most of it is of no more use.
    """
    before = gc.get_threshold()
    gc.set_threshold(max(RARELY, before[0]), *before[1:])
    try:
        yield
        if cleared and gc.get_count()[1]:
            gc.collect()
    finally:
        gc.set_threshold(*before)

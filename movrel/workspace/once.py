"""Work that several ask for at the same time is done once."""

from __future__ import annotations

import functools
import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any, TypeVar

T = TypeVar("T")


def kept_once(most: int) -> Callable[[Callable[..., T]], Callable[..., T]]:
    """Keep the last ``most`` results of a function; who asks for one that is being made waits for it.

    A fault is told to everyone who waited, and nothing is kept.
    """

    def around(function: Callable[..., T]) -> Callable[..., T]:
        kept: OrderedDict[Any, T] = OrderedDict()
        making: dict[Any, threading.Event] = {}
        lock = threading.Lock()

        @functools.wraps(function)
        def ask(*key: Any) -> T:
            while True:
                with lock:
                    if key in kept:
                        kept.move_to_end(key)
                        return kept[key]
                    others = making.get(key)
                    if others is None:
                        making[key] = threading.Event()
                        break
                others.wait()
            try:
                made = function(*key)
                with lock:
                    kept[key] = made
                    while len(kept) > most:
                        kept.popitem(last=False)
                return made
            finally:
                with lock:
                    making.pop(key).set()

        return ask

    return around

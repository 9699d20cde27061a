"""Caches in memory that are bounded in bytes, by estimates of what their contents take."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Generic, TypeVar

from cachetools import LRUCache

T = TypeVar("T")

#: Bytes of a syntax tree for each character of its text.
TREE = 30


class SizedCache(Generic[T]):
    """The last used of some things, as many as fit into ``limit`` bytes, and at least the very last.

    ``size`` estimates the bytes of one; a thing that has grown is weighed anew whenever it is used. Safe to use from
    several threads; what two of them ask for at once may be made twice, and one of it kept.
    """

    def __init__(self, limit: int, size: Callable[[T], int]) -> None:
        self._cache: LRUCache[object, T] = LRUCache(limit, lambda thing: min(size(thing), limit))
        self._lock = threading.RLock()

    def get(self, key: object, make: Callable[[], T]) -> T:
        """What is kept under a key, made if need be."""
        with self._lock:
            if key in self._cache:
                thing = self._cache[key]
                self._cache[key] = thing  # weighed anew
                return thing
        made = make()
        with self._lock:
            return self._cache.setdefault(key, made)

    def find(self, key: object) -> T | None:
        """What is kept under a key, if anything is."""
        with self._lock:
            return self._cache.get(key)

    @property
    def bytes(self) -> int:
        """The estimated bytes of all that is kept."""
        with self._lock:
            return int(self._cache.currsize)

    def __len__(self) -> int:
        return len(self._cache)

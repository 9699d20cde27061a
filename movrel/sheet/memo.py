"""Things worked out before, kept while there are not too many."""

from __future__ import annotations

from typing import TypeVar

K = TypeVar("K")
V = TypeVar("V")


class Memo(dict[K, V]):
    """A dictionary that forgets everything when it is full, so that it cannot grow without end."""

    def __init__(self, most: int = 20_000) -> None:
        super().__init__()
        self.most = most

    def keep(self, key: K, value: V) -> V:
        """Remember a value and give it back."""
        if len(self) >= self.most:
            self.clear()
        self[key] = value
        return value

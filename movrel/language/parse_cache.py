"""Texts that were parsed before are not parsed again."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Sequence

from movrel.language.parser import Source, parse
from movrel.language.patch import Patch
from movrel.language.reparse import reparse
from movrel.sized_cache import TREE, SizedCache

#: Bytes of the trees that are kept.
LIMIT = 150_000_000
_parsing = threading.Lock()
_parsed: SizedCache[Source] = SizedCache(LIMIT, lambda source: TREE * len(source.text))


def parse_cached(text: str, file: str) -> Source:
    """Parse, or give the tree of the same text parsed before; trees are never altered."""
    key = (hashlib.sha256(text.encode()).hexdigest(), file)
    with _parsing:
        return _parsed.get(key, lambda: parse(text, file))


def parse_changed(old: Source, text: str, patches: Sequence[Patch] | None = None) -> Source:
    """Parse a text that came from another one by a change, doing again only what changed."""
    key = (hashlib.sha256(text.encode()).hexdigest(), old.file)
    with _parsing:
        return _parsed.get(key, lambda: reparse(old, text, patches))

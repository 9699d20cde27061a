"""Texts that were parsed before are not parsed again."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Sequence

from movrel.language.parser import Source, parse
from movrel.language.patch import Patch
from movrel.language.reparse import reparse

_CACHE_SIZE = 400
_parsing = threading.Lock()
_parsed: OrderedDict[tuple[str, str], Source] = OrderedDict()


def parse_cached(text: str, file: str) -> Source:
    """Parse, or give the tree of the same text parsed before; trees are never altered."""
    key = (hashlib.sha256(text.encode()).hexdigest(), file)
    with _parsing:
        source = _parsed.get(key)
        if source is None:
            source = _parsed[key] = parse(text, file)
            while len(_parsed) > _CACHE_SIZE:
                _parsed.popitem(last=False)
        else:
            _parsed.move_to_end(key)
        return source


def parse_changed(old: Source, text: str, patches: Sequence[Patch] | None = None) -> Source:
    """Parse a text that came from another one by a change, doing again only what changed."""
    key = (hashlib.sha256(text.encode()).hexdigest(), old.file)
    with _parsing:
        if key not in _parsed:
            _parsed[key] = reparse(old, text, patches)
    return parse_cached(text, old.file)

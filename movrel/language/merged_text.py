"""Two changes of one text brought together, line by line, where they do not touch each other."""

from __future__ import annotations

from difflib import SequenceMatcher


def merged(base: str, mine: str, yours: str) -> str | None:
    """What both made of the same text; nothing where they changed the same or neighbouring lines differently.

    The method is the three-way merge of Khanna, Kunal and Pierce, A Formal Investigation of Diff3, FSTTCS 2007.
    """
    old, left, right = (text.splitlines(keepends=True) for text in (base, mine, yours))
    result: list[str] = []
    o = a = b = 0
    for start, end, in_left, in_right in (*_kept_by_both(old, left, right), _end(old, left, right)):
        before, ours, theirs = old[o:start], left[a:in_left], right[b:in_right]
        if ours in (before, theirs):
            result += theirs
        elif theirs == before:
            result += ours
        else:
            return None
        result += old[start:end]
        o, a, b = end, in_left + end - start, in_right + end - start
    return "".join(result)


#: Lines of the old text that stand in both others: from, to, and where they begin in each.
Kept = tuple[int, int, int, int]


def _end(old: list[str], left: list[str], right: list[str]) -> Kept:
    return len(old), len(old), len(left), len(right)


def _kept_by_both(old: list[str], left: list[str], right: list[str]) -> list[Kept]:
    kept: list[Kept] = []
    ours, theirs = (
        SequenceMatcher(None, old, new, autojunk=False).get_matching_blocks()
        for new in (left, right)
    )
    i = j = 0
    while i < len(ours) and j < len(theirs):
        m, n = ours[i], theirs[j]
        start, end = max(m.a, n.a), min(m.a + m.size, n.a + n.size)
        if start < end:
            kept.append((start, end, m.b + start - m.a, n.b + start - n.a))
        if m.a + m.size < n.a + n.size:
            i += 1
        else:
            j += 1
    return kept

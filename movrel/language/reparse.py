"""Parsing a changed text by parsing only what changed; the rest of the tree is moved or shared.

The result is what parsing the whole text would give, spans included. Where a change does not lie
within whole clauses of one class, the whole text is parsed.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import fields, replace
from typing import Any

from movrel.errors import SyntaxFault
from movrel.language import syntax as s
from movrel.language.parser import Source, parse
from movrel.language.patch import Patch

_WRAPPER = "X"
#: Words that begin another section of a class, and the comments and quoted texts in which they do not.
_SECTION = re.compile(r"\b(equation|algorithm|public|protected|external|initial)\b")
_QUIET = re.compile(r'/\*.*?\*/|//[^\n]*|"(?:[^"\\]|\\.)*"', re.S)
#: Most changed places that are handled one by one.
PLACES = 400


def reparse(old: Source, text: str, patches: Sequence[Patch] | None = None) -> Source:
    """The tree of a text that came from another one by patches (or by any change, if none are given).

    Raises :class:`SyntaxFault` as :func:`parse` does.
    """
    if text == old.text:
        return old
    changes = (
        sorted(patches, key=lambda p: (p.start, p.end)) if patches else [difference(old.text, text)]
    )
    if len(changes) <= PLACES and len(old.tree.classes):
        tree = _Reparsing(old, text, changes).run()
        if tree is not None:
            return tree
    return parse(text, old.file)


def difference(old: str, new: str) -> Patch:
    """The one stretch in which two texts differ."""
    limit = min(len(old), len(new))
    start = _common(old, new, limit)
    end = 0
    while end < limit - start and old[-1 - end] == new[-1 - end]:
        end += 1
    return Patch(start, len(old) - end, new[start : len(new) - end])


def _common(a: str, b: str, limit: int) -> int:
    low, high = 0, limit
    while low < high:  # bisection, as comparing slices is fast
        middle = (low + high + 1) // 2
        if a[:middle] == b[:middle]:
            low = middle
        else:
            high = middle - 1
    return low


class _Region:
    """A run of neighbouring items of a class that is parsed anew."""

    def __init__(self, kind: str, first: int, last: int, start: int, end: int) -> None:
        self.kind, self.first, self.last, self.start, self.end = kind, first, last, start, end


class _Reparsing:
    def __init__(self, old: Source, text: str, changes: list[Patch]) -> None:
        self.old, self.text, self.changes = old, text, changes
        #: (old offset from which on, by how much): what lies behind is moved by the last that applies.
        self.shifts: list[tuple[int, int]] = []
        total = 0
        for change in changes:
            total += len(change.text) - (change.end - change.start)
            self.shifts.append((change.end, total))
        self.ends = [end for end, _ in self.shifts]

    def run(self) -> Source | None:
        path = self._class_around()
        if path is None:
            return None
        try:
            changed = self._rebuild(path[-1])
        except SyntaxFault:
            return None  # the whole text gives the better message
        if changed is None:
            return None
        node: Any = changed
        for outer, inner in zip(reversed(path[:-1]), reversed(path[1:]), strict=True):
            elements = [node if e is inner else self._moved(e) for e in outer.elements]
            node = self._class_moved(
                outer,
                elements,
                [self._moved(e) for e in outer.equations],
                self._moved(outer.annotation),
            )
        classes = [node if c is path[0] else self._moved(c) for c in self.old.tree.classes]
        tree = s.StoredFile(self.old.tree.within, classes)
        tree.start, tree.end = self._at(self.old.tree.start), self._at(self.old.tree.end)
        starts = [0]
        position = self.text.find("\n")
        while position >= 0:
            starts.append(position + 1)
            position = self.text.find("\n", position + 1)
        return Source(self.text, self.old.file, tree, starts)

    def _class_around(self) -> list[s.ClassDef] | None:
        """The innermost class that holds all changes, with those around it."""
        first, last = self.changes[0].start, self.changes[-1].end
        nodes: list[Any] = list(self.old.tree.classes)
        path: list[s.ClassDef] = []
        while True:
            inner = next(
                (
                    n
                    for n in nodes
                    if isinstance(n, s.ClassDef)
                    and n.form == "long"
                    and n.name_span[1] <= first
                    and last < n.end
                ),
                None,
            )
            if inner is None:
                return path or None
            path.append(inner)
            nodes = inner.elements

    def _rebuild(self, cls: s.ClassDef) -> s.ClassDef | None:
        if cls.algorithms or cls.initial_algorithms or cls.initial_equations or cls.external:
            return None
        items: list[tuple[s.Element | s.AnyEquation, str]] = [
            (e, "protected" if getattr(e, "protected", False) else "public") for e in cls.elements
        ]
        items += [(e, "equation") for e in cls.equations]
        items.sort(key=lambda item: item[0].start)
        regions: list[_Region] = []
        annotation: s.Annotation | None = cls.annotation
        annotation_changed = False
        for change in self.changes:
            if (
                annotation is not None
                and annotation.start < change.start
                and change.end < annotation.end
            ):
                annotation_changed = True
                continue
            region = self._region(items, change, cls)
            if region is None:
                return None
            if regions and region.first <= regions[-1].last:
                last = regions[-1]
                if last.kind != region.kind:
                    return None
                last.last, last.end = max(last.last, region.last), max(last.end, region.end)
            else:
                regions.append(region)
        replaced: dict[int, list[Any]] = {}
        for region in regions:
            start, end = self._before(region.start), self._at(region.end)
            parsed = self._parse(region.kind, start, end)
            if parsed is None:
                return None
            replaced[region.first] = parsed
        elements: list[Any] = []
        equations: list[Any] = []
        i = 0
        starts = {r.first: r for r in regions}
        while i < len(items):
            if i in starts:
                (equations if starts[i].kind == "equation" else elements).extend(replaced[i])
                i = starts[i].last + 1
                continue
            node, kind = items[i]
            (equations if kind == "equation" else elements).append(self._moved(node))
            i += 1
        if annotation_changed:
            assert annotation is not None
            new = self._annotation(self._before(annotation.start), self._at(annotation.end))
            if new is None:
                return None
        else:
            new = self._moved(annotation)
        return self._class_moved(cls, elements, equations, new)

    def _region(
        self, items: list[tuple[Any, str]], change: Patch, cls: s.ClassDef
    ) -> _Region | None:
        """Whole clauses that hold a change, or None when it touches something between sections."""
        text = self.old.text
        first = max((i for i, (e, _) in enumerate(items) if e.start <= change.start), default=-1)
        if first < 0:
            return None
        while (
            first > 0
            and items[first - 1][1] == items[first][1]
            and ";" not in text[items[first - 1][0].end : items[first][0].start]
        ):
            first -= 1
        last = first
        kind = items[first][1]
        while True:
            end = self._clause_end(self._item_end(items[last][0]))
            if end is None:
                return None
            following = items[last + 1] if last + 1 < len(items) else None
            if following is None or following[0].start >= max(end, change.end):
                break
            if following[1] != kind:
                return None
            last += 1
        end = max(end, change.end)
        if end > change.end and change.start >= end:
            return None
        behind = self._clause_end(self._item_end(items[last][0])) or 0
        between = text[behind:end]
        if _QUIET.sub("", between).strip():
            return None
        limit = items[last + 1][0].start if last + 1 < len(items) else cls.end
        if any(
            behind + m.start() < end < behind + m.end() for m in _QUIET.finditer(text[behind:limit])
        ):
            return None  # it ends within a remark
        if end > limit:
            return None
        return _Region(kind, first, last, items[first][0].start, end)

    def _item_end(self, node: Any) -> int:
        comment = getattr(node, "comment", None)
        return max(node.end, comment.end if isinstance(comment, s.Comment) else node.end)

    def _clause_end(self, end: int) -> int | None:
        text = self.old.text
        while end < len(text) and text[end] != ";":
            if text.startswith("//", end):
                end = text.find("\n", end)
            elif text.startswith("/*", end):
                end = text.find("*/", end) + 2
            elif text[end].isspace():
                end += 1
            else:
                return None
            if end <= 0:
                return None
        return end + 1

    def _parse(self, kind: str, start: int, end: int) -> list[Any] | None:
        """The items in a stretch of the new text."""
        head = {
            "public": f"model {_WRAPPER} ",
            "protected": f"model {_WRAPPER} protected ",
            "equation": f"model {_WRAPPER} equation ",
        }[kind]
        body = self.text[start:end]
        if _SECTION.search(_QUIET.sub(" ", body)):
            return None
        # On one line, so that a comment which the change opens does not end with the stretch.
        source = parse(f"{head}{body} end {_WRAPPER};", self.old.file)
        if len(source.tree.classes) != 1:
            return None
        cls = source.tree.classes[0]
        plain = cls.form == "long" and cls.annotation is None and not (
            cls.algorithms or cls.initial_algorithms or cls.initial_equations or cls.external or cls.comment
        )  # fmt: skip
        if not plain or (cls.elements if kind == "equation" else cls.equations):
            return None
        if kind != "equation" and any(
            getattr(e, "protected", False) != (kind == "protected") for e in cls.elements
        ):
            return None
        offset = start - len(head)
        return [
            moved_by(node, offset)
            for node in (cls.equations if kind == "equation" else cls.elements)
        ]

    def _annotation(self, start: int, end: int) -> Any:
        head = f"model {_WRAPPER} "
        source = parse(f"{head}{self.text[start:end]}; end {_WRAPPER};", self.old.file)
        cls = source.tree.classes[0]
        if cls.elements or cls.equations or cls.annotation is None:
            return None
        return moved_by(cls.annotation, start - len(head))

    # --- moving what stayed ---

    def _at(self, offset: int) -> int:
        """Where an old offset outside of changes is now."""
        i = bisect_right(self.ends, offset)
        return offset + self.shifts[i - 1][1] if i else offset

    def _before(self, offset: int) -> int:
        """Where an old offset is now, changes that begin exactly there not counted."""
        moved = offset
        for change, (end, shift) in zip(self.changes, self.shifts, strict=True):
            if offset >= end and change.start < offset:
                moved = offset + shift
        return moved

    def _moved(self, node: Any) -> Any:
        """An untouched node where it is now; the same object if it did not move."""
        if node is None:
            return None
        shift = self._at(node.start) - node.start
        return node if shift == 0 else moved_by(node, shift)

    def _class_moved(
        self, cls: s.ClassDef, elements: list[Any], equations: list[Any], annotation: Any
    ) -> s.ClassDef:
        shift = self._at(cls.start) - cls.start
        new = replace(cls, elements=elements, equations=equations, annotation=annotation)
        new.start, new.end = cls.start + shift, self._at(cls.end)
        new.name_span = (cls.name_span[0] + shift, cls.name_span[1] + shift)
        return new


#: Fields that never hold nodes.
_PLAIN = {
    "text", "value_text", "name", "operator", "absolute", "kind", "form", "prefixes", "flags", "type_name", "protected", "each",
    "final", "assigns", "redeclare", "replaceable", "path", "alias", "everything", "names", "language", "base_prefixes",
    "derivative_of",
}  # fmt: skip
_SPANS = {"arguments_span", "name_span"}
_Move = Callable[[Any, int], Any]
_movers: dict[type, _Move] = {}


def moved_by(node: Any, shift: int) -> Any:
    """A copy of a node and all below it with every span moved."""
    kind = type(node)
    if kind is tuple:
        return tuple([moved_by(item, shift) for item in node]) if node else node
    if kind is list:
        return [moved_by(item, shift) for item in node]
    mover = _movers.get(kind)
    if mover is None:
        mover = _movers[kind] = _mover(kind)
    return mover(node, shift)


def _mover(kind: type) -> _Move:
    """A function that copies nodes of one kind; trees are large, so it is written out once for each kind."""
    if not issubclass(kind, s.Node):
        return lambda value, _: value
    lines = ["def move(node, shift):", "    new = make(kind)"]
    lines += [
        "    new.start = node.start + shift if node.start >= 0 else -1",
        "    new.end = node.end + shift if node.end >= 0 else -1",
    ]
    for f in fields(kind):
        if f.name in ("start", "end"):
            continue
        if f.name in _SPANS:
            lines += [
                f"    v = node.{f.name}",
                f"    new.{f.name} = (v[0] + shift, v[1] + shift) if v is not None and v[0] >= 0 else v",
            ]
        elif f.name in _PLAIN:
            lines.append(f"    new.{f.name} = node.{f.name}")
        else:
            lines += [
                f"    v = node.{f.name}",
                f"    new.{f.name} = v if v is None or v == () else moved_by(v, shift)",
            ]
    lines.append("    return new")
    space: dict[str, Any] = {"make": object.__new__, "kind": kind, "moved_by": moved_by}
    exec("\n".join(lines), space)
    made: _Move = space["move"]
    return made

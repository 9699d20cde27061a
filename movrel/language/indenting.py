"""Indent a text as its structure asks: blanks at the beginning of lines change, nothing else."""

from __future__ import annotations

import re
from dataclasses import fields
from typing import Any

from movrel.language import syntax as s
from movrel.language.margins import inside
from movrel.language.parser import parse

STEP = "  "
_SECTION = re.compile(
    r"(public|protected|external|equation|algorithm|initial\s+equation|initial\s+algorithm)\b"
)
_BRANCH = re.compile(r"(else|elseif|elsewhen)\b")
_BLOCKS = (
    s.ClassDef, s.IfEquation, s.ForEquation, s.WhenEquation, s.IfStatement, s.ForStatement, s.WhileStatement, s.WhenStatement,
)  # fmt: skip


def indent(text: str, file: str = "text.mo") -> str:
    """The text with every line indented by its depth.

    Lines that continue a declaration or equation keep their place relative to its first line; lines
    inside comments and quoted texts stay as they are. Raises :class:`SyntaxFault` when the text does
    not parse.
    """
    source = parse(text, file)
    lines = text.split("\n")
    starts = [0]
    for line in lines:
        starts.append(starts[-1] + len(line) + 1)
    line_of = _line_finder(starts)
    depth = [0] * len(lines)
    owner: list[int | None] = [None] * len(lines)  # the line with which a continuation moves
    innermost: list[s.Node | None] = [None] * len(lines)
    for node, opens in _nodes(list(source.tree.classes)):
        comment = getattr(node, "comment", None)
        end = max(
            node.end, comment.end if isinstance(comment, s.Comment) and not opens else node.end
        )
        first, last = line_of(node.start), line_of(max(node.start, end - 1))
        for i in range(first + 1, last + 1):
            if opens:
                depth[i] += i < last
                owner[i] = None
                innermost[i] = node if i < last else innermost[i]
            else:
                owner[i] = first
    for i, line in enumerate(lines):
        block = innermost[i]
        if owner[i] is None and block is not None:
            keyword = _SECTION if isinstance(block, s.ClassDef) else _BRANCH
            depth[i] -= keyword.match(line.lstrip()) is not None
    frozen = inside(text)
    result: list[str] = []
    shifts: dict[int, int] = {}
    for i, line in enumerate(lines):
        body = line.lstrip(" \t")
        old = len(line) - len(body)
        if i in frozen or not body.strip():
            result.append(line if i in frozen else "")
            shifts[i] = 0
            continue
        first_line = owner[i]
        if first_line is not None:
            new = max(0, old + shifts.get(first_line, 0))
        else:
            new = len(STEP) * depth[i]
        shifts[i] = new - old
        result.append(" " * new + body)
    return "\n".join(result)


def _nodes(nodes: Any) -> list[tuple[s.Node, bool]]:
    """Blocks, and what stands in them, outer ones first."""
    collected: list[tuple[s.Node, bool]] = []
    for node in nodes:
        if isinstance(node, list | tuple):
            collected += _nodes(node)
        elif isinstance(node, _BLOCKS):
            opens = not (isinstance(node, s.ClassDef) and node.form != "long")
            collected.append((node, opens))
            if opens:
                collected += _nodes(
                    [
                        getattr(node, f.name)
                        for f in fields(node)
                        if f.name not in ("annotation", "comment", "base")
                    ]
                )
                annotation = getattr(node, "annotation", None)
                if annotation is not None:
                    collected.append((annotation, False))
        elif isinstance(node, s.Node):
            collected.append((node, False))
    return collected


def _line_finder(starts: list[int]) -> Any:
    from bisect import bisect_right

    return lambda offset: bisect_right(starts, offset) - 1

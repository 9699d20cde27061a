"""Where clauses of a class begin and end in its text, and patches that take whole ones out."""

from __future__ import annotations

from movrel.errors import EditFault
from movrel.language import syntax as s
from movrel.language.parser import Source
from movrel.language.patch import Patch


def long_class(cls: s.ClassDef) -> None:
    if cls.form != "long":
        raise EditFault(
            f"'{cls.name}' is a short class; nothing can be put into it.",
            hint="Write it out as a class of its own.",
        )


def equation_end(node: s.Node) -> int:
    """Where an equation ends, its comment and annotation included."""
    comment = getattr(node, "comment", None)
    return max(node.end, comment.end if comment is not None else node.end)


def clause_end(source: Source, end: int) -> int:
    """Just after the semicolon that ends a clause, past comments in between."""
    text = source.text
    while text[end] != ";":
        if text.startswith("//", end):
            end = text.index("\n", end)
        elif text.startswith("/*", end):
            end = text.index("*/", end) + 2
        else:
            end += 1
    return end + 1


def past_remark(source: Source, at: int) -> int:
    """Behind a remark that ends the line, so that it stays beside what it is about."""
    line_end = source.text.find("\n", at)
    rest = source.text[at : line_end if line_end >= 0 else len(source.text)]
    return line_end if line_end >= 0 and rest.lstrip().startswith("//") else at


def line_indent(source: Source, start: int) -> str:
    """The blanks that begin the line on which something starts."""
    line = source.text[source.text.rfind("\n", 0, start) + 1 : start]
    return line[: len(line) - len(line.lstrip())]


def header_end(source: Source, cls: s.ClassDef) -> int:
    """After the name of a class and its description."""
    at = cls.name_span[1]
    if cls.comment:
        opening = source.text.index('"', at)
        at = opening + 1
        while source.text[at] != '"':
            at += 2 if source.text[at] == "\\" else 1
        at += 1
    return at


def after_header(source: Source, cls: s.ClassDef, at: int) -> str:
    """A line break where something follows on the line of the header."""
    rest = source.text[
        at : source.text.find("\n", at) if "\n" in source.text[at:] else len(source.text)
    ]
    return (
        f"\n{line_indent(source, cls.start)}"
        if rest.strip() and not rest.strip().startswith("//")
        else ""
    )


def before_end(source: Source, cls: s.ClassDef) -> tuple[int, str]:
    """Where a new section begins, before the annotation or end of a class, and the indent of the class."""
    stop = (
        cls.annotation.start
        if cls.annotation is not None
        else source.text.rindex("end", 0, cls.end)
    )
    line = source.text.rfind("\n", 0, stop) + 1
    if source.text[line:stop].strip():
        return stop, ""
    return line, line_indent(source, cls.start)


def without_line(source: Source, start: int, end: int) -> Patch:
    """Take a stretch of text away, and its line if nothing else stands there."""
    text = source.text
    line = text.rfind("\n", 0, start) + 1
    after = text.find("\n", end)
    after = len(text) if after < 0 else after
    if not text[line:start].strip() and not text[end:after].strip():
        return Patch(line, min(after + 1, len(text)), "")
    return Patch(start, end, "")


def without_declaration(source: Source, cls: s.ClassDef, node: s.Component) -> list[Patch]:
    """A declaration alone in its clause goes with it; of several in one clause only its own part."""
    others = [e for e in cls.elements if isinstance(e, s.Component)]
    position = next(i for i, e in enumerate(others) if e is node)
    before = others[position - 1] if position else None
    after = others[position + 1] if position + 1 < len(others) else None
    joined_before = before is not None and ";" not in source.text[before.end : node.start]
    joined_after = after is not None and ";" not in source.text[node.end : after.start]
    if joined_before:
        comma = source.text.rindex(",", 0, node.start)
        return [Patch(comma, node.end, "")]
    if joined_after:
        assert after is not None
        return [Patch(node.name_span[0], after.name_span[0], "")]
    return [without_line(source, node.start, clause_end(source, node.end))]


def without_clause(source: Source, start: int, end: int) -> Patch:
    """Take a whole clause, from its start to the end of its last declaration, away with its semicolon."""
    return without_line(source, start, clause_end(source, end))


def digits(value: float) -> str:
    rounded = round(value, 3)
    return str(int(rounded)) if rounded == int(rounded) else str(rounded)

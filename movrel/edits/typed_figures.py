"""Named values as people paste them: cells of a spreadsheet, CSV, lines of scripts and of Modelica."""

from __future__ import annotations

import csv
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from movrel.edits.figure_table import in_si_unit
from movrel.edits.fragment import free_references
from movrel.errors import EditFault, MovrelError
from movrel.language import syntax as s
from movrel.language.names import RESERVED, is_name
from movrel.language.typed_rows import parted
from movrel.units import normalise, unit

#: First cells of a row that is a heading.
_HEADINGS = {"name", "names", "figure", "value", "quantity", "symbol", "parameter", "variable"}
#: What may stand before the name in a line of a script.
_DECLARING = re.compile(
    r"^(?:(?:export|static|final|constant|const|parameter|public|auto|let|var|global|double|float|int|Real|Integer)\s+)+"
)
_ASSIGNED = re.compile(
    r"^(?P<name>[A-Za-z_][\w.]*)\s*(?P<given>\([^=]*=.*?\))?\s*(?::=|=(?!=)|<-|:)\s*(?P<value>.+)$", re.S
)  # fmt: skip
#: Where a remark begins; a per cent sign right behind a number, with nothing after it, is its unit.
_REMARK = re.compile(r"\s*(?:#|//|%%?(?!\s*[;,]?\s*$)|(?<=\s)--(?=\s))\s*(?P<words>.*)$", re.S)
_PREFIX = re.compile(r"(?<![\w.])(?:math|np|numpy|cmath|Math)\.(?=[A-Za-z])")


@dataclass(frozen=True, slots=True)
class TypedFigure:
    """A named value of a line, as it is stored: its expression counts in the SI unit of the one it is shown in."""

    line: int
    name: str
    expression: str
    unit: str
    si: str
    note: str
    #: The first parts of the names that it uses, each with the whole name.
    uses: dict[str, s.Ref] = field(repr=False)


@dataclass(frozen=True, slots=True)
class UnreadLine:
    """A line that gives no value, with the reason."""

    line: int
    text: str
    reason: str


@dataclass(frozen=True, slots=True)
class ReadFigures:
    """What a pasted text gives, and the lines of it that give nothing."""

    figures: list[TypedFigure]
    unread: list[UnreadLine]


class _NoFigure(Exception):
    """Why a line gives no value."""


def read_figures(text: str, is_known: Callable[[s.Ref], bool]) -> ReadFigures:
    """Read named values from a text, line by line; what cannot be read is listed, not refused.

    Understood are cells of name, value, unit and note, parted by tabs, semicolons or commas; ``name = value``
    with ``:=``, ``<-`` or ``:`` too, ended by a semicolon or not, declared or not; a unit behind the number, or in
    square brackets in a remark; remarks after ``#``, ``//``, ``%`` or `` -- ``. ``is_known`` says whether a name
    that is used means something to the model already.
    """
    read: dict[str, TypedFigure] = {}
    unread: list[UnreadLine] = []
    for number, line in enumerate(text.strip("\ufeff").splitlines(), 1):
        if number == 1 and _is_heading(line):
            continue
        try:
            for figure in _figures_of(number, line):
                if figure.name in read:
                    first = read[figure.name].line
                    raise _NoFigure(f"'{figure.name}' has its value in line {first} already")
                read[figure.name] = figure
        except _NoFigure as fault:
            unread.append(UnreadLine(number, line.strip(), str(fault)))
    _take_out_unknown(text.splitlines(), read, unread, is_known)
    return ReadFigures(list(read.values()), sorted(unread, key=lambda u: u.line))


def _is_heading(line: str) -> bool:
    cells = re.split(r"[\t;,]", line)
    return len(cells) > 1 and cells[0].strip().strip('"').lower() in _HEADINGS


def _figures_of(number: int, line: str) -> Iterator[TypedFigure]:
    bare = line.strip()
    if "\t" in bare:
        yield _of_cells(number, next(csv.reader([bare], delimiter="\t")))
        return
    remark = _REMARK.search(bare)
    words = remark["words"].strip() if remark else ""
    bare = (bare[: remark.start()] if remark else bare).strip()
    if not bare:
        return  # empty, or a remark alone
    statements = [p for p in (part.strip() for part in parted(bare, ";")) if p]
    assigned = [_ASSIGNED.match(_DECLARING.sub("", p)) for p in statements]
    if all(assigned):
        for match in assigned:
            assert match is not None
            yield _assigned(number, match, words)
        return
    for mark in ";,":
        cells = next(csv.reader([bare], delimiter=mark, skipinitialspace=True))
        if len(cells) > 1 and re.fullmatch(r"[\w.]*", cells[0].strip()):
            yield _of_cells(number, cells, words)
            return
    spaced = re.fullmatch(r"(?P<name>[A-Za-z_]\w*)\s+(?P<value>[-+]?[\d.].*)", bare)
    if spaced is None:
        raise _NoFigure("it gives no name a value")
    yield _made(number, spaced["name"], spaced["value"], "", words)


def _of_cells(number: int, cells: list[str], words: str = "") -> TypedFigure:
    cells = [c.strip().removeprefix("'") for c in cells] + [""] * 4
    if not cells[0] or not cells[1]:
        raise _NoFigure("it has no name or no value")
    return _made(number, cells[0], cells[1], cells[2], cells[3] or words)


def _assigned(number: int, match: re.Match[str], words: str) -> TypedFigure:
    value = match["value"].strip()
    quoted = re.search(r'\s+"(?P<note>[^"]*)"$', value)
    if quoted is not None:
        words, value = quoted["note"], value[: quoted.start()]
    given = dict(re.findall(r'(\w+)\s*=\s*"([^"]*)"', match["given"] or ""))
    return _made(number, match["name"], value, given.get("unit", ""), words)


def _made(number: int, name: str, value: str, symbol: str, words: str) -> TypedFigure:
    if not is_name(name):
        why = "is a word of the language" if name in RESERVED else "cannot be a name"
        raise _NoFigure(f"'{name}' {why}; use letters, digits and _, beginning with a letter")
    value = _PREFIX.sub("", value.strip().rstrip(";,").strip())
    value = re.sub(r"(?<=\d)_(?=\d)", "", value)
    value = re.sub(r"\.(?=[*/^])", "", value)
    if re.match(r"[\[{]", value):
        raise _NoFigure("it is a row of values; give it to the table of a part")
    if re.match(r"""["']""", value):
        raise _NoFigure("it is a text, not a number")
    bracketed = re.search(r"\[([^\]]*)\]", words)
    try:
        if bracketed is not None and not symbol and _is_unit(bracketed[1]):
            symbol = bracketed[1]
            words = f"{words[: bracketed.start()]}{words[bracketed.end() :]}"
        expression, symbol, si, node = in_si_unit(name, value, symbol)
    except MovrelError as fault:
        raise _NoFigure(fault.message.rstrip(".")) from None
    uses = {r.parts[0].name: r for r in free_references(node, set())}
    return TypedFigure(number, name, expression, symbol, si, " ".join(words.split()), uses)


def _is_unit(text: str) -> bool:
    try:
        unit(normalise(text))
    except MovrelError:
        return False
    return bool(text.strip())


def _take_out_unknown(
    lines: list[str],
    read: dict[str, TypedFigure],
    unread: list[UnreadLine],
    is_known: Callable[[s.Ref], bool],
) -> None:
    """List figures that use what neither the text nor the model knows, and those that use these."""
    while True:
        lost = {
            name: next(n for n, r in figure.uses.items() if n not in read and not is_known(r))
            for name, figure in read.items()
            if any(n not in read and not is_known(r) for n, r in figure.uses.items())
        }
        if not lost:
            return
        for name, unknown in lost.items():
            line = read.pop(name).line
            unread.append(
                UnreadLine(line, lines[line - 1].strip(), f"'{unknown}' has no value here")
            )


def refused_if_nothing(text: str, read: ReadFigures) -> None:
    """Raise :class:`EditFault` for a text that gives no value at all."""
    if not text.strip():
        raise EditFault(
            "there is nothing to paste.",
            hint="Copy rows of name, value, unit and note from a spreadsheet, or lines of a script.",
        )
    if not read.figures:
        first = read.unread[0] if read.unread else None
        raise EditFault(
            f"line {first.line}: {first.reason}." if first else "no line gives a name a value.",
            hint="Write name = value, or cells of name, value, unit and note.",
        )

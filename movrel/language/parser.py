"""Modelica text to syntax tree, with errors a person can act on."""

from __future__ import annotations

import hashlib
import os
from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

import lark
from lark import Lark, Token
from lark.exceptions import UnexpectedCharacters, UnexpectedInput, UnexpectedToken, VisitError

from movrel.errors import Place, SyntaxFault
from movrel.language import syntax
from movrel.language import syntax as s
from movrel.language.pieces import NameMismatch, NotAnEquation
from movrel.language.tree_builder import TreeBuilder

#: Deepest nesting of brackets and blocks that is read; the parser and later stages recurse.
NESTING_LIMIT = 400
#: Largest file that is read, in characters.
SIZE_LIMIT = 20_000_000

_READABLE = {
    "SEMICOLON": "';'", "COMMA": "','", "RPAR": "')'", "LPAR": "'('", "RSQB": "']'", "LSQB": "'['",
    "RBRACE": "'}'", "LBRACE": "'{'", "EQUAL": "'='", "DOT": "'.'", "COLON": "':'", "IDENT": "a name",
    "NUMBER": "a number", "STRING": "a text in quotes", "ADD_OP": "'+' or '-'", "MUL_OP": "'*' or '/'",
    "POW_OP": "'^'", "REL_OP": "a comparison", "END_CLASS": "'end' with the class name", "END_IF": "'end if'",
    "END_FOR": "'end for'", "END_WHEN": "'end when'", "END_WHILE": "'end while'", "$END": "the end of the text",
    "INITIAL_EQUATION": "'initial equation'", "INITIAL_ALGORITHM": "'initial algorithm'",
}  # fmt: skip


@dataclass(slots=True)
class Source:
    """A text with a name for messages, its syntax tree and its line starts."""

    text: str
    file: str
    tree: syntax.StoredFile
    _lines: list[int] = field(default_factory=list, repr=False)
    _places: dict[int, Place] = field(default_factory=dict, repr=False, compare=False)

    def place(self, offset: int) -> Place:
        """Line and column of a character offset."""
        place = self._places.get(offset)
        if place is None:
            place = self._places[offset] = _place(self._lines, self.file, offset)
        return place

    def slice(self, node: syntax.Node) -> str:
        """The text of a node, exactly as written."""
        return self.text[node.start : node.end]


def _line_starts(text: str) -> list[int]:
    starts = [0]
    position = text.find("\n")
    while position >= 0:
        starts.append(position + 1)
        position = text.find("\n", position + 1)
    return starts


def _place(lines: list[int], file: str, offset: int) -> Place:
    line = bisect_right(lines, max(offset, 0))
    return Place(file, line, max(offset, 0) - lines[line - 1] + 1)


@cache
def _parser(start: str) -> Lark:
    grammar = files("movrel.language").joinpath("modelica.lark").read_text(encoding="utf-8")
    return Lark(
        grammar, start=start, parser="lalr", lexer="basic", keep_all_tokens=True,
        maybe_placeholders=False, transformer=TreeBuilder(), cache=_table_cache(grammar, start),
    )  # fmt: skip


def _table_cache(grammar: str, start: str) -> str | bool:
    """Where the parse tables are kept between processes; without a writable folder they are made anew."""
    folder = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "movrel"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return False
    if not os.access(folder, os.W_OK):
        return False
    digest = hashlib.sha256(f"{lark.__version__}{grammar}".encode()).hexdigest()[:16]
    return str(folder / f"grammar-{start}-{digest}")


def tokens(text: str) -> Iterator[tuple[str, int, int]]:
    """The tokens of a text that was seen to parse: kind and span, comments and blanks left out."""
    for token in _parser("stored_definition").lex(text):
        assert token.start_pos is not None and token.end_pos is not None
        yield token.type, token.start_pos, token.end_pos


def parse(text: str, file: str = "text.mo") -> Source:
    """Parse a Modelica file.

    Raises :class:`SyntaxFault` with file, line, column, what stands there and what was expected.
    """
    lines = _line_starts(text)
    return Source(text, file, _run(text, file, "stored_definition", lines), lines)


def parse_expression(text: str, file: str = "expression") -> s.Expression:
    """Parse one expression; spans are offsets into ``text``."""
    return _run(text, file, "expression", _line_starts(text))


def emit(source: Source) -> str:
    """The text again, put together from the words the parser read and the layout between them."""
    pieces: list[str] = []
    position = 0
    for token in _parser("stored_definition").lex(source.text):
        start = token.start_pos or 0
        pieces += [source.text[position:start], str(token)]
        position = start + len(token)
    pieces.append(source.text[position:])
    return "".join(pieces)


def _run(text: str, file: str, start: str, lines: list[int]) -> Any:
    if len(text) > SIZE_LIMIT:
        raise SyntaxFault(
            f"the text has {len(text)} characters; at most {SIZE_LIMIT} are read.",
            Place(file, 1, 1),
            "Split the package into several files.",
        )
    _check_nesting(text, file, lines)
    try:
        return _parser(start).parse(text)
    except UnexpectedToken as fault:
        raise _unexpected_token(fault, text, file, lines) from None
    except UnexpectedCharacters as fault:
        raise _unexpected_character(fault, text, file, lines) from None
    except UnexpectedInput as fault:
        raise SyntaxFault("the text ends too early.", _place(lines, file, len(text))) from fault
    except VisitError as fault:
        raise _misfit(fault.orig_exc, file, lines) from None
    except (NameMismatch, NotAnEquation) as fault:
        raise _misfit(fault, file, lines) from None
    except RecursionError:
        raise SyntaxFault("the text is nested too deeply.", Place(file, 1, 1)) from None


def _check_nesting(text: str, file: str, lines: list[int]) -> None:
    depth = 0
    if text.count("(") + text.count("{") + text.count("[") < NESTING_LIMIT:
        return
    for offset, character in enumerate(text):
        if character in "([{":
            depth += 1
            if depth > NESTING_LIMIT:
                raise SyntaxFault(
                    f"brackets are nested more than {NESTING_LIMIT} deep.",
                    _place(lines, file, offset),
                    "Name an inner part and refer to it.",
                )
        elif character in ")]}":
            depth = max(0, depth - 1)


def _misfit(fault: Exception, file: str, lines: list[int]) -> SyntaxFault:
    if isinstance(fault, NameMismatch):
        return SyntaxFault(
            f"'end {fault.closed}' closes the class '{fault.opened}'.",
            _place(lines, file, fault.position),
            f"Write 'end {fault.opened}'.",
        )
    if isinstance(fault, NotAnEquation):
        return SyntaxFault(
            "an expression stands alone where an equation is expected.",
            _place(lines, file, fault.position),
            "Write 'left = right', or call a function.",
        )
    raise fault


def _readable(names: set[str]) -> str:
    words = []
    for name in sorted(names):
        if name in _READABLE:
            words.append(_READABLE[name])
        elif name.isalpha() or name.replace("_", "").isalpha():
            words.append(f"'{name.lower()}'")
    words = sorted(set(words), key=lambda w: (w.strip("'").isalpha(), w))
    if len(words) > 6:
        words = [*words[:6], "…"]
    return ", ".join(words)


def _unexpected_token(
    fault: UnexpectedToken, text: str, file: str, lines: list[int]
) -> SyntaxFault:
    token = fault.token
    at_end = token.type == "$END"
    expected = set(fault.accepts or fault.expected)
    offset = len(text) if at_end else token.start_pos or 0
    if text.startswith("/*", offset) or text.startswith("/*", offset - 1):
        opening = text.index("/*", max(offset - 1, 0))
        return SyntaxFault(
            "a comment is not closed.", _place(lines, file, opening), "Close it with */."
        )
    # A forgotten semicolon is noticed one token late: point at the end of what came before.
    if (
        "SEMICOLON" in expected
        and not at_end
        and text[:offset].count("\n") != text[: _last_ink(text, offset)].count("\n")
    ):
        ink = _last_ink(text, offset)
        return SyntaxFault(
            "';' is missing at the end of this line.",
            _place(lines, file, ink),
            f"Found {_found(token)} next.",
        )
    what = "the text ends" if at_end else f"unexpected {_found(token)}"
    if "IDENT" in expected and str(token).isidentifier():
        what += ", which is a reserved word and cannot be a name"
    return SyntaxFault(f"{what}; expected {_readable(expected)}.", _place(lines, file, offset))


def _found(token: Token) -> str:
    shown = str(token)
    return f"'{shown if len(shown) <= 30 else shown[:27] + '...'}'"


def _last_ink(text: str, offset: int) -> int:
    position = offset
    while position > 0 and text[position - 1] in " \t\r\n":
        position -= 1
    return position


def _unexpected_character(
    fault: UnexpectedCharacters, text: str, file: str, lines: list[int]
) -> SyntaxFault:
    offset = fault.pos_in_stream or 0
    character = text[offset] if offset < len(text) else "end of text"
    hint = ""
    if character == '"':
        message = "a text in quotes is not closed."
        hint = 'Close it with ".'
    elif text.startswith("/*", offset):
        message = "a comment is not closed."
        hint = "Close it with */."
    else:
        message = f"the character '{character}' has no meaning here."
    return SyntaxFault(message, _place(lines, file, offset), hint)

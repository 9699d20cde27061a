"""Pieces of the syntax tree while it is built: nodes that become fields of others, spans, faults."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from lark import Token

from movrel.language import syntax as s


@dataclass(slots=True)
class Text(s.Node):
    """A dotted name or a string that becomes a field of another node."""

    text: str


@dataclass(slots=True)
class Words(s.Node):
    words: tuple[str, ...]


@dataclass(slots=True)
class Items(s.Node):
    items: list[Any]


@dataclass(slots=True)
class TypePrefix(s.Node):
    words: tuple[str, ...]


@dataclass(slots=True)
class Subscripts(s.Node):
    items: tuple[Any, ...]


@dataclass(slots=True)
class Section(s.Node):
    kind: str
    items: list[Any]


@dataclass(slots=True)
class Condition(s.Node):
    expression: Any


def unquote(literal: str) -> str:
    """The value of a Modelica string literal (specification 2.4.5)."""
    body = literal[1:-1]
    if "\\" not in body:
        return body
    escapes = {"n": "\n", "t": "\t", "r": "\r", "a": "\a", "b": "\b", "f": "\f", "v": "\v"}
    out: list[str] = []
    characters = iter(body)
    for character in characters:
        if character == "\\":
            following = next(characters)
            out.append(escapes.get(following, following))
        else:
            out.append(character)
    return "".join(out)


def start(x: Any) -> int:
    return int(x.start_pos or 0) if isinstance(x, Token) else int(x.start)


def end(x: Any) -> int:
    return int(x.end_pos or 0) if isinstance(x, Token) else int(x.end)


def span(c: list[Any]) -> dict[str, Any]:
    if not c:
        return {"start": -1, "end": -1}
    return {"start": start(c[0]), "end": end(c[-1])}


def nodes(c: list[Any]) -> list[Any]:
    return [x for x in c if not isinstance(x, Token)]


def first(c: list[Any], kind: type) -> Any:
    for x in c:
        if isinstance(x, kind):
            return x
    return None


def text(c: list[Any]) -> str:
    text_node = first(c, Text)
    return text_node.text if text_node else ""


def identifiers(c: list[Any]) -> list[Token]:
    return [x for x in c if isinstance(x, Token) and x.type == "IDENT"]


class NameMismatch(Exception):
    """``end Other`` closes a class of another name."""

    def __init__(self, opened: str, closed: str, position: int) -> None:
        super().__init__(opened, closed)
        self.opened, self.closed, self.position = opened, closed, position


class NotAnEquation(Exception):
    """An expression stands where an equation is expected."""

    def __init__(self, position: int) -> None:
        super().__init__(position)
        self.position = position

"""Names of components: which may be given, and which are free."""

from __future__ import annotations

import re

from movrel.errors import EditFault
from movrel.language import syntax as s

_NAME = re.compile(r"[A-Za-z_][A-Za-z_0-9]*")


RESERVED = {
    "algorithm", "and", "annotation", "block", "break", "class", "connect", "connector", "constant", "constrainedby", "der",
    "discrete", "each", "else", "elseif", "elsewhen", "encapsulated", "end", "enumeration", "equation", "expandable",
    "extends", "external", "false", "final", "flow", "for", "function", "if", "import", "impure", "in", "initial", "inner",
    "input", "loop", "model", "not", "operator", "or", "outer", "output", "package", "parameter", "partial", "protected",
    "public", "pure", "record", "redeclare", "replaceable", "return", "stream", "then", "true", "type", "when", "while",
    "within",
}  # fmt: skip


#: Names that new parts do not get, as formulae use them otherwise.
FUNCTIONS = {
    "time", "abs", "acos", "asin", "atan", "ceil", "change", "cos", "cosh", "cross", "delay", "div", "edge", "exp", "fill",
    "floor", "identity", "integer", "log", "max", "min", "mod", "ndims", "ones", "pre", "product", "rem", "sample", "scalar",
    "sign", "sin", "sinh", "size", "skew", "smooth", "sqrt", "sum", "symmetric", "tan", "tanh", "transpose", "vector", "zeros",
}  # fmt: skip


def is_name(text: str) -> bool:
    """Whether a text can be the name of a class or component."""
    return _NAME.fullmatch(text) is not None and text not in RESERVED


def check_name(cls: s.ClassDef, name: str) -> None:
    """Refuse a name that is none, or that is taken. Raises :class:`EditFault`."""
    if name in RESERVED:
        raise EditFault(
            f"'{name}' is a word of the language and cannot be a name.",
            hint=f"Choose another one, such as {name}1.",
        )
    if not is_name(name):
        raise EditFault(
            f"'{name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    if any(isinstance(e, s.Component | s.ClassDef) and e.name == name for e in cls.elements):
        raise EditFault(f"'{cls.name}' already has a '{name}'.", hint="Choose another name.")


def free_name(cls: s.ClassDef, class_name: str) -> str:
    """A sensible name for a new component: that of its class, with a number if it is taken."""
    last = class_name.rpartition(".")[2]
    stem = last[:1].lower() + last[1:]
    if not _NAME.fullmatch(stem):
        stem = "part"
    used = {e.name for e in cls.elements if isinstance(e, s.Component | s.ClassDef)}
    spoken_for = stem in RESERVED or stem in FUNCTIONS
    if stem not in used and not spoken_for:
        return stem
    first = 1 if spoken_for else 2
    return next(f"{stem}{i}" for i in range(first, len(used) + 3) if f"{stem}{i}" not in used)

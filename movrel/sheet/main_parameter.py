"""The parameter that a part is known by: the resistance of a resistor, the gain of an amplifier."""

from __future__ import annotations

import re

from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import components
from movrel.sheet.elements import Icon

_SHOWN = re.compile(r"%([A-Za-z_]\w*)")


def main_parameter(tree: ClassTree, definition: Definition, symbol: Icon) -> str:
    """The first parameter that the symbol shows, else the first number that can be set; empty where there is none."""
    settable = [
        node.name
        for owner, node in components(tree, definition)
        if "parameter" in node.prefixes and not node.protected and _is_number(tree, owner, node)
    ]
    shown = (
        name
        for shape in symbol.graphics
        for name in _SHOWN.findall(str(shape.get("textString", "")))
        if name in settable
    )
    return next(shown, settable[0] if settable else "")


def _is_number(tree: ClassTree, owner: Definition, node: s.Component) -> bool:
    """Whether a parameter is a single number that may be set."""
    if "final" in node.flags or node.subscripts or node.type_subscripts:
        return False
    kind = tree.lookup(node.type_name, owner)
    while kind is not None and not kind.predefined and kind.node.form == "short":
        kind = next(iter(tree.bases(kind)), None)
    return kind is not None and kind.qualified in ("Real", "Integer")

"""How many variables a model has at least, counted class by class before anything is made of it.

A class that has two of another one that has two of a third has thousands of millions of variables after thirty such
lines. Each class is counted once, so that such a model is refused at once. What may be less by a modification counts
nothing: conditional and replaceable components, and arrays whose size is not a plain number.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.errors import StructureFault
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.instance import SCALAR_LIMIT


def check_size(tree: ClassTree, definition: Definition) -> None:
    """Raise :class:`StructureFault` where a model has more variables than any may have, naming what most of them are in."""
    counted = _Counted(tree)
    least = counted.of(definition)
    if least > SCALAR_LIMIT:
        name, part = max(counted.parts(definition), key=lambda p: p[1], default=("", 0))
        hint = f"'{name}' alone has {_words(part)} of them." if name else ""
        raise StructureFault(
            f"'{definition.name}' has at least {_words(least)} variables; a model may have {SCALAR_LIMIT}.",
            definition.place(),
            hint,
        )


def least_variables(tree: ClassTree, definition: Definition) -> int:
    """The least number of variables of a model."""
    return _Counted(tree).of(definition)


def _words(count: int) -> str:
    return str(count) if count < 10**15 else f"{float(count):.3g}" if count < 10**300 else "10^300"


@dataclass(slots=True)
class _Counted:
    tree: ClassTree
    counts: dict[Definition, int] = field(default_factory=dict)

    def of(self, definition: Definition) -> int:
        """The least number of variables of a class; 0 within itself, which is refused elsewhere."""
        if definition not in self.counts:
            self.counts[definition] = 0
            self.counts[definition] = sum(count for _, count in self.parts(definition))
        return self.counts[definition]

    def parts(self, definition: Definition) -> list[tuple[str, int]]:
        """The components of a class and of what it inherits, each with its least number of variables."""
        components: list[tuple[str, int]] = []
        closure, waiting = set[Definition](), [definition]
        while waiting:
            one = waiting.pop()
            if one in closure:
                continue
            closure.add(one)
            waiting += self.tree.bases(one)
            components += [
                (e.name, self._component(e, one))
                for e in one.node.elements
                if isinstance(e, s.Component)
            ]
        return components

    def _component(self, node: s.Component, scope: Definition) -> int:
        if node.condition is not None or {"outer", "replaceable", "redeclare"} & set(node.flags):
            return 0
        count = 1
        for size in (*node.subscripts, *node.type_subscripts):
            count *= int(size.text) if isinstance(size, s.Number) and size.is_integer else 0
        if count == 0:
            return 0
        cls = self.tree.lookup(node.type_name, scope)
        if cls is None or cls.node.kind == "type" or cls.node.form in ("enumeration", "der"):
            return count if count <= SCALAR_LIMIT else 0  # an array that is refused by its own name
        if "replaceable" in cls.node.flags:
            return 0
        return count * self.of(cls)

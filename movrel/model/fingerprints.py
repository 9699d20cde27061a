"""Numbers for expressions, by which equal ones are recognised."""

from __future__ import annotations

from typing import Any

from movrel.model.expression import Expr, post_order


class Fingerprints:
    """Numbers for expressions: equal ones, whether shared or not, get the same."""

    def __init__(self) -> None:
        self._by_key: dict[tuple[Any, ...], int] = {}
        self._by_node: dict[Expr, int] = {}

    def __call__(self, e: Expr) -> int:
        for node in post_order(e):
            if node in self._by_node:
                continue
            if node.op == "var":
                key: tuple[Any, ...] = ("var", node.value)
            elif node.op == "const":
                key = ("const", type(node.value), node.value)
            else:
                key = (
                    node.op,
                    node.value if node.value is not None else 0,
                    *(self._by_node[a] for a in node.args),
                )
            number = self._by_key.setdefault(key, len(self._by_key))
            self._by_node[node] = number
        return self._by_node[e]

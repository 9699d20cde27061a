"""Expressions and names of the syntax tree; see :mod:`movrel.language.tree_builder`."""

from __future__ import annotations

from typing import Any, TypeAlias

from lark import Token, Transformer

from movrel.language import pieces
from movrel.language import syntax as s
from movrel.language.pieces import (
    Items,
    Subscripts,
    Text,
    unquote,
)

#: What the parser hands over: tokens and what the methods here made of what stands below.
Children: TypeAlias = list[Any]


class ExpressionBuilder(Transformer[Any, Any]):
    """Builds the nodes of expressions."""

    def number(self, c: Children) -> s.Number:
        return s.Number(str(c[0]), start=c[0].start_pos, end=c[0].end_pos)

    def string(self, c: Children) -> s.String:
        return s.String(unquote(c[0]), start=c[0].start_pos, end=c[0].end_pos)

    def boolean(self, c: Children) -> s.Boolean:
        return s.Boolean(c[0] == "true", **pieces.span(c))

    def end_index(self, c: Children) -> s.EndIndex:
        return s.EndIndex(**pieces.span(c))

    def whole_dimension(self, c: Children) -> s.WholeDimension:
        return s.WholeDimension(**pieces.span(c))

    def unary(self, c: Children) -> s.Unary:
        return s.Unary(str(c[0]), c[1], **pieces.span(c))

    def binary(self, c: Children) -> s.Binary:
        return s.Binary(str(c[1]), c[0], c[2], start=pieces.start(c[0]), end=pieces.end(c[2]))

    def range(self, c: Children) -> s.Range:
        nodes = pieces.nodes(c)
        step = nodes[1] if len(nodes) == 3 else None
        return s.Range(nodes[0], step, nodes[-1], **pieces.span(c))

    def if_expression(self, c: Children) -> s.IfExpression:
        nodes = pieces.nodes(c)
        branches = tuple((nodes[i], nodes[i + 1]) for i in range(0, len(nodes) - 1, 2))
        return s.IfExpression(branches, nodes[-1], **pieces.span(c))

    def matrix_row(self, c: Children) -> Items:
        return Items(pieces.nodes(c), **pieces.span(c))

    def matrix(self, c: Children) -> s.Matrix:
        return s.Matrix(tuple(tuple(x.items) for x in pieces.nodes(c)), **pieces.span(c))

    def array_arguments(self, c: Children) -> Items:
        return Items(pieces.nodes(c), **pieces.span(c))

    def array(self, c: Children) -> s.Array:
        content = pieces.first(c, Items)
        items = content.items if content else []
        if items and isinstance(items[-1], Items):
            return s.Array((items[0],), tuple(items[-1].items), **pieces.span(c))
        return s.Array(tuple(items), **pieces.span(c))

    def tuple(self, c: Children) -> s.Tuple:
        items: list[Any | None] = []
        expecting = True
        for x in c[1:-1]:
            if isinstance(x, Token):
                if expecting:
                    items.append(None)
                expecting = True
            else:
                items.append(x)
                expecting = False
        if expecting and items:
            items.append(None)
        return s.Tuple(tuple(items), **pieces.span(c))

    def selection(self, c: Children) -> s.Selection:
        if isinstance(c[1], Subscripts):
            return s.Selection(c[0], c[1].items, **pieces.span(c))
        return s.Selection(c[0], name=str(c[2]), **pieces.span(c))

    def call(self, c: Children) -> s.Call:
        function = c[0]
        if isinstance(function, Token):
            span = pieces.span([function])
            function = s.Ref((s.RefPart(str(function), **span),), **span)
        items = c[1].items
        span = pieces.span(c)
        if items and isinstance(items[-1], Items):
            return s.Call(function, (items[0],), (), tuple(items[-1].items), **span)
        positional = tuple(x for x in items if not isinstance(x, s.Named))
        named = tuple(x for x in items if isinstance(x, s.Named))
        return s.Call(function, positional, named, **span)

    def call_arguments(self, c: Children) -> Items:
        return Items(pieces.nodes(c), **pieces.span(c))

    def named_argument(self, c: Children) -> s.Named:
        return s.Named(str(c[0]), c[2], **pieces.span(c))

    def partial_application(self, c: Children) -> s.PartialApplication:
        named = tuple(x for x in c if isinstance(x, s.Named))
        return s.PartialApplication(pieces.text(c), named, **pieces.span(c))

    def component_reference(self, c: Children) -> s.Ref:
        parts = tuple(x for x in c if isinstance(x, s.RefPart))
        return s.Ref(parts, isinstance(c[0], Token), **pieces.span(c))

    def reference_part(self, c: Children) -> s.RefPart:
        return s.RefPart(str(c[0]), c[1].items if len(c) > 1 else (), **pieces.span(c))

    def array_subscripts(self, c: Children) -> Subscripts:
        return Subscripts(tuple(pieces.nodes(c)), **pieces.span(c))

    def name(self, c: Children) -> Text:
        return Text("".join(str(x) for x in c), **pieces.span(c))

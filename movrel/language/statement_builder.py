"""Equations and statements of the syntax tree; see :mod:`movrel.language.tree_builder`."""

from __future__ import annotations

from typing import Any

from movrel.language import pieces
from movrel.language import syntax as s
from movrel.language.expression_builder import Children, ExpressionBuilder
from movrel.language.pieces import (
    Items,
    NotAnEquation,
    Section,
)


class StatementBuilder(ExpressionBuilder):
    """Builds the nodes of equations and statements."""

    def equation_section(self, c: Children) -> Section:
        kind = "equation" if c[0] == "equation" else "initial equation"
        return Section(kind, pieces.nodes(c), **pieces.span(c))

    def algorithm_section(self, c: Children) -> Section:
        kind = "algorithm" if c[0] == "algorithm" else "initial algorithm"
        return Section(kind, pieces.nodes(c), **pieces.span(c))

    def equation(self, c: Children) -> Any:
        if len(c) > 1:
            c[0].comment = c[1]
        return c[0]

    statement = equation

    def simple_equation(self, c: Children) -> Any:
        if len(c) == 3:
            return s.Equation(c[0], c[2], **pieces.span(c))
        if isinstance(c[0], s.Call):
            return s.CallEquation(c[0], **pieces.span(c))
        raise NotAnEquation(pieces.start(c[0]))

    def _branches(self, c: Children) -> tuple[tuple[tuple[Any, Any], ...], tuple[Any, ...]]:
        """Pairs of condition and body, and the body after a trailing ``else``."""
        nodes = pieces.nodes(c)
        pairs = tuple((nodes[i], tuple(nodes[i + 1].items)) for i in range(0, len(nodes) - 1, 2))
        otherwise = tuple(nodes[-1].items) if len(nodes) % 2 else ()
        return pairs, otherwise

    def equations(self, c: Children) -> Items:
        return Items(pieces.nodes(c), **pieces.span(c))

    statements = equations

    def if_equation(self, c: Children) -> s.IfEquation:
        branches, otherwise = self._branches(c)
        return s.IfEquation(branches, otherwise, **pieces.span(c))

    def for_equation(self, c: Children) -> s.ForEquation:
        return s.ForEquation(tuple(c[1].items), tuple(c[3].items), **pieces.span(c))

    def when_equation(self, c: Children) -> s.WhenEquation:
        return s.WhenEquation(self._branches(c)[0], **pieces.span(c))

    def connect_clause(self, c: Children) -> s.Connect:
        return s.Connect(c[2], c[4], **pieces.span(c))

    def assignment(self, c: Children) -> s.Assignment:
        return s.Assignment(c[0], c[2], **pieces.span(c))

    def call_statement(self, c: Children) -> s.CallStatement:
        return s.CallStatement(self.call(c), **pieces.span(c))

    def tuple_assignment(self, c: Children) -> s.TupleAssignment:
        return s.TupleAssignment(c[0], self.call(c[2:]), **pieces.span(c))

    def break_statement(self, c: Children) -> s.BreakStatement:
        return s.BreakStatement(**pieces.span(c))

    def return_statement(self, c: Children) -> s.ReturnStatement:
        return s.ReturnStatement(**pieces.span(c))

    def if_statement(self, c: Children) -> s.IfStatement:
        branches, otherwise = self._branches(c)
        return s.IfStatement(branches, otherwise, **pieces.span(c))

    def for_statement(self, c: Children) -> s.ForStatement:
        return s.ForStatement(tuple(c[1].items), tuple(c[3].items), **pieces.span(c))

    def while_statement(self, c: Children) -> s.WhileStatement:
        return s.WhileStatement(c[1], tuple(c[3].items), **pieces.span(c))

    def when_statement(self, c: Children) -> s.WhenStatement:
        return s.WhenStatement(self._branches(c)[0], **pieces.span(c))

    def for_indices(self, c: Children) -> Items:
        return Items(pieces.nodes(c), **pieces.span(c))

    def for_index(self, c: Children) -> s.ForIndex:
        return s.ForIndex(str(c[0]), c[2] if len(c) > 1 else None, **pieces.span(c))

"""From sorted equations to CasADi functions.

All explicit unknowns become expressions of time ``t``, states ``x``, parameters ``p``, event memory
``m`` and the solutions ``s`` of the implicit blocks. Each implicit block is one function of the same
inputs that is solved (linearly, or by Newton's method with its exact Jacobian) inside the graph, so
that derivatives run through it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.equilibration import equilibrated
from movrel.equations.event_memory import EventMemory
from movrel.equations.least_squares import smallest_solution
from movrel.equations.occurrence import is_held
from movrel.equations.sizes import RESIDUAL, STEP
from movrel.equations.sorting import Block
from movrel.equations.sparse_jacobian import sparse_jacobian
from movrel.equations.start_solver import StartSolver, StartStep
from movrel.equations.stretching import LARGE, stretched
from movrel.equations.symbolic import Compiled, Symbolic
from movrel.errors import Unsupported
from movrel.model import expression as x
from movrel.model.expression import RELATIONS, TIME_VARIABLE, Expr, Variable
from movrel.model.flat import FlatEquation
from movrel.model.traits import HOMOTOPY

Array = npt.NDArray[np.float64]

#: The factors of a matrix are kept until it changes: that of many loops never does during a run.
FACTORED = {"cache": 1}

_BINARY = {
    "+": ca.OP_ADD, "-": ca.OP_SUB, "*": ca.OP_MUL, "/": ca.OP_DIV, "^": ca.OP_POW, "min": ca.OP_FMIN,
    "max": ca.OP_FMAX, "atan2": ca.OP_ATAN2, "<": ca.OP_LT, "<=": ca.OP_LE, "==": ca.OP_EQ, "<>": ca.OP_NE,
    "and": ca.OP_AND, "or": ca.OP_OR,
}  # fmt: skip
_UNARY = {
    "neg": ca.OP_NEG, "sqrt": ca.OP_SQRT, "exp": ca.OP_EXP, "log": ca.OP_LOG, "sin": ca.OP_SIN, "cos": ca.OP_COS,
    "tan": ca.OP_TAN, "asin": ca.OP_ASIN, "acos": ca.OP_ACOS, "atan": ca.OP_ATAN, "sinh": ca.OP_SINH,
    "cosh": ca.OP_COSH, "tanh": ca.OP_TANH, "abs": ca.OP_FABS, "sign": ca.OP_SIGN, "floor": ca.OP_FLOOR,
    "ceil": ca.OP_CEIL, "integer": ca.OP_FLOOR, "not": ca.OP_NOT,
}  # fmt: skip


class Translator:
    """Expressions to CasADi scalars, each shared subexpression once."""

    def __init__(
        self, values: dict[Variable, Symbolic], memory: EventMemory, homotopy: bool = False
    ) -> None:
        self.values = values
        self.memory = memory
        self.homotopy = homotopy
        self._done: dict[tuple[Expr, bool], Symbolic] = {}
        self._constant: dict[Expr, bool] = {}

    def forget(self) -> None:
        """Free what was kept to translate shared subexpressions once; what is asked for later is translated anew."""
        self._done.clear()
        self._constant.clear()

    def __call__(self, e: Expr, events: bool = True) -> Symbolic:
        if e.op == "var":
            return self.values[e.value]
        if e.op == "const":
            return ca.SX(float(e.value))
        # Operands first, on a stack of our own: expressions may be deeper than Python's.
        stack = [(e, events)]
        while stack:
            node, inside = stack[-1]
            key = (node, inside)
            if key in self._done:
                stack.pop()
                continue
            below = inside and node.op not in ("noevent", "smooth")
            missing = [] if node.op == "delay" or (below and is_held(node)) else [
                (a, below) for a in node.args if a.args and (a, below) not in self._done
            ]  # fmt: skip
            if missing:
                stack.extend(missing)
                continue
            self._done[key] = (node, self._translate(node, inside))
            stack.pop()
        return self._done[(e, events)][1]

    def _translate(self, e: Expr, events: bool) -> Symbolic:
        op, a = e.op, e.args
        if op == "noevent":
            return self(a[0], False)
        if op == "smooth":
            return self(a[0], False)
        if op in RELATIONS:
            return self._relation(e, events)
        if op in ("floor", "ceil", "integer", "mod", "rem", "div"):
            return self._rounding(e, events)
        if op == "sample":
            return self.memory.sample(e)
        if op == "delay":
            return self.memory.delay(e)
        if op == "unit":
            return self.memory.unit(e)
        if op == "terminal":
            return self.memory.elements[self.memory.terminal_at]
        if op == "homotopy":
            actual = self(a[0], events)
            if not self.homotopy:
                return actual
            simplified = self(a[1], events)
            return simplified + self.memory.elements[self.memory.homotopy_at] * (
                actual - simplified
            )
        if op == "if":
            return ca.if_else(self(a[0], events), self(a[1], events), self(a[2], events))
        if op in _UNARY:
            return ca.SX.unary(_UNARY[op], self(a[0], events))
        if op == "^" and a[1].op == "const" and a[1].value == 2:
            base = self(a[0], events)
            return ca.SX.unary(ca.OP_SQ, base)
        if op in _BINARY:
            return ca.SX.binary(_BINARY[op], self(a[0], events), self(a[1], events))
        if op in ("log10",):
            return ca.SX.binary(
                ca.OP_MUL, ca.SX.unary(ca.OP_LOG, self(a[0], events)), 0.4342944819032518
            )
        raise Unsupported(f"'{op}' cannot be computed in '{x.show(e)}'.")

    def _relation(self, e: Expr, events: bool) -> Symbolic:
        op, (left, right) = e.op, e.args
        if not events or not is_held(e):
            if op in (">", ">="):
                return ca.SX.binary(
                    ca.OP_LT if op == ">" else ca.OP_LE, self(right, events), self(left, events)
                )
            return ca.SX.binary(_BINARY[op], self(left, events), self(right, events))
        # 'a > b' is held as g = a - b > 0; 'a <= b' is the opposite of it, and so on.
        inclusive, opposite = op in (">=", "<"), op in ("<=", "<")
        held = self.memory.symbol("relation", x.subtract(left, right), inclusive, x.show(e))
        return ca.SX.unary(ca.OP_NOT, held) if opposite else held

    def _rounding(self, e: Expr, events: bool) -> Symbolic:
        op, a = e.op, e.args
        if op in ("floor", "integer"):
            if not events or not is_held(e):
                return ca.SX.unary(ca.OP_FLOOR, self(a[0], events))
            return self.memory.symbol("floor", a[0], True, x.show(e))
        if op == "ceil":
            return -self(Expr("floor", (x.negate(a[0]),)), events)
        if op == "div" and not (events and is_held(e)):
            quotient = self(a[0], events) / self(a[1], events)
            return ca.if_else(quotient >= 0, ca.floor(quotient), ca.ceil(quotient))
        quotient = x.divide(a[0], a[1])
        if op == "mod":
            whole = Expr("floor", (quotient,))
        else:
            positive = Expr(">=", (quotient, x.ZERO))
            whole = Expr("if", (positive, Expr("floor", (quotient,)), Expr("ceil", (quotient,))))
        if op == "div":
            return self(whole, events)
        return self(Expr("-", (a[0], Expr("*", (whole, a[1])))), events)


class Graph:
    """The unknowns of sorted blocks as functions of ``t, x, p, m, w``.

    ``w`` holds the guesses from which Newton's method starts, one for each implicit unknown, then the sizes of
    these unknowns, then those of the terms of their equations (see :mod:`movrel.equations.sizes`).
    """

    def __init__(
        self,
        blocks: list[Block],
        states: list[Variable],
        parameters: list[Variable],
        memory: EventMemory,
        start: bool = False,
    ) -> None:
        self.blocks = blocks
        self.states = states
        self.t = ca.SX.sym("t")
        self.x = ca.SX.sym("x", len(states))
        self.p = ca.SX.sym("p", len(parameters))
        #: Whether linear blocks may be singular: then the smallest of their solutions is taken.
        self.singular = False
        self.implicit = [v for block in blocks for v in block.implicit]
        self.s = ca.SX.sym("s", len(self.implicit))
        self.w = ca.SX.sym("w", 3 * len(self.implicit))
        self.memory = memory
        values: dict[Variable, Symbolic] = {TIME_VARIABLE: self.t}
        for group, symbols in ((states, self.x), (parameters, self.p), (self.implicit, self.s)):
            if group:
                values.update(zip(group, ca.vertsplit(symbols), strict=True))
        if not start:
            values.update(memory.pre_values())
        self.translate = Translator(values, memory, homotopy=start)
        self.order: list[Variable] = []
        #: Each implicit block, the number of its first unknown, and its residual, or matrix and vector.
        self.solvers: list[tuple[Block, int, Compiled]] = []
        #: Matrix and vector of linear blocks, by the number of their first unknown, as they are solved.
        self.enlarged: dict[int, Compiled] = {}
        #: The same with rows and columns of one size, and by what the solution is multiplied then, once asked for.
        self.equilibrated: dict[int, Compiled] = {}
        position = 0
        for block in blocks:
            self.order.extend(block.unknowns)
            if block.kind == "explicit":
                assert block.solution is not None
                values[block.unknowns[0]] = self.translate(block.solution)
            else:
                for variable, value in block.inner:
                    values[variable] = self.translate(value)
                self.solvers.append((block, position, self._residual(block)))
                if block.kind == "linear":
                    self.enlarged[position] = self._to_solve(block, self.solvers[-1][2])
                position += len(block.implicit)

    def value(self, variable: Variable) -> Symbolic:
        return self.translate.values[variable]

    def _residual(self, block: Block) -> Symbolic:
        inputs = [self.t, self.x, self.p, self.memory.symbols, self.s]
        if block.kind == "linear":
            assert block.matrix is not None and block.vector is not None
            n = len(block.unknowns)
            entries = sorted(
                ((j, i, entry) for i, row in enumerate(block.matrix) for j, entry in row.items()),
                key=lambda item: item[:2],
            )
            pattern = ca.Sparsity.triplet(
                n, n, [i for _, i, _ in entries], [j for j, _, _ in entries]
            )
            matrix = ca.SX(pattern, ca.vertcat(*[self.translate(entry) for *_, entry in entries]))
            vector = ca.vertcat(*[self.translate(e) for e in block.vector])
            return ca.Function("linear", inputs, [matrix, vector])
        residuals = [self.translate(x.subtract(e.left, e.right)) for e in block.residuals]
        return ca.Function("residual", inputs, [ca.vertcat(*residuals)])

    def _to_solve(self, block: Block, residual: Symbolic) -> Symbolic:
        """Matrix and vector of a linear block as they are solved: with long rows split where it is large."""
        if len(block.unknowns) <= LARGE:
            return residual
        inputs = [self.t, self.x, self.p, self.memory.symbols, self.s]
        return ca.Function("linear", inputs, [*stretched(*residual(*inputs))])

    def _equilibrated(self, position: int) -> Compiled:
        if position not in self.equilibrated:
            inputs = [self.t, self.x, self.p, self.memory.symbols, self.s]
            outputs = equilibrated(*self.enlarged[position](*inputs))
            self.equilibrated[position] = ca.Function("equilibrated", inputs, [*outputs])
        return self.equilibrated[position]

    def function(self, name: str, outputs: list[Symbolic]) -> Symbolic:
        """A CasADi function ``(t, x, p, m, w) -> outputs``; ``outputs`` are SX over the graph's symbols."""
        sizes = (
            len(self.states),
            self.p.shape[0],
            self.memory.symbols.shape[0],
            3 * len(self.implicit),
        )
        if not self.solvers or not any(ca.depends_on(o, self.s) for o in outputs):
            return self.explicit_function(name, outputs)
        t = ca.MX.sym("t")
        xs, p, m, w = (ca.MX.sym(n, size) for n, size in zip("xpmw", sizes, strict=True))
        solved: list[Symbolic] = []
        total = len(self.implicit)
        for block, position, residual in self.solvers:
            size = len(block.implicit)
            so_far = ca.vertcat(*solved, ca.MX.zeros(total - position))
            if block.kind == "linear":
                if self.singular:
                    matrix, vector = self.enlarged[position](t, xs, p, m, so_far)
                    solved.append(smallest_solution(matrix, vector)[:size])
                else:
                    matrix, vector, scale = self._equilibrated(position)(t, xs, p, m, so_far)
                    solved.append((scale * ca.solve(matrix, vector, "qr", FACTORED))[:size])
            else:
                guess, sizes, terms = (
                    w[k * total + position : k * total + position + size] for k in range(3)
                )
                scaled = self._newton(residual, position, size, total)(
                    guess / sizes, ca.vertcat(t, xs, p, m, so_far, sizes, terms)
                )
                solved.append(scaled * sizes)
        inner = ca.Function(
            f"{name}_explicit",
            [self.t, self.x, self.p, self.memory.symbols, self.s, self.w],
            outputs,
        )
        return ca.Function(
            name, [t, xs, p, m, w], inner.call([t, xs, p, m, ca.vertcat(*solved), w])
        )

    def explicit_function(self, name: str, outputs: list[Symbolic]) -> Symbolic:
        """The same function of outputs that do not depend on implicit unknowns."""
        return ca.Function(name, [self.t, self.x, self.p, self.memory.symbols, self.w], outputs)

    def _newton(self, residual: Symbolic, position: int, size: int, total: int) -> Symbolic:
        """``(z, given) -> z``: the unknowns of a block, with equations and unknowns divided by their sizes."""
        lengths = [
            1, len(self.states), self.p.shape[0], self.memory.symbols.shape[0], total, size, size,
        ]  # fmt: skip
        z, given = ca.SX.sym("z", size), ca.SX.sym("given", sum(lengths))
        bounds = [0]
        for n in lengths:
            bounds.append(bounds[-1] + n)
        *parts, sizes, terms = (given[bounds[i] : bounds[i + 1]] for i in range(len(lengths)))
        others = ca.vertsplit(parts[4])
        parts[4] = ca.vertcat(*others[:position], z * sizes, *others[position + size :])
        # Without it the search along a step that is not finite, as from a singular point, would never end.
        finite = ca.sum1(ca.fabs(z)) <= np.finfo(float).max
        g = ca.if_else(finite, residual(*parts) / terms, 0)
        return ca.rootfinder(
            f"block_{position}", "newton", {"x": z, "p": given, "g": g},
            {"error_on_fail": False, "show_eval_warnings": False, "abstol": RESIDUAL, "abstolStep": STEP, "max_iter": 50},
        )  # fmt: skip

    def start_solver(self, outputs: list[Symbolic]) -> StartSolver:
        """The same unknowns solved block by block outside the graph, for the start of a run."""
        inputs = [self.t, self.p, self.memory.symbols, self.s]
        steps = []
        given = [self.t, self.x, self.p, self.memory.symbols, self.s]
        for block, position, _ in self.solvers:
            untorn = None
            if block.kind == "linear":
                matrix, vector = self.enlarged[position](*given)
                function = ca.Function("start_block", inputs, [matrix, ca.densify(vector)])
            else:
                own = self.s[position : position + len(block.implicit)]
                outputs_of = self._sized(self.translate, block.residuals, own)
                function = ca.Function("start_block", inputs, outputs_of)
                if block.inner:
                    untorn = partial(self._untorn, block)
            steps.append(StartStep(block, position, function, untorn))
        homotopy = any(
            side.traits & HOMOTOPY
            for b in self.blocks
            for e in b.equations
            for side in (e.left, e.right)
        )
        return StartSolver(
            steps, len(self.implicit), ca.Function("start", inputs, outputs), homotopy
        )

    def _untorn(self, block: Block) -> Compiled:
        """``(t, p, m, s, z) -> Jacobian, residuals, sizes of their terms``, with all unknowns of a block in ``z``."""
        z = ca.SX.sym("z", len(block.unknowns))
        values = self.translate.values | dict(zip(block.unknowns, ca.vertsplit(z), strict=True))
        translate = Translator(values, self.memory, self.translate.homotopy)
        return ca.Function(
            "untorn_block",
            [self.t, self.p, self.memory.symbols, self.s, z],
            self._sized(translate, block.equations, z),
        )

    def _sized(
        self, translate: Translator, equations: Sequence[FlatEquation], unknowns: Symbolic
    ) -> list[Symbolic]:
        """Jacobian and residuals of equations, and the sizes of their terms."""
        rows = ca.vertcat(*[translate(x.subtract(e.left, e.right)) for e in equations])
        terms = [
            self.size_of_terms(e.left, translate) + self.size_of_terms(e.right, translate)
            for e in equations
        ]
        return [ca.densify(ca.jacobian(rows, unknowns)), ca.densify(rows), ca.vertcat(*terms)]

    def open_residuals(self) -> Symbolic:
        """The residuals of all implicit blocks, one for each implicit unknown, over the symbols of the graph."""
        given = [self.t, self.x, self.p, self.memory.symbols, self.s]
        rows = []
        for block, position, residual in self.solvers:
            if block.kind == "linear":
                matrix, vector = residual(*given)
                rows.append(
                    ca.mtimes(matrix, self.s[position : position + len(block.unknowns)]) - vector
                )
            else:
                rows.append(residual(*given))
        return ca.densify(ca.vertcat(*rows)) if rows else ca.SX(0, 1)

    def _slopes(self) -> Symbolic:
        """The Jacobian of the residuals of all implicit blocks by their unknowns; that of a linear block is its matrix."""
        given = [self.t, self.x, self.p, self.memory.symbols, self.s]
        total = len(self.implicit)
        rows = []
        for block, position, residual in self.solvers:
            own = slice(position, position + len(block.implicit))
            if block.kind == "linear":
                matrix, vector = residual(*given)
                earlier = sparse_jacobian(
                    ca.mtimes(matrix, self.s[own]) - vector, self.s[:position]
                )
                slopes = ca.horzcat(earlier, matrix)
            else:
                slopes = sparse_jacobian(residual(*given), self.s[: own.stop])
            rows.append(ca.horzcat(slopes, ca.SX(len(block.implicit), total - own.stop)))
        return ca.vertcat(*rows) if rows else ca.SX(0, 0)

    def open_form(self, dx: Symbolic) -> Symbolic:
        """``(t, x, p, m, s) -> dx`` and the residuals of all implicit blocks, whose unknowns are ``s``."""
        given = [self.t, self.x, self.p, self.memory.symbols, self.s]
        return ca.Function("open_form", given, [ca.densify(ca.vertcat(dx, self.open_residuals()))])

    def worst_residual(self) -> Symbolic:
        """The largest residual of the nonlinear blocks, each as a share of the size of its terms."""
        worst = ca.SX(0)
        sizes = self.w[2 * len(self.implicit) :]
        for block, position, _ in self.solvers:
            for k, (residual, terms) in enumerate(self._judged(block), position):
                worst = ca.fmax(worst, ca.fabs(residual) / ca.fmax(terms, sizes[k]))
        return worst

    def terms(self) -> Symbolic:
        """The size of the terms of the equation of each implicit unknown, shape ``(n,)``; 0 in linear blocks."""
        sizes = ca.SX.zeros(len(self.implicit))
        for block, position, _ in self.solvers:
            for k, (_, terms) in enumerate(self._judged(block), position):
                sizes[k] = terms
        return sizes

    def _judged(self, block: Block) -> Iterator[tuple[Symbolic, Symbolic]]:
        """Residual and size of the terms for each implicit unknown of a nonlinear block; nothing for a linear one."""
        for e in block.residuals if block.kind != "linear" else ():
            yield (
                self.translate(x.subtract(e.left, e.right)),
                self.size_of_terms(e.left) + self.size_of_terms(e.right),
            )

    def size_of_terms(self, e: Expr, translate: Translator | None = None) -> Symbolic:
        """The sum of the absolute values of the terms of a sum."""
        total, stack = ca.SX(0), [e]
        translate = translate or self.translate
        while stack:
            node = stack.pop()
            if node.op in ("+", "-", "neg"):
                stack.extend(node.args)
            else:
                total = total + ca.fabs(translate(node))
        return total

    def judgement(self) -> Symbolic:
        """``(t, x, p, m, s)`` -> residuals of all implicit equations, sizes of their terms (0 in linear blocks), and the
        Jacobian by ``s``, sparse where there are many."""
        slopes = self._slopes()
        return ca.Function(
            "judgement",
            [self.t, self.x, self.p, self.memory.symbols, self.s],
            [
                self.open_residuals(),
                self.terms(),
                slopes if len(self.implicit) > LARGE else ca.densify(slopes),
            ],
        )

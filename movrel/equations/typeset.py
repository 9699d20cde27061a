"""Expressions and equations as LaTeX mathematics, with the trade's symbols for what is named like them."""

from __future__ import annotations

import re
from dataclasses import dataclass

from movrel.model import expression as x
from movrel.model.expression import Expr

_GREEK = frozenset(
    re.findall(
        r"\w+",
        "alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi pi rho sigma tau upsilon phi chi psi omega "
        "Gamma Delta Theta Lambda Xi Pi Sigma Upsilon Phi Psi Omega",
    )
)
_FUNCTIONS = {
    "sin": r"\sin", "cos": r"\cos", "tan": r"\tan", "asin": r"\arcsin", "acos": r"\arccos", "atan": r"\arctan", "exp": r"\exp",
    "log": r"\ln", "log10": r"\log_{10}", "sinh": r"\sinh", "cosh": r"\cosh", "tanh": r"\tanh", "min": r"\min", "max": r"\max",
}  # fmt: skip
_SIGNS = {
    "<": "<",
    "<=": r"\le",
    ">": ">",
    ">=": r"\ge",
    "==": "=",
    "<>": r"\ne",
    "and": r"\land",
    "or": r"\lor",
}
_LEVEL = {
    "or": 1,
    "and": 2,
    "not": 3,
    "+": 5,
    "-": 5,
    "neg": 5,
    "*": 6,
    "/": 8,
    "^": 7,
} | dict.fromkeys(x.RELATIONS, 4)


def name(text: str, without: str = "", marked: bool = False) -> str:
    """A flat name: the last part as a symbol, the path of its component upright before it.

    ``without`` is a component whose path is left out. A ``marked`` one carries :func:`mark_of` for the screen.
    """
    latex = _name(text, without)
    return rf"\htmlData{{name={mark_of(text)}}}{{{latex}}}" if marked else latex


def mark_of(text: str) -> str:
    """The name of a variable without characters that mean something in mathematics; the same for its rate."""
    rate = re.fullmatch(r"der\((.*)\)", text)
    return re.sub(r"[^\w.]", "-", rate[1] if rate is not None else text)


def _name(text: str, without: str) -> str:
    rate = re.fullmatch(r"der\((.*)\)", text)
    if rate is not None:
        owner, _, last = rate[1].rpartition(".")
        symbol = rf"\dot{{{_symbol(last)}}}"
        return rf"\mathsf{{{_plain(owner)}.}}{symbol}" if owner and owner != without else symbol
    path, _, last = text.rpartition(".")
    symbol = _symbol(last)
    if path and path != without:
        return rf"\mathsf{{{_plain(path)}.}}{symbol}"
    return symbol


def expression(e: Expr, without: str = "", parent: int = 0, marked: bool = False) -> str:
    """The LaTeX of an expression; very large ones are only named. Names can be ``marked``, see :func:`name`."""
    return _Writer(without, marked).expression(e, parent)


def equation(left: Expr, right: Expr, without: str = "", marked: bool = False) -> str:
    """Both sides of an equation."""
    return (
        f"{expression(left, without, marked=marked)} = {expression(right, without, marked=marked)}"
    )


@dataclass(frozen=True, slots=True)
class _Writer:
    """Writes expressions; ``without`` and ``marked`` as for :func:`name`."""

    without: str
    marked: bool

    def name(self, text: str) -> str:
        return name(text, self.without, self.marked)

    def expression(self, e: Expr, parent: int = 0) -> str:
        op = e.op
        if e.size > x.SHOW_LIMIT:
            return rf"\text{{({e.size} operators)}}"
        if op == "const":
            return _constant(e.value)
        if op == "var":
            return self.name(e.variable.name)
        a = e.args
        if op == "/":
            text = rf"\frac{{{self.expression(a[0])}}}{{{self.expression(a[1])}}}"
            return rf"\left({text}\right)" if parent == 7 else text
        if op == "^":
            if a[1].is_const(0.5):
                return rf"\sqrt{{{self.expression(a[0])}}}"
            return f"{{{self.expression(a[0], 7)}}}^{{{self.expression(a[1])}}}"
        if op == "if":
            rows = []
            while e.op == "if":  # a chain of conditions is one list of cases
                rows.append(
                    rf"{self.expression(e.args[1])}&\text{{if }}{self.expression(e.args[0])}"
                )
                e = e.args[2]
            rows.append(rf"{self.expression(e)}&\text{{else}}")
            return r"\begin{cases}" + r"\\".join(rows) + r"\end{cases}"
        if op in ("noevent", "smooth"):
            return self.expression(a[-1] if op == "smooth" else a[0], parent)
        level = _LEVEL.get(op)
        if level is None:
            return self.call(op, a)
        if op == "neg":
            text = "-" + self.expression(a[0], 6)
        elif op == "not":
            text = r"\lnot " + self.expression(a[0], 3)
        elif op == "*":
            left, right = self.expression(a[0], 6), self.expression(a[1], 6)
            text = rf"{left}\cdot {right}" if right[:1].isdigit() else rf"{left}\,{right}"
        else:
            right = self.expression(a[1], level + (op == "-" or op in x.RELATIONS))
            text = f"{self.expression(a[0], level)} {_SIGNS.get(op, op)} {right}"
        return rf"\left({text}\right)" if level < parent or (op == "neg" and parent) else text

    def call(self, op: str, a: tuple[Expr, ...]) -> str:
        inside = r",\;".join(self.expression(arg) for arg in a)
        if op == "der":
            simple = a[0].op == "var"
            if simple:
                return self.name(f"der({a[0].variable.name})")
            return rf"\frac{{\mathrm{{d}}}}{{\mathrm{{d}}t}}\left({inside}\right)"
        if op == "sqrt":
            return rf"\sqrt{{{inside}}}"
        if op == "abs":
            return rf"\left|{inside}\right|"
        if op == "exp":
            return f"e^{{{inside}}}"
        if op == "floor":
            return rf"\left\lfloor {inside}\right\rfloor "
        if op == "ceil":
            return rf"\left\lceil {inside}\right\rceil "
        function = (
            _FUNCTIONS.get(op) or rf"\operatorname{{{_plain({'fires': 'edge'}.get(op, op))}}}"
        )
        return rf"{function}\left({inside}\right)"


def _symbol(text: str) -> str:
    head, _, tail = text.partition("_")
    index = ""
    match = re.fullmatch(r"(\w+?)((?:\[[^\]]*\])+)", tail or head)
    if match is not None:
        index = ",".join(re.findall(r"\[([^\]]*)\]", match[2]))
        head, tail = (match[1], tail) if not tail else (head, match[1])
    numbered = re.fullmatch(r"([A-Za-z]+?)(\d+)", head)
    if numbered is not None:
        head, tail = numbered[1], numbered[2] + (f",{tail}" if tail else "")
    base = (
        rf"\{head}" if head in _GREEK else head if len(head) == 1 else rf"\mathit{{{_plain(head)}}}"
    )
    parts = [
        rf"\mathrm{{{_plain(p)}}}" if p not in _GREEK else rf"\{p}" for p in tail.split("_") if p
    ] + ([_plain(index)] if index else [])
    return f"{base}_{{{','.join(parts)}}}" if parts else base


def _plain(text: str) -> str:
    return re.sub(r"([_%#&$])", r"\\\1", text)


def _constant(value: object) -> str:
    if isinstance(value, bool):
        return r"\mathrm{true}" if value else r"\mathrm{false}"
    if isinstance(value, str):
        return rf"\text{{{_plain(value)}}}"
    text = f"{value:.6g}" if isinstance(value, float) else str(value)
    mantissa, _, exponent = text.partition("e")
    return rf"{mantissa}\cdot 10^{{{int(exponent)}}}" if exponent else text

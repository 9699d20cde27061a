"""Equations as mathematics, and the balance of a component by itself."""

from __future__ import annotations

import pytest

import movrel
from movrel.equations import typeset
from movrel.equations.balance import balance
from movrel.equations.listing import listing


def latex(equation: str) -> str:
    text = f"model M\n  Real x, y, alpha, q_in, t2;\n  M2 part;\nequation\n  {equation};\nend M;\nmodel M2 Real p_a; end M2;"
    flat = movrel.load(text=text, model="M").flat
    e = flat.equations[0]
    return typeset.equation(*(e.original or (e.left, e.right)))


@pytest.mark.parametrize(
    ("written", "expected"),
    [
        ("der(x) = -x/2", r"\dot{x} = -\frac{x}{2}"),
        ("y = sqrt(alpha)*exp(-x)^2", r"y = \sqrt{\alpha}\,{e^{-x}}^{2}"),
        ("y = (x + 1)*(x - 1)", r"y = \left(x + 1\right)\,\left(x - 1\right)"),
        ("y = x - (alpha - 2)", r"y = x - \left(\alpha - 2\right)"),
        ("q_in = abs(part.p_a)", r"q_{\mathrm{in}} = \left|\mathsf{part.}p_{\mathrm{a}}\right|"),
        ("t2 = 1.5e-8*y", r"t_{\mathrm{2}} = 1.5\cdot 10^{-8}\,y"),
        ("y = if x > 1 then 1 elseif x > 0 then x else 0", r"y = \begin{cases}1&\text{if }x > 1\\x&\text{if }x > 0\\0&\text{else}\end{cases}"),
        ("y = (x/2)^3", r"y = {\left(\frac{x}{2}\right)}^{3}"),
    ],
)  # fmt: skip
def test_written_as_it_is_typed(written: str, expected: str) -> None:
    assert latex(written) == expected


def test_loops_and_discrete_parts_are_marked() -> None:
    text = """model M
  Real x(start=1, fixed=true), y, z;
  discrete Real d(start=0, fixed=true);
equation
  der(x) = -y;
  y + z = x;
  y - sin(z) = 0.1;
  when sample(0, 1) then d = pre(d) + 1; end when;
end M;"""
    found = listing(movrel.load(text=text).system)
    kinds = {name: block for block in found.blocks for name in block.unknowns}
    assert (
        kinds["y"].kind == "nonlinear"
        and kinds["y"].tears
        and kinds["der(x)"].state
        and kinds["d"].discrete
    )
    assert found.counts["states"] == 1 and found.states[0].latex == r"\htmlData{name=x}{x}"


@pytest.mark.parametrize(
    ("equations", "words"),
    [
        ("p.phi = 0;", ""),
        ("", "1 unknown without an equation: p."),
        ("p.phi = 0; p.tau = 1;", "1 equation too many"),
        ("p.tau = -2*der(p.phi); v = der(p.phi); w = v;", "2 equations too many"),
    ],
)
def test_a_component_is_judged_by_itself(equations: str, words: str) -> None:
    text = f"model M\n  Movrel.Rotational.Shaft p;\n  Real v;\nequation\n  v = 1;\n  {equations.replace('w = v;', 'v = 2;')}\nend M;"
    found = balance(movrel.load(text=text).flat, {"p"})
    assert found.words.startswith(words) and bool(found.words) == bool(words)

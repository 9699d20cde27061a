"""The grammar of the whole language, spans, and errors with places."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from movrel.errors import SyntaxFault
from movrel.language import syntax as s
from movrel.language.parser import emit, parse, parse_expression

ROOT = Path(__file__).resolve().parents[2]
FILES = sorted([*ROOT.glob("examples/**/*.mo"), *ROOT.glob("movrel/library/**/*.mo")])

#: Every construct of the grammar once.
EVERYTHING = """within A.B;
final encapsulated package P "doc" + " more"
  import X = A.B; import A.B.*; import A.{b, c}; import Q.R "why";
  extends Base(a = 1, redeclare model M = N(k = 2), break x, break connect(p, q)) annotation(Evaluate = true);
  public
  parameter Real x[3](each start = 1, each fixed = true, y.z = 2) = {1, 2, 3} if cond "c" annotation(Dialog(group = "a"));
  inner outer replaceable Real[2, :] w constrainedby Base(k = 1) "why";
  flow Real f; stream Real h; discrete input Integer k, l = 2;
  redeclare final replaceable model M2 = N constrainedby B;
  protected
  type E = enumeration(one "first", two, three) "counted";
  type Open = enumeration(:);
  type T = input Real[3](unit = "m");
  expandable connector Bus end Bus;
  operator record Complex Real re; end Complex;
  operator function '+' = plus;
  partial block Empty end Empty;
  model extends Inherited(a = 3) Real q; end Inherited;
  function dfdx = der(f, x, y);
  pure function f input Real a; output Real b; external "C" b = g(a, 1) annotation(Include = "x"); end f;
  impure operator function o end o;
  class 'odd name' Real '%'; end 'odd name';
initial equation
  x[1] = 1;
equation
  initial() = true;
  a * der(b) = c - d "said";
  if x > 1 then y = 1; elseif a then z = 2; else w = 3; end if annotation(k = 1);
  when {initial(), a} then reinit(x, 2); elsewhen b then y = pre(y); end when;
  (a, , b) = f(x, y = 3, z = function g(a = 2));
  assert(true, "x");
  for i in 1:3, j loop x[i] = j; end for;
  connect(a.b[1, end], .c.d) annotation(Line(points = {{0, 0}, {1, 1}}));
  x[end] = -a ^ 2 + .5 * b .* c ./ d .^ 2 - 1.e3 .+ 2E-3 .- 0;
  y = (f(x)).z + (f(x))[1];
  y = {i * j for i in 1:n, j in 1:2:9} + sum(i for i in x);
  y = [1, 2; 3, 4] + (if not a or b and c <> d then 1 elseif e >= f then 2 else 3);
initial algorithm
  x := 1;
algorithm
  x[1] := 1; while true loop x := 2; break; end while; return;
  (a, b) := f(1); f(2);
  for i in E loop if a then b := 1; elseif c then d := 2; else e := 3; end if; end for;
  when sample(0, 1) then k := pre(k) + 1; elsewhen t then k := 0; end when;
  annotation(Icon(graphics = {Rectangle(extent = {{-1, -1}, {1, 1}})}));
end P;
"""


def nodes(item: Any) -> Iterator[s.Node]:
    if isinstance(item, s.Node):
        yield item
        for field in dataclasses.fields(item):
            yield from nodes(getattr(item, field.name))
    elif isinstance(item, list | tuple):
        for part in item:
            yield from nodes(part)


EXPRESSIONS = (
    s.Binary,
    s.Unary,
    s.Call,
    s.Array,
    s.Matrix,
    s.IfExpression,
    s.Range,
    s.Tuple,
    s.Selection,
    s.Number,
    s.String,
)


@pytest.mark.parametrize("path", FILES, ids=lambda p: p.name)
def test_every_file_round_trips(path: Path) -> None:
    text = path.read_text()
    assert emit(parse(text, path.name)) == text


@pytest.mark.parametrize(
    "text",
    [EVERYTHING, *(p.read_text() for p in FILES)],
    ids=["everything", *(p.name for p in FILES)],
)
def test_spans_hold_exactly_their_construct(text: str) -> None:
    """The text of each expression, parsed alone, is the same expression again."""
    source = parse(text)
    expressions = [n for n in nodes(source.tree) if isinstance(n, EXPRESSIONS)]
    assert expressions or text.count("=") == 0 or "package" in text or "enumeration(" in text
    for node in expressions:
        piece = source.slice(node)
        assert parse_expression(piece) == node, piece


def test_the_whole_grammar_is_read_with_its_meaning() -> None:
    source = parse(EVERYTHING)
    assert source.tree.within == "A.B"
    package = source.tree.classes[0]
    assert (package.name, package.kind, package.comment) == ("P", "package", "doc more")
    assert package.flags == ("final",) and package.prefixes == ("encapsulated",)
    by_name = {e.name: e for e in package.elements if isinstance(e, s.Component | s.ClassDef)}
    assert by_name["x"].prefixes == ("parameter",) and by_name["x"].condition is not None
    assert (
        by_name["w"].flags == ("inner", "outer", "replaceable")
        and by_name["w"].constraint.type_name == "Base"
    )
    assert by_name["l"].modification.value == s.Number("2")
    assert by_name["E"].protected and by_name["E"].literals[0][0] == "one"
    assert by_name["Open"].literals is None
    assert by_name["dfdx"].derivative_of == ("x", "y")
    assert by_name["f"].external.function == "g"
    assert by_name["Inherited"].form == "extends"
    kinds = [type(e).__name__ for e in package.equations]
    assert (
        kinds.count("Equation") == 7
        and "WhenEquation" in kinds
        and "Connect" in kinds
        and "ForEquation" in kinds
    )
    assert (
        len(package.initial_equations) == 1
        and len(package.initial_algorithms) == 1
        and len(package.algorithms[0]) == 7
    )


def test_operators_bind_as_the_specification_says() -> None:
    assert parse_expression("-a^2") == s.Unary("-", s.Binary("^", ref("a"), s.Number("2")))
    assert parse_expression("a - b - c") == s.Binary(
        "-", s.Binary("-", ref("a"), ref("b")), ref("c")
    )
    assert parse_expression("not a and b or c") == s.Binary(
        "or", s.Binary("and", s.Unary("not", ref("a")), ref("b")), ref("c")
    )
    assert parse_expression("-a*b") == s.Unary("-", s.Binary("*", ref("a"), ref("b")))


def ref(name: str) -> s.Ref:
    return s.Ref((s.RefPart(name),))


@pytest.mark.parametrize(
    ("text", "line", "column", "words"),
    [
        ("model A\n  Real x\n  Real y;\nend A;", 2, 9, "';' is missing"),
        ("model A end B;", 1, 13, "'end B' closes the class 'A'"),
        ("model A equation\n x;\nend A;", 2, 2, "an expression stands alone"),
        ('model A "abc; end A;', 1, 9, "is not closed"),
        ("model A /* end A;", 1, 9, "comment is not closed"),
        ("model A Real x; equation x=(1; end A;", 1, 30, "expected ')'"),
        ("model A Real x = 1", 1, 19, "the text ends"),
        ("model A Real $x; end A;", 1, 14, "has no meaning here"),
        ("model A equation if x then y=1; end A;", 1, 33, "'end if'"),
        ("model model end model;", 1, 7, "unexpected 'model', which is a reserved word"),
        ("model A Real der; end A;", 1, 14, "unexpected 'der', which is a reserved word"),
    ],
)
def test_errors_name_place_and_cure(text: str, line: int, column: int, words: str) -> None:
    with pytest.raises(SyntaxFault) as fault:
        parse(text, "plant.mo")
    assert words in fault.value.sentence()
    assert (fault.value.where.line, fault.value.where.column) == (line, column)
    assert fault.value.sentence().startswith(f"plant.mo:{line}:{column}: ")


def test_deep_nesting_is_refused_with_a_sentence() -> None:
    with pytest.raises(SyntaxFault, match="nested more than"):
        parse_expression("(" * 2000 + "1" + ")" * 2000)


@settings(max_examples=150, deadline=None)
@given(
    st.integers(0, len(EVERYTHING) - 1),
    st.text(alphabet="abAB01 ;=(){}[],.+-*/\"'\n:<>^", max_size=4),
    st.integers(0, 6),
)
def test_damaged_text_gives_a_tree_or_a_sentence(
    position: int, inserted: str, removed: int
) -> None:
    damaged = EVERYTHING[:position] + inserted + EVERYTHING[position + removed :]
    try:
        source = parse(damaged)
    except SyntaxFault as fault:
        assert fault.where is not None and fault.message
    else:
        assert emit(source) == damaged

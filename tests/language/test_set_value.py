"""A new value for a parameter, as text in and text out."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from movrel.errors import EditFault
from movrel.language.parser import parse
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value


def edited(text: str, path: str, value: str, display_unit: str | None = None) -> str:
    source = parse(text)
    result = apply(
        text, set_value(source, source.tree.classes[0], path.split("."), value, display_unit)
    )
    parse(result)
    return result


def body(line: str) -> str:
    return f"model M // note\n  {line} /* kept */\nend M;\n"


@pytest.mark.parametrize(
    ("line", "path", "value", "unit", "expected"),
    [
        ("parameter Real k = 1;", "k", "2", None, "parameter Real k = 2;"),
        ("parameter Real k;", "k", "2", None, "parameter Real k = 2;"),
        ("parameter Real k(min = 0) = 1;", "k", "a*b", None, "parameter Real k(min = 0) = a*b;"),
        ("parameter Real k(min = 0);", "k", "2", None, "parameter Real k(min = 0) = 2;"),
        ("parameter Real k[2] = {1, 2};", "k", "{3, 4}", None, "parameter Real k[2] = {3, 4};"),
        ('Orifice a(d = 0.1) "x";', "a.d", "0.2", None, 'Orifice a(d = 0.2) "x";'),
        ("Orifice a(d=0.1);", "a.d", "0.3", "cm", 'Orifice a(d(displayUnit="cm")=0.3);'),
        (
            'Orifice a(d(displayUnit="cm") = 0.1);',
            "a.d",
            "0.3",
            "mm",
            'Orifice a(d(displayUnit="mm") = 0.3);',
        ),
        (
            "Orifice a(d(min = 0) = 0.1);",
            "a.d",
            "0.3",
            "cm",
            'Orifice a(d(min = 0, displayUnit="cm") = 0.3);',
        ),
        ("Orifice a;", "a.d", "0.3", None, "Orifice a(d = 0.3);"),
        ("Orifice a();", "a.d", "0.3", None, "Orifice a(d = 0.3);"),
        ("Orifice a(c = 1);", "a.d", "0.3", None, "Orifice a(c = 1, d = 0.3);"),
        (
            "Orifice a(\n    b = 1,\n    c = 2);",
            "a.d",
            "3",
            None,
            "Orifice a(\n    b = 1,\n    c = 2,\n    d = 3);",
        ),
        ("Tank a(port(p = 1));", "a.port.p", "2", None, "Tank a(port(p = 2));"),
        ("Tank a(port.p = 1);", "a.port.p", "2", None, "Tank a(port.p = 2);"),
        ("Tank a(port(q = 1));", "a.port.p", "2", None, "Tank a(port(q = 1, p = 2));"),
        ("Tank a;", "a.port.p", "2", "bar", 'Tank a(port(p(displayUnit="bar") = 2));'),
        ("Tank a(each d = 1);", "a.d", "2", None, "Tank a(each d = 2);"),
        ("Tank a[3](x = 1), b(x = 2);", "b.x", "5", None, "Tank a[3](x = 1), b(x = 5);"),
        ("extends Base;", "k", "2", None, "extends Base(k = 2);"),
        ("extends Base(j = 1);", "k", "2", None, "extends Base(j = 1, k = 2);"),
        ("extends Base(k = 1);", "k", "2", None, "extends Base(k = 2);"),
    ],
)
def test_only_the_value_changes(
    line: str, path: str, value: str, unit: str | None, expected: str
) -> None:
    assert edited(body(line), path, value, unit) == body(expected)


def test_a_final_value_is_refused() -> None:
    with pytest.raises(EditFault, match="final"):
        edited(body("Tank a(final d = 1);"), "a.d", "2")


def test_an_unknown_component_is_refused() -> None:
    with pytest.raises(EditFault, match="'b' is not declared"):
        edited(body("Tank a;"), "b.d", "2")


def test_patches_must_not_overlap() -> None:
    with pytest.raises(ValueError, match="overlaps"):
        apply("abcdef", [Patch(0, 3, "x"), Patch(2, 4, "y")])


VALUES = st.floats(allow_nan=False, allow_infinity=False).map(repr)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(["a.d", "a.e", "a.port.p", "k", "b.d"]), VALUES),
        min_size=1,
        max_size=8,
    )
)
def test_many_edits_touch_only_their_values(edits: list[tuple[str, str]]) -> None:
    """Whatever was set last is what the text says, and comments and other lines stay byte for byte."""
    text = "model M // note\n  parameter Real k = 1 /* in between */;\n  Tank a(\n    d = 1, // first\n    e = 2);\n  Tank b;\nend M;\n"
    last: dict[str, str] = {}
    for path, value in edits:
        text = edited(text, path, value)
        last[path] = value
    assert "// note" in text and "/* in between */" in text and "// first" in text
    for path, value in last.items():
        assert edited(text, path, value) == text, "setting what is already set changes nothing"

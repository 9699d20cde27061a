"""Models that are too large are refused before they are made."""

from __future__ import annotations

import pytest

import movrel
from movrel.model.least_size import least_variables
from tests.conftest import EXAMPLES

DOUBLED = "".join(f"model C{k} C{k - 1} a, b; end C{k};" for k in range(1, 31))


def test_thirty_doublings_are_refused_at_once_with_the_component_that_holds_most() -> None:
    text = f"package P model C0 Real x = 1; end C0; {DOUBLED} end P;"
    model = movrel.load(text=text, model="P.C30")
    with pytest.raises(
        movrel.MovrelError, match="'C30' has at least 1073741824 variables"
    ) as fault:
        assert model.flat
    assert "'a' alone has 536870912" in fault.value.sentence()


@pytest.mark.parametrize(
    "line", ["A a[size({1, 2}, 1)];", "A a[10^9] if false;", "replaceable A a[1000000];"]
)
def test_what_may_be_less_counts_nothing(line: str) -> None:
    model = movrel.load(
        text=f"package P model A Real x = 1; end A; model M {line} Real y = 1; end M; end P;",
        model="P.M",
    )
    assert least_variables(model.tree, model.definition) == 1


@pytest.mark.parametrize("name", ["Sump", "WinchDrive", "FourSpeedGearbox"])
def test_no_model_of_the_harbour_has_fewer(name: str) -> None:
    model = movrel.load(EXAMPLES / "VarrowQuay", model=f"VarrowQuay.{name}")
    variables = [v for v in model.flat.variables if not v.name.startswith("der(")]
    assert 0 < least_variables(model.tree, model.definition) <= len(variables)

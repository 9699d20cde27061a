"""State machines drawn by edits, ports that parts have or lack, and what parts say about their values."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from tests.web.test_structure_api import Model

LOCK = """model Lock "a lock gate"
  Real level(start=0, fixed=true);
  Clock tick = Clock(0.1);
  Movrel.Signals.State closed annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Signals.State opening annotation (Placement(transformation(extent={{40,-20},{80,20}})));
  Movrel.Signals.State open annotation (Placement(transformation(extent={{140,-20},{180,20}})));
equation
  der(level) = 1;
  annotation (experiment(StopTime=5));
end Lock;
"""


@pytest.fixture
def lock(client: FlaskClient) -> Model:
    return Model(client, LOCK, "Lock")


def test_a_machine_is_drawn_and_runs(lock: Model) -> None:
    lock.edit("draw arrow", start="closed", end="opening", condition="sample(level, tick) > 1")
    lock.edit(
        "draw arrow", start="opening", end="open", condition="ticksInState() > 9", immediate=False
    )
    assert (
        "  initialState(closed);\n  transition(closed, opening, sample(level, tick) > 1);\n"
        in lock.text
    )
    assert "  transition(opening, open, ticksInState() > 9, immediate=false);\n" in lock.text
    arrows = lock.view["sheet"]["transitions"]
    assert [(a["from"], a["to"], a["number"]) for a in arrows] == [
        ("", "closed", -1),
        ("closed", "opening", 0),
        ("opening", "open", 1),
    ]
    assert all(any(p["domain"] == "state" for p in c["icon"]["ports"]) for c in parts(lock))


def parts(model: Model) -> list[dict]:  # type: ignore[type-arg]
    icons = model.view["sheet"]["icons"]
    return [c | {"icon": icons[c["symbol"]]} for c in model.view["sheet"]["components"]]


def test_an_arrow_is_changed_and_deleted_and_undone(lock: Model) -> None:
    lock.edit("draw arrow", start="closed", end="open", condition="level > 1")
    before = lock.text
    lock.edit(
        "change arrow",
        number=0,
        start="closed",
        end="open",
        condition="level > 2",
        priority="2",
        reset=False,
    )
    assert "transition(closed, open, level > 2, reset=false, priority=2);" in lock.text
    lock.edit("undo")
    assert lock.text == before
    lock.edit("delete arrow", number=0)
    assert "transition" not in lock.text
    lock.edit("undo")
    assert lock.text == before


def test_where_a_machine_begins(lock: Model) -> None:
    lock.edit("draw arrow", start="closed", end="opening", condition="level > 1")
    lock.edit("begin in", name="opening")
    assert lock.text.count("initialState(") == 1 and "initialState(opening);" in lock.text
    lock.edit("begin in", name="open")
    assert "initialState(open);" in lock.text, "a state without arrows is a machine of its own"


@pytest.mark.parametrize(
    "change, told",
    [
        ({"end": "closed"}, "from one state to another"),
        ({"condition": "  "}, "needs a condition"),
        ({"priority": "0"}, "not a whole number from 1"),
        ({"end": "nowhere"}, "nowhere"),
        ({"condition": "level >"}, "Lock.mo"),
    ],
)
def test_an_arrow_that_cannot_be_is_refused_in_words(
    lock: Model, change: dict[str, str], told: str
) -> None:
    before = lock.text
    answer = lock.try_to(
        "draw arrow", **({"start": "closed", "end": "open", "condition": "level > 1"} | change)
    )
    assert answer.status_code == 422 and told in str(answer.json)
    assert lock.text == before


def test_states_are_not_wired(lock: Model) -> None:
    answer = lock.try_to("connect", **{"from": "closed.arrow", "to": "open.arrow"})
    assert answer.status_code == 422 and "joined by arrows" in str(answer.json)
    assert (
        lock.try_to(
            "change arrow", number=7, start="closed", end="open", condition="true"
        ).status_code
        == 422
    )


DAMPED = """model Damped "a damped wheel"
  Movrel.Rotational.Inertia wheel(w_start=5) annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Rotational.Damper damper annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Rotational.Damper other(heated=true) annotation (Placement(transformation(extent={{0,-80},{40,-40}})));
  Movrel.Rotational.HeldShaft frame annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Thermal.HeatCapacity body annotation (Placement(transformation(extent={{0,-160},{40,-120}})));
equation
  connect(wheel.b, damper.a);
  connect(damper.b, frame.a);
  connect(wheel.b, other.a);
  connect(other.b, frame.a);
  annotation (experiment(StopTime=10));
end Damped;
"""


def ports(model: Model, part: str) -> set[str]:
    return {p["name"] for c in parts(model) if c["name"] == part for p in c["icon"]["ports"]}


def test_a_part_has_its_heat_port_when_it_is_chosen(client: FlaskClient) -> None:
    model = Model(client, DAMPED, "Damped")
    assert ports(model, "damper") == {"a", "b"} and ports(model, "other") == {"a", "b", "heat"}
    assert "other.heat" in model.view["problem"]["message"], "what the chosen port lacks is said"
    answer = model.try_to("connect", **{"from": "damper.heat", "to": "body.a"})
    assert answer.status_code == 422
    model.edit("parameter", name="damper.heated", text="true")
    assert ports(model, "damper") == {"a", "b", "heat"}
    model.edit("connect", **{"from": "damper.heat", "to": "body.a"})
    model.edit("connect", **{"from": "other.heat", "to": "body.a"})
    assert model.view["problem"] is None


def test_data_that_contradict_each_other_are_told_in_the_ledger(client: FlaskClient) -> None:
    model = Model(
        client,
        """model Motor
  Movrel.Electrical.PermanentMagnetMotor motor(data=Movrel.Electrical.MotorData.rated_point, w_0=450, w_n=400, tau_n=0.2, I_n=4.5, P_n=120);
end Motor;
""",
        "Motor",
    )
    told = [d for d in model.view["doubts"] if d["level"] == "warning"]
    assert (
        told
        and {d["component"] for d in told} == {"motor"}
        and any("power does not fit" in d["message"] for d in told)
    )
    model.edit("parameter", name="motor.w_n", text="9000")
    assert any(
        "below the no-load speed" in d["message"] and d["level"] == "error"
        for d in model.view["doubts"]
    )


REACTOR = """model Batch "one reaction"
  parameter Real k(unit="1/s") = 2e-3;
  Movrel.Process.Mixtures.StirredReactor reactor(n=2, r=1, nu=[-1, 1], c_start={100, 0});
  annotation (experiment(StopTime=1000));
end Batch;
"""


def test_a_rate_law_is_typed_as_text(client: FlaskClient) -> None:
    model = Model(client, REACTOR, "Batch")
    row = {r["name"]: r for r in model.view["rows"]}["reactor.law"]
    assert row["type"] == "law" and not row["enabled"] and row["section"] == "Rate law"
    model.edit("parameter", name="reactor.own_law", text="true")
    model.edit("parameter", name="reactor.law", text="{k*reactor.c[1]*reactor.c[2]}")
    row = {r["name"]: r for r in model.view["rows"]}["reactor.law"]
    assert (
        row["enabled"] and row["modified"] and row["expression"] == "{k*reactor.c[1]*reactor.c[2]}"
    )
    assert "law={k*reactor.c[1]*reactor.c[2]}" in model.text.replace(" ", "")
    model.refused("parameter", "nothing", name="reactor.law", text="{nothing*reactor.c[1]}")
    model.refused("parameter", "not an expression", name="reactor.law", text="{k*")
    model.refused("parameter", "has 2 elements", name="reactor.law", text="{k, k}")
    model.edit("reset", name="reactor.law")
    assert "law={" not in model.text.replace(" ", "")

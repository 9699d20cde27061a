"""Structure, figures, notes, own components, history and projects over HTTP."""

from __future__ import annotations

import io
import random
import zipfile
from typing import Any

import pytest
from flask.testing import FlaskClient

PLANT = """model Plant "a plant"
  // keep me
  parameter Real A(unit="m2") = 2 "area";
  Movrel.Signals.Constant rain(value = 0.05) annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  Movrel.Process.Inflow inflow annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Process.Basin basin(area = A) annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Process.Orifice outlet annotation (Placement(transformation(extent={{60,-20},{100,20}})));
equation
  connect(rain.y, inflow.q);
  connect(inflow.port, basin.inlet);
  connect(basin.outlet, outlet.a);
  annotation (experiment(StopTime=10));
end Plant;
"""


class Model:
    """A model that is edited step by step, always against its newest revision."""

    def __init__(self, client: FlaskClient, text: str = PLANT, name: str = "Plant") -> None:
        self.client, self.name = client, name
        self.project = client.post("/api/projects", json={"name": "Quay"}).json["id"]
        assert (
            client.post(
                f"/api/projects/{self.project}/files", json={"path": f"{name}.mo", "text": text}
            ).status_code
            == 200
        )
        self.view: dict[str, Any] = self.get("")

    @property
    def address(self) -> str:
        return f"/api/projects/{self.project}/models/{self.name}"

    def get(self, what: str) -> Any:
        return self.client.get(f"{self.address}{what}").json

    def post(self, what: str, **body: Any) -> Any:
        return self.client.post(f"{self.address}{what}", json=body)

    def try_to(self, do: str, **edit: Any) -> Any:
        return self.post("/edits", revision=self.view["revision"], edit={"do": do, **edit})

    def edit(self, do: str, **edit: Any) -> dict[str, Any]:
        answer = self.try_to(do, **edit)
        assert answer.status_code == 200, answer.json
        self.view = answer.json
        return self.view

    @property
    def text(self) -> str:
        return str(self.get("/text")["text"])

    def refused(self, do: str, words: str, **edit: Any) -> None:
        before = self.text
        answer = self.try_to(do, **edit)
        assert answer.status_code == 422 and words in answer.json["message"], answer.json
        assert self.text == before


@pytest.fixture
def plant(client: FlaskClient) -> Model:
    return Model(client)


def test_groups_move_with_the_bends_between_them(plant: Model) -> None:
    plant.edit(
        "bend",
        **{
            "from": "basin.outlet",
            "to": "outlet.a",
            "points": [[40, -16], [50, -16], [50, 0], [60, 0]],
        },
    )
    wire = next(c for c in plant.view["sheet"]["connections"] if c["from"] == "basin.outlet")
    assert wire["bent"] and [50, -16] in wire["points"]
    places = [
        {"name": "basin", "extent": [0, 80, 40, 120]},
        {"name": "outlet", "extent": [60, 80, 100, 120]},
    ]
    plant.edit("move", places=places)
    assert "points={{40,84},{50,84},{50,100},{60,100}}" in plant.text
    plant.edit("move", places=places[:1], what="arranged the sheet", straighten=True)
    assert "points" not in plant.text and plant.view["summary"] == "arranged the sheet"


def test_a_part_is_put_into_a_wire(plant: Model) -> None:
    plant.edit(
        "insert",
        **{
            "class": "Movrel.Signals.Gain",
            "x": -70,
            "y": 0,
            "into": {"from": "rain.y", "to": "inflow.q"},
        },
    )
    assert plant.view["inserted"] == ["gain"]
    text = plant.text
    assert (
        "connect(rain.y, gain.u);" in text
        and "connect(gain.y, inflow.q);" in text
        and "connect(rain.y, inflow.q)" not in text
    )
    plant.refused(
        "insert",
        "no two ports that fit",
        **{
            "class": "Movrel.Signals.Constant",
            "x": 0,
            "y": 0,
            "into": {"from": "rain.y", "to": "gain.u"},
        },
    )


def test_an_array_port_asks_for_its_element(client: FlaskClient) -> None:
    text = "model Mix\n  Movrel.Signals.SignalIn u[3];\n  Movrel.Signals.SignalOut y;\nequation\n  y = sum(u);\nend Mix;\n\nmodel Plant\n  Mix mix;\n  Movrel.Signals.Constant c;\nend Plant;\n"
    plant = Model(client, text)
    assert plant.view["sheet"]["icons"]["Mix"]["ports"][0]["array"] == "3"
    plant.refused("connect", "say which one", **{"from": "c.y", "to": "mix.u"})
    plant.edit("connect", **{"from": "c.y", "to": "mix.u[2]"})
    assert (
        "connect(c.y, mix.u[2]);" in plant.text
        and len(plant.view["sheet"]["connections"][0]["points"]) > 1
    )
    plant.edit("delete", wires=[{"from": "c.y", "to": "mix.u[2]"}])
    assert "connect(" not in plant.text


def test_assembly_in_and_out(plant: Model) -> None:
    plant.edit("assemble", parts=["basin", "outlet"], name="water store")
    assert plant.view["inserted"] == ["waterStore"] and plant.view["problem"] is None
    inner = plant.client.get(f"{plant.address}.WaterStore").json
    assert inner["inside"] == ["Plant"] and {c["name"] for c in inner["sheet"]["components"]} == {
        "basin",
        "outlet",
        "inlet",
    }
    assert [
        c["port"] is not None for c in inner["sheet"]["components"] if c["name"] == "inlet"
    ] == [True]
    tree = plant.get("/hierarchy")
    assert [b["name"] for b in tree["parts"] if b["opens"]] == ["waterStore"]
    plant.edit("dissolve", name="waterStore")
    assert set(plant.view["inserted"]) == {"basin", "outlet"} and "WaterStore" not in plant.text
    for _ in range(2):
        plant.edit("undo")
    assert plant.text == PLANT


def test_exposed_parameters_and_resets(plant: Model) -> None:
    plant.edit("expose", parameter="outlet.diameter", name="", description="", group="")
    row = next(r for r in plant.view["rows"] if r["name"] == "outlet.diameter")
    assert row["expression"] == "diameter" and row["modified"]
    plant.edit("parameter", name="diameter", text="20 cm")
    assert next(r for r in plant.view["rows"] if r["name"] == "diameter")["shown"] == pytest.approx(
        20
    )
    plant.edit("hide", name="diameter")
    assert "outlet(diameter = 0.2)" in plant.text
    plant.edit("reset", name="outlet.diameter")
    assert "outlet annotation" in plant.text
    plant.refused("reset", "default already", name="outlet.diameter")


def test_start_values_are_rows(client: FlaskClient) -> None:
    plant = Model(
        client,
        'model Plant\n  Real x(start=1, unit="m");\nequation\n  der(x) = -x/10;\nend Plant;\n',
    )
    row = next(r for r in plant.view["rows"] if r["name"] == "x.start")
    assert (row["group"], row["shown"], row["fixed"]) == ("start", 1, False)
    plant.edit("parameter", name="x.start", text="30 cm")
    plant.edit("parameter", name="x.start", text="fixed")
    row = next(r for r in plant.view["rows"] if r["name"] == "x.start")
    assert (row["value"], row["shown"], row["shown_unit"], row["fixed"]) == (0.3, 30, "cm", True)
    plant.refused("parameter", "a mass", name="x.start", text="3 kg")


DIALOG = """model Valve
  type Kind = enumeration(linear, equal);
  parameter Kind kind = Kind.linear "Characteristic" annotation (Dialog(group="Shape"));
  parameter Boolean leaks = false "Does it leak?" annotation (Dialog(group="Losses", tab="More"));
  parameter Real leak(min=0, max=1) = 0.01 annotation (Dialog(group="Losses", tab="More", enable=leaks and kind == Kind.linear or leaks));
  Real y = leak;
end Valve;
model Plant
  Valve v;
end Plant;
"""


def test_dialog_annotations_shape_the_rows(client: FlaskClient) -> None:
    plant = Model(client, DIALOG)
    rows = {r["label"]: r for r in plant.view["rows"]}
    assert (
        rows["kind"]["choices"] == ["linear", "equal"]
        and rows["kind"]["value"] == "linear"
        and rows["kind"]["section"] == "Shape"
    )
    assert (
        rows["leaks"]["choices"] == ["false", "true"]
        and rows["leak"]["tab"] == "More"
        and not rows["leak"]["enabled"]
    )
    assert (rows["leak"]["minimum"], rows["leak"]["maximum"]) == (0, 1)
    plant.edit("parameter", name="v.kind", text="equal")
    assert "kind = Valve.Kind.equal" in plant.text
    plant.edit("parameter", name="v.leaks", text="true")
    assert next(r for r in plant.view["rows"] if r["label"] == "leak")["enabled"]


def test_figures_as_a_table(plant: Model) -> None:
    plant.edit(
        "figures",
        text="name\tvalue\tunit\tnote\nD\t150\tmm\tbore\nq\t2,5\tl/s\t\nA_o\tD^2*3/4\tm2\tits area\n",
    )
    rows = {r["name"]: r for r in plant.get("/figures")["figures"]}
    assert (rows["D"]["expression"], rows["D"]["unit"], rows["D"]["value"], rows["D"]["note"]) == (
        "150",
        "mm",
        0.15,
        "bore",
    )
    assert rows["q"]["value"] == pytest.approx(0.0025) and rows["A_o"]["value"] == pytest.approx(
        0.016875
    )
    plant.edit("parameter", name="outlet.diameter", text="D")
    plant.edit("figure", old="D", name="bore", expression="20", unit="cm", note="wider")
    assert "outlet(diameter = bore)" in plant.text and "bore^2*3/4" in plant.text
    assert next(r for r in plant.view["rows"] if r["name"] == "outlet.diameter")["value"] == 0.2
    plant.refused("delete figure", "used in line", name="bore")
    plant.edit("figure", name="x", expression="y_1")
    plant.edit("figure", name="y_1", expression="2*x")
    faults = {r["name"]: r["fault"] for r in plant.get("/figures")["figures"]}
    assert "depends on itself: x → y_1 → x" in faults["x"] and plant.view["problem"] is not None
    assert {r["name"]: r["value"] for r in plant.get("/figures")["figures"]}["bore"] == 0.2
    plant.edit("undo")
    table = plant.client.get(f"{plant.address}/figures.csv").text
    assert (
        table.splitlines()[0] == "name,expression,unit,note,value"
        and "bore,20,cm,wider,0.2" in table
    )
    assert {r["name"]: r["fault"] for r in plant.get("/figures")["figures"]}[
        "x"
    ] == "'y_1' is not known"


@pytest.mark.parametrize(
    ("text", "words"),
    [("", "nothing to paste"), ("a", "line 1: it gives no name a value"), ("2a,3", "cannot be a name"), ("a\t3 +", "neither a number"), ("a\t3\tfurlong", "not a known unit")],
)  # fmt: skip
def test_tables_that_cannot_be_read(plant: Model, text: str, words: str) -> None:
    plant.refused("figures", words, text=text)


def test_notes_symbols_and_words(plant: Model) -> None:
    plant.edit("note", text='Steady level: $h = q^2$ "about"', x=10, y=20)
    note = plant.view["sheet"]["graphics"][0]
    assert note["textString"] == 'Steady level: $h = q^2$ "about"' and note["index"] == 0
    plant.edit("change note", index=0, text="two\nlines", x=0, y=0)
    assert plant.view["sheet"]["graphics"][0]["textString"] == "two\nlines"
    plant.edit("change note", index=0, text=None, x=0, y=0)
    assert plant.view["sheet"]["graphics"] == []
    plant.edit("describe", text="What the plant is")
    plant.edit("document", text="<p>Balance: $q = A v$</p>")
    assert plant.get("/documentation") == {
        "description": "What the plant is",
        "info": "<p>Balance: $q = A v$</p>",
    }
    plant.edit(
        "symbol",
        shapes=[
            {"is": "Rectangle", "points": [[-100, 100], [100, -100]], "filled": True},
            {"is": "Text", "points": [[-90, 30], [90, -30]], "text": "%name"},
        ],
    )
    assert [s["is"] for s in plant.view["symbol"]["graphics"]] == ["Rectangle", "Text"]
    plant.refused("note", "empty", text="  ", x=0, y=0)
    plant.refused("change note", "not there any more", index=9, text="x", x=0, y=0)


COMPONENT = 'model Own "of mine"\n  parameter Real k = 2;\n  Movrel.Signals.SignalIn u;\n  Movrel.Signals.SignalOut y;\nequation\n  y = k*u;\nend Own;'


def test_components_are_checked_while_they_are_written(plant: Model) -> None:
    good = plant.post("/component", text=COMPONENT).json
    assert (
        good["balance"] == ""
        and [p["name"] for p in good["ports"]] == ["u", "y"]
        and good["equations"][0]["latex"] == "y = k\\,u"
    )
    open_ = plant.post(
        "/component", text=COMPONENT.replace("equation", '  Real T(unit="K");\n  Real q;\nequation')
    ).json
    assert open_["balance"] == "2 unknowns without an equation: T, q"
    much = plant.post("/component", text=COMPONENT.replace("y = k*u;", "y = k*u;\n  y = u;")).json
    assert much["balance"].startswith("1 equation too many")
    unknown = plant.post("/component", text=COMPONENT.replace("k*u", "kk*u")).json
    assert "'kk'" in unknown["faults"][0]["message"] and unknown["faults"][0]["where"]["line"] == 6
    syntax = plant.post("/component", text=COMPONENT.replace("k*u;", "k*u")).json
    assert (
        "';' is missing" in syntax["faults"][0]["message"]
        and syntax["faults"][0]["where"]["line"] == 6
    )
    units = plant.post(
        "/component",
        text=COMPONENT.replace("k = 2", 'k(unit="m") = 2')
        .replace("SignalIn u;", 'SignalIn u(unit="m");')
        .replace("SignalOut y", 'SignalOut y(unit="s")'),
    ).json
    assert units["warnings"] and units["warnings"][0].startswith("line 6: units do not agree")
    physical = plant.post(
        "/component",
        text="model Own\n  Movrel.Rotational.Shaft a, b;\nequation\n  a.phi = b.phi;\n  a.tau + b.tau = 0;\nend Own;",
    ).json
    assert (
        physical["balance"] == ""
        and "4 unknowns, 4 equations, 2 of them through ports" in physical["counts"]
    )


def test_components_are_kept_and_changed(plant: Model) -> None:
    plant.edit("component", text=COMPONENT, x=0, y=100)
    assert plant.view["inserted"] == ["own"] and "Own own annotation" in plant.text
    text = plant.get("/class?name=Plant.Own")["text"]
    assert text.strip().rstrip(";") == COMPONENT.rstrip(";")
    plant.edit("component", text=text.replace("k = 2", "k = 5"), replaces="Own")
    assert "k = 5" in plant.text and plant.view["summary"] == "changed the equations of Own"
    plant.refused("component", "already has", text=COMPONENT)
    plant.refused(
        "component", "must keep its name", text=COMPONENT.replace("Own", "Other"), replaces="Own"
    )


def test_code_becomes_a_component(plant: Model) -> None:
    code = {
        "name": "Switch",
        "source": "y = high if u > 0.5 else 0\n",
        "inputs": ["u"],
        "outputs": ["y"],
        "memory": {},
        "period": "100 ms",
        "description": "d",
        "parameters": {"high": "50 mV", "factor": "2*pi"},
        "units": {"u": "m/s"},
    }
    text = plant.client.post("/api/code", json=code).json["text"]
    assert 'parameter Real high(unit="V", displayUnit="mV") = 0.05;' in text
    assert 'Movrel.Signals.SignalIn u(unit="m/s");' in text
    plant.edit("component", text=text)
    assert plant.view["inserted"] == ["switch"]
    again = plant.get("/class?name=Plant.Switch")["code"]
    assert again | {"period": "100 ms"} == code and again["period"] == "0.1 s"
    for change, words in (
        ({"source": "high = 3\ny = 1"}, "the parameter 'high' cannot be set"),
        ({"units": {"u": "km/h"}}, "count in SI units: m/s"),
        ({"parameters": {"high": ""}}, "the parameter 'high' has no value"),
        ({"parameters": {"y": "3"}}, "'y' is declared twice"),
    ):
        answer = plant.client.post("/api/code", json=code | change)
        assert answer.status_code == 422, change
        assert words in answer.json["message"] + answer.json["hint"], answer.json
    refused = plant.client.post("/api/code", json=code | {"source": "import os"})
    assert (
        refused.status_code == 422
        and "an import is not allowed" in refused.json["message"]
        and refused.json["where"]["line"] == 1
    )


def test_swapping_with_a_plan(plant: Model) -> None:
    plan = plant.post("/swap", **{"part": "outlet", "class": "Movrel.Process.Outfall"}).json
    assert (
        plan["ports"] == {"a": "port"} and plan["choices"] == {"a": ["port"]} and plan["lost"] == []
    )
    plant.edit(
        "swap", **{"name": "outlet", "class": "Movrel.Process.Outfall", "ports": plan["ports"]}
    )
    assert "connect(basin.outlet, outlet.port);" in plant.text


def test_the_clipboard_goes_to_another_project(client: FlaskClient, plant: Model) -> None:
    plant.edit("assemble", parts=["basin", "outlet"], name="Store")
    text = plant.post("/clipboard", parts=["store"]).json["text"]
    other = Model(client, "model Plant\nend Plant;\n")
    other.edit("paste", text=text, x=0, y=0)
    assert other.view["inserted"] == ["store"] and "model Store" in other.text
    other.edit("duplicate", parts=["store"], dx=100, dy=0)
    assert other.view["inserted"] == ["store2"]
    other.refused("paste", "not Modelica text", text="what is this?")


def test_history_in_words_compared_named_and_restored(plant: Model) -> None:
    plant.edit("parameter", name="outlet.diameter", text="0.2")
    first = plant.view["revision"]
    plant.edit("insert", **{"class": "Movrel.Process.Outfall", "x": 150, "y": 0})
    plant.edit("undo")
    plant.edit("connect", **{"from": "outlet.b", "to": "basin.outlet"})
    entries = plant.get("/revisions")["revisions"]
    words = [e["summary"] for e in entries]
    assert (
        words[0] == "connected outlet.b and basin.outlet"
        and words[2].startswith("diameter of outlet")
        and words[2].endswith("→ 0.2 m")
    )
    assert [e["undone"] for e in entries] == [False, True, False, False] and entries[0]["current"]
    listed = plant.post("/revisions/name", id=first, name="as delivered").json["revisions"]
    assert next(e for e in listed if e["id"] == first)["name"] == "as delivered"
    compared = plant.get(f"/revisions/compare?a={entries[-1]['id']}&b={entries[0]['id']}")
    assert {"what": "wired", "name": "outlet.b – basin.outlet"} in compared["changes"]
    assert any(
        line["kind"] == "added" and "diameter = 0.2" in line["text"] for line in compared["lines"]
    )
    plant.edit("restore", revision=entries[-1]["id"])
    assert plant.text == PLANT and plant.view["summary"].startswith("restored")


def test_two_windows_never_merge_wrongly(plant: Model) -> None:
    stale = plant.view["revision"]
    plant.edit("rename", name="basin", new="sump")
    answer = plant.post(
        "/edits", revision=stale, edit={"do": "delete", "parts": ["outlet"], "wires": []}
    )
    assert answer.status_code == 409 and "renamed basin → sump" in answer.json["message"]
    assert "outlet" in plant.text


def test_text_is_looked_through_while_it_is_typed(plant: Model) -> None:
    assert plant.post("/check", text=PLANT).json["findings"] == []
    wrong = plant.post("/check", text=PLANT.replace("area = A", "area = AA")).json["findings"]
    assert wrong[0]["severity"] == "error" and wrong[0]["line"] == 6
    warned = plant.post("/check", text=PLANT.replace('A(unit="m2")', 'A(unit="m")')).json[
        "findings"
    ]
    assert warned and warned[0]["severity"] == "warning"
    assert (
        plant.client.post("/api/indent", json={"text": "model A\nReal x;\nend A;"}).json["text"]
        == "model A\n  Real x;\nend A;"
    )


def test_equations_are_listed_with_their_origin(plant: Model) -> None:
    listed = plant.get("/equations")
    assert listed["counts"]["states"] == 1 and listed["states"][0]["name"] == "basin.level"
    rows = [(row, block) for block in listed["blocks"] for row in block["rows"]]
    row, block = next((r, b) for r, b in rows if r["determines"] == "der(basin.level)")
    assert (
        block["state"]
        and row["component"] == "basin"
        and row["line"] > 0
        and "\\dot{\\mathit{level}}" in row["latex"]
    )


def test_models_are_copied_moved_deleted_and_found(client: FlaskClient, plant: Model) -> None:
    other = client.post("/api/projects", json={"name": "Other"}).json["id"]
    assert plant.post("/copy", name="Plant2").json == {"project": plant.project, "model": "Plant2"}
    assert plant.post("/copy", name="2x").status_code == 422
    copied = client.get(f"/api/projects/{plant.project}/models/Plant2/text").json["text"]
    assert copied.startswith("model Plant2 ") and copied.rstrip().endswith("end Plant2;")
    assert (
        client.post(
            f"/api/projects/{plant.project}/models/Plant2/move", json={"project": other}
        ).json["project"]
        == other
    )
    found = client.get(f"/api/projects/{plant.project}/search?words=KEEP").json["matches"]
    assert found == [{"file": "Plant.mo", "line": 2, "text": "// keep me", "model": "Plant"}]
    file = plant.post("/delete").json["file"]
    assert client.get(plant.address).status_code == 404
    assert client.post(f"/api/files/{file}/restore").status_code == 200 and plant.text == PLANT


def test_what_others_use_is_not_deleted(client: FlaskClient) -> None:
    plant = Model(client)
    user = "model User\n  Plant p;\nend User;\n"
    client.post(f"/api/projects/{plant.project}/files", json={"path": "User.mo", "text": user})
    answer = plant.post("/delete")
    assert answer.status_code == 422 and "'User' has the part 'p'" in answer.json["message"]


def test_a_project_travels_as_an_archive(client: FlaskClient) -> None:
    made = client.post("/api/examples", json={"example": "VarrowQuay", "name": "Mine"}).json
    packed = client.get(f"/api/projects/{made['id']}/archive").data
    assert "VarrowQuay/Sump.mo" in zipfile.ZipFile(io.BytesIO(packed)).namelist()
    back = client.post("/api/archives/Again", data=packed, content_type="application/zip").json
    assert back["name"] == "Again" and [m["model"] for m in back["models"]] == [
        m["model"] for m in made["models"]
    ]
    for data, words in (
        (b"no zip", "not a ZIP"),
        (_zip({"a.txt": "x"}), "no Modelica"),
        (_zip({"A.mo": "model A"}), "text ends"),
        (_zip({"A.mo": "within B;\nmodel A end A;"}), "does not have"),
    ):
        answer = client.post("/api/archives/Bad", data=data, content_type="application/zip")
        assert answer.status_code == 422 and words in answer.json["message"], answer.json
    assert all(p["name"] != "Bad" for p in client.get("/api/projects").json["projects"])
    assert client.delete(f"/api/projects/{back['id']}").status_code == 200
    assert client.post(f"/api/projects/{back['id']}/restore").json["name"] == "Again"


def _zip(files: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, text in files.items():
            packed.writestr(name, text)
    return out.getvalue()


@pytest.mark.parametrize("seed", range(8))
def test_any_sequence_of_edits_can_be_taken_back(client: FlaskClient, seed: int) -> None:
    """Random edits, then undo to the beginning: the original bytes; redo: the last ones."""
    rng = random.Random(seed)
    plant = Model(client)
    texts = [plant.text]
    classes = [
        "Movrel.Signals.Gain",
        "Movrel.Process.Basin",
        "Movrel.Process.Orifice",
        "Movrel.Signals.Constant",
    ]

    def parts() -> list[str]:
        return [c["name"] for c in plant.view["sheet"]["components"]]

    def ports() -> list[str]:
        icons = plant.view["sheet"]["icons"]
        return [
            f"{c['name']}.{p['name']}"
            for c in plant.view["sheet"]["components"]
            for p in icons[c["class"]]["ports"]
        ]

    for step in range(30):
        some = rng.sample(parts(), min(len(parts()), rng.randint(1, 3))) if parts() else []
        wires = [{"from": c["from"], "to": c["to"]} for c in plant.view["sheet"]["connections"]]
        choices: list[tuple[str, dict[str, Any]]] = [
            (
                "insert",
                {
                    "class": rng.choice(classes),
                    "x": rng.randint(-99, 99),
                    "y": rng.randint(-99, 99),
                },
            ),
            ("note", {"text": f"note {step}", "x": 0, "y": step}),
            ("figure", {"name": f"f{step}", "expression": str(step), "unit": "mm"}),
        ]
        if some:
            choices += [
                (
                    "move",
                    {
                        "places": [
                            {
                                "name": n,
                                "extent": [rng.randint(-200, 200), 0, 300, 40],
                                "rotation": 90,
                            }
                            for n in some
                        ]
                    },
                ),
                ("rename", {"name": some[0], "new": f"p{step}"}),
                ("delete", {"parts": some[:1]}),
                ("duplicate", {"parts": some, "dx": 20, "dy": 20}),
                ("assemble", {"parts": some, "name": f"Group{step}"}),
                ("dissolve", {"name": some[0]}),
                ("swap", {"name": some[0], "class": rng.choice(classes), "ports": {}}),
            ]
        if len(ports()) > 1:
            a, b = rng.sample(ports(), 2)
            choices.append(("connect", {"from": a, "to": b}))
        if wires:
            wire = rng.choice(wires)
            choices += [
                ("bend", wire | {"points": [[0, 0], [step, 0], [step, 9]]}),
                ("delete", {"wires": [wire]}),
                ("insert", {"class": classes[0], "x": 0, "y": 0, "into": wire}),
            ]
        do, edit = rng.choice(choices)
        answer = plant.try_to(do, **edit)
        assert answer.status_code in (200, 422), answer.json
        if answer.status_code == 200:
            plant.view = answer.json
            if plant.text != texts[-1]:
                texts.append(plant.text)
    assert len(texts) > 10
    for text in reversed(texts[:-1]):
        plant.edit("undo")
        assert plant.text == text
    for text in texts[1:]:
        plant.edit("redo")
        assert plant.text == text


def test_what_hangs_loose_is_named(client: FlaskClient) -> None:
    plant = Model(client, "model Plant\nend Plant;\n")
    plant.edit("insert", **{"class": "Movrel.Rotational.Spring", "x": 0, "y": 0})
    assert plant.view["problem"]["message"] == "1 part is not connected: spring."
    plant.edit("insert", **{"class": "Movrel.Signals.Sum", "x": 100, "y": 0})
    assert plant.view["problem"]["message"] == "2 inputs are not connected: sum1.u_1, sum1.u_2."


def test_an_assembly_covers_nothing_that_stays(client: FlaskClient) -> None:
    plant = Model(client)
    plant.edit("assemble", parts=["inflow", "outlet"], name="Ends")
    boxes = {c["name"]: c["extent"] for c in plant.view["sheet"]["components"]}
    x1, y1, x2, y2 = boxes["ends"]
    for name, (a, b, c, d) in boxes.items():
        assert name == "ends" or not (a < x2 and c > x1 and b < y2 and d > y1), name


def test_a_table_is_set_as_a_whole(plant: Model) -> None:
    plant.edit("insert", **{"class": "Movrel.Signals.PointTable", "x": -100, "y": 100})
    name = plant.view["inserted"][0]
    plant.edit("table", name=f"{name}.table", text="t; q\n0\t1.5\n10\t2e-3\n20\t-4\n")
    assert f"{name}(table = [0, 1.5; 10, 2e-3; 20, -4])" in plant.text
    assert plant.view["summary"] == f"table {name}.table → 3 by 2"
    values = {r["name"]: r["value"] for r in plant.view["rows"]}
    assert values[f"{name}.table[3,2]"] == -4 and values[f"{name}.table[3,1]"] == 20
    plant.refused(
        "table", "row 2 has 1 value, the first has 2", name=f"{name}.table", text="1 2\n3"
    )
    plant.refused("table", "there are no rows", name=f"{name}.table", text=" # nothing")
    plant.refused("table", "only", name=f"{name}.table", text="only words")
    plant.refused(
        "table", "row 1 holds a number that is not finite", name=f"{name}.table", text="1 inf"
    )
    plant.refused("table", "has no table", name="outlet.diameter", text="1 2")
    plant.edit("insert", **{"class": "Movrel.Signals.TransferFunction", "x": -100, "y": 200})
    filter_name = plant.view["inserted"][0]
    plant.edit("table", name=f"{filter_name}.a", text="1\n2\n5")
    assert f"{filter_name}(a = {{1, 2, 5}})" in plant.text


def test_a_vector_holds_expressions_names_and_units(plant: Model) -> None:
    plant.edit("insert", **{"class": "Movrel.Signals.TransferFunction", "x": -100, "y": 200})
    name = f"{plant.view['inserted'][0]}.a"

    def set_to(text: str, scenario: str | None = None) -> str:
        if scenario is None:
            plant.edit("table", name=name, text=text)
        else:
            plant.edit("scenario value", scenario=scenario, place=name, text=text)
        return plant.text

    for typed in (
        "{3*outlet.diameter, 1}",
        "3 * outlet.diameter\n1",
        "3*outlet.diameter; 1",
        "3*outlet.diameter 1",
    ):
        assert "a = {3*outlet.diameter, 1}" in set_to(typed).replace(" * ", "*"), typed
    rows = {r["name"]: r for r in plant.view["rows"]}
    assert rows[f"{name}[1]"]["expression"].replace(" ", "") == "3*outlet.diameter"
    assert rows[f"{name}[2]"]["expression"] is None and rows[f"{name}[2]"]["value"] == 1
    assert "a = {1/3, -1}" in set_to("1/3\t-1")
    assert "a = {3, 1}" in set_to("3 1")
    assert "a = linspace(1, 2, 3)" in set_to("linspace(1, 2, 3)")
    rows = {r["name"]: r for r in plant.view["rows"]}
    assert rows[f"{name}[2]"]["whole"] == "linspace(1, 2, 3)" and rows[f"{name}[2]"]["value"] == 1.5
    plant.refused("table", "row 1: '2 +' is neither", name=name, text="2 +\n1")
    plant.refused("table", "row 2 has an empty cell", name=name, text="1,2\n,3")
    plant.edit("add scenario", name="Heavy")
    base = plant.text.count("linspace")
    assert (
        '"{5, outlet.diameter}"' in set_to("5 outlet.diameter", "Heavy")
        and plant.text.count("linspace") == base
    )


def test_computed_values_and_symbols_belong_to_the_scenario(plant: Model) -> None:
    plant.edit("add scenario", name="Wide")
    plant.edit("scenario value", scenario="Wide", place="A", text="3 m2")
    plant.edit("parameter", name="outlet.diameter", text="A*0.1")
    plant.edit("scenario value", scenario="Wide", place="basin.level_start", text="40 cm")
    seen = plant.client.get(f"{plant.address}/scenario?scenario=Wide").json
    values = {row["name"]: (row["value"], row["words"]) for row in seen["rows"]}
    assert values["A"] == (3, "3 m²") and values["basin.area"] == (3, "3 m²")
    assert values["outlet.diameter"] == (pytest.approx(0.3), "0.3 m")
    assert values["basin.level_start"][0] == pytest.approx(0.4)
    assert seen["left_out"] == [] and "rain.value" not in values
    base = plant.client.get(f"{plant.address}/scenario?scenario=base").json
    assert base["rows"] == []
    assert plant.client.get(f"{plant.address}/scenario?scenario=Narrow").status_code == 404


def test_an_input_takes_one_signal(plant: Model) -> None:
    plant.edit("insert", **{"class": "Movrel.Signals.Constant", "x": -100, "y": 100})
    other = plant.view["inserted"][0]
    plant.refused(
        "connect",
        "'inflow.q' has its signal from 'rain.y' already",
        **{"from": f"{other}.y", "to": "inflow.q"},
    )
    plant.refused(
        "connect", "cannot be connected with itself", **{"from": "rain.y", "to": "rain.y"}
    )
    plant.edit("connect", **{"from": "inflow.q", "to": f"{other}.y", "replace": True})
    assert plant.view["summary"] == f"connected inflow.q and {other}.y in the place of rain.y"
    assert "connect(rain.y" not in plant.text and f"connect(inflow.q, {other}.y)" in plant.text
    plant.edit("connect", **{"from": "basin.outlet", "to": "inflow.port"})  # a node takes many

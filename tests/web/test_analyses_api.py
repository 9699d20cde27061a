"""Fits and linear models over HTTP: measurements taken in, ordered, carried out by a worker, stopped, refused."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient

from movrel.jobs.analysing import analyse
from movrel.workspace.tables import Analysis, database
from tests.web.test_structure_api import Model

COOLER = """model Cooler parameter Real C(unit="J/K") = 84e3; parameter Real G(unit="W/K") = 30; parameter Real ambient(unit="K") = 288.15;
Real T(unit="K", displayUnit="degC", start=350, fixed=true); equation C*der(T) = -G*(T - ambient); end Cooler;"""


@pytest.fixture
def cooler(client: FlaskClient) -> Model:
    return Model(client, COOLER, "Cooler")


def measured() -> bytes:
    """A cool-down with G = 42 W/K from 80 °C, with semicolons and decimal commas."""
    t = np.linspace(0, 120, 241)
    clean = 15 + 65 * np.exp(-42 / 84e3 * 60 * t)
    noisy = clean + 0.1 * np.random.default_rng(8).standard_normal(len(t))
    rows = "\n".join(f"{a:.2f};{b:.3f}".replace(".", ",") for a, b in zip(t, noisy, strict=True))
    return f"Zeit [min];Öl [°C]\n{rows}\n".encode()


def carried_out(model: Model, made: object) -> dict[str, object]:
    assert isinstance(made, dict)
    with database.connection_context():
        analyse(made["id"])
    found = model.client.get(f"/api/analyses/{made['id']}").json
    assert isinstance(found, dict)
    return found


def test_measurements_are_prepared_undone_and_fitted_as_they_were_then(cooler: Model) -> None:
    spoilt = measured().decode().splitlines()
    spoilt[101:221:20] = [f"{line.partition(';')[0]};999,0" for line in spoilt[101:221:20]]
    data = "\n".join(spoilt).encode()
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/spoilt.csv", data=data).json
    address = f"/api/data/{kept['file']['id']}/steps"

    def step(do: str, **values: object) -> dict[str, Any]:
        answered = cooler.client.post(address, json={"step": {"do": do, **values}})
        assert answered.status_code == 200, answered.json
        return dict(answered.json)

    seen = step("outliers", column="Öl")
    assert seen["steps"][0]["note"] == "6 of 241 samples count no more."
    seen = step("crop", low=60)
    assert (seen["original"]["rows"], seen["prepared"]["rows"]) == (241, 239)
    assert step("offset", column="Öl", by=-10)["prepared"]["columns"][0]["first"][0] < 70
    undone = cooler.client.post(f"{address}/undo").json
    assert ([s["words"] for s in undone["steps"]][1:], undone["undone"]) == (["only from 60 s"], 1)
    assert len(cooler.client.post(f"{address}/redo").json["steps"]) == 3
    assert cooler.client.post(f"{address}/redo").status_code == 422
    cooler.client.post(f"{address}/undo")
    refused = cooler.client.post(
        address, json={"step": {"do": "offset", "column": "Luft", "by": 1}}
    )
    assert refused.status_code == 422
    assert "step 3, Luft + 1: the table has no column 'Luft'" in refused.json["message"]
    # The prepared column stands on strips in SI units.
    of_project = f"/api/projects/{cooler.project}"
    (column,) = cooler.client.get(f"{of_project}/measured").json["columns"]
    assert (column["name"], column["unit"], column["shown_unit"]) == (
        "Data/spoilt.csv:Öl",
        "K",
        "degC",
    )
    (curve,) = cooler.client.post(
        f"{of_project}/measured-curves",
        json={"names": ["T", column["name"]], "low": 0, "high": 3000},
    ).json["curves"]
    assert curve["time"][0] == 60
    assert max(curve["values"]) == pytest.approx(353, abs=3)
    made = cooler.post(
        "/fits", experiments=[{"file": kept["file"]["path"], "outputs": {"Öl": "T"}}],
        free=[{"name": "G", "low": 5, "start": 30, "high": 200}, {"name": "T.start", "low": 300, "start": 350, "high": 400}],
    ).json  # fmt: skip
    assert [s["do"] for s in made["asked"]["experiments"][0]["steps"]] == ["outliers", "crop"]
    # What is done to the file later does not concern the fit.
    step("crop", low=6000)
    done = carried_out(cooler, made)
    assert done["state"] == "done", done["reason"]
    assert done["result"]["outputs"][0]["time"][0] == 60
    # While it went on, the best so far was to be seen beside what was measured.
    live = done["progress"]["curves"][0]
    assert (live["variable"], live["unit"], live["time"][0]) == ("T", "degC", 60)
    assert len(live["best"]) == len(live["measured"]) and min(live["best"]) > 15
    assert done["result"]["parameters"][0]["value"] == pytest.approx(42, rel=0.01)


def test_a_fit_from_a_file_with_commas(cooler: Model) -> None:
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/cool.csv", data=measured())
    assert kept.status_code == 200, kept.json
    assert [(c["name"], c["unit"]) for c in kept.json["preview"]["prepared"]["columns"]] == [
        ("Öl", "degC")
    ]
    file = kept.json["file"]["path"]
    free = [
        {"name": "G", "low": 5, "start": 30, "high": 200, "scale": "log"},
        {"name": "T.start", "low": 300, "start": 350, "high": 400},
    ]
    experiment = {"file": file, "outputs": {"Öl": "T"}}
    made = cooler.post("/fits", experiments=[experiment], free=free)
    assert made.status_code == 200, made.json
    done = carried_out(cooler, made.json)
    assert done["state"] == "done", done["reason"]
    conductance, start = done["result"]["parameters"]
    assert conductance["low"] < 42 < conductance["high"]
    assert conductance["value"] == pytest.approx(42, rel=0.01)
    assert start["low"] < 353.15 < start["high"]
    (output,) = done["result"]["outputs"]
    assert output["figures_after"]["rmse"] == pytest.approx(0.1, rel=0.15)
    assert output["figures_before"]["rmse"] > 1
    assert output["white"]
    assert (output["unit"], output["error_unit"]) == ("degC", "K")
    assert output["after"][0] == pytest.approx(80, abs=0.3)
    assert len(output["time"]) == len(output["measured"]) == len(output["after"])
    # Only what lies in the chosen range counts; a range beside the data is refused in words.
    late = cooler.post("/fits", experiments=[experiment | {"low": 1e5}], free=free)
    assert "no samples between 100000 s" in carried_out(cooler, late.json)["reason"]
    listed = cooler.get("/analyses")["analyses"]
    assert [a["state"] for a in listed] == ["failed", "done"]
    assert cooler.client.delete(f"/api/analyses/{done['id']}").status_code == 204


def test_a_fit_uses_the_scenario_and_leaves_the_model_alone(cooler: Model) -> None:
    cooler.edit("add scenario", name="warm", like="base")
    cooler.edit("scenario value", scenario="warm", place="ambient", text="298.15")
    file = cooler.client.post(
        f"/api/projects/{cooler.project}/data/cool.csv", data=measured()
    ).json["file"]["path"]
    free = [{"name": "G", "low": 5, "start": 30, "high": 200}]
    found = []
    for scenario in ("warm", "base"):
        made = cooler.post(
            "/fits",
            scenario=scenario,
            experiments=[{"file": file, "outputs": {"Öl": "T"}}],
            free=free,
        )
        found.append(carried_out(cooler, made.json)["result"]["parameters"][0]["value"])
    assert found[0] > found[1] + 3
    assert found[1] == pytest.approx(42, rel=0.06)


def test_weights_and_where_a_search_ends_are_given(cooler: Model) -> None:
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/cool.csv", data=measured()).json
    order = {
        "experiments": [{"file": kept["file"]["path"], "outputs": {"Öl": "T"}}],
        "free": [
            {"name": "G", "low": 5, "start": 30, "high": 200},
            {"name": "T.start", "low": 300, "start": 350, "high": 400},
        ],
    }  # fmt: skip
    limited = carried_out(cooler, cooler.post("/fits", **order, most_runs=3).json)
    assert any("ended after 3 runs" in n for n in limited["result"]["notes"])
    weighed = carried_out(cooler, cooler.post("/fits", **order, deviations={"T": 0.1}).json)
    assert weighed["result"]["parameters"][0]["value"] == pytest.approx(42, rel=0.01)
    figures = weighed["result"]["outputs"][0]["figures_after"]
    assert len(figures["autocorrelation"]) > 10 and figures["bound"] == pytest.approx(
        1.96 / np.sqrt(241), rel=0.01
    )
    wrong = carried_out(cooler, cooler.post("/fits", **order, deviations={"x": 0.1}).json)
    assert wrong["state"] == "failed" and "not compared with" in wrong["reason"]
    assert cooler.post("/fits", **order, deviations={"T": -1}).status_code == 422


def test_a_stopped_fit(cooler: Model) -> None:
    file = cooler.client.post(
        f"/api/projects/{cooler.project}/data/cool.csv", data=measured()
    ).json["file"]["path"]
    free = [{"name": "G", "low": 5, "start": 30, "high": 200}]
    made = cooler.post(
        "/fits", experiments=[{"file": file, "outputs": {"Öl": "T"}}], free=free
    ).json
    cooler.client.post(f"/api/analyses/{made['id']}/stop")
    done = carried_out(cooler, made)
    assert (done["state"], done["reason"]) == ("failed", "Stopped before it began.")


def test_a_linear_model_at_rest_with_a_given_value_beside_the_model_itself(cooler: Model) -> None:
    made = cooler.post(
        "/linear-models", inputs=["ambient"], outputs=["T"], held={"T": "320 K"}, free=["ambient"], amplitudes={"ambient": 5.0}
    )  # fmt: skip
    done = carried_out(cooler, made.json)
    assert done["state"] == "done", done["reason"]
    assert done["result"]["trimmed"] == {"ambient": pytest.approx(320)}
    (pair,) = done["result"]["pairs"]
    large = pair["large"]
    assert large["values"] == pytest.approx([5 * v for v in pair["step"]], abs=1e-3), "it is linear"
    refused = cooler.post("/linear-models", inputs=[], outputs=["T"], held={"T": "warm"}, free=["ambient"])  # fmt: skip
    failed = carried_out(cooler, refused.json)
    assert failed["state"] == "failed" and "'T' is to be 'warm'" in failed["reason"]


def test_a_linear_model(cooler: Model) -> None:
    made = cooler.post("/linear-models", inputs=["ambient"], outputs=["T"])
    done = carried_out(cooler, made.json)
    assert done["state"] == "done", done["reason"]
    (mode,) = done["result"]["modes"]
    assert mode["time_constant"] == pytest.approx(84e3 / 30)
    (pair,) = done["result"]["pairs"]
    assert pair["gain"] == pytest.approx(1)
    assert pair["step"][-1] == pytest.approx(1, abs=1e-3)
    assert pair["size"][0] == pytest.approx(0, abs=0.1)
    assert done["result"]["component"].startswith("block CoolerLinear")
    cooler.edit("component", text=done["result"]["component"], replaces="", x=0, y=0)
    assert pair["locus"]["gains"][0] == 0 and pair["locus"]["real"][0][0] == pytest.approx(
        -30 / 84e3
    )
    # As files of others: C dT/dt = G (ambient - T).
    address = f"/api/analyses/{done['id']}/matrices"
    rows = list(csv.reader(io.StringIO(cooler.client.get(f"{address}.csv").text)))
    assert rows[0] == ["", "T [K]", "ambient [K]"]
    assert (rows[1][0], rows[2][0]) == ("rate of T [K]", "T [K]")
    expected = [-30 / 84e3, 30 / 84e3, 1, 0]
    assert [float(v) for row in rows[1:] for v in row[1:]] == pytest.approx(expected)
    archive = np.load(io.BytesIO(cooler.client.get(f"{address}.npz").data), allow_pickle=False)
    assert archive["A"].tolist() == [[pytest.approx(-30 / 84e3)]]
    assert (archive["B"].shape, archive["states"].tolist()) == ((1, 1), ["T"])
    assert cooler.client.get(f"{address}.json").json["states"] == ["T"]
    assert cooler.client.get(f"{address}.xls").status_code == 422


@pytest.mark.parametrize(
    ("address", "body", "words"),
    [
        ("/fits", {"experiments": [], "free": []}, "nothing is compared"),
        ("/fits", {"experiments": [{"file": "Data/none.csv", "outputs": {"a": "T"}}], "free": [{"name": "G", "low": 1, "start": 2, "high": 3}]}, "no file"),
        ("/linear-models", {"inputs": [], "outputs": []}, "no output"),
        ("/fits", {"experiments": [{"file": "x", "outputs": {}}], "free": [{"name": "G", "low": "NaN", "start": 2, "high": 3}]}, ""),
    ],
)  # fmt: skip
def test_what_cannot_be_asked_is_refused(
    cooler: Model, address: str, body: dict[str, object], words: str
) -> None:
    answer = cooler.post(address, **body)
    assert answer.status_code in (404, 422)
    assert words in answer.json["message"]
    assert Analysis.select().where(Analysis.project == cooler.project).count() == 0


def test_a_step_test_from_a_file(cooler: Model) -> None:
    """20 W/K and 84 kJ/K after a heater step of 500 W: 0.05 K/W, 4200 s; the sheet takes the component."""
    t = np.arange(0.0, 20000.0, 50.0)
    oil = 15 + 25 * np.where(t > 1000, -np.expm1(-(t - 1000) / 4200), 0.0)
    rows = "\n".join(f"{a:g};{0.5 * (a >= 900):g};{b:.4f}" for a, b in zip(t, oil, strict=True))
    data = f"time [s];heater [kW];oil [°C]\n{rows}\n".encode()
    file = cooler.client.post(f"/api/projects/{cooler.project}/data/step.csv", data=data).json[
        "file"
    ]
    made = cooler.post("/step-tests", file=file["path"], input="heater", response="oil")
    assert made.status_code == 200, made.json
    done = carried_out(cooler, made.json)
    assert done["state"] == "done", done["reason"]
    result = done["result"]
    assert (result["input_unit"], result["response_unit"]) == ("W", "K")
    best = result["models"][0]
    assert best["kind"] == "first order"
    assert (best["gain"], best["base"]) == pytest.approx((0.05, 288.15), rel=1e-3)
    assert (best["time_constant"], best["dead_time"]) == pytest.approx((4200, 100), rel=1e-2)
    assert best["settings"]["integral_time"] == pytest.approx(4 * (420 + 100), rel=1e-2)
    cooler.edit("component", text=best["component"], replaces="", x=0, y=0)


def test_a_step_test_without_a_step(cooler: Model) -> None:
    data = b"time;u;y\n" + b"\n".join(b"%d;1;%d" % (k, k) for k in range(20))
    file = cooler.client.post(f"/api/projects/{cooler.project}/data/still.csv", data=data).json[
        "file"
    ]
    order = {"file": file["path"], "input": "u", "response": "y"}
    failed = carried_out(cooler, cooler.post("/step-tests", **order).json)
    assert failed["state"] == "failed"
    assert "the input stays at 1" in str(failed["reason"])
    assert cooler.post("/step-tests", **{**order, "response": "u"}).status_code == 422
    assert cooler.post("/step-tests", **{**order, "file": "Data/none.csv"}).status_code == 404


def test_two_parts_of_one_file_are_two_experiments(cooler: Model) -> None:
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/cool.csv", data=measured()).json
    part = {"file": kept["file"]["path"], "outputs": {"Öl": "T"}}
    made = cooler.post(
        "/fits", experiments=[part | {"high": 3000}, part | {"low": 3600}],
        free=[
            {"name": "G", "low": 5, "start": 30, "high": 200},
            {"name": "T.start", "low": 280, "start": 330, "high": 400, "each": True},
        ],
    ).json  # fmt: skip
    result = carried_out(cooler, made)["result"]
    outputs = {o["experiment"]: o for o in result["outputs"]}
    assert [outputs[name]["time"][0] for name in ("cool.csv", "cool.csv (2)")] == [0, 3600]
    starts = {p["experiment"]: p["value"] for p in result["parameters"][1:]}
    assert starts["cool.csv"] == pytest.approx(353.15, abs=0.2)
    assert starts["cool.csv (2)"] == pytest.approx(288.15 + 65 * np.exp(-1.8), abs=0.2)


def test_more_is_asked_of_a_fit_that_is_done(cooler: Model) -> None:
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/cool.csv", data=measured()).json
    order = {
        "experiments": [{"file": kept["file"]["path"], "outputs": {"Öl": "T"}}],
        "free": [
            {"name": "G", "low": 5, "start": 30, "high": 200, "scale": "log"},
            {"name": "T.start", "low": 300, "start": 350, "high": 400},
        ],
    }  # fmt: skip
    made = cooler.post("/fits", **order).json
    address = f"/api/analyses/{made['id']}"
    early = cooler.client.post(f"{address}/profiles", json={"name": "G"})
    assert early.status_code == 422 and "no fit that is done" in early.json["message"]
    fitted = carried_out(cooler, made)["result"]["parameters"][0]
    ordered = cooler.client.post(f"{address}/profiles", json={"name": "G"}).json
    profile = carried_out(cooler, ordered)["result"]
    # Nearly a straight line: the profile agrees with the interval from the slopes.
    assert [profile["low"], profile["high"]] == [
        pytest.approx(fitted[end], abs=0.05 * (fitted["high"] - fitted["low"]))
        for end in ("low", "high")
    ]
    ordered = cooler.client.post(f"{address}/bootstraps", json={"count": 60}).json
    done = carried_out(cooler, ordered)
    assert done["state"] == "done", done["reason"]
    by_name = {p["name"]: p for p in done["result"]["parameters"]}
    width = fitted["high"] - fitted["low"]
    assert by_name["G"]["high"] - by_name["G"]["low"] == pytest.approx(width, rel=0.4)
    assert 5 < by_name["G"]["low"] < 42 < by_name["G"]["high"] < 200
    assert len(by_name["T.start"]["values"]) == 60
    # What is uncertain about G is carried to the curves: as many runs, spread as G is.
    swept = cooler.client.post(f"{address}/sweeps", json={"count": 400}).json
    assert (swept["count"], swept["sample"], swept["curves"]) == (400, "list", ["T"])
    assert swept["fit"] == made["id"]
    drawn = np.array(swept["varied"][0]["values"])
    assert drawn.std() == pytest.approx(fitted["deviation"], rel=0.1)
    assert np.log(drawn).mean() == pytest.approx(
        np.log(fitted["value"]), abs=fitted["deviation"] / 42 / 5
    )


def test_models_are_ranked_by_the_same_measurements(cooler: Model) -> None:
    """Against the closed form: the truth, a scenario near to it, the model as it is, and one that lacks the variable."""
    other = (
        'model Wall Real T_w(unit="K", start=300, fixed=true); equation der(T_w) = -T_w; end Wall;'
    )
    cooler.client.post(
        f"/api/projects/{cooler.project}/files", json={"path": "Wall.mo", "text": other}
    )
    for name, text in (("windy", "42 W/K"), ("near", "41 W/K")):
        cooler.edit(do="add scenario", name=name, like="base")
        cooler.edit(do="scenario value", scenario=name, place="G", text=text)
    kept = cooler.client.post(f"/api/projects/{cooler.project}/data/cool.csv", data=measured()).json
    order = {
        "experiment": {"file": kept["file"]["path"], "outputs": {"Öl": "T"}},
        "candidates": [
            {"model": "Cooler"}, {"model": "Cooler", "scenario": "near"}, {"model": "Wall"},
            {"model": "Cooler", "scenario": "windy"},
        ],
    }  # fmt: skip
    done = carried_out(cooler, cooler.post("/comparisons", **order, from_samples=True).json)
    assert done["state"] == "done", done["reason"]
    ranking = done["result"]["ranking"]
    assert [r["name"] for r in ranking] == [
        "Cooler, windy",
        "Cooler, near",
        "Cooler, base",
        "Wall, base",
    ]
    assert "no variable 'T'" in ranking[3]["failure"]
    best, base = ranking[0]["figures"][0], ranking[2]["figures"][0]
    assert (best["unit"], base["white"]) == ("K", False)
    assert 0.09 < best["rmse"] < 0.14  # noise of 0.1 K, and that of the first sample
    t = np.linspace(0, 7200, 241)
    start = ranking[2]["starts"]["T.start"]
    assert start == pytest.approx(353.15, abs=0.4)
    off = (start - 288.15) * np.exp(-30 / 84e3 * t) - 65 * np.exp(-42 / 84e3 * t)
    assert base["bias"] == pytest.approx(off.mean(), rel=0.02)
    (output,) = done["result"]["outputs"]
    rival = output["rivals"][0]
    assert rival["accumulated"][-1] == pytest.approx(np.trapezoid(np.abs(off), t), rel=0.02)
    assert rival["predicted"][0] == pytest.approx(start - 273.15)
    # From the model's own start, which is 350 K, all are worse.
    own = carried_out(cooler, cooler.post("/comparisons", **order).json)["result"]["ranking"][0]
    assert own["figures"][0]["rmse"] > best["rmse"] + 0.2
    # The wall takes part once its own name for the temperature is told; it is as cold as nothing from the start on.
    order["candidates"] = [{"model": "Cooler"}, {"model": "Wall", "variables": {"T": "T_w"}}]
    both = carried_out(cooler, cooler.post("/comparisons", **order, from_samples=True).json)["result"]  # fmt: skip
    assert [r["failure"] for r in both["ranking"]] == ["", ""]
    (wall,) = both["ranking"][1]["figures"]
    assert wall["variable"] == "T" and both["ranking"][1]["starts"]["T_w.start"] == pytest.approx(start)  # fmt: skip
    assert [len(o["rivals"]) for o in both["outputs"]] == [2]

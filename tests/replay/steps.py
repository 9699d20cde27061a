"""Every kind of edit, made in turn to a model as its view shows it; what comes out is kept as short hashes.

An edit that is refused counts too: its sentence is part of the record.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from typing import Any

Json = dict[str, Any]
#: Gives the answer to an edit (status, body); to a question (path below the model, body or None).
Edit = Callable[[Json], tuple[int, Any]]
Ask = Callable[[str, Json | None], Any]

#: What the view says beyond the text: numbers of the database, and marks made of them.
PASSING = (
    "marks",
    "meaning",
    "project",
    "project_name",
    "revision",
    "mark",
    "changes",
    "id",
    "created",
    "inserted",
    "last_run",
)
SHAPES = [
    {"is": "Rectangle", "points": [[-80, -60], [80, 60]], "filled": True},
    {"is": "Line", "points": [[-80, 0], [0, 40], [80, 0]]},
    {"is": "Text", "points": [[-80, 20], [80, -20]], "text": "%name"},
]
COMPONENT = """model Spill "Runs over"
  Movrel.Signals.SignalIn u;
  Movrel.Signals.SignalOut y;
  parameter Real k(unit="1/s") = 0.5;
equation
  y = max(u, 0) * k * 1;
end Spill;"""
CODE = {
    "name": "Slow", "source": "memory = 0.9*memory + 0.1*u\ny = memory", "inputs": ["u"], "outputs": ["y"],
    "memory": {"memory": 0.0}, "period": "0.1 s", "description": "Smooths",
}  # fmt: skip


def digest(value: Any) -> str:
    """A short hash that stays the same for equal JSON."""
    return hashlib.sha256(repr(_plain(value)).encode()).hexdigest()[:12]


def _plain(value: Any) -> Any:
    if isinstance(value, dict):
        return sorted((k, _plain(v)) for k, v in value.items() if k not in PASSING)
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return float(value) if isinstance(value, int) and not isinstance(value, bool) else value


def edits(view: Callable[[], Json], ask: Ask) -> Iterator[Json]:
    """The edits, each fitted to the newest view."""
    parts = [c["name"] for c in view()["sheet"]["components"]]
    wires = [{"from": c["from"], "to": c["to"]} for c in view()["sheet"]["connections"]]
    rows = [
        r
        for r in view()["rows"]
        if r["editable"] and r["group"] == "set" and isinstance(r["value"], float)
    ]
    starts = [r for r in view()["rows"] if r["group"] == "start" and r["editable"]]
    tables = list(dict.fromkeys(r["name"].partition("[")[0] for r in rows if "[" in r["name"]))
    first, last = (parts or ["nobody"])[0], (parts or ["nobody"])[-1]
    yield {"do": "setting", "name": "stop", "text": "2 min"}
    yield {"do": "setting", "name": "solver", "text": "radau"}
    yield {"do": "setting", "name": "tolerance", "text": "much"}
    for row in rows[:3]:
        yield {
            "do": "parameter",
            "name": row["name"],
            "text": _typed(row["shown"] * 1.25, row["shown_unit"]),
        }
        yield {"do": "parameter", "name": row["name"], "text": "2*1.5"}
        yield {"do": "parameter", "name": row["name"], "text": "30 kg"}
        yield {"do": "reset", "name": row["name"]}
    for row in [r for r in view()["rows"] if r["editable"] and r["choices"]][:2]:
        yield {"do": "parameter", "name": row["name"], "text": row["choices"][-1]}
    for row in starts[:2]:
        yield {"do": "parameter", "name": row["name"], "text": "0.25"}
        yield {"do": "parameter", "name": row["name"], "text": "guess"}
    for name in tables[:2]:
        yield {"do": "table", "name": name, "text": "1\t2\n3\t4\n5\t6"}
        yield {"do": "table", "name": name, "text": "1 2 3"}
    yield {"do": "insert", "class": "Movrel.Signals.Gain", "x": 0.0, "y": -150.0}
    yield {"do": "insert", "class": "Movrel.Electrical.Resistor", "x": 200.0, "y": -150.0}
    yield {"do": "insert", "class": "Movrel.Nothing", "x": 0.0, "y": 0.0}
    for wire in wires[:2]:
        yield {"do": "bend", **wire, "points": [[10.0, -90.0], [60.0, -90.0]]}
        yield {"do": "bend", **wire, "points": None}
        yield {"do": "insert", "class": "Movrel.Signals.Gain", "x": 40.0, "y": -200.0, "into": wire}
    yield from _connections(view())
    places = [{"name": c["name"], "extent": [v + 20.0 for v in c["extent"]], "rotation": c["rotation"]}
              for c in view()["sheet"]["components"][:3]]  # fmt: skip
    yield {"do": "move", "places": places or [{"name": "nobody", "extent": [0.0, 0.0, 1.0, 1.0]}]}
    yield {"do": "move", "places": [p | {"rotation": p["rotation"] + 90.0} for p in places] or [{"name": "a", "extent": [0] * 4}],
           "what": "turned"}  # fmt: skip
    yield {"do": "move", "places": places or [{"name": "nobody", "extent": [0.0, 0.0, 1.0, 1.0]}], "what": "arranged the sheet",
           "straighten": True}  # fmt: skip
    yield {"do": "rename", "name": last, "new": "renamed_one"}
    last = "renamed_one" if parts else last
    first = last if len(parts) == 1 else first
    yield {"do": "rename", "name": last, "new": "not a name"}
    copied = ask("clipboard", {"parts": parts[:2]}) if len(parts) > 1 else None
    yield {
        "do": "paste",
        "text": copied["text"] if copied and "text" in copied else "nothing",
        "x": 30.0,
        "y": 250.0,
    }
    yield {"do": "duplicate", "parts": [first, last], "dx": 20.0, "dy": -20.0}
    yield {"do": "figure", "name": "D_new", "expression": "30", "unit": "cm", "note": "Diameter"}
    yield {"do": "figure", "name": "A_new", "expression": "D_new^2*0.785", "unit": "m2"}
    yield {
        "do": "figure",
        "old": "D_new",
        "name": "D_newer",
        "expression": "0.4",
        "unit": "m",
        "note": "Other",
    }
    yield {
        "do": "figures",
        "text": "name\tvalue\tunit\tnote\nh_new\t1,5\tm\tHeight\nrho_new\t1000\tkg/m3\t",
    }
    yield {"do": "figures", "text": "h new\t1"}
    yield {"do": "delete figure", "name": "h_new"}
    yield {"do": "note", "text": "Seen by hand\nin two lines", "x": -100.0, "y": 200.0}
    notes = [g["index"] for g in view()["sheet"]["graphics"] if g["is"] == "Text"]
    yield {
        "do": "change note",
        "index": (notes or [0])[-1],
        "text": "Seen again",
        "x": -90.0,
        "y": 190.0,
    }
    yield {"do": "change note", "index": (notes or [0])[-1], "text": None, "x": 0.0, "y": 0.0}
    yield {"do": "describe", "text": "Said  anew"}
    yield {"do": "document", "text": "<p>What it is</p>"}
    yield {"do": "symbol", "shapes": SHAPES}
    ports = [p["name"] for p in view()["symbol"]["ports"]]
    yield {"do": "place port", "name": (ports or ["nothing"])[0], "x": -100.0, "y": 40.0}
    yield {"do": "component", "text": COMPONENT, "x": 0.0, "y": -260.0}
    yield {"do": "component", "text": COMPONENT.replace("* 1", "* 2"), "replaces": "Spill"}
    yield {"do": "component", "text": "model Broken Real x end Broken;"}
    made = ask("code", CODE)
    yield {"do": "component", "text": made.get("text", ""), "x": 80.0, "y": -260.0}
    yield {"do": "insert", "class": "Movrel.Signals.State", "x": -200.0, "y": -300.0}
    yield {"do": "insert", "class": "Movrel.Signals.State", "x": -100.0, "y": -300.0}
    yield from _states(view())
    yield from _scenarios(view(), [r["name"] for r in rows], first)
    yield from _layouts(view())
    yield {"do": "assemble", "parts": [first, last], "name": "group of two", "description": "Both"}
    group = next(
        (c["name"] for c in view()["sheet"]["components"] if c["class"].endswith(".GroupOfTwo")),
        "nobody",
    )
    inner = [
        r["name"]
        for r in view()["rows"]
        if r["name"].startswith(f"{group}.") and r["group"] == "set"
    ]
    yield {
        "do": "expose",
        "parameter": (inner or ["nobody.k"])[0],
        "name": "shown_one",
        "description": "Seen",
        "group": "Main",
    }
    yield {"do": "hide", "name": "shown_one"}
    yield {"do": "dissolve", "name": group}
    for part, cls in _swaps(view()):
        plan = ask("swap", {"part": part, "class": cls})
        yield {"do": "swap", "name": part, "class": cls, "ports": plan.get("ports", {})}
    left = [{"from": c["from"], "to": c["to"]} for c in view()["sheet"]["connections"]]
    yield {"do": "delete", "parts": [], "wires": left[:1]}
    yield {
        "do": "delete",
        "parts": [c["name"] for c in view()["sheet"]["components"]][:1],
        "wires": [],
        "cut": True,
    }
    yield {"do": "delete", "parts": ["nobody"], "wires": []}
    text = ask("text", None)["text"]
    yield {"do": "text", "text": text.replace(";", "; // seen\n", 1)}
    yield {"do": "text", "text": text[: len(text) // 2]}
    yield {"do": "undo"}
    yield {"do": "redo"}


def _typed(value: float, unit: str) -> str:
    return f"{value!r} {unit}" if unit not in ("", "1") else repr(value)


def _connections(view: Json) -> Iterator[Json]:
    """An output to the first free input, two physical ports of one domain, and two that do not fit."""
    icons = view["sheet"]["icons"]
    ports = [
        (f"{c['name']}.{p['name']}", p)
        for c in view["sheet"]["components"]
        for p in icons[c["symbol"]]["ports"]
    ]
    wired = {c[end] for c in view["sheet"]["connections"] for end in ("from", "to")}
    outputs = [n for n, p in ports if p["direction"] == "out" and not p["array"]]
    inputs = [n for n, p in ports if p["direction"] == "in" and not p["array"] and n not in wired]
    physical = [
        n for n, p in ports if not p["direction"] and p["domain"] == "electrical" and n not in wired
    ]
    if outputs and inputs:
        yield {
            "do": "connect",
            "from": outputs[0],
            "to": inputs[0],
            "points": [[0.0, -120.0], [30.0, -120.0]],
        }
    if len(physical) > 1:
        yield {"do": "connect", "from": physical[0], "to": physical[1]}
    if outputs and physical:
        yield {"do": "connect", "from": outputs[0], "to": physical[0]}
    yield {"do": "connect", "from": "nobody.a", "to": "nobody.b"}


def _states(view: Json) -> Iterator[Json]:
    *_, a, b = [
        c["name"] for c in view["sheet"]["components"] if c["class"] == "Movrel.Signals.State"
    ]
    yield {
        "do": "draw arrow",
        "start": a,
        "end": b,
        "condition": "time > 2",
        "priority": "2",
        "immediate": False,
    }
    yield {"do": "draw arrow", "start": b, "end": a, "condition": "time > 3"}
    yield {"do": "draw arrow", "start": a, "end": a, "condition": "true"}
    yield {
        "do": "change arrow",
        "number": 0,
        "start": a,
        "end": b,
        "condition": "time > 4",
        "reset": False,
    }
    yield {"do": "begin in", "name": b}
    yield {"do": "delete arrow", "number": 0}
    yield {"do": "delete", "parts": [a], "wires": []}
    for _ in range(3):
        yield {"do": "undo"}


def _scenarios(view: Json, rows: list[str], part: str) -> Iterator[Json]:
    place = (rows or ["nothing"])[0]
    yield {"do": "add scenario", "name": "heavier", "like": "base"}
    yield {"do": "add scenario", "name": "heavier", "like": "base"}
    yield {"do": "scenario value", "scenario": "heavier", "place": place, "text": "1.75"}
    yield {"do": "scenario value", "scenario": "heavier", "place": place, "text": "3 furlongs"}
    yield {
        "do": "scenario value",
        "scenario": "heavier",
        "place": part,
        "text": "redeclare Movrel.Signals.Nothing",
    }
    yield {"do": "scenario setting", "scenario": "heavier", "name": "stop", "text": "30 s"}
    yield {"do": "add scenario", "name": "like it", "like": "heavier"}
    yield {"do": "scenario value", "scenario": "heavier", "place": place, "text": None}
    yield {
        "do": "alter scenario",
        "name": "like it",
        "new": "alike",
        "colour": 3,
        "note": "As before",
    }
    yield {"do": "paste scenarios", "text": f"place\theavier\tthird\n{place}\t2\t4"}
    names = [r["name"] for r in view["rows"] if r["group"] == "watch" and r["type"] == "Real"]
    watched = (names or ["nothing"])[0]
    yield {"do": "add claim", "text": f"max({watched}) < 1e9"}
    yield {"do": "add claim", "text": "max(nothing) < 1"}
    yield {
        "do": "scenario claim",
        "scenario": "heavier",
        "claim": f"max({watched}) < 1e9",
        "off": True,
    }
    yield {"do": "change claim", "number": 0, "text": f"min({watched}) > -1e9"}
    yield {"do": "change claim", "number": 0, "text": None}
    yield {"do": "delete scenario", "name": "third"}
    yield {"do": "delete scenario", "name": "third"}


def _layouts(view: Json) -> Iterator[Json]:
    names = [r["name"] for r in view["rows"] if r["group"] == "watch" and r["type"] == "Real"][
        :2
    ] or ["nothing"]
    strip = {"names": names[:1], "left": "", "right": "", "logarithmic": False}
    yield {"do": "keep layout", "name": "two", "strips": [strip, strip | {"logarithmic": True}]}
    yield {"do": "keep layout", "name": "", "strips": []}
    yield {"do": "delete layout", "name": "two"}


def _swaps(view: Json) -> Iterator[tuple[str, str]]:
    for c in view["sheet"]["components"]:
        if c["class"] == "Movrel.Signals.Gain":
            yield c["name"], "Movrel.Signals.Lag"
            break
    for c in view["sheet"]["components"]:
        if c["class"] == "Movrel.Electrical.Resistor":
            yield c["name"], "Movrel.Electrical.Inductor"
            break

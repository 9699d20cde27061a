"""How fast the sheet of a large rig moves: 8 units with 38 ports each and 152 signals, as wires and as cables.

Frames are the distances of animation frames in ms while the mouse pans, zooms and drags a unit; a screen of 60 frames a
second shows one each 16.7 ms.

    .venv/bin/python -m benchmarks.rig_page
"""

from __future__ import annotations

import time

from selenium.webdriver.common.by import By

from benchmarks.sheet_speed import Bench, bench_in_browser

UNITS, EACH = 8, 19
#: 60 frames a second, as browsers measure them.
BAR = 1000 / 60 + 0.5


def rig(name: str, cabled: bool) -> str:
    """Units in a ring, each fed by all outputs of the one before."""
    ports, places = [], []
    for i in range(EACH):
        y = 95 - 10 * i
        for letter, kind, x in (("u", "SignalIn", -100), ("y", "SignalOut", 100)):
            extent = f"extent={{{{{x - 5},{y - 5}}},{{{x + 5},{y + 5}}}}}"
            ports.append(
                f"    Movrel.Signals.{kind} {letter}{i} annotation (Placement(transformation({extent})));"
            )
    laws = " ".join(f"der(y{i}) = {i + 1}*(1 + 0.5*u{i} - y{i});" for i in range(EACH))
    wires = []
    for k in range(UNITS):
        x, y = (k % 4) * 300, -(k // 4) * 320
        extent = f"extent={{{{{x},{y}}},{{{x + 120},{y + 200}}}}}"
        places.append(f"  Unit unit{k} annotation (Placement(transformation({extent})));")
        mark = f' annotation (__Movrel(cable="cable {k}"))' if cabled else ""
        wires += [
            f"  connect(unit{k}.y{i}, unit{(k + 1) % UNITS}.u{i}){mark};" for i in range(EACH)
        ]
    head = "\n".join(ports)
    icon = "annotation (Icon(graphics={Rectangle(extent={{-100,100},{100,-100}})}));"
    unit = f"  block Unit\n{head}\n  equation\n    {laws}\n    {icon}\n  end Unit;"
    body = "\n".join([unit, *places, "equation", *wires])
    return f"model {name}\n{body}\n  annotation (experiment(StopTime=5), __Movrel(rig=Rig(step=0.01)));\nend {name};\n"


def moved(bench: Bench, name: str) -> dict[str, float]:
    """Median frames in ms, and the time until all is drawn."""
    driver = bench.driver
    bench.add(name, rig(name, name == "Cabled"))
    address = f"{bench.server.address}/projects/{bench.project}/models/{name}"
    for _ in range(2):  # the first time compiles
        began = time.perf_counter()
        driver.get(address)
        bench.until(f"document.querySelectorAll('.react-flow__edge').length >= {UNITS * EACH}")
        opened = 1000 * (time.perf_counter() - began)
    time.sleep(1.0)
    handles = driver.execute_script(
        "return document.querySelectorAll('.react-flow__handle').length"
    )
    assert handles >= 2 * UNITS * EACH, handles
    measured = {"open": opened}
    measured["pan"] = bench.frames(lambda: bench.wave(210, 110))
    measured["zoom"] = bench.frames(lambda: bench.wheel(545, 300))
    driver.find_element(By.TAG_NAME, "body").send_keys("f")
    time.sleep(0.5)
    spot = driver.execute_script(
        "const b = document.querySelector('[data-testid=\"part-unit5\"]').getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
    )
    measured["drag"] = bench.frames(lambda: bench.wave(*spot))
    return measured


def main() -> None:
    with bench_in_browser() as bench:
        for name in ("Wired", "Cabled"):
            measured = moved(bench, name)
            print(f"{name:8} open {measured['open']:6.0f} ms")
            for what in ("pan", "zoom", "drag"):
                ratio = measured[what] / BAR
                print(f"{name:8} {what:5}{measured[what]:7.1f} ms a frame, {ratio:5.2f} of the bar")


if __name__ == "__main__":
    main()

"""Plants put together from library parts by rule: the same number gives the same plant."""

from __future__ import annotations

import random
from collections.abc import Callable

#: Parts with ports a and b as (class, values); values are drawn between the two numbers, on a logarithmic scale.
Part = tuple[str, dict[str, tuple[float, float]]]

_ELECTRICAL: list[Part] = [
    ("Electrical.Resistor", {"R": (1, 1e4)}),
    ("Electrical.Capacitor", {"C": (1e-6, 1e-3)}),
    ("Electrical.Inductor", {"L": (1e-3, 1)}),
    ("Electrical.Diode", {"I_s": (1e-12, 1e-8)}),
    ("Electrical.IdealDiode", {"R_on": (1e-3, 0.1)}),
    ("Electrical.Zener", {"V_z": (3, 12)}),
    ("Electrical.VoltageSource", {"V": (1, 50)}),
    ("Electrical.CurrentSource", {"I": (0.01, 2)}),
    ("Electrical.AlternatingVoltage", {"V_rms": (5, 50), "f": (10, 100)}),
    ("Electrical.IdealSwitch", {"t_switch": (0.01, 0.05)}),
    ("Electrical.Battery", {"R_0": (0.01, 0.2)}),
]
_ROTATIONAL: list[Part] = [
    ("Rotational.Spring", {"c": (10, 1e4)}),
    ("Rotational.SpringDamper", {"c": (10, 1e4), "d": (0.1, 10)}),
    ("Rotational.Damper", {"d": (0.05, 20)}),
    ("Rotational.Gear", {"i": (0.2, 5)}),
    ("Rotational.GearWithLosses", {"i": (0.5, 5), "eta": (0.8, 0.99)}),
    ("Rotational.Clutch", {"tau_max": (1, 100)}),
    ("Rotational.FreeWheel", {}),
    ("Rotational.Backlash", {"play": (0.01, 0.1), "c": (1e2, 1e4), "d": (1, 10)}),
]
_TRANSLATIONAL: list[Part] = [
    ("Translational.Spring", {"c": (10, 1e4)}),
    ("Translational.SpringDamper", {"c": (10, 1e4), "d": (1, 100)}),
    ("Translational.Damper", {"d": (1, 200)}),
    ("Translational.Backlash", {"play": (0.01, 0.1), "c": (1e2, 1e4), "d": (1, 100)}),
]
_THERMAL: list[Part] = [
    ("Thermal.Conduction", {"G": (0.1, 100)}),
    ("Thermal.Resistance", {"R": (0.01, 10)}),
    ("Thermal.Convection", {"h": (5, 500), "A": (0.01, 1)}),
    ("Thermal.Radiation", {"A": (0.01, 1), "eps": (0.2, 1)}),
    ("Thermal.CylinderWall", {"k": (0.1, 50)}),
]
_LIQUID: list[Part] = [
    ("Process.Pipe", {"l": (1, 100), "d": (0.02, 0.2)}),
    ("Process.CheckValve", {"K_v": (1, 50)}),
    ("Process.InertPipe", {"l": (1, 100), "d": (0.02, 0.2)}),
    ("Process.Valve", {"K_v": (1, 50)}),
]


class Plant:
    """A model text in the making."""

    def __init__(self, number: int) -> None:
        self.random = random.Random(number)
        self.parts: list[str] = []
        self.wires: list[str] = []

    def value(self, low: float, high: float) -> str:
        return f"{low * (high / low) ** self.random.random():.3g}"

    def add(
        self, kind: str, given: dict[str, tuple[float, float]] | None = None, fixed: str = ""
    ) -> str:
        name = f"x{len(self.parts) + 1}"
        values = [f"{k} = {self.value(*bounds)}" for k, bounds in (given or {}).items()]
        inside = ", ".join([*values, *([fixed] if fixed else [])])
        self.parts.append(f"  Movrel.{kind} {name}" + (f"({inside})" if inside else "") + ";")
        return name

    def wire(self, one: str, other: str) -> None:
        self.wires.append(f"  connect({one}, {other});")

    def feed(self, port: str, low: float, high: float) -> None:
        """A signal that steps, swings or stays."""
        kind = self.random.choice(["Step", "Sine", "Constant"])
        if kind == "Step":
            name = self.add("Signals.Step", {"after": (low, high), "delay": (0.1, 0.5)})
        elif kind == "Sine":
            name = self.add("Signals.Sine", {"amplitude": (low, high), "f": (0.5, 3)})
        else:
            name = self.add("Signals.Constant", {"value": (low, high)})
        self.wire(f"{name}.y", port)

    def between(self, nodes: list[str | None], parts: list[Part], extra: int) -> None:
        """Join nodes by a tree of parts and some more; a node is the port that came to it first."""
        pairs = [(k, self.random.randrange(k)) for k in range(1, len(nodes))]
        pairs += [tuple(self.random.sample(range(len(nodes)), 2)) for _ in range(extra)]  # type: ignore[misc]
        for i, j in pairs:
            kind, given = self.random.choice(parts)
            name = self.add(kind, given)
            if kind.endswith("Clutch"):
                self.feed(f"{name}.u", 0.3, 1)
            if kind.endswith("Valve") and "Check" not in kind:
                self.feed(f"{name}.lift", 0.2, 1)
            for node, port in ((i, "a"), (j, "b")):
                if nodes[node] is None:
                    nodes[node] = f"{name}.{port}"
                else:
                    self.wire(str(nodes[node]), f"{name}.{port}")

    def text(self, name: str) -> str:
        return "\n".join([f"model {name}", *self.parts, "equation", *self.wires, f"end {name};"])


def _electrical(plant: Plant) -> None:
    nodes: list[str | None] = [
        f"{plant.add('Electrical.Ground')}.a",
        *[None] * plant.random.randint(2, 4),
    ]
    plant.between(nodes, _ELECTRICAL, plant.random.randint(1, 4))


def _rotational(plant: Plant) -> None:
    nodes: list[str | None] = []
    for _ in range(plant.random.randint(2, 4)):
        nodes.append(
            f"{plant.add('Rotational.Inertia', {'J': (0.01, 10)}, 'w_start = ' + plant.value(0.1, 30))}.a"
        )
    drive = plant.add("Rotational.DrivenTorque")
    plant.feed(f"{drive}.tau", 1, 50)
    plant.wire(f"{drive}.b", str(nodes[0]))
    if plant.random.random() < 0.5:
        brake = plant.add("Rotational.Brake", {"tau_max": (1, 100)})
        plant.feed(f"{brake}.u", 0.2, 1)
        plant.wire(f"{brake}.a", str(nodes[-1]))
    if plant.random.random() < 0.3:
        plant.wire(f"{plant.add('Rotational.DryFriction')}.a", str(nodes[-1]))
    plant.between(nodes, _ROTATIONAL, plant.random.randint(0, 1))


def _translational(plant: Plant) -> None:
    nodes: list[str | None] = [f"{plant.add('Translational.HeldRod')}.a"]
    for _ in range(plant.random.randint(1, 3)):
        nodes.append(f"{plant.add('Translational.Mass', {'m': (0.1, 100)})}.a")
    drive = plant.add("Translational.DrivenForce")
    plant.feed(f"{drive}.f", 1, 100)
    plant.wire(f"{drive}.b", str(nodes[-1]))
    if plant.random.random() < 0.5:
        plant.wire(f"{plant.add('Translational.DryFriction')}.a", str(nodes[-1]))
    plant.between(nodes, _TRANSLATIONAL, plant.random.randint(0, 2))


def _thermal(plant: Plant) -> None:
    nodes: list[str | None] = [f"{plant.add('Thermal.HeldTemperature', {'T': (280, 400)})}.b"]
    for _ in range(plant.random.randint(1, 3)):
        nodes.append(
            f"{plant.add('Thermal.HeatCapacity', {'C': (10, 1e4)}, 'T_start = ' + plant.value(280, 500))}.a"
        )
    nodes += [None] * plant.random.randint(0, 2)
    heat = plant.add("Thermal.DrivenHeat")
    plant.feed(f"{heat}.Q", 10, 1000)
    plant.wire(f"{heat}.b", str(nodes[1]))
    plant.between(nodes, _THERMAL, plant.random.randint(0, 3))


def _liquid(plant: Plant) -> None:
    nodes: list[str | None] = [f"{plant.add('Process.Source', {'p': (1e4, 3e5)})}.port"]
    nodes.append(f"{plant.add('Process.Outfall')}.port")
    for _ in range(plant.random.randint(1, 2)):
        nodes.append(
            f"{plant.add('Process.Basin', {'area': (1, 20)}, 'level_start = 1, height = 1000')}.outlet"
        )
    orifice = plant.add("Process.Orifice", {"diameter": (0.01, 0.1)})
    plant.wire(f"{orifice}.a", str(nodes[2]))
    plant.wire(f"{orifice}.b", str(nodes[1]))
    nodes += [None] * plant.random.randint(0, 2)
    plant.between(nodes, _LIQUID, plant.random.randint(0, 2))


KINDS: dict[str, Callable[[Plant], None]] = {
    "Electrical": _electrical, "Rotational": _rotational, "Translational": _translational, "Thermal": _thermal,
    "Liquid": _liquid,
}  # fmt: skip


def random_plant(number: int) -> tuple[str, str]:
    """Name and text of the plant with a number."""
    kind = list(KINDS)[number % len(KINDS)]
    plant = Plant(number)
    KINDS[kind](plant)
    name = f"{kind}{number}"
    return name, plant.text(name)

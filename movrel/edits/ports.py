"""Which ports can be joined, and why others cannot."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.language import edit_class
from movrel.model.classes import ClassTree
from movrel.sheet.elements import Icon, Port, Sheet
from movrel.sheet.wiring import end_of


@dataclass(frozen=True, slots=True)
class WiredPort:
    """A port on a sheet; ``outside`` when it belongs to the model itself and not to a part."""

    port: Port
    outside: bool = False

    @property
    def seen_from_inside(self) -> str:
        """The direction of a signal; an input of the model itself gives its signal to the parts inside."""
        given = self.port.direction
        return {"in": "out", "out": "in"}[given] if self.outside and given else given


def free_border(symbol: Icon, direction: str) -> tuple[float, float]:
    """A free place on the border of a symbol for a port: at the left for an input, else at the right.

    The middle comes first, then places above and below it in turn.
    """
    x1, y1, x2, y2 = symbol.extent
    x, middle = (x1 if direction == "in" else x2), (y1 + y2) / 2
    used = [(p.extent[1] + p.extent[3]) / 2 for p in symbol.ports if _is_near(p, x)]
    step, reach = 20.0, abs(y2 - y1) / 2
    for k in range(1, 2 * int(reach / step) + 1):
        y = middle + (k // 2) * 2 * step * (1 if k % 2 == 0 else -1)
        if abs(y - middle) <= reach and all(abs(y - other) > step / 2 for other in used):
            return x, y
    return x, middle


def with_place_on_symbol(placement: str, symbol: Icon, direction: str = "") -> str:
    """The Placement of a new port on the sheet, with a free place on the symbol of its model."""
    x, y = free_border(symbol, direction)
    return f"{placement[:-1]}, {edit_class.on_symbol(((x - 10, y - 10), (x + 10, y + 10)))})"


def _is_near(port: Port, x: float) -> bool:
    return abs((port.extent[0] + port.extent[2]) / 2 - x) <= 20


def ports_of(tree: ClassTree, drawn: Sheet) -> dict[str, WiredPort]:
    """Every port on a sheet by the name with which it is wired."""
    ports: dict[str, WiredPort] = {}
    for part in drawn.components:
        definition = tree.find(part.class_name)
        if (
            part.port is not None
            and definition is not None
            and tree.is_kind(definition, "connector")
        ):
            ports[part.name] = WiredPort(part.port, outside=True)
        for port in drawn.icon_of(part).ports:
            ports[f"{part.name}.{port.name}"] = WiredPort(port)
    return ports


def plain(end: str) -> str:
    """The name of a port without the numbers of elements."""
    part, port = end_of(end)
    return f"{part}.{port}" if port else part


def misfit(a: WiredPort | None, b: WiredPort | None, left: str, right: str) -> str:
    """Why two ports cannot be connected, or nothing."""
    for wired, name in ((a, left), (b, right)):
        if wired is None:
            return f"there is no port '{name}'."
    if left == right:
        return "a port cannot be connected with itself."
    assert a is not None and b is not None
    one, other = a.port, b.port
    if one.direction and other.direction:
        if a.seen_from_inside == b.seen_from_inside:
            word = "receive" if a.seen_from_inside == "in" else "give"
            return f"'{left}' and '{right}' both {word} a signal; connect an output with an input."
        return ""
    if one.class_name != other.class_name and (
        one.domain != other.domain or bool(one.direction) != bool(other.direction)
    ):
        return f"'{left}' is {_kind(one)} and '{right}' is {_kind(other)}; only ports of the same kind can be connected."
    return ""


def misfit_of_elements(ports: dict[str, WiredPort], left: str, right: str) -> str:
    """Refuse an array port against a single one, asking for the element."""
    whole = [bool(ports[plain(e)].port.array) and not e.endswith("]") for e in (left, right)]
    if whole[0] != whole[1]:
        name = left if whole[0] else right
        return f"'{name}' has several elements; say which one, such as {name}[1]."
    return ""


def can_replace(a: Port, b: Port) -> bool:
    """Whether one port can take the place of another."""
    return a.direction == b.direction and (
        a.class_name == b.class_name or a.domain == b.domain != "other"
    )


def _kind(port: Port) -> str:
    if port.domain == "other":
        return f"a {port.class_name.rpartition('.')[2]}"
    return f"{'an' if port.domain[0] in 'aeiou' else 'a'} {port.domain} port"

"""The symbol of a model as a picture, for programs that do not draw it themselves."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence

from PIL import Image, ImageDraw, ImageFont

from movrel.sheet.elements import Icon, Shape

#: The longer side in pixels, how many times as large it is drawn first, and what stands around the symbol for its ports, in
#: the symbol's own units.
SIZE, FINER, AROUND = 256, 4, 50.0
INK, PAPER = (40, 44, 60), (255, 255, 255)
#: Width of a letter as a share of its height.
LETTER = 0.6
#: Thinnest line, in the symbol's units; those of the standard's thickness, which is in mm, for one of them.
THINNEST, FOR_A_MILLIMETRE = 2.0, 8.0


def symbol_picture(symbol: Icon, name: str) -> bytes:
    """The shapes and ports of a symbol as PNG; one without shapes is a frame with its name."""
    pen = _Pen(symbol, name)
    for shape in symbol.graphics or _frame(symbol):
        pen.draw(shape)
    for port in symbol.ports:
        a, b, c, d = port.extent
        fill = INK if port.direction == "in" else PAPER
        pen.draw({"is": "Rectangle", "extent": [[a, b], [c, d]], "fillPattern": "Solid", "fillColor": fill})  # fmt: skip
    return pen.png()


def picture_extent(symbol: Icon) -> tuple[float, float, float, float]:
    """What the picture shows, in the symbol's own coordinates: left, lower, right and upper end."""
    a, b, c, d = _extent(symbol)
    return a - AROUND, b - AROUND, c + AROUND, d + AROUND


def _extent(symbol: Icon) -> tuple[float, float, float, float]:
    a, b, c, d = symbol.extent or [-100.0, -100.0, 100.0, 100.0]
    return min(a, c), min(b, d), max(a, c), max(b, d)


def _frame(symbol: Icon) -> list[Shape]:
    a, b, c, d = _extent(symbol)
    middle = [[a, 0.6 * b + 0.4 * d], [c, 0.4 * b + 0.6 * d]]
    return [
        {"is": "Rectangle", "extent": [[a, b], [c, d]], "fillPattern": "Solid", "fillColor": PAPER},
        {"is": "Text", "extent": middle, "textString": "%name"},
    ]


class _Pen:
    """Draws the standard's shapes (specification 18.6.5) on a picture."""

    def __init__(self, symbol: Icon, name: str) -> None:
        self._left, low, right, self._top = picture_extent(symbol)
        self._name = name
        width, height = right - self._left, self._top - low
        self._scale = FINER * SIZE / max(width, height)
        size = round(width * self._scale), round(height * self._scale)
        self._picture = Image.new("RGBA", size, (255, 255, 255, 0))
        self._on = ImageDraw.Draw(self._picture)

    def png(self) -> bytes:
        width, height = self._picture.size
        small = self._picture.resize((width // FINER, height // FINER), Image.Resampling.LANCZOS)
        out = io.BytesIO()
        small.save(out, "PNG")
        return out.getvalue()

    def draw(self, shape: Shape) -> None:
        if shape.get("visible") is False:
            return
        thickness = float(shape.get("thickness") or shape.get("lineThickness") or 0.0)
        width = round(max(THINNEST, FOR_A_MILLIMETRE * thickness) * self._scale)
        line = _colour(shape.get("color") or shape.get("lineColor") or INK)
        if shape["is"] == "Line":
            self._on.line(self._placed(shape, shape["points"]), line, width, "curve")
        elif shape["is"] == "Text":
            self._text(shape)
        else:
            filled = str(shape.get("fillPattern") or "None") != "None"
            corners = self._placed(shape, _outline(shape))
            if filled:
                self._on.polygon(corners, _colour(shape.get("fillColor") or (0, 0, 0)))
            if shape.get("pattern") != "None":
                self._on.line([*corners, *corners[:2]], line, width, "curve")

    def _placed(self, shape: Shape, points: Sequence[Sequence[float]]) -> list[tuple[float, float]]:
        """Pixels of points of a shape, turned about its origin."""
        turn = math.radians(float(shape.get("rotation") or 0.0))
        cos, sin = math.cos(turn), math.sin(turn)
        x0, y0 = shape.get("origin") or (0.0, 0.0)
        return [
            (
                (x0 + cos * x - sin * y - self._left) * self._scale,
                (self._top - y0 - sin * x - cos * y) * self._scale,
            )
            for x, y in points
        ]

    def _text(self, shape: Shape) -> None:
        text = str(shape.get("textString") or "").replace("%name", self._name)
        if "%" in text or not text:
            return  # the value of a parameter, which the picture does not follow
        (a, b), (c, d) = shape["extent"]
        room = min(abs(d - b), abs(c - a) / (LETTER * max(map(len, text.splitlines()))))
        font = ImageFont.load_default(max(FINER * 6.0, 0.8 * room * self._scale))
        (middle,) = self._placed(shape, [((a + c) / 2, (b + d) / 2)])
        self._on.text(middle, text, _colour(shape.get("textColor") or INK), font, "mm")


def _outline(shape: Shape) -> list[tuple[float, float]]:
    """The corners of a closed shape; an ellipse as a polygon of two hundred."""
    if shape["is"] == "Polygon":
        return [(float(x), float(y)) for x, y in shape["points"]]
    (a, b), (c, d) = shape["extent"]
    if shape["is"] == "Rectangle":
        return [(a, b), (c, b), (c, d), (a, d)]
    start, end = float(shape.get("startAngle") or 0.0), float(shape.get("endAngle") or 360.0)
    steps = [math.radians(start + (end - start) * k / 200) for k in range(201)]
    return [
        ((a + c) / 2 + abs(c - a) / 2 * math.cos(s), (b + d) / 2 + abs(d - b) / 2 * math.sin(s))
        for s in steps
    ]


def _colour(given: Sequence[float]) -> tuple[int, int, int]:
    r, g, b = (min(max(round(float(v)), 0), 255) for v in given)
    return r, g, b

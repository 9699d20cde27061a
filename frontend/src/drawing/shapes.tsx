import type { ReactElement } from "react";

import { SCALE } from "./geometry";
import { asPoints, evaluate, type Lookup } from "./replay";
import { fillIn, type Words } from "./words";

/** One shape of the standard's graphics (specification 18.6), as the server sends it. */
export interface Shape {
  is: string;
  /** Its place among the shapes of its layer. */
  index?: number;
  extent?: number[][];
  points?: number[][];
  lineColor?: number[];
  color?: number[];
  fillColor?: number[];
  fillPattern?: string;
  pattern?: string;
  thickness?: number;
  lineThickness?: number;
  radius?: number;
  textString?: string;
  textColor?: number[];
  fontSize?: number;
  horizontalAlignment?: string;
  smooth?: string;
  startAngle?: number;
  endAngle?: number;
  dynamic?: Record<string, unknown>;
}

/** A colour of the drawing, its lightness turned over in the dark theme. */
function tint(colour: number[] | undefined, fallback: string): string {
  if (!colour || colour.length < 3) return fallback;
  const [r, g, b] = colour;
  return `oklch(from rgb(${r} ${g} ${b}) var(--symbol-lightness) c h)`;
}

function dashes(pattern: string | undefined): string | undefined {
  return { Dash: "6 4", Dot: "1.5 3", DashDot: "6 3 1.5 3", DashDotDot: "6 3 1.5 3 1.5 3" }[
    pattern ?? ""
  ];
}

function width(thickness: number | undefined): number {
  return 0.75 + 2 * (thickness ?? 0.25);
}

function moved(shape: Shape, lookup: Lookup | undefined): Shape {
  if (!shape.dynamic || !lookup) return shape;
  const change: Partial<Shape> = {};
  for (const [attribute, expression] of Object.entries(shape.dynamic)) {
    const value = evaluate(expression, lookup);
    const points = asPoints(value);
    if ((attribute === "extent" || attribute === "points") && points) change[attribute] = points;
    if (
      (attribute === "fillColor" || attribute === "lineColor") &&
      Array.isArray(value) &&
      value.every((n) => typeof n === "number")
    )
      change[attribute] = value;
    if (attribute === "textString" && typeof value === "number")
      change.textString = String(Number(value.toPrecision(4)));
  }
  return { ...shape, ...change };
}

interface ShapesProps {
  shapes: Shape[];
  words: Words;
  lookup?: Lookup | undefined;
  /** Screen pixels for one unit of these coordinates at zoom 1, so that texts have one size on all symbols. */
  pixels?: number;
}

/** The shapes of a symbol or sheet layer in drawing coordinates with y downwards. */
export function Shapes({ shapes, words, lookup, pixels = SCALE }: ShapesProps) {
  return (
    <>
      {shapes.map((shape, i) => (
        <Drawn key={i} shape={moved(shape, lookup)} words={words} pixels={pixels} />
      ))}
    </>
  );
}

function Drawn({
  shape,
  words,
  pixels,
}: {
  shape: Shape;
  words: Words;
  pixels: number;
}): ReactElement | null {
  const visible = shape.pattern !== "None";
  const stroke = visible
    ? tint(shape.lineColor ?? shape.color, "var(--color-base-content)")
    : "none";
  const fill =
    shape.fillPattern && shape.fillPattern !== "None" ? tint(shape.fillColor, "none") : "none";
  const line = {
    stroke,
    strokeWidth: width(shape.thickness ?? shape.lineThickness),
    strokeDasharray: dashes(shape.pattern),
    vectorEffect: "non-scaling-stroke" as const,
    strokeLinejoin: "round" as const,
  };
  if (shape.is === "Line" || shape.is === "Polygon") {
    const points = (shape.points ?? []).map(([x = 0, y = 0]) => [x, -y] as const);
    if (points.length < 2) return null;
    const closed = shape.is === "Polygon";
    if (shape.smooth === "Bezier")
      return <path d={smooth(points)} fill={closed ? fill : "none"} {...line} />;
    const text = points.map((p) => p.join(",")).join(" ");
    return closed ? (
      <polygon points={text} fill={fill} {...line} />
    ) : (
      <polyline points={text} fill="none" {...line} />
    );
  }
  const [[x1 = 0, y1 = 0] = [], [x2 = 0, y2 = 0] = []] = shape.extent ?? [];
  const left = Math.min(x1, x2);
  const top = -Math.max(y1, y2);
  const w = Math.abs(x2 - x1);
  const h = Math.abs(y2 - y1);
  if (shape.is === "Rectangle")
    return (
      <rect x={left} y={top} width={w} height={h} rx={shape.radius ?? 0} fill={fill} {...line} />
    );
  if (shape.is === "Ellipse")
    return (
      <ellipse cx={left + w / 2} cy={top + h / 2} rx={w / 2} ry={h / 2} fill={fill} {...line} />
    );
  if (shape.is === "Text")
    return <Label shape={shape} words={words} box={[left, top, w, h]} pixels={pixels} />;
  return null;
}

/** Largest text on the sheet, in pixels at zoom 1. */
const TEXT_SIZE = 13;

function Label({
  shape,
  words,
  box,
  pixels,
}: {
  shape: Shape;
  words: Words;
  box: [number, number, number, number];
  pixels: number;
}) {
  const [left, top, w, h] = box;
  const text = fillIn(shape.textString ?? "", words);
  // 0.55 em is about the width of a character; the text shrinks rather than being cut.
  const size = Math.min(h * 0.85, text.length ? w / (text.length * 0.55) : h, TEXT_SIZE / pixels);
  const align = shape.horizontalAlignment;
  const anchor = align === "Left" ? "start" : align === "Right" ? "end" : "middle";
  const x = align === "Left" ? left : align === "Right" ? left + w : left + w / 2;
  const isName = (shape.textString ?? "").includes("%name");
  const colour = tint(
    shape.textColor,
    isName ? "var(--color-base-content)" : "var(--color-secondary)",
  );
  // A label above or below its symbol keeps close to it.
  const above = top + h <= -90;
  const below = top >= 90;
  const y = above ? top + h : below ? top : top + h / 2;
  // Words of the drawing's usual size shrink less than the drawing does; see the sheet.
  const scaled = size * pixels > 0.9 * TEXT_SIZE;
  return (
    <text
      x={x}
      y={y}
      className={isName ? "label-name" : "label-value"}
      style={{ fontSize: scaled ? `calc(${size}px * var(--label-scale, 1))` : `${size}px` }}
      fill={colour}
      textAnchor={anchor}
      dominantBaseline={above ? "text-after-edge" : below ? "text-before-edge" : "central"}
      fontWeight={isName ? 500 : 400}
    >
      {text}
    </text>
  );
}

/** Quadratic curves through the middles of the sides, as the standard's Bezier smoothing asks. */
function smooth(points: (readonly [number, number])[]): string {
  let path = `M${points[0]!.join(" ")}`;
  for (let i = 1; i < points.length - 1; i += 1) {
    const [x, y] = points[i]!;
    const [nx, ny] = points[i + 1]!;
    path += `Q${x} ${y} ${(x + nx) / 2} ${(y + ny) / 2}`;
  }
  return `${path}L${points.at(-1)!.join(" ")}`;
}

import type { Schemas, SheetComponent } from "../api/client";

/** Screen pixels for one unit of the model's drawing at zoom 1. */
export const SCALE = 2;

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
  mirrored: boolean;
  flipped: boolean;
}

/** A component's place in screen coordinates (y downwards); an extent may be given mirrored. */
export function boxOf(extent: number[]): Box {
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = extent;
  return {
    x: Math.min(x1, x2) * SCALE,
    y: -Math.max(y1, y2) * SCALE,
    width: Math.abs(x2 - x1) * SCALE,
    height: Math.abs(y2 - y1) * SCALE,
    mirrored: x2 < x1,
    flipped: y2 < y1,
  };
}

/** The middle of a port relative to the upper left corner of its component, in screen pixels. */
export function portOffset(component: SheetComponent, port: Schemas["Port"]): [number, number] {
  const box = boxOf(component.extent);
  const [a1 = -100, b1 = -100, a2 = 100, b2 = 100] = component.icon.extent;
  const [p1 = 0, q1 = 0, p2 = 0, q2 = 0] = port.extent;
  let u = ((p1 + p2) / 2 - a1) / (a2 - a1);
  let v = 1 - ((q1 + q2) / 2 - b1) / (b2 - b1);
  if (box.mirrored) u = 1 - u;
  if (box.flipped) v = 1 - v;
  const angle = (-component.rotation * Math.PI) / 180;
  const dx = (u - 0.5) * box.width;
  const dy = (v - 0.5) * box.height;
  return [
    box.width / 2 + dx * Math.cos(angle) - dy * Math.sin(angle),
    box.height / 2 + dx * Math.sin(angle) + dy * Math.cos(angle),
  ];
}

/** Which side of its component a port is on: the direction in which a signal's triangle points outwards. */
export function portAngle(component: SheetComponent, port: Schemas["Port"]): number {
  const [x, y] = portOffset(component, port);
  const box = boxOf(component.extent);
  const left = x / box.width;
  const top = y / box.height;
  const sides: [number, number][] = [
    [left, 180],
    [1 - left, 0],
    [top, 270],
    [1 - top, 90],
  ];
  return sides.reduce((best, side) => (side[0] < best[0] ? side : best))[1];
}

/** The path of a wire, with corners a little rounded. */
export function wirePath(points: number[][], radius = 3): string {
  const corners = points.map(([x = 0, y = 0]) => [x * SCALE, -y * SCALE] as const);
  if (corners.length < 2) return "";
  let path = `M${corners[0]![0]} ${corners[0]![1]}`;
  for (let i = 1; i < corners.length - 1; i += 1) {
    const [px, py] = corners[i - 1]!;
    const [x, y] = corners[i]!;
    const [nx, ny] = corners[i + 1]!;
    const before = Math.min(radius, Math.hypot(x - px, y - py) / 2);
    const after = Math.min(radius, Math.hypot(nx - x, ny - y) / 2);
    const from = Math.hypot(x - px, y - py) || 1;
    const to = Math.hypot(nx - x, ny - y) || 1;
    path += `L${x + ((px - x) / from) * before} ${y + ((py - y) / from) * before}`;
    path += `Q${x} ${y} ${x + ((nx - x) / to) * after} ${y + ((ny - y) / to) * after}`;
  }
  const [x, y] = corners.at(-1)!;
  return `${path}L${x} ${y}`;
}

/** The class that gives a domain its colour. */
export function domainClass(domain: string): string {
  const word = domain.split(/[ ,]/)[0] ?? "other";
  const known = [
    "signal",
    "translational",
    "rotational",
    "electrical",
    "thermal",
    "hydraulic",
    "pneumatic",
    "process",
    "moist",
    "refrigerant",
  ];
  return `domain-${known.includes(word) ? word : "other"}`;
}

/** Width of the place where a port is caught, in screen pixels at zoom 1. */
export const CATCH = 14;

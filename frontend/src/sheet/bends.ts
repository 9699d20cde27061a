import type { Sheet, SheetConnection } from "../api/client";

type Point = number[];

/** A wire's corners after the stretch between corners `i` and `i + 1` was dragged sideways. */
export function dragStretch(points: Point[], i: number, dx: number, dy: number): Point[] {
  const result = points.map((p) => [...p]);
  const [a, b] = [result[i]!, result[i + 1]!];
  const upright = Math.abs(a[0]! - b[0]!) < 1e-6;
  const move = upright ? [dx, 0] : [0, dy];
  const moved = (p: Point) => [p[0]! + move[0]!, p[1]! + move[1]!];
  const first = i === 0;
  const last = i + 1 === points.length - 1;
  // What ends in a port stays there: a corner is put in beside it.
  const start = first ? [a, moved(a)] : [moved(a)];
  const end = last ? [moved(b), b] : [moved(b)];
  result.splice(i, 2, ...start, ...end);
  return tidied(result);
}

/** Without repeated points and points on a straight line between their neighbours. */
export function tidied(points: Point[]): Point[] {
  const result: Point[] = [];
  for (const p of points) {
    const last = result.at(-1);
    if (last && Math.abs(last[0]! - p[0]!) < 1e-6 && Math.abs(last[1]! - p[1]!) < 1e-6) continue;
    const before = result.at(-2);
    if (last && before) {
      const flat = [0, 1].some(
        (k) => Math.abs(before[k]! - last[k]!) < 1e-6 && Math.abs(last[k]! - p[k]!) < 1e-6,
      );
      if (flat) result.pop();
    }
    result.push(p);
  }
  return result;
}

/** The wire nearest to a point, and where on it, if it is within a distance. */
export function nearestWire(
  sheet: Sheet,
  x: number,
  y: number,
  within: number,
): { wire: SheetConnection; at: Point; stretch: number } | null {
  let best: { wire: SheetConnection; at: Point; stretch: number } | null = null;
  let least = within;
  for (const wire of sheet.connections) {
    if (wire.cable) continue; // it lies where others do
    for (let i = 0; i + 1 < wire.points.length; i += 1) {
      const [x1 = 0, y1 = 0] = wire.points[i]!;
      const [x2 = 0, y2 = 0] = wire.points[i + 1]!;
      const px = Math.min(Math.max(x, Math.min(x1, x2)), Math.max(x1, x2));
      const py = Math.min(Math.max(y, Math.min(y1, y2)), Math.max(y1, y2));
      const distance = Math.hypot(px - x, py - y);
      if (distance < least) {
        least = distance;
        best = { wire, at: [px, py], stretch: i };
      }
    }
  }
  return best;
}

/** Corners of a wire that branches off another: from a port to a point on it, then along it to one of its ends. */
export function branchPoints(
  from: Point,
  wire: SheetConnection,
  at: Point,
  stretch: number,
  end: "from" | "to",
): Point[] {
  const rest =
    end === "to" ? wire.points.slice(stretch + 1) : wire.points.slice(0, stretch + 1).reverse();
  const [a, b] = [wire.points[stretch]!, wire.points[stretch + 1]!];
  const upright = Math.abs(a[0]! - b[0]!) < 1e-6;
  // It meets the other wire at a right angle where that is possible.
  const corner = upright ? [from[0]!, at[1]!] : [at[0]!, from[1]!];
  return tidied([from, corner, at, ...rest]);
}

/** A wire's corners while the parts at its ends are dragged by different ways; its stretches stay level or upright. */
export function followed(points: Point[], first: Point, last: Point): Point[] {
  const moved = (p: Point, by: Point) => [p[0]! + by[0]!, p[1]! + by[1]!];
  if (first[0] === last[0] && first[1] === last[1]) return points.map((p) => moved(p, first));
  const result = points.map((p) => [...p]);
  for (const [end, neighbour, by] of [
    [0, 1, first],
    [-1, -2, last],
  ] as const) {
    const a = result.at(end)!;
    const to = moved(a, by);
    if (result.length > 2) {
      const corner = result.at(neighbour)!;
      const along = Math.abs(corner[0]! - a[0]!) < 1e-6 ? 0 : 1;
      corner[along] = to[along]!;
    }
    result.splice(end === 0 ? 0 : result.length - 1, 1, to);
  }
  // A stretch that is neither level nor upright any more gets two corners.
  const squared = [result[0]!];
  for (const p of result.slice(1)) {
    const before = squared.at(-1)!;
    if (Math.abs(before[0]! - p[0]!) > 1e-6 && Math.abs(before[1]! - p[1]!) > 1e-6) {
      const middle = (before[0]! + p[0]!) / 2;
      squared.push([middle, before[1]!], [middle, p[1]!]);
    }
    squared.push(p);
  }
  return tidied(squared);
}

/** How near a wire one must be to meet it, in units of the drawing. */
export const NEAR = 6;

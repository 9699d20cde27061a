import { expect, it } from "vitest";

import { arc } from "./arcs";
import type { Box } from "./geometry";

const box = (x: number, y: number): Box => ({
  x,
  y,
  width: 40,
  height: 20,
  mirrored: false,
  flipped: false,
});
const ends = (path: string) => path.match(/-?[\d.]+/g)!.map(Number);

it("begins and ends at the borders, and there and back lie apart", () => {
  const there = arc(box(0, 0), box(200, 0));
  const back = arc(box(200, 0), box(0, 0));
  const [x1, y1, , , x2, y2] = ends(there.path);
  expect(x1).toBeGreaterThan(20);
  expect(x1).toBeLessThanOrEqual(40);
  expect(x2).toBeGreaterThanOrEqual(200);
  expect(Math.abs(y1! - 10)).toBeLessThanOrEqual(10);
  expect(Math.abs(y2! - 10)).toBeLessThanOrEqual(10);
  expect(Math.sign(there.label.y - 10)).toBe(-Math.sign(back.label.y - 10));
  expect(arc(box(0, 0), box(0, 0)).label.y).toBeLessThan(0);
});

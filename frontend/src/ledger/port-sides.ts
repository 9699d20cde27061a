import type { Schemas } from "../api/client";

export const SIDES = ["left", "right", "top", "bottom"] as const;
export type Side = (typeof SIDES)[number];

type Icon = Schemas["Icon"];

/** The ports of a symbol by the side that they are nearest to, from above or from the left. */
export function portSides(symbol: Icon): Record<Side, Icon["ports"]> {
  const [x1 = -100, y1 = -100, x2 = 100, y2 = 100] = symbol.extent;
  const middle = ({ extent: [a = 0, b = 0, c = 0, d = 0] }: Icon["ports"][number]) => ({
    x: (a + c) / 2,
    y: (b + d) / 2,
  });
  const sides: Record<Side, Icon["ports"]> = { left: [], right: [], top: [], bottom: [] };
  for (const port of symbol.ports) {
    const { x, y } = middle(port);
    const far = [x - x1, x - x2, y - y2, y - y1].map(Math.abs);
    sides[SIDES[far.indexOf(Math.min(...far))]!].push(port);
  }
  for (const side of SIDES) {
    const along = (port: Icon["ports"][number]) =>
      side === "top" || side === "bottom" ? middle(port).x : -middle(port).y;
    sides[side].sort((a, b) => along(a) - along(b));
  }
  return sides;
}

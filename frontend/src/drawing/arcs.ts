import type { SheetComponent } from "../api/client";
import { boxOf, type Box } from "./geometry";
import type { Shape } from "./shapes";

export interface Arc {
  path: string;
  /** Where the words stand, and which side of them is there. */
  label: { x: number; y: number; anchor: "start" | "middle" | "end" };
}

/** The box that a state's symbol fills, which may be lower than the place that the part takes. */
export function bodyOf(component: SheetComponent): Box {
  const box = boxOf(component.extent);
  const body = (component.icon.graphics as unknown as Shape[]).find(
    (s) => s.is === "Rectangle" || s.is === "Ellipse",
  )?.extent;
  const [, y1 = -100, , y2 = 100] = component.icon.extent;
  if (!body) return box;
  const share = Math.min(
    1,
    Math.abs((body[0]?.[1] ?? 0) - (body[1]?.[1] ?? 0)) / (Math.abs(y2 - y1) || 1),
  );
  return { ...box, y: box.y + (box.height * (1 - share)) / 2, height: box.height * share };
}

/** A bowed arrow from one box to another, to the right of its way, so that there and back lie apart; a loop back to itself. */
export function arc(from: Box, to: Box): Arc {
  if (from.x === to.x && from.y === to.y) {
    const [x, y] = [from.x + from.width / 2, from.y];
    return {
      path: `M ${x - 10} ${y} C ${x - 26} ${y - 36}, ${x + 26} ${y - 36}, ${x + 10} ${y}`,
      label: { x, y: y - 36, anchor: "middle" },
    };
  }
  const middle = (b: Box) => ({ x: b.x + b.width / 2, y: b.y + b.height / 2 });
  const [a, b] = [middle(from), middle(to)];
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  const bow = 22 + length * 0.12;
  const normal = { x: (b.y - a.y) / length, y: -(b.x - a.x) / length };
  const control = { x: (a.x + b.x) / 2 + normal.x * bow, y: (a.y + b.y) / 2 + normal.y * bow };
  const start = border(from, control);
  const end = border(to, control);
  // Outside of the bow; a level bow carries its words above or below it.
  const side: Arc["label"]["anchor"] =
    Math.abs(normal.x) < 0.5 ? "middle" : normal.x > 0 ? "start" : "end";
  const label = {
    anchor: side,
    x: (a.x + b.x) / 2 + normal.x * (bow * 0.62 + 11),
    y: (a.y + b.y) / 2 + normal.y * (bow * 0.62 + 11),
  };
  return { path: `M ${start.x} ${start.y} Q ${control.x} ${control.y} ${end.x} ${end.y}`, label };
}

/** Where the line from the middle of a box towards a point leaves it. */
function border(box: Box, towards: { x: number; y: number }): { x: number; y: number } {
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  const [dx, dy] = [towards.x - cx, towards.y - cy];
  const share = Math.min(
    box.width / 2 / (Math.abs(dx) || 1e-9),
    box.height / 2 / (Math.abs(dy) || 1e-9),
  );
  return { x: cx + dx * share, y: cy + dy * share };
}

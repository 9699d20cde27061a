import type { Schemas, Sheet, SheetComponent } from "../api/client";
import { boxOf, portOffset, SCALE } from "../drawing/geometry";

/** Distance of the points on which parts come to lie, in units of the drawing. */
export const SNAP = 2;

export function snapped(value: number): number {
  return Math.round(value / SNAP) * SNAP;
}

/** The extent of a part that was dragged to a screen position; mirrored parts stay mirrored. */
export function movedExtent(extent: number[], position: { x: number; y: number }): number[] {
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = extent;
  const dx = snapped(position.x / SCALE - Math.min(x1, x2));
  const dy = snapped(-position.y / SCALE - Math.max(y1, y2));
  return [x1 + dx, y1 + dy, x2 + dx, y2 + dy];
}

/** A point near the wanted one at which a new part covers no other. */
export function freeSpot(sheet: Sheet, wanted: { x: number; y: number }): { x: number; y: number } {
  const half = 26;
  const occupied = (x: number, y: number) =>
    sheet.components.some((c) => {
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = c.extent;
      return (
        x + half > Math.min(x1, x2) &&
        x - half < Math.max(x1, x2) &&
        y + half > Math.min(y1, y2) &&
        y - half < Math.max(y1, y2)
      );
    });
  // To the right first, as signals and plants are read; then below, above and to the left.
  for (let ring = 0; ring < 40; ring += 1) {
    for (let step = 0; step <= ring; step += 1) {
      for (const [i, j] of [
        [ring, step],
        [ring, -step],
        [step, ring],
        [-step, ring],
        [step, -ring],
        [-step, -ring],
        [-ring, step],
        [-ring, -step],
      ] as const) {
        const [x, y] = [wanted.x + i * 60, wanted.y - j * 60];
        if (!occupied(x, y)) return { x, y };
      }
    }
  }
  return wanted;
}

/** Where a part is, or would be. */
interface Placed {
  name: string;
  extent: number[];
  rotation: number;
}

/** How far parts may reach into each other, how near two ports may come, and how far parts are moved apart at most. */
const [TOUCHING, NEAR_PORT, FARTHEST] = [2, 3, 60];

/**
 * Places for moved parts at which they cover no other part, and no port of theirs lies on a port or a wire that it is
 * not connected with; the ones they were dropped at, or the nearest. Where there are none nearby, where they were dropped.
 */
export function clearPlaces(sheet: Sheet, moved: Placed[]): Placed[] {
  const names = new Set(moved.map((place) => place.name));
  const others = sheet.components.filter((c) => !names.has(c.name));
  const portsOf = (part: SheetComponent) => {
    const box = boxOf(part.extent);
    return part.icon.ports.map((port) => {
      const [x, y] = portOffset(part, port);
      return { end: `${part.name}.${port.name}`, x: (box.x + x) / SCALE, y: -(box.y + y) / SCALE };
    });
  };
  const fixed = others.map((part) => ({ box: sides(part), ports: portsOf(part) }));
  const parts = moved.flatMap(({ name, extent, rotation }) => {
    const part = sheet.components.find((c) => c.name === name);
    return part ? [{ ...part, extent, rotation }] : [];
  });
  const own = parts.map((part) => ({ box: sides(part), ports: portsOf(part) }));
  const wires = sheet.connections.filter(
    (wire) => !names.has(wire.from.split(".")[0]!) && !names.has(wire.to.split(".")[0]!),
  );
  const isClear = (dx: number, dy: number) =>
    own.every(({ box, ports }) => {
      const [l, r, b, t] = [box.left + dx, box.right + dx, box.bottom + dy, box.top + dy];
      const at = ports.map((port) => [port.x + dx, port.y + dy] as const);
      return (
        fixed.every(
          (other) =>
            l > other.box.right - TOUCHING ||
            r < other.box.left + TOUCHING ||
            b > other.box.top - TOUCHING ||
            t < other.box.bottom + TOUCHING,
        ) &&
        at.every(([x, y]) =>
          fixed.every((other) =>
            other.ports.every((p) => Math.hypot(p.x - x, p.y - y) > NEAR_PORT),
          ),
        ) &&
        at.every(([x, y]) => wires.every((wire) => !isOnWire(wire.points, x, y)))
      );
    });
  const shift = shifts().find(([dx, dy]) => isClear(dx, dy));
  if (!shift || (shift[0] === 0 && shift[1] === 0)) return moved;
  return moved.map((place) => ({
    ...place,
    extent: place.extent.map((v, i) => v + shift[i % 2]!),
  }));
}

/** Shifts by whole steps, the smallest first. */
function shifts(): [number, number][] {
  const steps: [number, number][] = [];
  for (let dx = -FARTHEST; dx <= FARTHEST; dx += 2 * SNAP)
    for (let dy = -FARTHEST; dy <= FARTHEST; dy += 2 * SNAP) steps.push([dx, dy]);
  return steps.sort((a, b) => Math.hypot(...a) - Math.hypot(...b));
}

function sides(part: Pick<SheetComponent, "extent" | "rotation">) {
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
  const [cx, cy] = [(x1 + x2) / 2, (y1 + y2) / 2];
  let [w, h] = [Math.abs(x2 - x1) / 2, Math.abs(y2 - y1) / 2];
  if (Math.round(part.rotation / 90) % 2) [w, h] = [h, w];
  return { left: cx - w, right: cx + w, bottom: cy - h, top: cy + h };
}

function isOnWire(points: number[][], x: number, y: number): boolean {
  return points.slice(1).some((b, i) => {
    const a = points[i]!;
    const px = Math.min(Math.max(x, Math.min(a[0]!, b[0]!)), Math.max(a[0]!, b[0]!));
    const py = Math.min(Math.max(y, Math.min(a[1]!, b[1]!)), Math.max(a[1]!, b[1]!));
    return Math.hypot(px - x, py - y) < NEAR_PORT;
  });
}

/** The name with which a port is wired. */
export function portName(part: string | null, port: string | null | undefined): string {
  return port ? `${part}.${port}` : (part ?? "");
}

/** A port on the sheet; a port of the model itself is a part without one of its own, seen from inside. */
export function portOf(
  sheet: Sheet,
  part: string | null,
  port: string | null,
): Schemas["Port"] | undefined {
  const component = sheet.components.find((c) => c.name === part);
  if (component?.port && !port) {
    const direction =
      component.port.direction === "in" ? "out" : component.port.direction === "out" ? "in" : "";
    return { ...component.port, direction };
  }
  return component?.icon.ports.find((p) => p.name === port);
}

export type End = { part: string; port: string };

/** Why two ports do not go together, in words of the trade, or nothing; as the server will judge it. */
export function misfit(sheet: Sheet, one: End, other: End): string {
  const a = portOf(sheet, one.part, one.port);
  const b = portOf(sheet, other.part, other.port);
  if (!a || !b) return "there is no such port";
  if (one.part === other.part && one.port === other.port)
    return "a port cannot be connected with itself";
  if (a.domain === "state" && one.part === other.part) return "an arrow leads to another state";
  if (a.direction && b.direction) {
    return a.direction === b.direction
      ? `${a.direction === "in" ? "an input to an input" : "an output to an output"}`
      : "";
  }
  if (
    a.class === b.class ||
    (a.domain === b.domain && Boolean(a.direction) === Boolean(b.direction))
  )
    return "";
  return `${kind(a)} to ${kind(b)}`;
}

/** The input at an end of a new wire that has its signal from elsewhere already, and from where. */
export function fedBy(
  sheet: Sheet,
  from: string,
  to: string,
): { input: string; by: string } | null {
  const direction = (name: string) => {
    const [part = "", port = ""] = name.split(".");
    return portOf(sheet, part, port.split("[")[0]!)?.direction;
  };
  const input = [from, to].find((name) => direction(name) === "in");
  for (const wire of sheet.connections) {
    const by = wire.from === input ? wire.to : wire.to === input ? wire.from : null;
    if (input && by && by !== from && by !== to && direction(by) === "out") return { input, by };
  }
  return null;
}

function kind(port: Schemas["Port"]): string {
  return port.domain === "other" ? port.class.split(".").at(-1)! : `${port.domain} port`;
}

/** Whether two ports go together. */
export function fits(
  sheet: Sheet,
  part: string | null,
  port: string | null,
  other: string | null,
  otherPort: string | null,
): boolean {
  return (
    misfit(
      sheet,
      { part: part ?? "", port: port ?? "" },
      { part: other ?? "", port: otherPort ?? "" },
    ) === ""
  );
}

/** The port that a handle of the drawing stands for; a part that is a port itself has one without a name. */
export function portOfHandle(id: string | null | undefined): string {
  return id === "self" ? "" : (id ?? "");
}

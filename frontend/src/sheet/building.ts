import type { Schemas, Sheet } from "../api/client";
import { SCALE } from "../drawing/geometry";

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

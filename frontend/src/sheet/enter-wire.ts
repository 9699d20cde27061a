import type { Sheet, SheetComponent } from "../api/client";
import { NEAR, nearestWire } from "./bends";
import { fits } from "./building";

/** The ends of the wire that a part without wires goes into when its middle is dropped on it, if two of its ports fit. */
export function wireToEnter(
  sheet: Sheet,
  part: SheetComponent,
  extent: number[],
): { from: string; to: string } | null {
  const own = (end: string) => end.split(".")[0] === part.name;
  if (sheet.connections.some((wire) => own(wire.from) || own(wire.to))) return null;
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = extent;
  const near = nearestWire(sheet, (x1 + x2) / 2, (y1 + y2) / 2, NEAR);
  if (!near) return null;
  const { from, to } = near.wire;
  const joins = (port: string, end: string) => {
    const [other = "", otherPort = ""] = end.split(".");
    return fits(sheet, part.name, port, other, otherPort.split("[")[0]!);
  };
  const ports = part.icon.ports.map((port) => port.name);
  const enters = ports.some(
    (one) => joins(one, from) && ports.some((other) => other !== one && joins(other, to)),
  );
  return enters ? { from, to } : null;
}

import type { Row, SheetConnection } from "../api/client";

/** What a wire carries: the quantities of its ports, and the one that tells the flow along it, with its sign. */
export interface WireQuantities {
  /** The value that both ends share: a signal, a level, a voltage. */
  shared: Row | undefined;
  /** What flows, and the sign that makes it count from the first end to the second. */
  flow: { row: Row; sign: 1 | -1 } | undefined;
  rows: Row[];
}

/** The rows of the ledger that belong to an end of a wire: the signal itself, or the quantities of the port. */
function rowsAt(rows: Row[], end: string): Row[] {
  return rows.filter(
    (row) =>
      row.group === "watch" &&
      (row.name === end || row.component === end || row.name.startsWith(`${end}[`)),
  );
}

/**
 * What a wire carries. A flow counts into the part of a port, so where only this wire ends at a port, its flow is that
 * of the wire; where several wires meet at both ends, nobody can say how it divides.
 */
export function quantitiesOf(
  wire: SheetConnection,
  wires: SheetConnection[],
  rows: Row[],
): WireQuantities {
  const [from, to] = [rowsAt(rows, wire.from), rowsAt(rows, wire.to)];
  const alone = (end: string) => wires.filter((w) => w.from === end || w.to === end).length === 1;
  const intoFirst = alone(wire.from) ? from.find((row) => row.flow) : undefined;
  const intoSecond = alone(wire.to) ? to.find((row) => row.flow) : undefined;
  return {
    shared: from.find((row) => !row.flow) ?? to.find((row) => !row.flow),
    flow: intoSecond ? { row: intoSecond, sign: 1 } : intoFirst && { row: intoFirst, sign: -1 },
    rows: [...from, ...to.filter((row) => !from.some((r) => r.name === row.name))],
  };
}

/** The middle of the longest stretch of a line of corners, and its direction as an angle in degrees, y pointing up. */
export function middleOf(points: number[][]): { x: number; y: number; angle: number } | null {
  let best: { x: number; y: number; angle: number } | null = null;
  let longest = 0;
  for (const [i, a] of points.slice(0, -1).entries()) {
    const b = points[i + 1]!;
    const [dx, dy] = [b[0]! - a[0]!, b[1]! - a[1]!];
    const length = Math.hypot(dx, dy);
    if (length <= longest) continue;
    longest = length;
    best = {
      x: (a[0]! + b[0]!) / 2,
      y: (a[1]! + b[1]!) / 2,
      angle: (Math.atan2(dy, dx) * 180) / Math.PI,
    };
  }
  return best;
}

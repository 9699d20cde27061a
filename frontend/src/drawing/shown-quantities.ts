import type { Row, RunVariable, Sheet } from "../api/client";
import type { WireMarks } from "../state/place";
import { quantitiesOf } from "./wire-quantities";

/** The names in an expression of the server's form. */
function references(node: unknown, names: Set<string>): void {
  if (!Array.isArray(node)) return;
  if (node[0] === "ref") names.add(String(node[1]));
  else node.forEach((item) => references(item, names));
}

/** The variables of a run whose values the sheet shows: those that move its symbols, and what its wires carry. */
export function shownQuantities(
  sheet: Sheet,
  rows: Row[],
  variables: RunVariable[],
  marks: WireMarks,
): string[] {
  const known = new Set(variables.map((v) => v.name));
  const moving = new Map<string, string[]>();
  for (const [symbol, icon] of Object.entries(sheet.icons)) {
    const names = new Set<string>();
    for (const shape of icon.graphics)
      Object.values((shape.dynamic ?? {}) as Record<string, unknown>).forEach((node) =>
        references(node, names),
      );
    moving.set(symbol, [...names]);
  }
  const wanted = sheet.components.flatMap((c) =>
    (moving.get(c.symbol) ?? []).map((name) => `${c.name}.${name}`),
  );
  if (marks !== "plain") {
    for (const wire of sheet.connections) {
      const carried = quantitiesOf(wire, sheet.connections, rows);
      for (const row of [carried.shared, carried.flow?.row]) if (row) wanted.push(row.name);
    }
  }
  return [...new Set(wanted)].filter((name) => known.has(name));
}

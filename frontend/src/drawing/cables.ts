import type { Sheet, SheetConnection } from "../api/client";

/** Wires that are drawn as one line. */
export interface SheetCable {
  name: string;
  /** The corners of the line that its wires share. */
  trunk: number[][];
  wires: SheetConnection[];
}

/** The name by which a wire is selected. */
export function wireKey(wire: { from: string; to: string }): string {
  return `${wire.from} ${wire.to}`;
}

/** The cables of a sheet; wires of one name between other parts are another cable. */
export function sheetCables(sheet: Pick<Sheet, "connections">): SheetCable[] {
  const cables = new Map<string, SheetCable>();
  for (const wire of sheet.connections) {
    if (!wire.cable || wire.trunk.length < 2) continue;
    const key = `${wire.cable} ${JSON.stringify(wire.trunk)}`;
    const cable = cables.get(key) ?? { name: wire.cable, trunk: wire.trunk, wires: [] };
    cable.wires.push(wire);
    cables.set(key, cable);
  }
  return [...cables.values()];
}

/** The wires that join the same two parts as all given ones; none where these join more. */
export function besides(wires: SheetConnection[], given: SheetConnection[]): SheetConnection[] {
  const parts = (wire: SheetConnection) =>
    [wire.from, wire.to]
      .map((end) => end.split(/[.[]/)[0]!)
      .sort()
      .join(" ");
  const joined = new Set(given.map(parts));
  return joined.size === 1 ? wires.filter((wire) => joined.has(parts(wire))) : [];
}

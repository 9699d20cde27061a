import type { Schemas, Sheet } from "../api/client";
import { boxOf, portOffset, SCALE } from "../drawing/geometry";
import { partOf } from "./selection";
import { snapped } from "./building";

/** Places for all parts of a sheet, in layers from left to right with few crossings. */
export async function arranged(sheet: Sheet): Promise<Schemas["PartPlace"][]> {
  const [{ default: ELK }, { default: worker }] = await Promise.all([
    import("elkjs/lib/elk-api"),
    import("elkjs/lib/elk-worker.min.js?url"),
  ]);
  const elk = new ELK({ workerFactory: () => new Worker(worker) });
  try {
    const laid = await elk.layout({
      id: "sheet",
      layoutOptions: {
        "elk.algorithm": "layered",
        "elk.direction": "RIGHT",
        "elk.edgeRouting": "ORTHOGONAL",
        "elk.layered.spacing.nodeNodeBetweenLayers": String(40 * SCALE),
        "elk.spacing.nodeNode": String(30 * SCALE),
        "elk.separateConnectedComponents": "true",
        "elk.spacing.componentComponent": String(50 * SCALE),
        "elk.layered.nodePlacement.strategy": "NETWORK_SIMPLEX",
      },
      children: sheet.components.map((part) => {
        const box = boxOf(part.extent);
        return {
          id: part.name,
          width: box.width,
          height: box.height,
          layoutOptions: { "elk.portConstraints": "FIXED_POS" },
          ports: part.icon.ports.map((port) => {
            const [x, y] = portOffset(part, port);
            return { id: `${part.name}.${port.name}`, x, y, width: 0, height: 0 };
          }),
        };
      }),
      edges: sheet.connections.map((wire, i) => {
        const backwards = wire.direction === "backward";
        const [from, to] = backwards ? [wire.to, wire.from] : [wire.from, wire.to];
        return { id: String(i), sources: [portId(sheet, from)], targets: [portId(sheet, to)] };
      }),
    });
    const places = (laid.children ?? []).map((node) => {
      const part = sheet.components.find((c) => c.name === node.id)!;
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
      const dx = snapped((node.x ?? 0) / SCALE) - Math.min(x1, x2);
      const dy = snapped(-(node.y ?? 0) / SCALE) - Math.max(y1, y2);
      return {
        name: part.name,
        extent: [x1 + dx, y1 + dy, x2 + dx, y2 + dy],
        rotation: part.rotation,
      };
    });
    // Around the origin, as new sheets are, and above what is written there.
    const cx = snapped(
      (Math.min(...places.map((p) => p.extent[0]!)) +
        Math.max(...places.map((p) => p.extent[2]!))) /
        2,
    );
    const cy = snapped(
      (Math.min(...places.map((p) => p.extent[1]!)) +
        Math.max(...places.map((p) => p.extent[3]!))) /
        2,
    );
    const half =
      (Math.max(...places.map((p) => p.extent[3]!)) -
        Math.min(...places.map((p) => p.extent[1]!))) /
      2;
    const notes = sheet.graphics.flatMap((shape) =>
      shape.is === "Text" ? [shape.extent as number[][]] : [],
    );
    const top = Math.max(...notes.map(([a, b]) => Math.max(a![1]!, b![1]!)), -Infinity);
    const lift = Number.isFinite(top) ? Math.max(0, snapped(top + 40 + half)) : 0;
    return places.map((p) => ({
      ...p,
      extent: p.extent.map((v, i) => v - (i % 2 ? cy - lift : cx)),
    }));
  } finally {
    elk.terminateWorker();
  }
}

function portId(sheet: Sheet, end: string): string {
  const part = partOf(end);
  const port = end.split(".")[1]?.split("[")[0];
  const known = sheet.components
    .find((c) => c.name === part)
    ?.icon.ports.some((p) => p.name === port);
  return known ? `${part}.${port}` : part;
}

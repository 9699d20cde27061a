import type { Schemas, Sheet, SheetComponent } from "../api/client";
import { boxOf, portOffset, SCALE } from "../drawing/geometry";
import { feedbackBlocks } from "./feedback";
import { edges, partOf } from "./selection";
import { snapped } from "./building";

/** Places for all parts of a sheet, in layers from left to right with few crossings. */
export async function arranged(sheet: Sheet): Promise<Place[]> {
  const [{ default: ELK }, { default: worker }] = await Promise.all([
    import("elkjs/lib/elk-api"),
    import("elkjs/lib/elk-worker.min.js?url"),
  ]);
  const back = feedbackBlocks(sheet);
  const grounds = groundsOf(sheet);
  // Blocks of a feedback path are drawn against the direction of reading: mirrored, their wires laid backwards.
  const parts = sheet.components
    .filter((part) => !grounds.has(part.name))
    .map((part) => (back.has(part.name) === isMirrored(part) ? part : turnedRound(part)));
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
      children: parts.map((part) => {
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
      edges: sheet.connections
        .filter((wire) => !grounds.has(partOf(wire.from)) && !grounds.has(partOf(wire.to)))
        .map((wire, i) => {
          const returns =
            wire.direction && (back.has(partOf(wire.from)) || back.has(partOf(wire.to)));
          const backwards = (wire.direction === "backward") !== !!returns;
          const [from, to] = backwards ? [wire.to, wire.from] : [wire.from, wire.to];
          return { id: String(i), sources: [portId(sheet, from)], targets: [portId(sheet, to)] };
        }),
    });
    const places = (laid.children ?? []).map((node) => {
      const part = parts.find((c) => c.name === node.id)!;
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
      const dx = snapped((node.x ?? 0) / SCALE) - Math.min(x1, x2);
      const dy = snapped(-(node.y ?? 0) / SCALE) - Math.max(y1, y2);
      return {
        name: part.name,
        extent: [x1 + dx, y1 + dy, x2 + dx, y2 + dy],
        rotation: part.rotation,
      };
    });
    places.push(...groundPlaces(sheet, grounds, parts, places));
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

type Place = Required<Schemas["PartPlace"]>;

/** How far below what it is wired to a ground stands, and between parts that must not touch, in units of the drawing. */
const [BELOW, GAP] = [24, 6];

/** Parts with one physical port, at their upper edge, that hang on one other part. */
function groundsOf(sheet: Sheet): Set<string> {
  return new Set(
    sheet.components
      .filter((part) => {
        const [port, ...more] = part.icon.ports;
        if (!port || more.length > 0 || port.direction || part.port) return false;
        return (
          part.rotation === 0 &&
          portOffset(part, port)[1] < 0.3 * boxOf(part.extent).height &&
          part.class.split(".").at(-1)!.includes("Ground")
        );
      })
      .map((part) => part.name),
  );
}

/** Grounds below the port that they are wired to, where nothing else stands. */
function groundPlaces(
  sheet: Sheet,
  grounds: Set<string>,
  parts: SheetComponent[],
  places: Place[],
): Place[] {
  const placed = [...places];
  const at = new Map(places.map((place) => [place.name, place]));
  return [...grounds].map((name) => {
    const ground = sheet.components.find((c) => c.name === name)!;
    const own = portOffset(ground, ground.icon.ports[0]!);
    const ports = sheet.connections.flatMap((wire) => {
      const end = [wire.from, wire.to].find((e) => partOf(e) !== name);
      const mine = partOf(wire.from) === name || partOf(wire.to) === name;
      const part = mine && end ? parts.find((c) => c.name === partOf(end)) : undefined;
      const port = part?.icon.ports.find((p) => p.name === end!.split(".")[1]?.split("[")[0]);
      const place = part && at.get(part.name);
      if (!part || !port || !place) return [];
      const [dx, dy] = portOffset(part, port);
      const box = boxOf(place.extent);
      return [{ x: (box.x + dx) / SCALE, y: -(box.y + dy) / SCALE }];
    });
    // The lowest of the ports that it is wired to.
    const port = ports.toSorted((a, b) => a.y - b.y)[0] ?? { x: 0, y: 0 };
    const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = ground.extent;
    const [w, h] = [Math.abs(x2 - x1), Math.abs(y2 - y1)];
    const left = snapped(port.x - own[0] / SCALE);
    let top = snapped(port.y - BELOW);
    const covers = () =>
      placed.some(({ name: other, extent, rotation }) => {
        const e = edges({
          ...sheet.components.find((c) => c.name === other)!,
          extent,
          rotation: rotation ?? 0,
        });
        return (
          left - GAP < e.right &&
          e.left < left + w + GAP &&
          top - h - GAP < e.top &&
          e.bottom < top + GAP
        );
      });
    while (covers()) top -= 4;
    const place = { name, extent: [left, top - h, left + w, top], rotation: 0 };
    placed.push(place);
    return place;
  });
}

function isMirrored(part: SheetComponent): boolean {
  return part.extent[2]! < part.extent[0]!;
}

/** A block drawn the other way round, if it is not turned. */
function turnedRound(part: SheetComponent): SheetComponent {
  const signals = part.icon.ports.every((port) => port.direction);
  if (part.rotation !== 0 || !signals || part.icon.ports.length !== 2) return part;
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
  return { ...part, extent: [x2, y1, x1, y2] };
}

function portId(sheet: Sheet, end: string): string {
  const part = partOf(end);
  const port = end.split(".")[1]?.split("[")[0];
  const known = sheet.components
    .find((c) => c.name === part)
    ?.icon.ports.some((p) => p.name === port);
  return known ? `${part}.${port}` : part;
}

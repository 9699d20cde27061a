import type { Schemas, Sheet, SheetComponent } from "../api/client";

type Place = Schemas["PartPlace"];

export type Alignment = "left" | "centre" | "right" | "top" | "middle" | "bottom";

interface Edges {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The edges of a part as it stands on the sheet, in units of the drawing. */
export function edges(part: SheetComponent): Edges {
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
  const [cx, cy] = [(x1 + x2) / 2, (y1 + y2) / 2];
  let [w, h] = [Math.abs(x2 - x1) / 2, Math.abs(y2 - y1) / 2];
  if (Math.round(part.rotation / 90) % 2) [w, h] = [h, w];
  return { left: cx - w, right: cx + w, top: cy + h, bottom: cy - h };
}

function shifted(part: SheetComponent, dx: number, dy: number): Place {
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
  return { name: part.name, extent: [x1 + dx, y1 + dy, x2 + dx, y2 + dy], rotation: part.rotation };
}

/** The selected parts moved by the same distance. */
export function nudged(parts: SheetComponent[], dx: number, dy: number): Place[] {
  return parts.map((part) => shifted(part, dx, dy));
}

/** Parts brought to a common edge or middle, that of the outermost or of all together. */
export function aligned(parts: SheetComponent[], how: Alignment): Place[] {
  const all = parts.map(edges);
  const low = (key: keyof Edges) => Math.min(...all.map((e) => e[key]));
  const high = (key: keyof Edges) => Math.max(...all.map((e) => e[key]));
  return parts.map((part, i) => {
    const e = all[i]!;
    if (how === "left") return shifted(part, low("left") - e.left, 0);
    if (how === "right") return shifted(part, high("right") - e.right, 0);
    if (how === "centre")
      return shifted(part, (low("left") + high("right")) / 2 - (e.left + e.right) / 2, 0);
    if (how === "top") return shifted(part, 0, high("top") - e.top);
    if (how === "bottom") return shifted(part, 0, low("bottom") - e.bottom);
    return shifted(part, 0, (low("bottom") + high("top")) / 2 - (e.bottom + e.top) / 2);
  });
}

/** Parts with equal gaps between them; the outermost two stay. */
export function distributed(parts: SheetComponent[], along: "across" | "down"): Place[] {
  const [from, to] =
    along === "across" ? (["left", "right"] as const) : (["bottom", "top"] as const);
  const ordered = [...parts].sort(
    (a, b) => edges(a)[from] + edges(a)[to] - edges(b)[from] - edges(b)[to],
  );
  if (ordered.length < 3) return [];
  const sizes = ordered.map((p) => edges(p)[to] - edges(p)[from]);
  const span = edges(ordered.at(-1)!)[to] - edges(ordered[0]!)[from];
  const gap = (span - sizes.reduce((sum, s) => sum + s, 0)) / (ordered.length - 1);
  let at = edges(ordered[0]!)[from];
  return ordered.map((part, i) => {
    const move = at - edges(part)[from];
    at += sizes[i]! + gap;
    return along === "across" ? shifted(part, move, 0) : shifted(part, 0, move);
  });
}

/** Parts turned by a quarter about their common middle; a single one about its own. */
export function turned(parts: SheetComponent[]): Place[] {
  const all = parts.map(edges);
  const cx = (Math.min(...all.map((e) => e.left)) + Math.max(...all.map((e) => e.right))) / 2;
  const cy = (Math.min(...all.map((e) => e.bottom)) + Math.max(...all.map((e) => e.top))) / 2;
  return parts.map((part) => {
    const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
    const [mx, my] = [(x1 + x2) / 2, (y1 + y2) / 2];
    const [dx, dy] = parts.length > 1 ? [cx - (my - cy) - mx, cy + (mx - cx) - my] : [0, 0];
    return { ...shifted(part, dx, dy), rotation: (part.rotation + 90) % 360 };
  });
}

/** Parts mirrored left to right about their common middle. */
export function mirrored(parts: SheetComponent[]): Place[] {
  const all = parts.map(edges);
  const cx = (Math.min(...all.map((e) => e.left)) + Math.max(...all.map((e) => e.right))) / 2;
  return parts.map((part) => {
    const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
    const dx = parts.length > 1 ? 2 * (cx - (x1 + x2) / 2) : 0;
    // A quarter turned part is mirrored across its own other axis.
    const flat = Math.round(part.rotation / 90) % 2 === 0;
    const extent = flat ? [x2 + dx, y1, x1 + dx, y2] : [x1 + dx, y2, x2 + dx, y1];
    return { name: part.name, extent, rotation: part.rotation };
  });
}

/** The part that an end of a wire belongs to. */
export function partOf(end: string): string {
  return end.split(".")[0]!.split("[")[0]!;
}

/** All parts that can be reached along wires, from parts or from a wire. */
export function along(sheet: Sheet, from: string[]): string[] {
  const grown = new Set(from);
  const waiting = [...from];
  while (waiting.length > 0) {
    const name = waiting.pop()!;
    for (const wire of sheet.connections) {
      const ends = [partOf(wire.from), partOf(wire.to)];
      if (!ends.includes(name)) continue;
      for (const end of ends) {
        if (!grown.has(end)) {
          grown.add(end);
          waiting.push(end);
        }
      }
    }
  }
  return [...grown];
}

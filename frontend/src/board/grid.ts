import type { Schemas } from "../api/client";

export type Tile = Schemas["Tile"];
export type Kind = Tile["kind"];
export type Box = Pick<Tile, "x" | "y" | "width" | "height">;

/** Columns of the board, height of a row in pixels, and rows at most. */
export const COLUMNS = 12;
export const ROW = 44;
export const ROWS = 200;

/** What kinds of tiles are called, and how large a new one is. */
export const KINDS: Record<Kind, { words: string; width: number; height: number; most: number }> = {
  strip: { words: "Strip", width: 6, height: 4, most: 6 },
  instrument: { words: "Round instrument", width: 3, height: 4, most: 1 },
  number: { words: "Number", width: 2, height: 2, most: 1 },
  lamp: { words: "Lamp", width: 2, height: 1, most: 1 },
  bar: { words: "Bar", width: 2, height: 4, most: 1 },
  table: { words: "Table of values", width: 4, height: 4, most: 20 },
  text: { words: "Text", width: 4, height: 2, most: 0 },
  knob: { words: "Knob for a value", width: 4, height: 2, most: 1 },
};

export function overlap(a: Box, b: Box): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** A box kept on the board. */
export function clamped(box: Box): Box {
  const width = Math.min(Math.max(Math.round(box.width), 1), COLUMNS);
  const height = Math.min(Math.max(Math.round(box.height), 1), 40);
  return {
    width,
    height,
    x: Math.min(Math.max(Math.round(box.x), 0), COLUMNS - width),
    y: Math.min(Math.max(Math.round(box.y), 0), ROWS - height),
  };
}

/** The first free place for a tile of that size, row by row. */
export function freePlace(tiles: Box[], width: number, height: number): Box {
  for (let y = 0; y < ROWS; y++)
    for (let x = 0; x + width <= COLUMNS; x++) {
      const box = { x, y, width, height };
      if (!tiles.some((t) => overlap(t, box))) return box;
    }
  return { x: 0, y: 0, width, height };
}

/** The tiles after one was moved or resized: those in its way go down, the others stay. */
export function arranged(tiles: Tile[], index: number, box: Box): Tile[] {
  const placed = tiles.map((t, k) => (k === index ? { ...t, ...clamped(box) } : t));
  const settled = [placed[index]!];
  const others = placed
    .map((t, k) => ({ t, k }))
    .filter(({ k }) => k !== index)
    .sort((a, b) => a.t.y - b.t.y || a.t.x - b.t.x);
  const result = [...placed];
  for (const { t, k } of others) {
    let moved = t;
    while (settled.some((s) => overlap(s, moved))) moved = { ...moved, y: moved.y + 1 };
    settled.push(moved);
    result[k] = moved;
  }
  return result;
}

/** Rows that the tiles take. */
export function rowsOf(tiles: Box[]): number {
  return Math.max(0, ...tiles.map((t) => t.y + t.height));
}

/** Where a value lies between two ends, from 0 to 1. */
export function shareOf(value: number, low: number, high: number): number {
  return high > low ? Math.min(Math.max((value - low) / (high - low), 0), 1) : 0;
}

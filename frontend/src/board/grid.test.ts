import { describe, expect, it } from "vitest";

import { arranged, clamped, COLUMNS, freePlace, overlap, rowsOf, shareOf, type Tile } from "./grid";

const tile = (x: number, y: number, width: number, height: number): Tile => ({
  kind: "number",
  x,
  y,
  width,
  height,
  names: [],
  title: "",
  low: null,
  high: null,
  good: [],
  text: "",
});

describe("the grid of the board", () => {
  it("keeps tiles on the board", () => {
    expect(clamped({ x: 11, y: -3, width: 4, height: 0 })).toEqual({
      x: COLUMNS - 4,
      y: 0,
      width: 4,
      height: 1,
    });
  });

  it("finds the first free place", () => {
    const tiles = [tile(0, 0, 6, 2), tile(6, 0, 4, 4)];
    expect(freePlace(tiles, 2, 1)).toMatchObject({ x: 10, y: 0 });
    expect(freePlace(tiles, 6, 2)).toMatchObject({ x: 0, y: 2 });
  });

  it("moves what is in the way down, and nothing else", () => {
    const tiles = [tile(0, 0, 4, 2), tile(4, 0, 4, 2), tile(4, 2, 4, 2), tile(8, 0, 4, 2)];
    const after = arranged(tiles, 0, { x: 3, y: 0, width: 4, height: 2 });
    expect(after[1]).toMatchObject({ x: 4, y: 2 });
    expect(after[2]).toMatchObject({ x: 4, y: 4 });
    expect(after[3]).toMatchObject({ x: 8, y: 0 });
    for (const [i, a] of after.entries())
      for (const b of after.slice(i + 1)) expect(overlap(a, b)).toBe(false);
    expect(rowsOf(after)).toBe(6);
  });

  it("places a value between two ends", () => {
    expect([shareOf(5, 0, 10), shareOf(-1, 0, 10), shareOf(1, 1, 1)]).toEqual([0.5, 0, 0]);
  });
});

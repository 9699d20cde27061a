import { describe, expect, it } from "vitest";

import type { Sheet, SheetComponent, SheetConnection } from "../api/client";
import { branchPoints, dragStretch, nearestWire, tidied } from "./bends";
import { aligned, along, distributed, edges, mirrored, nudged, turned } from "./selection";

const part = (name: string, extent: number[], rotation = 0) =>
  ({ name, extent, rotation }) as unknown as SheetComponent;
const a = part("a", [0, 0, 20, 10]);
const b = part("b", [50, 30, 60, 50]);
const c = part("c", [100, -20, 140, 0]);

describe("arranging parts", () => {
  it("aligns edges and middles", () => {
    expect(aligned([a, b], "left").map((p) => p.extent[0])).toEqual([0, 0]);
    expect(aligned([a, b], "bottom").map((p) => p.extent[1])).toEqual([0, 0]);
    expect(aligned([a, b], "middle").map((p) => (p.extent[1]! + p.extent[3]!) / 2)).toEqual([
      25, 25,
    ]);
  });
  it("distributes with equal gaps and leaves the outermost", () => {
    const placed = distributed([c, a, b], "across");
    expect(placed.map((p) => [p.name, p.extent[0], p.extent[2]])).toEqual([
      ["a", 0, 20],
      ["b", 55, 65],
      ["c", 100, 140],
    ]);
    expect(distributed([a, b], "across")).toEqual([]);
  });
  it("nudges, turns and mirrors as a group", () => {
    expect(nudged([a], 2, -2)[0]!.extent).toEqual([2, -2, 22, 8]);
    expect(turned([a])[0]).toMatchObject({ extent: [0, 0, 20, 10], rotation: 90 });
    const pair = [part("l", [0, 0, 10, 10]), part("r", [40, 0, 50, 10])];
    expect(turned(pair).map((p) => p.extent)).toEqual([
      [20, -20, 30, -10],
      [20, 20, 30, 30],
    ]);
    expect(mirrored(pair).map((p) => p.extent)).toEqual([
      [50, 0, 40, 10],
      [10, 0, 0, 10],
    ]);
    expect(edges(part("q", [0, 0, 20, 10], 90))).toEqual({
      left: 5,
      right: 15,
      top: 15,
      bottom: -5,
    });
  });
  it("follows wires", () => {
    const sheet = {
      connections: [
        { from: "a.x", to: "b.y" },
        { from: "b.z[2]", to: "c" },
        { from: "d.x", to: "e.y" },
      ],
    } as unknown as Sheet;
    expect(along(sheet, ["c"]).sort()).toEqual(["a", "b", "c"]);
  });
});

describe("bending wires", () => {
  it("moves a stretch and keeps the ends in their ports", () => {
    expect(
      dragStretch(
        [
          [0, 0],
          [10, 0],
          [10, 20],
          [30, 20],
        ],
        1,
        6,
        99,
      ),
    ).toEqual([
      [0, 0],
      [16, 0],
      [16, 20],
      [30, 20],
    ]);
    expect(
      dragStretch(
        [
          [0, 0],
          [30, 0],
        ],
        0,
        5,
        8,
      ),
    ).toEqual([
      [0, 0],
      [0, 8],
      [30, 8],
      [30, 0],
    ]);
    expect(
      tidied([
        [0, 0],
        [5, 0],
        [5, 0],
        [9, 0],
      ]),
    ).toEqual([
      [0, 0],
      [9, 0],
    ]);
  });
  it("finds the wire under a point and branches off it", () => {
    const wire = {
      from: "a.y",
      to: "b.u",
      points: [
        [0, 0],
        [40, 0],
        [40, 30],
      ],
    } as unknown as SheetConnection;
    const sheet = { connections: [wire] } as unknown as Sheet;
    expect(nearestWire(sheet, 20, 3, 6)).toEqual({ wire, at: [20, 0], stretch: 0 });
    expect(nearestWire(sheet, 20, 9, 6)).toBeNull();
    expect(branchPoints([30, -40], wire, [20, 0], 0, "from")).toEqual([
      [30, -40],
      [20, -40],
      [20, 0],
      [0, 0],
    ]);
    expect(branchPoints([20, -40], wire, [20, 0], 0, "to")).toEqual([
      [20, -40],
      [20, 0],
      [40, 0],
      [40, 30],
    ]);
  });
});

import { expect, test } from "vitest";

import type { SheetConnection } from "../api/client";
import { besides, sheetCables } from "./cables";

function wire(from: string, to: string, cable = "", trunk: number[][] = []): SheetConnection {
  return {
    from,
    to,
    cable,
    trunk,
    points: [],
    domain: "signal",
    direction: "",
    bent: false,
    dots: [],
  };
}

const LINE = [
  [0, 0],
  [10, 0],
];
const ONE = wire("a.y", "b.u", "supply", LINE);
const BACK = wire("b.v", "a.z", "supply", LINE);
const ELSEWHERE = wire("b.y", "c.u", "supply", [[5, 5], ...LINE]);
const LOOSE = wire("a[2].w", "b.x");

test("wires of one name between two parts are one cable", () => {
  const cables = sheetCables({ connections: [ONE, ELSEWHERE, BACK, LOOSE] });
  expect(cables.map((c) => c.wires)).toEqual([[ONE, BACK], [ELSEWHERE]]);
  expect(cables[0]!.trunk).toEqual(LINE);
});

test("what can be bundled joins the same two parts, in either direction and of an array", () => {
  const all = [ONE, BACK, ELSEWHERE, LOOSE];
  expect(besides(all, [LOOSE])).toEqual([ONE, BACK, LOOSE]);
  expect(besides(all, [ONE, ELSEWHERE])).toEqual([]);
  expect(besides(all, [])).toEqual([]);
});

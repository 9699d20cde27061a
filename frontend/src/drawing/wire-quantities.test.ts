import { expect, it } from "vitest";

import type { Row, SheetConnection } from "../api/client";
import { middleOf, quantitiesOf } from "./wire-quantities";

const row = (name: string, flow = false) =>
  ({ name, component: name.split(".").slice(0, -1).join("."), group: "watch", flow }) as Row;
const wire = (from: string, to: string) => ({ from, to, points: [] }) as unknown as SheetConnection;
const ROWS = [
  row("a.n.v"),
  row("a.n.i", true),
  row("b.p.v"),
  row("b.p.i", true),
  row("c.p.v"),
  row("c.p.i", true),
  row("s.y"),
];

it("counts a flow from the first end to the second", () => {
  const only = wire("a.n", "b.p");
  expect(quantitiesOf(only, [only], ROWS).flow).toMatchObject({ row: { name: "b.p.i" }, sign: 1 });
  expect(quantitiesOf(only, [only], ROWS).shared!.name).toBe("a.n.v");
  expect(quantitiesOf(only, [only], ROWS).rows.map((r) => r.name)).toEqual([
    "a.n.v",
    "a.n.i",
    "b.p.v",
    "b.p.i",
  ]);
});

it("takes the end at which no other wire is, and says nothing where both ends branch", () => {
  const [one, two] = [wire("a.n", "b.p"), wire("c.p", "b.p")];
  expect(quantitiesOf(one, [one, two], ROWS).flow).toMatchObject({
    row: { name: "a.n.i" },
    sign: -1,
  });
  const third = wire("a.n", "c.p");
  expect(quantitiesOf(one, [one, two, third], ROWS).flow).toBeUndefined();
});

it("finds the signal of a signal wire", () => {
  const signal = wire("s.y", "t.u");
  expect(quantitiesOf(signal, [signal], ROWS)).toMatchObject({
    shared: { name: "s.y" },
    flow: undefined,
  });
});

it("stands in the middle of the longest stretch", () => {
  expect(
    middleOf([
      [0, 0],
      [0, 10],
      [40, 10],
    ]),
  ).toEqual({ x: 20, y: 10, angle: 0 });
  expect(
    middleOf([
      [0, 0],
      [0, 10],
    ]),
  ).toMatchObject({ angle: 90 });
  expect(middleOf([[1, 1]])).toBeNull();
});

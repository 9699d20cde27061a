import { expect, it } from "vitest";

import type { ModelView } from "./client";
import { complete, merged } from "./complete";

const part = (name: string, cls: string, x = 0) =>
  ({ name, class: cls, symbol: cls, extent: [x, 0, x + 1, 1], icon: undefined }) as never;
const drawing = (n: number) => ({ extent: [n], graphics: [], ports: [] });

function view(more: object, sheet: object): ModelView {
  return {
    mark: "m",
    analysed: true,
    rows: [],
    changes: null,
    ...more,
    sheet: { icons: {}, components: [], connections: [], ...sheet },
  } as unknown as ModelView;
}

it("puts changed items in their old places, new ones at the end, or all in the order given", () => {
  const known = ["a1", "b1", "c1"];
  const key = (item: string) => item[0]!;
  expect(merged(known, ["d1", "b2"], { gone: ["a"], order: null }, key)).toEqual([
    "b2",
    "c1",
    "d1",
  ]);
  expect(merged(known, ["d1"], { gone: [], order: ["d", "c", "b", "a"] }, key)).toEqual([
    "d1",
    "c1",
    "b1",
    "a1",
  ]);
});

it("makes a view of changes whole and gives a part its new symbol", () => {
  const none = { gone: [], order: null };
  const known = view(
    { rows: [{ name: "a.k" }] },
    { icons: { A: drawing(1), B: drawing(1) }, components: [part("a", "A"), part("b", "B")] },
  );
  const changes = { components: none, connections: none, rows: none };
  const answer = view(
    { changes, mark: "n" },
    { icons: { A: drawing(2) }, components: [part("c", "A", 5)] },
  );
  const whole = complete(answer, known);
  expect(whole.sheet.components.map((c) => [c.name, c.icon?.extent[0]])).toEqual([
    ["a", 2],
    ["b", undefined],
    ["c", 2],
  ]);
  expect(whole.mark).toBe("n");
  expect(whole.rows).toHaveLength(1);
  expect(complete(answer, { ...known, analysed: false }).rows).toHaveLength(0);
  expect(complete(known, undefined)).toBe(known);
});

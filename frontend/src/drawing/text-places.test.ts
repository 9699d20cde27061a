import { expect, it } from "vitest";

import { isOutside, turned } from "./text-places";

const at = (x: number, y: number) =>
  ({ is: "Text", extent: [[x - 10, y - 10], [x + 10, y + 10]] }) as never; // prettier-ignore
const icon = { extent: [-100, -100, 100, 100] } as never;
const middle = (rotation: number, mirrored = false, flipped = false) => {
  const [[a, b], [c, d]] = turned(at(-80, 40), { rotation, icon }, { mirrored, flipped })
    .extent as [[number, number], [number, number]];
  return [Math.round((a + c) / 2), Math.round((b + d) / 2)];
};

it("keeps a plus at its port when a symbol is turned or mirrored", () => {
  // The port is at the left, at (-100, 0); turned by 90° it is below, by -90° above.
  expect(middle(0)).toEqual([-80, 40]);
  expect(middle(90)).toEqual([-40, -80]);
  expect(middle(-90)).toEqual([40, 80]);
  expect(middle(180)).toEqual([80, -40]);
  expect(middle(0, true)).toEqual([80, 40]);
  expect(middle(0, false, true)).toEqual([-80, -40]);
});

it("knows names and values above and below", () => {
  expect([isOutside(at(0, 120), [-100, -100, 100, 100]), isOutside(at(0, -125), [-100, -100, 100, 100])]).toEqual([true, true]); // prettier-ignore
  expect(isOutside(at(-80, 40), [-100, -100, 100, 100])).toBe(false);
});

import { expect, it } from "vitest";

import { bounds, drawn, inside, valueAt } from "./curves";
import type { Axis } from "../state/strip-plan";

const AXES: Axis[] = [
  { side: "left", declared: "rad", unit: "deg", factor: 57.3, offset: 0 },
  { side: "right", declared: "K", unit: "degC", factor: 1, offset: -273.15 },
];

it("draws each curve in the unit of its axis", () => {
  expect(
    drawn({ name: "b", unit: "rad", time: [0, 1], values: [1, 2] }, 1, 0, 1, AXES),
  ).toMatchObject({ unit: "deg", side: "left", values: [57.3, 114.6] });
  const warm = drawn({ name: "T", unit: "K", time: [0], values: [300] }, 1, 0, 1, AXES);
  expect([warm.side, warm.unit, warm.values[0]!.toFixed(2)]).toEqual(["right", "degC", "26.85"]);
});

it("finds what lies in a range, both sides of a jump included", () => {
  const time = [0, 1, 1, 2, 3];
  expect(inside(time, 1, 2)).toEqual([0, 4]);
  expect(inside(time, 1.5, 1.6)).toEqual([2, 3]);
  expect(inside(time, -1, 9)).toEqual([0, 4]);
});

it("reads values between points, and after a jump at its instant", () => {
  const [time, values] = [
    [0, 1, 1, 3],
    [0, 10, 20, 30],
  ];
  expect([0, 0.5, 1, 2, 3].map((t) => valueAt(time, values, t))).toEqual([0, 5, 20, 25, 30]);
  expect([valueAt(time, values, -1), valueAt(time, values, 4)]).toEqual([null, null]);
});

it("measures only what can be seen", () => {
  const curve = drawn(
    { name: "x", unit: "rad", time: [0, 1, 2, 3], values: [-1, 0, 2, 9] },
    1,
    0,
    0,
    [{ ...AXES[0]!, factor: 1 }],
  );
  expect(bounds([curve], 1.2, 1.8)).toEqual([0, 2]);
  expect(bounds([curve], 0, 3, true)).toEqual([2, 9]);
  expect(bounds([], 0, 1)).toBeNull();
});

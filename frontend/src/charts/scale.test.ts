import { expect, it } from "vitest";

import { scaleOf, shade, steps } from "./scale";

it("maps a range to pixels, widening one of nothing", () => {
  const scale = scaleOf([2, null, 4], 0, 100);
  expect([scale.at(2), scale.at(3), scale.at(4)]).toEqual([0, 50, 100]);
  expect(scaleOf([5, 5], 0, 10).at(5)).toBe(5);
  expect(scaleOf([], 0, 10).at(0.5)).toBe(5);
});

it("shades from blue to orange, and sorts distinct values", () => {
  expect(shade(0)).toBe("rgb(0 90 160)");
  expect(shade(1)).toBe("rgb(190 70 0)");
  expect(shade(0.5)).toBe("rgb(240 240 230)");
  expect(steps([3, 1, 3])).toEqual([1, 3]);
});

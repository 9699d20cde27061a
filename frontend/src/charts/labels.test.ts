import { expect, it } from "vitest";

import { freePlace } from "./labels";

it("keeps labels at the ends of curves apart and inside their strip", () => {
  const used: number[] = [];
  for (const wanted of [3, 4, 60, 61]) used.push(freePlace(wanted, 12, 12, 70, used));
  for (const [i, a] of used.entries()) {
    expect(a).toBeGreaterThanOrEqual(12);
    expect(a).toBeLessThanOrEqual(70);
    for (const b of used.slice(0, i)) expect(Math.abs(a - b)).toBeGreaterThanOrEqual(12);
  }
  expect(freePlace(40, 12, 12, 70, [])).toBe(40);
});

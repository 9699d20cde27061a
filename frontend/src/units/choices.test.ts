import { expect, it } from "vitest";

import { kindWords, obstacle, orderOf, sizeWords, USUAL } from "./choices";

it("says what keeps a unit from being made", () => {
  expect(obstacle(USUAL)).toBeNull();
  expect(obstacle({ ...USUAL, interfaces: [] })).toContain("needs one of them");
  expect(obstacle({ ...USUAL, solver: "fixed", step: Number.NaN })).toContain("fixed step");
  expect(obstacle({ ...USUAL, interfaces: ["me"], solver: "fixed", step: 0 })).toBeNull();
});

it("sends a step only where one is taken, and platforms only where some are chosen", () => {
  expect(orderOf(USUAL)).toMatchObject({ step: 0, platforms: null, parameters: null });
  expect(orderOf({ ...USUAL, solver: "fixed", step: 0.01, platforms: ["win64"] })).toMatchObject({
    step: 0.01,
    platforms: ["win64"],
  });
});

it("names a unit and its size", () => {
  expect(kindWords({ ...orderOf(USUAL), version: 2, interfaces: ["cs"] } as never)).toBe(
    "FMI 2.0 for co-simulation",
  );
  expect([sizeWords(300), sizeWords(45_678), sizeWords(2_345_678)]).toEqual([
    "1 kB",
    "46 kB",
    "2.3 MB",
  ]);
});

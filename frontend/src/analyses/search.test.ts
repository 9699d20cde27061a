import { expect, it } from "vitest";

import { searchAsked, USUAL_SEARCH, wrongIn } from "./search";

it("asks for what was typed, and leaves the rest as usual", () => {
  const typed = {
    ...USUAL_SEARCH,
    deviations: { T: "0,2", gone: "1" },
    seconds: "30",
    heldBack: "30",
  };
  expect(searchAsked(typed, ["T", "p"])).toEqual({
    robust: false,
    starts: 1,
    held_back: 0.3,
    deviations: { T: 0.2 },
    seconds: 30,
  });
  expect(wrongIn(typed)).toBe("");
});

it("names what is no number above zero", () => {
  expect(wrongIn({ ...USUAL_SEARCH, deviations: { T: "small" } })).toContain("T: 'small'");
  expect(wrongIn({ ...USUAL_SEARCH, mostRuns: "-3" })).toContain("runs: '-3'");
});

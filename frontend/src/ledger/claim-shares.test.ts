import { expect, it } from "vitest";

import { sharesOf } from "./use-claim-shares";

const CLAIM = "max(T) < 80 degC";
const sweep = (fit: number | null, hold: number, fail: number, scenario = "base") => ({
  name: "G",
  scenario,
  state: "done",
  fit,
  varied: [{ name: "G" } as never],
  claims: [{ text: CLAIM, hold, fail, open: 0 }],
});

it("doubts a claim that fails within what a fit left uncertain, in scenarios that set what was fitted", () => {
  const fitted = { name: "fitted", changes: { G: "42" } };
  const doubted = sharesOf([sweep(7, 97, 3)], fitted).get(CLAIM)!;
  expect(doubted.doubtful).toBe(true);
  expect(doubted.words).toContain("smaller than what the fit left uncertain: holds in 97 % of 100");
  expect(sharesOf([sweep(7, 100, 0)], fitted).get(CLAIM)).toEqual({
    doubtful: false,
    words: "holds in all 100 (G)",
  });
  expect(sharesOf([sweep(null, 97, 3)], { name: "base", changes: {} }).get(CLAIM)!.doubtful).toBe(
    false,
  );
  expect(sharesOf([sweep(7, 97, 3)], { name: "calm", changes: { air: "1" } }).size).toBe(0);
});

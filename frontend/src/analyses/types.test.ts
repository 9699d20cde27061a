import { describe, expect, it } from "vitest";

import { likelyVariable, numberOf, polynomial } from "./types";

describe("what is typed and what columns are", () => {
  it("reads numbers with comma or point", () => {
    expect([numberOf("1,5"), numberOf(" 2.5 "), numberOf(""), numberOf("x")]).toEqual([
      1.5,
      2.5,
      null,
      null,
    ]);
  });

  it("writes a polynomial as people do", () => {
    expect(polynomial([1, -0.5, 0, 3])).toBe("1 s^3 − 0.5 s^2 + 3");
    expect(polynomial([0, 0])).toBe("0");
  });

  it("finds the variable with the most words of a column", () => {
    const names = ["oil.T", "air.T", "shell.Q", "oil.level"];
    expect(likelyVariable("oil level", names)).toBe("oil.level");
    expect(likelyVariable("shell", names)).toBe("shell.Q");
    expect(likelyVariable("xyz", names)).toBe("");
  });
});

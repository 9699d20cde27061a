import { describe, expect, it } from "vitest";

import { largestGap, likelyVariable, numberOf, polesAt, polynomial } from "./types";

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

describe("what is read off linear models", () => {
  it("poles at a gain stand with their damping, slow ones first", () => {
    const locus = {
      real: [
        [-9, -8],
        [-1, -3],
        [-1, -3],
      ],
      imaginary: [
        [0, 0],
        [0, 4],
        [0, -4],
      ],
    };
    const poles = polesAt(locus, 1);
    expect(poles.map((p) => p.real)).toEqual([-3, -3, -8]);
    expect(poles[0]!.damping).toBeCloseTo(0.6);
  });

  it("the largest gap is a share of the largest deviation, if there is any", () => {
    expect(largestGap([0, 1, 2], [0, 1.5, 4])).toEqual({ most: 2, share: 0.5 });
    expect(largestGap([1], [0])).toEqual({ most: 1, share: null });
  });
});

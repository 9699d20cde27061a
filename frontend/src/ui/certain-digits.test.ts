import { describe, expect, it } from "vitest";

import { certainDigits, certainParts } from "./certain-digits";

describe("certain digits", () => {
  it("counts those that half a unit of the last one does not change", () => {
    expect(certainDigits(1.23456, 0.0004)).toBe(4);
    expect(certainDigits(1.23456, 0.0006)).toBe(3);
    expect(certainDigits(-250, 30)).toBe(1);
    expect(certainDigits(-250, 500)).toBe(0);
    expect(certainDigits(3, 0)).toBe(Infinity);
    expect(certainDigits(0, 1e-3)).toBe(0);
  });
  it("cuts a number where its digits are no longer certain", () => {
    const cut = (value: number, off: number) => Object.values(certainParts(value, off)).join("|");
    expect(cut(1.23456, 0.0006)).toBe("1.23|46|");
    expect(cut(0.00123456, 1e-6)).toBe("0.00123|46|");
    expect(cut(-1.23456e-7, 1e-10)).toBe("-1.23|46|e-7");
    expect(cut(12345.6, 40)).toBe("123|46|");
    expect(cut(42, 1e-9)).toBe("42||");
    expect(cut(7.5, 100)).toBe("|7.5|");
  });
});

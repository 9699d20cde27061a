import { describe, expect, it } from "vitest";

import { ago, exactNumber, givenNumber, formatNumber, formatUnit, withUnit } from "./format";

describe("numbers", () => {
  it("shows at most five significant digits", () => {
    expect([0.123456789, 1234567.8, 0.00001234, 42, 0, -0.5].map((v) => formatNumber(v))).toEqual([
      "0.12346",
      "1.2346e6",
      "1.234e-5",
      "42",
      "0",
      "-0.5",
    ]);
    expect(formatNumber(null)).toBe("");
  });
  it("shows what a person gave with its digits", () => {
    expect([101325, 0.1 + 0.2, 2.1e11, 1e-9, 0].map(givenNumber)).toEqual([
      "101325",
      "0.3",
      "2.1e11",
      "1e-9",
      "0",
    ]);
  });
  it("edits with all digits", () => {
    expect(exactNumber(0.1 + 0.2)).toBe("0.3");
    expect(exactNumber(0.12345678901)).toBe("0.12345678901");
  });
  it("writes units as engineers do", () => {
    expect(["kg.m2", "m3/s", "1", "degC", "uOhm", "l/s"].map(formatUnit)).toEqual([
      "kg·m²",
      "m³/s",
      "",
      "°C",
      "µΩ",
      "l/s",
    ]);
    expect(withUnit(3, "m")).toBe("3\u2009m");
  });
  it("says how long ago", () => {
    const now = Date.parse("2026-01-02T00:00:00Z");
    expect(ago("2026-01-01T23:59:30Z", now)).toBe("just now");
    expect(ago("2026-01-01T21:00:00Z", now)).toBe("3\u2009h ago");
  });
});

import { describe, expect, it } from "vitest";

import { EMPTY_DRAFT, stepOf } from "./preparation-step";

describe("a step from what is typed", () => {
  it("waits until everything is there", () => {
    expect(stepOf("crop", EMPTY_DRAFT)).toBeNull();
    expect(stepOf("offset", { ...EMPTY_DRAFT, column: "oil" })).toBeNull();
    expect(stepOf("outliers", EMPTY_DRAFT)).toBeNull();
    expect(stepOf("join", EMPTY_DRAFT)).toBeNull();
  });

  it("corrects a unit, and takes seconds for a time without one", () => {
    expect(stepOf("in unit", { ...EMPTY_DRAFT, column: "oil", unit: " degC " })).toEqual({
      do: "in unit",
      column: "oil",
      unit: "degC",
    });
    expect(stepOf("as time", { ...EMPTY_DRAFT, column: "clock" })).toEqual({
      do: "as time",
      column: "clock",
      unit: "s",
    });
  });

  it("takes one end, decimal commas and whole windows", () => {
    expect(stepOf("crop", { ...EMPTY_DRAFT, high: "12,5" })).toEqual({
      do: "crop",
      low: null,
      high: 12.5,
    });
    expect(stepOf("offset", { ...EMPTY_DRAFT, column: "oil", by: "-0,3" })).toEqual({
      do: "offset",
      column: "oil",
      by: -0.3,
    });
    expect(stepOf("outliers", { ...EMPTY_DRAFT, column: "oil", window: "20.6" })).toEqual({
      do: "outliers",
      column: "oil",
      deviations: 5,
      window: 21,
    });
    expect(stepOf("join", { ...EMPTY_DRAFT, file: "Data/b.csv", how: "after" })).toEqual({
      do: "join",
      file: "Data/b.csv",
      how: "after",
      shift: 0,
    });
  });
});

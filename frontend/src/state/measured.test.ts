import { describe, expect, it } from "vitest";

import { isMeasured, shortName } from "./measured";

describe("names of measured columns", () => {
  it("are told from those of variables and shown with the column first", () => {
    expect(["oil.T", "Data/calm day.csv:oil"].map(isMeasured)).toEqual([false, true]);
    expect(shortName("Data/calm day.csv:oil: inlet")).toBe("oil: inlet · calm day.csv");
    expect(shortName("oil.T")).toBe("oil.T");
  });
});

import { describe, expect, it } from "vitest";

import { modelName } from "./model-name";

describe("names of new models", () => {
  it("joins words with capitals", () => {
    expect(modelName("ice store")).toBe("IceStore");
    expect(modelName("  Bilge-dosing 2 ")).toBe("BilgeDosing2");
  });
  it("never begins with a digit and may be empty", () => {
    expect(modelName("2 basins")).toBe("Model2Basins");
    expect(modelName(" - ")).toBe("");
  });
});

import { describe, expect, it } from "vitest";

import { find, fitness, type Entry } from "./find";

function entry(name: string, description = "", synonyms: string[] = []): Entry {
  return {
    class: `Library.${name}`,
    name,
    group: "Process",
    description,
    synonyms,
    main_parameter: "",
    icon: { extent: [], graphics: [], ports: [] },
  };
}

const ENTRIES = [
  entry("Basin", "Open tank"),
  entry("Orifice", "Opening with losses", ["nozzle"]),
  entry("Outfall", "Open water"),
  entry("Pulse", "Rectangular pulses"),
];

describe("finding on the shelf", () => {
  it("shows everything in order while nothing is typed", () => {
    expect(find(ENTRIES, "  ").map((e) => e.name)).toEqual([
      "Basin",
      "Orifice",
      "Outfall",
      "Pulse",
    ]);
  });
  it("puts names before descriptions", () => {
    expect(find(ENTRIES, "ou").map((e) => e.name)[0]).toBe("Outfall");
    expect(find(ENTRIES, "open").map((e) => e.name)).toEqual(["Basin", "Orifice", "Outfall"]);
  });
  it("knows other trades' words", () => {
    expect(find(ENTRIES, "nozzle").map((e) => e.name)).toEqual(["Orifice"]);
  });
  it("puts words before what only contains them, and a synonym before the beginning of a name", () => {
    const parts = [
      entry("Wholesale", "a whole system"),
      entry("Orifice", "a hole in a wall"),
      entry("Gain", "Multiplies", ["amplifier"]),
      entry("AmplifierStage", "of two transistors"),
    ];
    expect(find(parts, "hole").map((e) => e.name)).toEqual(["Wholesale", "Orifice"].reverse());
    expect(find(parts, "amplifier")[0]!.name).toBe("Gain");
    expect(find(parts, "1/s (")).toEqual([]);
  });
  it("forgives left-out letters and asks for every word", () => {
    expect(fitness(ENTRIES[0]!, "bsn")).toBeGreaterThan(0);
    expect(find(ENTRIES, "open pulses")).toEqual([]);
  });
});

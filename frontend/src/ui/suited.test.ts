import { expect, it } from "vitest";

import { counted, formatTime, withUnit } from "./format";
import { suitedTimeUnit, suitedUnit } from "../state/suited-unit";

it("shows values as engineers write them", () => {
  const shown: [number, string, string][] = [
    [1e-4, "F", "100 µF"],
    [1e-9, "F", "1 nF"],
    [1e5, "Ohm", "100 kΩ"],
    [5e-5, "s", "50 µs"],
    [2e6, "N.m/rad", "2 MN·m/rad"],
    [0.004, "m", "4 mm"],
    [-25000, "N", "-25 kN"],
    [0.5, "m", "0.5 m"],
    [2200, "Ohm", "2200 Ω"],
    [12345, "N", "12345 N"],
    [50000, "kg", "50000 kg"],
    [0.001, "m3/s", "0.001 m³/s"],
    [20000, "rev/min", "20000 rev/min"],
    [20000, "mm", "20000 mm"],
    [0, "F", "0 F"],
    [1e-15, "F", "1e-15 F"],
  ];
  for (const [value, unit, text] of shown)
    expect(withUnit(value, unit).replace("\u2009", " ")).toBe(text);
});

it("finds one unit for all numbers of an axis", () => {
  expect(suitedUnit(123456, "Pa")).toEqual({ factor: 1e-3, unit: "kPa" });
  expect(suitedUnit(3e-3, "A").unit).toBe("mA");
  expect(suitedUnit(1000 * (1 - 1e-16), "Pa").unit).toBe("Pa");
});

it("shows times in the unit that suits, or the one that was chosen", () => {
  const shown = [formatTime(3e-5), formatTime(600), formatTime(36000), formatTime(2700, "min"), formatTime(5, "min")]; // prettier-ignore
  expect(shown.map((t) => t.replace("\u2009", " "))).toEqual(["30 µs", "600 s", "10 h", "45 min", "5 s"]); // prettier-ignore
  expect([1e-8, 1e-4, 0.1, 60, 3600, 86400, 1e6].map(suitedTimeUnit)).toEqual(["ns", "us", "ms", "s", "min", "h", "d"]); // prettier-ignore
});

it("counts in the singular and the plural", () => {
  expect([counted(1, "line"), counted(2, "line"), counted(2, "analysis", "analyses")]).toEqual(["1 line", "2 lines", "2 analyses"]); // prettier-ignore
});

import { describe, expect, it } from "vitest";

import type { RunVariable } from "../api/client";
import { asPlans, axesOf, placed, planOf, shifted, toggled } from "./strip-plan";

const UNITS: Record<string, string> = { a: "m", b: "m", c: "Pa", d: "K" };
const unitOf = (name: string) => UNITS[name] ?? "";
const names = (plans: ReturnType<typeof toggled>) => plans.map((p) => p.names.join(""));

describe("plans of strips", () => {
  it("groups by unit and takes away what is there", () => {
    const one = toggled([], "a", unitOf);
    const two = toggled(toggled(one, "b", unitOf), "c", unitOf);
    expect(names(two)).toEqual(["ab", "c"]);
    expect(names(toggled(two, "a", unitOf))).toEqual(["b", "c"]);
    expect(names(toggled(two, "c", unitOf))).toEqual(["ab"]);
  });

  it("moves a curve onto a second axis, and beyond two units onto a strip of its own", () => {
    const plans = [planOf(["a"]), planOf(["c"]), planOf(["d"])];
    expect(names(placed(plans, "c", plans[0]!, unitOf))).toEqual(["ac", "d"]);
    const both = placed(plans, "c", plans[0]!, unitOf);
    expect(names(placed(both, "d", both[0]!, unitOf))).toEqual(["ac", "d"]);
    expect(names(placed(both, "c", null, unitOf))).toEqual(["a", "d", "c"]);
  });

  it("moves by keyboard, keeping the chosen units", () => {
    const plans = [{ ...planOf(["a"]), left: "cm" }, planOf(["b", "c"])];
    const moved = shifted(plans, "b", -1, unitOf);
    expect(names(moved)).toEqual(["ab", "c"]);
    expect(moved[0]!.left).toBe("cm");
    expect(names(shifted(moved, "a", -1, unitOf))).toEqual(["a", "b", "c"]);
    expect(names(shifted([planOf(["a"])], "a", 1, unitOf))).toEqual(["a"]);
  });

  it("reads what was kept as plain names", () => {
    expect(asPlans([["a"], ["b", "c"]])).toEqual([planOf(["a"]), planOf(["b", "c"])]);
    expect(asPlans(undefined)).toBeNull();
  });

  it("shows each axis in the chosen unit", () => {
    const variable = (name: string): RunVariable => ({
      name,
      unit: unitOf(name),
      shown_unit: unitOf(name),
      factor: 1,
      offset: 0,
      description: "",
    });
    const known = new Map(["a", "c"].map((n) => [n, variable(n)]));
    const axes = axesOf({ ...planOf(["a", "c"]), right: "bar" }, known, (u) =>
      u === "Pa" ? [{ unit: "bar", factor: 1e-5, offset: 0 }] : undefined,
    );
    expect(axes.map((x) => [x.side, x.unit, x.factor])).toEqual([
      ["left", "m", 1],
      ["right", "bar", 1e-5],
    ]);
  });
});

import { expect, it } from "vitest";

import type { RunVariable } from "../api/client";
import { drawn, likeFirst, strictlyIncreasing } from "./curves";

const variable = (name: string, unit: string, shown: string, factor: number): RunVariable => ({ name, unit, shown_unit: shown, factor, offset: 0, description: "" });
const variables = [variable("a", "rad", "rad", 1), variable("b", "rad", "deg", 57.3), variable("c", "N", "kN", 1e-3)];

it("draws the curves of a strip in the unit of its first", () => {
  expect(likeFirst(["a", "b"], variables, "b")).toMatchObject({ name: "b", shown_unit: "rad", factor: 1 });
  expect(likeFirst(["b", "a"], variables, "a")).toMatchObject({ shown_unit: "deg", factor: 57.3 });
  expect(likeFirst(["a", "c"], variables, "c")).toMatchObject({ shown_unit: "kN", factor: 1e-3 });
  const curve = drawn({ name: "b", unit: "rad", time: [0, 1], values: [1, 2] }, 1, 0, 1, likeFirst(["a", "b"], variables, "b"));
  expect([curve.unit, curve.values]).toEqual(["rad", [1, 2]]);
});

it("keeps both sides of a jump apart", () => {
  const time = strictlyIncreasing([0, 1, 1, 2]);
  expect(time[2]! > time[1]! && time[2]! - 1 < 1e-6).toBe(true);
});

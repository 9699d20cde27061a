import { expect, it } from "vitest";

import type { RunVariable } from "../api/client";
import { search } from "./search";

const variable = (name: string, unit: string, description: string): RunVariable => ({
  name,
  unit,
  shown_unit: unit,
  factor: 1,
  offset: 0,
  description,
});
const ALL = [
  variable("pump.motor.i", "A", "Current"),
  variable("motor.i", "A", "Current"),
  variable("motor.w", "rad/s", "Speed of the shaft"),
  variable("tank.level", "m", "Level of the water"),
];

it("finds what has all the words, in name, description or unit", () => {
  expect(search(ALL, "speed").map((v) => v.name)).toEqual(["motor.w"]);
  expect(search(ALL, "WATER m").map((v) => v.name)).toEqual(["tank.level"]);
  expect(search(ALL, "motor torque")).toEqual([]);
  expect(search(ALL, "")).toHaveLength(4);
});

it("puts names that begin so in front, short paths first", () => {
  expect(search(ALL, "motor current").map((v) => v.name)).toEqual(["motor.i", "pump.motor.i"]);
});

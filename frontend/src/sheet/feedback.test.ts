import { expect, it } from "vitest";

import type { Sheet } from "../api/client";
import { feedbackBlocks } from "./feedback";

const block = (name: string, inputs = 1, outputs = 1) => ({
  name,
  icon: {
    ports: [
      ...Array.from({ length: inputs }, (_, i) => ({ name: `u${i}`, direction: "in" })),
      ...Array.from({ length: outputs }, (_, i) => ({ name: `y${i}`, direction: "out" })),
    ],
  },
});
const sheet = (components: unknown[], ...wires: [string, string][]) =>
  ({
    components,
    connections: wires.map(([from, to]) => ({
      from: `${from}.y0`,
      to: `${to}.u0`,
      direction: "forward",
    })),
  }) as unknown as Sheet;

it("finds the block that leads the signal back to the sum", () => {
  const loop = sheet(
    [block("step", 0), block("sum", 2), block("pid"), block("plant"), block("sensor")],
    ["step", "sum"],
    ["sum", "pid"],
    ["pid", "plant"],
    ["plant", "sensor"],
    ["plant", "scope"],
    ["sensor", "sum"],
  );
  expect([...feedbackBlocks(loop)]).toEqual(["sensor"]);
});

it("draws half of a loop of plain blocks back", () => {
  const swing = sheet(
    [block("v"), block("s"), block("gain")],
    ["v", "s"],
    ["s", "gain"],
    ["gain", "v"],
  );
  expect([...feedbackBlocks(swing)]).toEqual(["gain"]);
});

it("turns nothing where there is no loop", () => {
  const chain = sheet([block("a", 0), block("b"), block("c", 1, 0)], ["a", "b"], ["b", "c"]);
  expect(feedbackBlocks(chain).size).toBe(0);
});

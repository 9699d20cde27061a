import { expect, it } from "vitest";

import type { Sheet } from "../api/client";
import { labelShifts } from "./label-places";

const icon = {
  extent: [-100, -100, 100, 100],
  ports: [],
  graphics: [
    { is: "Text", textString: "%name", extent: [[-150, 150], [150, 110]] },
    { is: "Text", textString: "%k", extent: [[-150, -110], [150, -150]] },
  ],
}; // prettier-ignore
const part = (name: string, x: number, y: number) => ({
  name,
  class: "C",
  icon,
  port: null,
  rotation: 0,
  labels: { k: "84 kJ/K" },
  extent: [x - 20, y - 20, x + 20, y + 20],
});
const sheet = (components: unknown[], wires: number[][][] = []) =>
  ({ components, connections: wires.map((points) => ({ points })) }) as unknown as Sheet;

it("leaves a value where its class puts it as long as nothing is in its way", () => {
  expect(labelShifts(sheet([part("a", 0, 0)], [[[0, 40], [90, 40]]])).size).toBe(0); // prettier-ignore
});

it("moves a value away from a wire that leads down through it, to where no wire is", () => {
  const down = sheet([part("a", 0, 0)], [[[0, -20], [0, -26], [60, -26]]]); // prettier-ignore
  const [dx, dy] = labelShifts(down).get("a")!.value!;
  // Moved so that neither stretch of the wire, 40 px and 52 px below the middle, runs through it.
  const [top, left] = [42 + dy, -25 + dx];
  expect(top > 54 || top + 13 < 50 || left + 50 < 0).toBe(true);
  expect(left + 50 < 0 || left > 0 || top > 52).toBe(true);
});

it("moves a value away from another part", () => {
  const { name, value } = labelShifts(sheet([part("a", 0, 0), part("b", 0, -44)])).get("a")!;
  expect(name).toBeUndefined();
  expect(value).toBeDefined();
});

import { describe, expect, it } from "vitest";

import type { Row, RunVariable, Sheet } from "../api/client";
import { shownQuantities } from "./shown-quantities";

const moving = {
  graphics: [{ is: "Rectangle", dynamic: { extent: ["list", 0, ["*", ["ref", "level"], 2]] } }],
  ports: [],
  extent: [],
};
const sheet = {
  icons: { Basin: moving, Gain: { graphics: [], ports: [], extent: [] } },
  components: [
    { name: "basin", symbol: "Basin" },
    { name: "gain", symbol: "Gain" },
  ],
  connections: [{ from: "gain.y", to: "basin.q", points: [] }],
} as unknown as Sheet;
const rows = [{ name: "gain.y", component: "gain", group: "watch", flow: false }] as Row[];
const variables = ["basin.level", "basin.volume", "gain.y", "gain.u"].map((name) => ({
  name,
})) as RunVariable[];

describe("what the sheet asks of a run", () => {
  it("is what moves its symbols, and what its wires show", () => {
    expect(shownQuantities(sheet, rows, variables, "plain")).toEqual(["basin.level"]);
    expect(shownQuantities(sheet, rows, variables, "values")).toEqual(["basin.level", "gain.y"]);
    expect(shownQuantities(sheet, rows, [], "values")).toEqual([]);
  });
});

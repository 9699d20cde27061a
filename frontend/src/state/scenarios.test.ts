import { expect, it } from "vitest";

import type { ModelView, RunView } from "../api/client";
import { claimCount, colourOf, freeName, newestRuns, outdated } from "./scenarios";

const view = {
  file: "A.mo",
  revision: 7,
  marks: { base: "b", stiff: "s" },
  scenarios: [{ name: "stiff", colour: 3, changes: {}, settings: {}, off: [], note: "" }],
} as unknown as ModelView;
const run = (id: number, scenario: string, colour = 0) =>
  ({ id, scenario, colour, mark: "", revisions: { "A.mo": id } }) as unknown as RunView;

it("gives a run the colour of its scenario, or the one it had", () => {
  expect([
    colourOf(view, run(1, "base")),
    colourOf(view, run(2, "stiff", 1)),
    colourOf(view, run(3, "gone", 5)),
  ]).toEqual([0, 3, 5]);
});

it("finds the newest run of each scenario", () => {
  const runs = [run(9, "stiff"), run(8, "base"), run(5, "stiff"), run(4, "base")];
  expect([...newestRuns(runs)].map(([name, r]) => [name, r.id])).toEqual([
    ["stiff", 9],
    ["base", 8],
  ]);
});

it("counts the claims that are judged", () => {
  const claims = [
    { off: false, holds: true },
    { off: false, holds: false },
    { off: false, holds: null, reason: "it never settles" },
    { off: false, holds: null, reason: "" },
    { off: true, holds: null, reason: "" },
  ] as never;
  expect(claimCount(claims)).toEqual({ held: 1, failed: 1, pending: 1, asked: 4 });
});

it("tells a run of an earlier text, and names that are free", () => {
  const marked = (scenario: string, mark: string) => ({ ...run(5, scenario), mark });
  expect(
    [marked("base", "b"), marked("stiff", "b"), marked("gone", "b")].map((r) => outdated(view, r)),
  ).toEqual([false, true, true]);
  // Runs of long ago know their text only.
  expect([outdated(view, run(7, "base")), outdated(view, run(6, "base"))]).toEqual([false, true]);
  expect([freeName(view, "stiff"), freeName(view, "soft")]).toEqual(["stiff 2", "soft"]);
});

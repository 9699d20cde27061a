import { describe, expect, it } from "vitest";

import { freeSlot, SHOWN_LIMIT, toggled, useView } from "./state";

const unitOf = (name: string) => (name.startsWith("q") ? "l/s" : "m");

describe("strips", () => {
  it("puts a variable on the first strip of its unit, else on a new one", () => {
    expect(toggled([["h"], ["q1"]], "q2", unitOf)).toEqual([["h"], ["q1", "q2"]]);
    expect(toggled([["q1"]], "h", unitOf)).toEqual([["q1"], ["h"]]);
  });
  it("takes a variable off and drops an empty strip", () => {
    expect(toggled([["h"], ["q1", "q2"]], "q1", unitOf)).toEqual([["h"], ["q2"]]);
    expect(toggled([["h"], ["q1"]], "h", unitOf)).toEqual([["q1"]]);
  });
});

describe("shown runs", () => {
  it("gives each run a colour slot of its own and keeps it", () => {
    useView.getState().open("m", [], null);
    for (let run = 1; run <= SHOWN_LIMIT; run += 1) useView.getState().show(run);
    expect(useView.getState().shown.map((s) => s.slot)).toEqual([0, 1, 2, 3, 4, 5]);
    useView.getState().hide(2);
    useView.getState().show(9);
    expect(useView.getState().shown.find((s) => s.run === 9)?.slot).toBe(1);
    useView.getState().show(10);
    expect(useView.getState().shown).toHaveLength(SHOWN_LIMIT);
    expect(useView.getState().current).toBe(10);
    expect(freeSlot([{ slot: 0 }, { slot: 2 }])).toBe(1);
  });
});

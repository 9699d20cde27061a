import { describe, expect, it, vi } from "vitest";

import { openModel } from "./open";
import { freeSlot, SHOWN_LIMIT, useShownRuns } from "./shown-runs";
import { useTime } from "./time";

describe("zoom", () => {
  it("goes back step by step, a turn of the wheel being one", () => {
    const clock = vi.spyOn(performance, "now");
    const { setRange, zoomBack } = useTime.getState();
    openModel("m", [], null);
    for (const [at, range] of [
      [0, [1, 9]],
      [5000, [2, 8]],
      [5100, [3, 7]],
      [5200, [4, 6]],
    ] as [number, [number, number]][]) {
      clock.mockReturnValue(at);
      setRange(range, true);
    }
    zoomBack();
    expect(useTime.getState().range).toEqual([1, 9]);
    zoomBack();
    expect(useTime.getState().range).toBeNull();
    zoomBack();
    expect(useTime.getState().range).toBeNull();
    clock.mockRestore();
  });
});

describe("shown runs", () => {
  it("gives each run a colour slot of its own and keeps it", () => {
    openModel("m", [], null);
    for (let run = 1; run <= SHOWN_LIMIT; run += 1) useShownRuns.getState().show(run);
    expect(useShownRuns.getState().shown.map((s) => s.slot)).toEqual([0, 1, 2, 3, 4, 5]);
    useShownRuns.getState().hide(2);
    useShownRuns.getState().show(9);
    expect(useShownRuns.getState().shown.find((s) => s.run === 9)?.slot).toBe(1);
    useShownRuns.getState().show(10);
    expect(useShownRuns.getState().shown).toHaveLength(SHOWN_LIMIT);
    expect(useShownRuns.getState().current).toBe(10);
    expect(freeSlot([{ slot: 0 }, { slot: 2 }])).toBe(1);
  });
});

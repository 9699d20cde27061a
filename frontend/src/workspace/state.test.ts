import { describe, expect, it, vi } from "vitest";

import { freeSlot, SHOWN_LIMIT, useView } from "./state";

describe("zoom", () => {
  it("goes back step by step, a turn of the wheel being one", () => {
    const clock = vi.spyOn(performance, "now");
    const { setRange, zoomBack, open } = useView.getState();
    open("m", [], null);
    for (const [at, range] of [[0, [1, 9]], [5000, [2, 8]], [5100, [3, 7]], [5200, [4, 6]]] as [number, [number, number]][]) {
      clock.mockReturnValue(at);
      setRange(range, true);
    }
    zoomBack();
    expect(useView.getState().range).toEqual([1, 9]);
    zoomBack();
    expect(useView.getState().range).toBeNull();
    zoomBack();
    expect(useView.getState().range).toBeNull();
    clock.mockRestore();
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

import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { useInstant } from "./instant";
import { NO_TIME, useTime } from "./time";

describe("the instant that values follow", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    useTime.setState(NO_TIME);
  });
  afterEach(() => vi.useRealTimers());

  it("changes at most every 50 ms however the pointer moves, and ends where the pointer does", () => {
    let renders = 0;
    const { result } = renderHook(() => {
      renders += 1;
      return useInstant();
    });
    const before = renders;
    for (let k = 1; k <= 100; k += 1) {
      act(() => {
        useTime.getState().setHover(k);
        vi.advanceTimersByTime(5);
      });
    }
    act(() => {
      vi.advanceTimersByTime(50);
    });
    expect(renders - before).toBeGreaterThan(4);
    expect(renders - before).toBeLessThanOrEqual(11);
    expect(result.current).toBe(100);
    act(() => {
      useTime.getState().setCursor(7);
      useTime.getState().setHover(null);
      vi.advanceTimersByTime(50);
    });
    expect(result.current).toBe(7);
  });
});

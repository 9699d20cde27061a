import { create } from "zustand";

import type { Curve } from "../api/client";

export interface ShownRun {
  run: number;
  slot: number;
}

/** The runs that are drawn. */
export interface ShownRunsState {
  /** Each with the slot of its colour, oldest first. */
  shown: ShownRun[];
  /** The one whose values are shown. */
  current: number | null;
  /** Curves of a value that is being dragged. */
  live: Curve[] | null;
  setLive: (live: Curve[] | null) => void;
  /** Draw a run; `lead` makes it the one whose values are shown. */
  show: (run: number, lead?: boolean) => void;
  hide: (run: number) => void;
  makeCurrent: (run: number) => void;
}

/** Runs that are drawn at most; showing one more hides the oldest. */
export const SHOWN_LIMIT = 6;

export function freeSlot(shown: { slot: number }[]): number {
  const used = new Set(shown.map((s) => s.slot));
  let slot = 0;
  while (used.has(slot)) slot += 1;
  return slot;
}

export const useShownRuns = create<ShownRunsState>((set) => ({
  shown: [],
  current: null,
  live: null,
  setLive: (live) => set({ live }),
  show: (run, lead = true) =>
    set((state) => {
      const current = lead ? run : state.current;
      if (state.shown.some((s) => s.run === run)) return { current };
      const kept = state.shown.length >= SHOWN_LIMIT ? state.shown.slice(1) : state.shown;
      return { shown: [...kept, { run, slot: freeSlot(kept) }], current };
    }),
  hide: (run) =>
    set((state) => {
      const shown = state.shown.filter((s) => s.run !== run);
      return {
        shown,
        current: state.current === run ? (shown.at(-1)?.run ?? null) : state.current,
      };
    }),
  makeCurrent: (current) => set({ current }),
}));

/** Number of run colours in the theme: Okabe and Ito's colour-blind-safe set and ink. */
export const RUN_COLOURS = 7;

export function runColour(slot: number): string {
  return `var(--run-${slot % RUN_COLOURS})`;
}

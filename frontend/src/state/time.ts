import { create } from "zustand";

export type Range = [number, number];

/** Where somebody looks in time: the cursor, the marks, and what is zoomed in on; all in s. */
export interface TimeState {
  /** The pinned time cursor, and the one under the pointer. */
  cursor: number | null;
  hover: number | null;
  /** Two instants between which differences and measures are taken. */
  marks: { a: number | null; b: number | null };
  /** What the strips show; all of the runs without it. */
  range: Range | null;
  /** Ranges before, the newest last, and when the last change was, in ms. */
  past: (Range | null)[];
  zoomed: number;
  /** The unit in which times are shown. */
  unit: string;
  setUnit: (unit: string) => void;
  setCursor: (time: number | null) => void;
  setHover: (time: number | null) => void;
  setMark: (which: "a" | "b", time: number | null) => void;
  /** `turning` says that it is one step of a turn of the wheel, which counts as one change. */
  setRange: (range: Range | null, turning?: boolean) => void;
  /** Back to the range before. */
  zoomBack: () => void;
}

/** Steps of the wheel within so many ms are one change; ranges that are kept to go back to. */
const [ONE_CHANGE, KEPT_RANGES] = [700, 50];

export const NO_TIME = {
  cursor: null,
  hover: null,
  marks: { a: null, b: null },
  range: null,
  past: [],
  zoomed: -Infinity,
  unit: "s",
};

/** Whether two ranges are the same but for the rounding of pixels. */
function alike(one: Range | null, other: Range | null): boolean {
  if (!one || !other) return one === other;
  const span = one[1] - one[0];
  return Math.abs(one[0] - other[0]) < span * 1e-3 && Math.abs(one[1] - other[1]) < span * 1e-3;
}

export const useTime = create<TimeState>((set) => ({
  ...NO_TIME,
  setUnit: (unit) => set({ unit }),
  setCursor: (cursor) => set({ cursor }),
  setHover: (hover) => set({ hover }),
  setMark: (which, time) => set((state) => ({ marks: { ...state.marks, [which]: time } })),
  setRange: (range, turning = false) =>
    set((state) => {
      // Strips that share a selection say it one after the other.
      if (alike(range, state.range)) return {};
      const now = performance.now();
      const past =
        turning && now - state.zoomed < ONE_CHANGE
          ? state.past
          : [...state.past, state.range].slice(-KEPT_RANGES);
      return { range, past, zoomed: turning ? now : -Infinity };
    }),
  zoomBack: () =>
    set((state) =>
      state.past.length
        ? { range: state.past.at(-1)!, past: state.past.slice(0, -1), zoomed: -Infinity }
        : {},
    ),
}));

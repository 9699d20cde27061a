import { create } from "zustand";

import type { Curve } from "../api/client";
import type { WireMarks } from "../sheet/wire-quantities";
import { keyOf, toggled, type StripPlan } from "../recorder/plan";

export type View = "sheet" | "text" | "equations" | "figures" | "symbol" | "description" | "history" | "scenarios" | "sweeps";

/** What one person has selected and is looking at; everything else belongs to the server. */
export interface ViewState {
  /** The selected parts, and the one part if it is a single one. */
  selection: string[];
  selected: string | null;
  /** The selected wires, each as its two ends with a blank between. */
  wires: string[];
  /** Pinned time cursor and the one under the pointer, in s. */
  cursor: number | null;
  hover: number | null;
  /** Shown runs with the colour slot of each, oldest first. */
  shown: { run: number; slot: number }[];
  current: number | null;
  strips: StripPlan[] | null;
  range: [number, number] | null;
  /** Ranges before, the newest last, and when the last change was, in ms. */
  past: ([number, number] | null)[];
  zoomed: number;
  view: View;
  /** A line of the text that is to be shown next, and what the Equations view is limited to. */
  line: number | null;
  /** The model whose view this is, once its kept arrangement was read. */
  opened: string;
  /** The unit in which a variable is computed, known once a run is. */
  unitOf: (name: string) => string;
  /** The scenario that is edited and run. */
  scenario: string;
  setScenario: (scenario: string) => void;
  /** Two instants between which differences and measures are taken. */
  marks: { a: number | null; b: number | null };
  setMark: (which: "a" | "b", time: number | null) => void;
  /** What wires on the sheet show. */
  wireMarks: WireMarks;
  setWireMarks: (wireMarks: WireMarks) => void;
  /** Curves of a value that is being dragged. */
  live: Curve[] | null;
  setLive: (live: Curve[] | null) => void;
  setUnits: (unitOf: (name: string) => string) => void;
  select: (component: string | null) => void;
  selectParts: (parts: string[], wires?: string[]) => void;
  setView: (view: View, line?: number | null) => void;
  setCursor: (time: number | null) => void;
  setHover: (time: number | null) => void;
  /** `turning` says that it is one step of a turn of the wheel, which counts as one change. */
  setRange: (range: [number, number] | null, turning?: boolean) => void;
  /** Back to the range before. */
  zoomBack: () => void;
  show: (run: number) => void;
  hide: (run: number) => void;
  makeCurrent: (run: number) => void;
  setStrips: (strips: StripPlan[]) => void;
  toggleOnStrip: (name: string, unitOf: (name: string) => string) => void;
  open: (model: string, shown: { run: number; slot: number }[], strips: StripPlan[] | null) => void;
}

/** Runs that are drawn at most; showing one more hides the oldest. */
export const SHOWN_LIMIT = 6;

/** Whether two ranges are the same but for the rounding of pixels. */
function alike(one: [number, number] | null, other: [number, number] | null): boolean {
  if (!one || !other) return one === other;
  const span = one[1] - one[0];
  return Math.abs(one[0] - other[0]) < span * 1e-3 && Math.abs(one[1] - other[1]) < span * 1e-3;
}

/** Steps of the wheel within so many ms are one change; ranges that are kept to go back to. */
const [ONE_CHANGE, KEPT_RANGES] = [700, 50];

export function freeSlot(shown: { slot: number }[]): number {
  const taken = new Set(shown.map((s) => s.slot));
  let slot = 0;
  while (taken.has(slot)) slot += 1;
  return slot;
}

export const useView = create<ViewState>((set) => ({
  selection: [],
  selected: null,
  wires: [],
  line: null,
  cursor: null,
  hover: null,
  shown: [],
  current: null,
  strips: null,
  range: null,
  past: [],
  zoomed: -Infinity,
  view: "sheet",
  opened: "",
  unitOf: () => "",
  live: null,
  wireMarks: "plain",
  setWireMarks: (wireMarks) => set({ wireMarks }),
  setLive: (live) => set({ live }),
  marks: { a: null, b: null },
  setMark: (which, time) => set((state) => ({ marks: { ...state.marks, [which]: time } })),
  scenario: "base",
  setScenario: (scenario) => set({ scenario }),
  setUnits: (unitOf) => set({ unitOf }),
  select: (selected) => set({ selected, selection: selected === null ? [] : [selected], wires: [] }),
  selectParts: (selection, wires = []) => set({ selection, wires, selected: selection.length === 1 ? selection[0]! : null }),
  setView: (view, line = null) => set({ view, line }),
  setCursor: (cursor) => set({ cursor }),
  setHover: (hover) => set({ hover }),
  setRange: (range, turning = false) =>
    set((state) => {
      // Strips that share a selection tell it one after the other.
      if (alike(range, state.range)) return {};
      const now = performance.now();
      const past = turning && now - state.zoomed < ONE_CHANGE ? state.past : [...state.past, state.range].slice(-KEPT_RANGES);
      return { range, past, zoomed: turning ? now : -Infinity };
    }),
  zoomBack: () => set((state) => (state.past.length ? { range: state.past.at(-1)!, past: state.past.slice(0, -1), zoomed: -Infinity } : {})),
  show: (run) =>
    set((state) => {
      if (state.shown.some((s) => s.run === run)) return { current: run };
      const kept = state.shown.length >= SHOWN_LIMIT ? state.shown.slice(1) : state.shown;
      return { shown: [...kept, { run, slot: freeSlot(kept) }], current: run };
    }),
  hide: (run) =>
    set((state) => {
      const shown = state.shown.filter((s) => s.run !== run);
      return { shown, current: state.current === run ? (shown.at(-1)?.run ?? null) : state.current };
    }),
  makeCurrent: (current) => set({ current }),
  // Strips with the same curves would be one and the same.
  setStrips: (strips) => set({ strips: strips.filter((plan, i) => strips.findIndex((other) => keyOf(other) === keyOf(plan)) === i) }),
  toggleOnStrip: (name, unitOf) => set((state) => ({ strips: toggled(state.strips ?? [], name, unitOf) })),
  open: (opened, shown, strips) =>
    set({ opened, selection: [], selected: null, wires: [], line: null, cursor: null, hover: null, shown, current: shown.at(-1)?.run ?? null, strips, range: null, past: [], zoomed: -Infinity, view: "sheet", scenario: "base", marks: { a: null, b: null }, live: null }),
}));

/** Number of run colours in the theme: Okabe and Ito's colour-blind-safe set and ink. */
export const RUN_COLOURS = 7;

export function runColour(slot: number): string {
  return `var(--run-${slot % RUN_COLOURS})`;
}

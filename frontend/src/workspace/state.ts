import { create } from "zustand";

import type { Curve } from "../api/client";

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
  strips: string[][] | null;
  range: [number, number] | null;
  view: View;
  /** A line of the text that is to be shown next, and what the Equations view is limited to. */
  line: number | null;
  /** The model whose view this is, once its kept arrangement was read. */
  opened: string;
  /** The shown unit of a variable, known once a run is. */
  unitOf: (name: string) => string;
  /** The scenario that is edited and run. */
  scenario: string;
  setScenario: (scenario: string) => void;
  /** Two instants between which differences and measures are taken. */
  marks: { a: number | null; b: number | null };
  setMark: (which: "a" | "b", time: number | null) => void;
  /** Curves of a value that is being dragged. */
  live: Curve[] | null;
  setLive: (live: Curve[] | null) => void;
  setUnits: (unitOf: (name: string) => string) => void;
  select: (component: string | null) => void;
  selectParts: (parts: string[], wires?: string[]) => void;
  setView: (view: View, line?: number | null) => void;
  setCursor: (time: number | null) => void;
  setHover: (time: number | null) => void;
  setRange: (range: [number, number] | null) => void;
  show: (run: number) => void;
  hide: (run: number) => void;
  makeCurrent: (run: number) => void;
  setStrips: (strips: string[][]) => void;
  toggleOnStrip: (name: string, unitOf: (name: string) => string) => void;
  open: (model: string, shown: { run: number; slot: number }[], strips: string[][] | null) => void;
}

/** Runs that are drawn at most; showing one more hides the oldest. */
export const SHOWN_LIMIT = 6;

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
  view: "sheet",
  opened: "",
  unitOf: () => "",
  live: null,
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
  setRange: (range) => set({ range }),
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
  setStrips: (strips) => set({ strips }),
  toggleOnStrip: (name, unitOf) => set((state) => ({ strips: toggled(state.strips ?? [], name, unitOf) })),
  open: (opened, shown, strips) =>
    set({ opened, selection: [], selected: null, wires: [], line: null, cursor: null, hover: null, shown, current: shown.at(-1)?.run ?? null, strips, range: null, view: "sheet", scenario: "base", marks: { a: null, b: null }, live: null }),
}));

/** Take a variable off its strip, or put it on the first strip of its unit, or on a new one. */
export function toggled(strips: string[][], name: string, unitOf: (name: string) => string): string[][] {
  if (strips.some((strip) => strip.includes(name))) {
    return strips.map((strip) => strip.filter((n) => n !== name)).filter((strip) => strip.length > 0);
  }
  const fitting = strips.findIndex((strip) => strip.length < 4 && strip.every((n) => unitOf(n) === unitOf(name)));
  if (fitting < 0) return [...strips, [name]];
  return strips.map((strip, i) => (i === fitting ? [...strip, name] : strip));
}

/** Number of run colours in the theme: Okabe and Ito's colour-blind-safe set and ink. */
export const RUN_COLOURS = 7;

export function runColour(slot: number): string {
  return `var(--run-${slot % RUN_COLOURS})`;
}

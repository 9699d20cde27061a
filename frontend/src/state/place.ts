import { create } from "zustand";

import { BASE } from "./scenarios";

export type View =
  | "sheet"
  | "text"
  | "equations"
  | "figures"
  | "symbol"
  | "description"
  | "history"
  | "scenarios"
  | "sweeps"
  | "units"
  | "rig"
  | "board"
  | "analyses";
/** How wires are drawn: plainly, with the value they carry, or with the way it flows. */
export type WireMarks = "plain" | "values" | "flow";

/** Where in the work space somebody is. */
export interface PlaceState {
  view: View;
  /** A line of the text that is to be shown next, and what the Equations view is limited to. */
  line: number | null;
  /** The revision that History is to compare with the present one. */
  compared: number | null;
  /** The model whose place this is, once its kept arrangement was read. */
  opened: string;
  /** The scenario that is edited and run. */
  scenario: string;
  /** What wires on the sheet show. */
  wireMarks: WireMarks;
  setView: (view: View, line?: number | null) => void;
  compareWith: (revision: number) => void;
  setScenario: (scenario: string) => void;
  setWireMarks: (wireMarks: WireMarks) => void;
}

export const usePlace = create<PlaceState>((set) => ({
  view: "sheet",
  line: null,
  compared: null,
  opened: "",
  scenario: BASE,
  wireMarks: "plain",
  setView: (view, line = null) => set({ view, line, compared: null }),
  compareWith: (revision) => set({ view: "history", line: null, compared: revision }),
  setScenario: (scenario) => set({ scenario }),
  setWireMarks: (wireMarks) => set({ wireMarks }),
}));

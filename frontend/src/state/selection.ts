import { create } from "zustand";

/** What is selected on the sheet. */
export interface SelectionState {
  /** The selected parts, and the one part if it is a single one. */
  selection: string[];
  selected: string | null;
  /** The selected wires, each as its two ends with a blank between. */
  wires: string[];
  select: (component: string | null) => void;
  selectParts: (parts: string[], wires?: string[]) => void;
}

export const NO_SELECTION = { selection: [], selected: null, wires: [] };

export const useSelection = create<SelectionState>((set) => ({
  ...NO_SELECTION,
  select: (selected) =>
    set({ selected, selection: selected === null ? [] : [selected], wires: [] }),
  selectParts: (selection, wires = []) =>
    set({ selection, wires, selected: selection.length === 1 ? selection[0]! : null }),
}));

import { create } from "zustand";

import { keyOf, toggled, type StripPlan } from "./strip-plan";

/** Which curves stand on which strips. */
export interface StripsState {
  strips: StripPlan[] | null;
  /** The unit in which a variable is computed, known once a run is. */
  unitOf: (name: string) => string;
  setUnits: (unitOf: (name: string) => string) => void;
  setStrips: (strips: StripPlan[]) => void;
  toggleOnStrip: (name: string, unitOf: (name: string) => string) => void;
}

export const useStripPlans = create<StripsState>((set) => ({
  strips: null,
  unitOf: () => "",
  setUnits: (unitOf) => set({ unitOf }),
  // Strips with the same curves would be one and the same.
  setStrips: (strips) =>
    set({
      strips: strips.filter(
        (plan, i) => strips.findIndex((other) => keyOf(other) === keyOf(plan)) === i,
      ),
    }),
  toggleOnStrip: (name, unitOf) =>
    set((state) => ({ strips: toggled(state.strips ?? [], name, unitOf) })),
}));

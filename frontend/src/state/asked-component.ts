import { create } from "zustand";

/** A component that somebody wants to write, until its editor opens. */
export const useAskedComponent = create<{
  kind: "equations" | "code" | null;
  ask: (kind: "equations" | "code" | null) => void;
}>((set) => ({ kind: null, ask: (kind) => set({ kind }) }));

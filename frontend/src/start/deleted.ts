import { create } from "zustand";

/** What was deleted last and can be brought back. */
interface Deleted {
  words: string;
  file?: number;
  project?: number;
}

export const useDeleted = create<{ last: Deleted | null; note: (last: Deleted | null) => void }>(
  (set) => ({ last: null, note: (last) => set({ last }) }),
);

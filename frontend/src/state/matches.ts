import { create } from "zustand";

import type { RunView } from "../api/client";

const KEY = "movrel.matches";

/** The names that variables of a model have in another one, where they are not the same. */
type Names = Record<string, string>;

interface MatchesState {
  /** By the pair of models. */
  known: Record<string, Names>;
  match: (own: string, other: string, name: string, there: string) => void;
}

/** Which variables of runs of other models are drawn with those of the model that is open. */
export const useMatches = create<MatchesState>((set) => ({
  known: read(),
  match: (own, other, name, there) =>
    set(({ known }) => {
      const pair = pairOf(own, other);
      const next = { ...known, [pair]: { ...known[pair], [name]: there } };
      localStorage.setItem(KEY, JSON.stringify(next));
      return { known: next };
    }),
}));

/** What a variable of the open model is called in a run; the same, unless it is a run of another model. */
export function nameThere(
  known: Record<string, Names>,
  own: string,
  run: Pick<RunView, "model">,
  name: string,
): string {
  return (run.model === own ? undefined : known[pairOf(own, run.model)]?.[name]) || name;
}

function pairOf(own: string, other: string): string {
  return `${own} ${other}`;
}

function read(): Record<string, Names> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, Names>;
  } catch {
    localStorage.removeItem(KEY);
    return {};
  }
}

import type { RunView } from "../api/client";
import { asPlans, type StripPlan } from "../state/strip-plan";

/** The runs and strips of a model that a browser remembers. */
interface Kept {
  shown: { run: number; slot: number }[];
  strips: StripPlan[] | null;
}

/** Where they are remembered. */
export function keptKey(project: number, model: string): string {
  return `movrel.view.${project}.${model}`;
}

/** What is remembered, as it is; nothing where it cannot be read. */
export function rememberedView(key: string): Kept {
  const nothing: Kept = { shown: [], strips: null };
  try {
    return { ...nothing, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as Partial<Kept>) };
  } catch {
    localStorage.removeItem(key);
    return nothing;
  }
}

/** What is shown of it among the runs that there are: the newest where none is left. */
export function keptView(key: string, runs: RunView[]): Kept {
  const kept = rememberedView(key);
  // An old run may stand beyond the end of the list; one that is gone says so when it is asked for.
  const oldest = runs.at(-1)?.id ?? Infinity;
  const shown = kept.shown.filter((s) => s.run < oldest || runs.some((r) => r.id === s.run));
  const newest = runs.find((r) => r.repeats === null);
  return {
    strips: asPlans(kept.strips),
    shown: shown.length || !newest ? shown : [{ run: newest.id, slot: 0 }],
  };
}

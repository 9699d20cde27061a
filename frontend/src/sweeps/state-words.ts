import type { Schemas } from "../api/client";

type Sweep = Schemas["SweepView"];

/** The state of a sweep in a word, or how far it is. */
export function stateWords(sweep: Pick<Sweep, "state" | "done" | "failed" | "count">): string {
  const share = Math.round((100 * (sweep.done + sweep.failed)) / Math.max(sweep.count, 1));
  return sweep.state === "running" ? `${share}\u2009%` : sweep.state;
}

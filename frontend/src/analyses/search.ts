import { numberOf } from "./types";

/** How a fit searches and when it ends, as it is typed. */
export interface Search {
  robust: boolean;
  starts: string;
  heldBack: string;
  /** How far each compared variable was measured wrong, by its name. */
  deviations: Record<string, string>;
  mostRuns: string;
  seconds: string;
  change: string;
}

export const USUAL_SEARCH: Search = {
  robust: false,
  starts: "1",
  heldBack: "0",
  deviations: {},
  mostRuns: "",
  seconds: "",
  change: "",
};

/** What an order says of the search; what is left empty is as usual. */
export function searchAsked(search: Search, outputs: string[]) {
  const given = (text: string) => (text.trim() ? (numberOf(text) ?? NaN) : null);
  const [runs, seconds, change] = [search.mostRuns, search.seconds, search.change].map(given);
  return {
    robust: search.robust,
    starts: Math.max(1, Math.round(numberOf(search.starts) ?? 1)),
    held_back: Math.min(Math.max((numberOf(search.heldBack) ?? 0) / 100, 0), 0.9),
    deviations: Object.fromEntries(
      outputs.flatMap((name) => {
        const deviation = given(search.deviations[name] ?? "");
        return deviation === null ? [] : [[name, deviation]];
      }),
    ),
    ...(runs === null ? {} : { most_runs: Math.round(runs!) }),
    ...(seconds === null ? {} : { seconds: seconds! }),
    ...(change === null ? {} : { change: change! }),
  };
}

/** The first field that is no number, in words; empty where all can be used. */
export function wrongIn(search: Search): string {
  const fields = {
    ...search.deviations,
    runs: search.mostRuns,
    seconds: search.seconds,
    "the change": search.change,
  };
  const wrong = Object.entries(fields).find(
    ([, text]) => text.trim() && !((numberOf(text) ?? NaN) > 0),
  );
  return wrong ? `${wrong[0]}: '${wrong[1]}' is no number above zero.` : "";
}

import type { ModelView, RunView } from "../api/client";
import { colourOf } from "./scenarios";
import { RUN_COLOURS } from "./shown-runs";
import type { StripPlan } from "./strip-plan";

/** How a curve is drawn: the slot of its colour, its dash, and how much of it is seen (1: all of it). */
export interface CurveLook {
  slot: number;
  dash: number;
  shade: number;
}

/** What somebody chose for a curve; what is left out is chosen by the recorder. */
export interface ChosenLook {
  slot?: number;
  dash?: number;
}

/** How much is seen of a run that is one, two, ... runs older than the newest shown one of its scenario. */
const SHADES = [1, 0.6, 0.4, 0.28];

type Run = Pick<RunView, "id" | "model" | "scenario" | "colour">;

/** By run: how many of the others are newer ones of the same scenario of the same model. */
export function agesOf(runs: Pick<RunView, "id" | "model" | "scenario">[]): Map<number, number> {
  return new Map(
    runs.map((run) => [
      run.id,
      runs.filter((r) => r.model === run.model && r.scenario === run.scenario && r.id > run.id)
        .length,
    ]),
  );
}

export function shadeOf(age: number): number {
  return SHADES[Math.min(age, SHADES.length - 1)]!;
}

/**
 * How the curves of a strip are drawn. The colour tells the run and the dash the variable; of a single run, the
 * colour tells the variable.
 */
export function looksOf(
  view: ModelView,
  runs: Run[],
  plan: Pick<StripPlan, "names" | "looks">,
): (run: Run, name: string) => CurveLook {
  const ages = agesOf(runs);
  const byVariable = runs.length === 1 && plan.names.length > 1;
  return (run, name) => {
    const place = Math.max(plan.names.indexOf(name), 0);
    const chosen = readLook(plan.looks?.[name]);
    const first = colourOf(view, run);
    return {
      slot: chosen.slot ?? (byVariable ? (first + place) % RUN_COLOURS : first),
      dash: chosen.dash ?? (byVariable ? 0 : place),
      shade: shadeOf(ages.get(run.id) ?? 0),
    };
  };
}

/** A chosen look in the words in which a layout keeps it: `colour 2, dash 1`, counted from 1. */
export function lookWords({ slot, dash }: ChosenLook): string {
  return [
    slot === undefined ? "" : `colour ${slot + 1}`,
    dash === undefined ? "" : `dash ${dash + 1}`,
  ]
    .filter(Boolean)
    .join(", ");
}

export function readLook(words: string | undefined): ChosenLook {
  const read = (what: string) => new RegExp(`${what} (\\d+)`).exec(words ?? "")?.[1];
  const [slot, dash] = [read("colour"), read("dash")];
  return {
    ...(slot ? { slot: Number(slot) - 1 } : {}),
    ...(dash ? { dash: Number(dash) - 1 } : {}),
  };
}

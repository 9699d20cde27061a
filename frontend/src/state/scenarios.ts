import type { ModelView, RunView, Schemas } from "../api/client";
import { RUN_COLOURS } from "./shown-runs";

export type Scenario = Schemas["Scenario"];
export type Judged = Schemas["JudgedClaim"];

/** The name of the model without changes. */
export const BASE = "base";

/** All scenarios of a model, the base first. */
export function scenariosOf(view: ModelView): Scenario[] {
  return [
    { name: BASE, colour: 0, changes: {}, settings: {}, off: [], note: "" },
    ...view.scenarios,
  ];
}

/** The scenario of a name; the base when it is gone. */
export function scenarioOf(view: ModelView, name: string): Scenario {
  return scenariosOf(view).find((s) => s.name === name) ?? scenariosOf(view)[0]!;
}

/** The colour of a run: that of its scenario now, or the one it had when that is gone. */
export function colourOf(
  view: ModelView,
  run: Pick<RunView, "scenario" | "colour"> & Partial<Pick<RunView, "model">>,
): number {
  if (run.model !== undefined && run.model !== view.model)
    return 1 + ((spread(run.model) + run.colour) % (RUN_COLOURS - 1));
  return scenariosOf(view).find((s) => s.name === run.scenario)?.colour ?? run.colour;
}

/** The newest run of each scenario; runs come newest first. */
export function newestRuns(runs: RunView[]): Map<string, RunView> {
  const latest = new Map<string, RunView>();
  for (const run of runs) if (!latest.has(run.scenario)) latest.set(run.scenario, run);
  return latest;
}

/** A number of a model, so that runs of several other models have several colours. */
function spread(model: string): number {
  return [...model].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 9973, 0);
}

/** Claims of a run in short: how many hold of how many that are asked; ``pending`` wait for their verdict. */
export function claimCount(claims: Judged[]): {
  held: number;
  failed: number;
  pending: number;
  asked: number;
} {
  const asked = claims.filter((c) => !c.off);
  const held = asked.filter((c) => c.holds === true).length;
  const failed = asked.filter((c) => c.holds === false).length;
  const pending = asked.filter((c) => c.holds === null && c.reason === "").length;
  return { held, failed, pending, asked: asked.length };
}

/** Whether the model computes something else by now than it did for a run. */
export function outdated(
  view: ModelView,
  run: Pick<RunView, "revisions" | "mark" | "scenario"> & Partial<Pick<RunView, "model">>,
): boolean {
  if (run.model !== undefined && run.model !== view.model) return false;
  if (run.mark !== "") return run.mark !== view.marks[run.scenario];
  const then = run.revisions[view.file];
  return then !== undefined && then !== view.revision;
}

/** A name for a new scenario that is not used. */
export function freeName(view: ModelView, stem: string): string {
  const used = new Set(scenariosOf(view).map((s) => s.name));
  if (!used.has(stem)) return stem;
  let n = 2;
  while (used.has(`${stem} ${n}`)) n += 1;
  return `${stem} ${n}`;
}

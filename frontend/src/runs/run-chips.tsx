import { X } from "lucide-react";

import type { ModelView, RunView } from "../api/client";
import { RunMenu } from "./run-menu";
import { ColourDot } from "../ui/colour-dot";
import { agesOf, shadeOf } from "../state/looks";
import { colourOf, outdated } from "../state/scenarios";
import { MatchNames } from "./match-names";
import { stateWords } from "../ui/run-words";
import { useShownRuns } from "../state/shown-runs";

function sign(state: string): string {
  return state === "done" ? "✓" : state === "failed" ? "✕" : state === "stopped" ? "■" : "…";
}

/** The shown runs as chips, each in its colour, and the list of all runs. */
export function RunChips({
  view,
  runs,
  count,
}: {
  view: ModelView;
  runs: RunView[];
  count: number;
}) {
  const shown = useShownRuns((s) => s.shown);
  const current = useShownRuns((s) => s.current);
  const { hide, makeCurrent } = useShownRuns.getState();
  const chips = shown.flatMap((s) => runs.filter((r) => r.id === s.run));
  const ages = agesOf(chips);
  const alone = (run: RunView) =>
    chips.filter((r) => r.name === run.name && r.model === run.model).length === 1;
  return (
    <div className="flex min-w-0 flex-1 items-center gap-1">
      <div
        className="flex min-w-0 items-center gap-1 overflow-x-auto"
        role="group"
        aria-label="Shown runs"
      >
        {chips.map((run) => (
          <span
            key={run.id}
            className={`flex h-6 max-w-44 shrink-0 items-center border ${run.id === current ? "border-base-content" : "border-base-300"}`}
            data-testid="chip"
            data-run={run.id}
            data-state={run.state}
          >
            <button
              type="button"
              className="flex h-full min-w-0 items-center gap-1.5 px-2"
              onClick={() => makeCurrent(run.id)}
              aria-pressed={run.id === current}
              title={`Run ${run.number} of ${run.scenario}: ${run.name}, ${stateWords(run)}${outdated(view, run) ? ", of an earlier state of the model" : ""}${run.reason ? `. ${run.reason}` : ""}`}
            >
              <ColourDot slot={colourOf(view, run)} shade={shadeOf(ages.get(run.id)!)} />
              <span className="min-w-8 truncate">
                {run.model !== view.model && `${run.model.split(".").at(-1)}: `}
                {run.name}
              </span>
              {!alone(run) && <span className="muted">{run.number}</span>}
              <span className={run.state === "failed" ? "text-error" : "muted"}>
                {run.state === "running" ? `${Math.round(run.progress * 100)} %` : sign(run.state)}
              </span>
            </button>
            {run.model !== view.model && <MatchNames view={view} run={run} />}
            <button
              type="button"
              className="muted h-full px-1 hover:text-base-content"
              onClick={() => hide(run.id)}
              aria-label={`Hide run ${run.name}`}
              title="Hide this run; it is kept"
            >
              <X size={12} />
            </button>
          </span>
        ))}
      </div>
      <RunMenu view={view} runs={runs} count={count} />
    </div>
  );
}

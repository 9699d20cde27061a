import { ChevronDown } from "lucide-react";
import { counted } from "../ui/format";
import { useState } from "react";

import type { ModelView, RunView } from "../api/client";
import { Popover } from "../ui/popover";
import { useEdits } from "../state/use-edits";
import { ColourDot } from "../ui/colour-dot";
import { BASE, freeName, newestRuns, outdated, scenariosOf } from "../state/scenarios";
import { usePlace } from "../state/place";

interface Props {
  view: ModelView;
  runs: RunView[];
  canRun: boolean;
  prediction: string;
  onPrediction: (prediction: string) => void;
  /** Run these scenarios. */
  onRun: (scenarios: string[]) => void;
  onFault: (sentence: string | null) => void;
}

/** More ways to run than the chosen scenario: all, some, those of an earlier state; and what is expected of it. */
export function WaysToRun(props: Props) {
  return (
    <Popover
      label={<ChevronDown size={14} />}
      words="More ways to run"
      title="More ways to run"
      className="btn btn-primary btn-sm rounded-l-none border-l border-l-base-100 px-1"
      testid="run-more"
    >
      {(close) => <Ways {...props} onDone={close} />}
    </Popover>
  );
}

function Ways({
  view,
  runs,
  canRun,
  prediction,
  onPrediction,
  onRun,
  onFault,
  onDone,
}: Props & { onDone: () => void }) {
  const [chosen, setChosen] = useState<string[]>([]);
  const setScenario = usePlace((s) => s.setScenario);
  const keep = useEdits(view, onFault);
  const scenarios = scenariosOf(view);
  const newest = newestRuns(runs);
  const base = newest.get(BASE);
  const stale = scenarios
    .map((s) => s.name)
    .filter((name) => {
      const last = newest.get(name);
      return !last || outdated(view, last);
    });
  const run = (names: string[]) => {
    onRun(names);
    onDone();
  };
  const button = "btn btn-sm justify-start font-normal";
  return (
    <div className="flex w-80 flex-col gap-2" data-testid="run-ways">
      <button
        type="button"
        className={button}
        disabled={!canRun}
        onClick={() => run(scenarios.map((s) => s.name))}
        data-testid="run-all"
      >
        Run all {scenarios.length} scenarios
      </button>
      <button
        type="button"
        className={button}
        disabled={!canRun || stale.length === 0}
        onClick={() => run(stale)}
        data-testid="run-stale"
      >
        Run the {counted(stale.length, "scenario")} without an up-to-date run
      </button>
      {scenarios.length > 2 && (
        <fieldset className="max-h-44 overflow-y-auto">
          {scenarios.map((s) => (
            <label key={s.name} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={chosen.includes(s.name)}
                onChange={(event) =>
                  setChosen(
                    event.target.checked
                      ? [...chosen, s.name]
                      : chosen.filter((name) => name !== s.name),
                  )
                }
                data-testid={`run-choose-${s.name}`}
              />
              <ColourDot slot={s.colour} /> {s.name}
            </label>
          ))}
          <button
            type="button"
            className={`${button} mt-1 w-full`}
            disabled={!canRun || chosen.length === 0}
            onClick={() => run(chosen)}
            data-testid="run-chosen"
          >
            Run the {chosen.length} chosen
          </button>
        </fieldset>
      )}
      <button
        type="button"
        className={button}
        disabled={!base || !outdated(view, base) || keep.isPending}
        title="The values that you changed since that run become a scenario; the base gets back those of the run"
        onClick={() => {
          const name = freeName(view, "changed");
          // The panel stays until it is done: what is gone hears no answer.
          keep.mutate(
            { do: "keep changes", run: base!.id, name },
            { onSuccess: () => setScenario(name), onSettled: onDone },
          );
        }}
        data-testid="keep-changes"
      >
        Keep the changes since {base ? `run ${base.number}` : "the last run"} as a scenario
      </button>
      <label className="flex flex-col gap-1">
        <span>What do you expect of the next run?</span>
        <textarea
          className="textarea textarea-sm w-full"
          rows={2}
          value={prediction}
          placeholder="stiffer spring: lower peak, faster, rings longer"
          onChange={(event) => onPrediction(event.target.value)}
          data-testid="prediction"
        />
      </label>
      <p className="muted text-[12px]">
        It is kept with the run; you judge it afterwards in the list of runs.
      </p>
    </div>
  );
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { HelpCircle, Play, Redo2, Square, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import {
  ask,
  asRefusal,
  client,
  type ModelView,
  type RunDetail,
  type RunView,
  type Schemas,
} from "../api/client";
import { keys } from "../api/queries";
import { useKeys } from "../ui/keys";
import { ThemeButton } from "../ui/theme-button";
import { Wordmark } from "../ui/wordmark";
import { oneAfterTheOther, sendEdit } from "../state/use-edits";
import { HelpPanel } from "./help-panel";
import { PlaceInModel } from "./place";
import { ScenarioChips } from "./scenario-chips";
import { usePlace } from "../state/place";
import { useShownRuns } from "../state/shown-runs";
import { WaysToRun } from "./ways-to-run";

/** Place, shown runs, undo and Run. */
export function TopBar({
  view,
  whole,
  runs,
  onFault,
}: {
  view: ModelView;
  /** The model that Run computes: the view's own, or the one around it where one stepped in. */
  whole: ModelView;
  runs: RunView[];
  onFault: (sentence: string | null) => void;
}) {
  const cache = useQueryClient();
  const show = useShownRuns((s) => s.show);
  const [help, setHelp] = useState(false);
  const [prediction, setPrediction] = useState("");
  const scenario = usePlace((s) => s.scenario);
  const path = { project: whole.project, model: whole.model };
  const model = keys.model(view.project, view.model);
  const fail = (fault: unknown) => onFault(asRefusal(fault).sentence);

  const run = useMutation({
    // After the edits that were made before; several scenarios get their numbers in the order in which they stand.
    scope: oneAfterTheOther(view),
    mutationFn: ({ scenario, prediction }: { scenario: string; prediction: string }) =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/runs", {
          params: { path },
          body: { scenario, prediction },
        }),
      ),
    onMutate: () => onFault(null),
    onSuccess: (ordered) => {
      // Its variables are known already: when it is done, its curves can be asked for at once.
      cache.setQueryData<RunDetail>(keys.run(ordered.id), (known) => known ?? ordered);
      cache.setQueryData<Schemas["RunList"]>(keys.runs(whole.project, whole.model), (list) => {
        const others = (list?.runs ?? []).filter((r) => r.id !== ordered.id);
        return {
          runs: [ordered, ...others],
          count: (list?.count ?? 0) + (others.length === list?.runs.length ? 1 : 0),
        };
      });
      show(ordered.id);
      setPrediction("");
    },
    onError: fail,
  });
  const step = useMutation({
    scope: oneAfterTheOther(view),
    mutationFn: (way: "undo" | "redo") =>
      sendEdit(cache.getQueryData<ModelView>(model) ?? view, { do: way }),
    onMutate: () => onFault(null),
    onSuccess: (fresh) => cache.setQueryData(model, fresh),
    onError: fail,
  });
  const stop = useMutation({
    mutationFn: (id: number) =>
      ask(client.POST("/api/runs/{run}/stop", { params: { path: { run: id } } })),
    onError: fail,
  });

  const going = runs.find((r) => r.state === "running" || r.state === "queued");
  const canRun = !whole.problem && !run.isPending;
  const { mutate } = run;
  const order = (scenario: string) => mutate({ scenario, prediction });
  const start = () => order(scenario);
  const { mutate: stepTo } = step;
  const redo = () => stepTo("redo");
  useKeys(
    {
      "Ctrl+z": () => stepTo("undo"),
      "Ctrl+Shift+z": redo,
      "Ctrl+y": redo,
      "?": () => setHelp((open) => !open),
    },
    "outside text",
  );
  useKeys(
    {
      "Ctrl+Enter": () => {
        (document.activeElement as HTMLElement | null)?.blur();
        if (canRun) start();
      },
      ...(help ? { Escape: () => setHelp(false) } : {}),
    },
    "everywhere",
  );

  const icon = "btn btn-ghost btn-sm px-2";
  return (
    <header className="rule-b flex h-11 items-center gap-3 bg-base-100 px-3">
      <Link to="/" aria-label="movrel, to the start page" title="To the start page">
        <Wordmark />
      </Link>
      <PlaceInModel view={view} />
      <div className="flex shrink-0">
        <button
          type="button"
          className={icon}
          disabled={!view.can_undo || step.isPending}
          onClick={() => stepTo("undo")}
          aria-label="Undo"
          title={`Undo: ${view.summary} (Ctrl+Z)`}
          data-testid="undo"
        >
          <Undo2 size={15} />
        </button>
        <button
          type="button"
          className={icon}
          disabled={!view.can_redo || step.isPending}
          onClick={() => stepTo("redo")}
          aria-label="Redo"
          title="Redo (Ctrl+Shift+Z)"
          data-testid="redo"
        >
          <Redo2 size={15} />
        </button>
      </div>
      <ScenarioChips view={whole} runs={runs} onFault={onFault} />
      <button
        type="button"
        className={icon}
        onClick={() => setHelp(!help)}
        aria-label="Keys and help (?)"
        title="Keys and help (?)"
        aria-expanded={help}
      >
        <HelpCircle size={15} />
      </button>
      <ThemeButton />
      {going && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => stop.mutate(going.id)}
          data-testid="stop"
        >
          <Square size={13} /> Stop
        </button>
      )}
      <div className="flex shrink-0">
        <button
          type="button"
          className="btn btn-primary btn-sm rounded-r-none"
          disabled={!canRun}
          onClick={start}
          title={`Run ${view === whole ? "" : `${whole.sheet.name}, `}${scenario} (Ctrl+Enter)`}
          data-testid="run"
        >
          <Play size={14} /> Run
        </button>
        <WaysToRun
          view={whole}
          runs={runs}
          canRun={canRun}
          prediction={prediction}
          onPrediction={setPrediction}
          onRun={(names) => names.forEach((name) => order(name))}
          onFault={onFault}
        />
      </div>
      {help && <HelpPanel onClose={() => setHelp(false)} />}
    </header>
  );
}

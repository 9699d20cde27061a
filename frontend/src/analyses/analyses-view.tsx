import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Fragment, useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { keys } from "../api/queries";
import type { Edits } from "../state/use-edits";
import { ago, formatNumber } from "../ui/format";
import { SideGroup, SideList } from "../ui/side-list";
import { ComparisonOutcome } from "./comparison-result";
import { FitOutcome } from "./fit-result";
import { LinearOutcome } from "./linear-result";
import { NewComparison } from "./new-comparison";
import { NewFit } from "./new-fit";
import { NewLinear } from "./new-linear";
import { NewStepTest } from "./new-step-test";
import { StepOutcome } from "./step-result";
import { BestSoFar, type LiveCurve } from "./best-so-far";
import { UNDER_WAY, useAnalyses } from "./use-analyses";
import type { AnalysisView, ComparisonResult, FitResult, LinearResult, StepResult } from "./types";

interface Props {
  view: ModelView;
  edits: Edits;
  onPlace: () => { x: number; y: number };
}

type Shown = number | "new fit" | "new comparison" | "new step" | "new linear";
const OTHER_KINDS = [
  { kind: "comparison", title: "Comparisons", begin: "New comparison" },
  { kind: "step", title: "Step tests", begin: "New step test" },
  { kind: "linear", title: "Linear models", begin: "New linear model" },
] as const;
/** Kinds that are not of one scenario. */
const OF_NO_SCENARIO = ["step", "comparison"];
/** Kinds that are shown with the fit of which they were asked. */
const OF_A_FIT = ["profile", "bootstrap"];

/** Fits to measurements, step tests and linear models: what was asked of this model, and a page for each. */
export default function AnalysesView({ view, edits, onPlace }: Props) {
  const cache = useQueryClient();
  const [chosen, setChosen] = useState<Shown | null>(null);
  const list = useAnalyses(view);
  const all = (list.data ?? []).filter((a) => !OF_A_FIT.includes(a.kind));
  const shown: Shown = chosen ?? all[0]?.id ?? "new fit";
  const choose = (id: Shown) => {
    setChosen(id);
    void cache.invalidateQueries({ queryKey: keys.analyses(view.project, view.model) });
  };
  const entries = (kind: string) =>
    all
      .filter((a) => a.kind === kind)
      .map((a) => ({
        id: a.id,
        name: titleOf(a),
        title: titleOf(a),
        words: `${OF_NO_SCENARIO.includes(a.kind) ? "" : `${a.scenario}, `}${a.state}, ${ago(a.created)}`,
      }));
  return (
    <div className="flex h-full bg-base-100" data-testid="analyses-view">
      <SideList
        label="Analyses"
        noun="fit"
        begin="New fit"
        entries={entries("fit")}
        shown={shown === "new fit" ? "new" : typeof shown === "number" ? shown : null}
        onChoose={(id) => choose(id === "new" ? "new fit" : id)}
      >
        {OTHER_KINDS.map(({ kind, title, begin }) => (
          <Fragment key={kind}>
            <h2 className="rule-t mt-2 px-3 pt-2 font-semibold">{title}</h2>
            <SideGroup
              noun={kind}
              begin={begin}
              entries={entries(kind)}
              shown={shown === `new ${kind}` ? "new" : typeof shown === "number" ? shown : null}
              onChoose={(id) => choose(id === "new" ? `new ${kind}` : id)}
            />
          </Fragment>
        ))}
      </SideList>
      <div className="min-w-0 flex-1 overflow-auto">
        {shown === "new fit" && <NewFit view={view} onOrdered={choose} />}
        {shown === "new comparison" && <NewComparison view={view} onOrdered={choose} />}
        {shown === "new step" && <NewStepTest view={view} onOrdered={choose} />}
        {shown === "new linear" && <NewLinear view={view} onOrdered={choose} />}
        {typeof shown === "number" && (
          <Outcome
            key={shown}
            view={view}
            edits={edits}
            number={shown}
            onPlace={onPlace}
            onGone={() => choose("new fit")}
          />
        )}
      </div>
    </div>
  );
}

/** What an analysis is called in the list. */
function titleOf(a: AnalysisView): string {
  const asked = a.asked as {
    free?: { name: string }[];
    outputs?: string[];
    inputs?: string[];
    opened?: string;
    input?: string;
    response?: string;
    experiment?: { outputs: Record<string, string> };
    candidates?: object[];
  };
  if (a.kind === "comparison")
    return `${Object.values(asked.experiment!.outputs).join(", ")}, ${asked.candidates!.length} compared`;
  if (asked.opened) return `Loop at ${asked.opened}`;
  if (a.kind === "step") return `${asked.input} → ${asked.response}`;
  return a.kind === "fit"
    ? (asked.free ?? []).map((f) => f.name).join(", ")
    : `${(asked.inputs ?? []).join(", ")} → ${(asked.outputs ?? []).join(", ")}`;
}

function Outcome({
  view,
  edits,
  number,
  onPlace,
  onGone,
}: Props & { number: number; onGone: () => void }) {
  const opened = useQuery({
    queryKey: keys.analysis(number),
    queryFn: () =>
      ask(client.GET("/api/analyses/{analysis}", { params: { path: { analysis: number } } })),
    refetchInterval: (query) =>
      query.state.data && UNDER_WAY.includes(query.state.data.state) ? 400 : false,
  });
  const stop = useMutation({
    mutationFn: () =>
      ask(client.POST("/api/analyses/{analysis}/stop", { params: { path: { analysis: number } } })),
  });
  const remove = useMutation({
    mutationFn: () =>
      client.DELETE("/api/analyses/{analysis}", { params: { path: { analysis: number } } }),
    onSuccess: onGone,
  });
  if (opened.error) return <p className="p-4 text-error">✕ {asRefusal(opened.error).sentence}</p>;
  const a = opened.data;
  if (!a) return <p className="muted p-4">Opening…</p>;
  const progress = a.progress as {
    candidates?: number;
    of?: number;
    runs?: number;
    cost?: number;
    values?: Record<string, number>;
    curves?: LiveCurve[];
  };
  return (
    <div className="flex flex-col gap-3 p-4" data-testid="analysis" data-state={a.state}>
      <h2 className="flex items-center gap-3 font-semibold">
        {titleOf(a)}
        {!OF_NO_SCENARIO.includes(a.kind) && (
          <span className="muted font-normal">{a.scenario}</span>
        )}
        {!UNDER_WAY.includes(a.state) && (
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => remove.mutate()}>
            Delete
          </button>
        )}
      </h2>
      {UNDER_WAY.includes(a.state) && (
        <div className="flex flex-col gap-2" role="status" data-testid="analysis-progress">
          <progress className="progress w-80" aria-label="Under way" />
          {progress.candidates !== undefined && (
            <p>
              {progress.candidates} of {progress.of} are through.
            </p>
          )}
          {progress.runs !== undefined && (
            <p>
              {progress.runs} runs; best so far:{" "}
              {Object.entries(progress.values ?? {})
                .map(([name, v]) => `${name} = ${formatNumber(v)}`)
                .join(", ")}
            </p>
          )}
          {progress.curves?.map((c) => (
            <BestSoFar key={`${c.experiment} ${c.variable}`} curve={c} />
          ))}
          {a.kind === "fit" && (
            <button
              type="button"
              className="btn btn-sm w-fit"
              disabled={a.state === "stopping"}
              onClick={() => stop.mutate()}
              data-testid="stop-fit"
            >
              Stop, and keep the best
            </button>
          )}
        </div>
      )}
      {a.state === "failed" && (
        <p role="alert" className="text-error" data-testid="analysis-failure">
          ✕ {a.reason}
        </p>
      )}
      {a.state === "done" && a.kind === "fit" && (
        <FitOutcome
          view={view}
          edits={edits}
          number={number}
          result={a.result as unknown as FitResult}
        />
      )}
      {a.state === "done" && a.kind === "comparison" && (
        <ComparisonOutcome view={view} result={a.result as unknown as ComparisonResult} />
      )}
      {a.state === "done" && a.kind === "step" && (
        <StepOutcome edits={edits} result={a.result as unknown as StepResult} onPlace={onPlace} />
      )}
      {a.state === "done" && a.kind === "linear" && (
        <LinearOutcome
          number={number}
          edits={edits}
          result={a.result as unknown as LinearResult}
          onPlace={onPlace}
        />
      )}
    </div>
  );
}

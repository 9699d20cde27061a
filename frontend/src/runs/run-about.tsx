import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Diff, FilePlus2 } from "lucide-react";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView, type RunView } from "../api/client";
import { keys } from "../api/queries";
import { DraftInput } from "../ui/draft-input";
import { Scrolled } from "../ui/scrolled";
import { useEdits } from "../state/use-edits";
import { freeName } from "../state/scenarios";
import { usePlace } from "../state/place";
import { useShownRuns } from "../state/shown-runs";
import { useRunChange } from "./use-run-change";

/** One run in words: name, note, prediction, what it differs in from another one. */
export function RunAbout({ run, view, runs }: { run: RunView; view: ModelView; runs: RunView[] }) {
  const change = useRunChange(run);
  const edits = useEdits(view, () => undefined);
  const setScenario = usePlace((s) => s.setScenario);
  const refusal = change.error ? asRefusal(change.error).sentence : null;
  // The newest and those that are shown, whatever their age.
  const others = runs.filter((r) => r.id !== run.id);
  const [other, setOther] = useState<number | null>(
    others.find((r) => r.id < run.id)?.id ?? others[0]?.id ?? null,
  );
  return (
    <div
      className="rule-t flex max-h-72 flex-col gap-2 overflow-y-auto p-3"
      data-testid="run-about"
    >
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">name</span>
        <DraftInput
          value={run.name}
          label="Name of the run"
          testid="run-name"
          className="input input-sm w-full"
          refusal={refusal}
          onKeep={(name, done) => change.mutate({ name }, { onSuccess: done })}
          onAgain={change.reset}
        />
      </div>
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">note</span>
        <DraftInput
          value={run.note}
          label="Note on the run"
          testid="run-note"
          className="input input-sm w-full"
          placeholder="what you see in it"
          refusal={null}
          onKeep={(note, done) => change.mutate({ note }, { onSuccess: done })}
          onAgain={change.reset}
        />
      </div>
      {run.prediction && (
        <div className="flex items-center gap-2" data-testid="run-prediction">
          <span className="w-20 shrink-0">expected</span>
          <span className="min-w-0 flex-1 italic">{run.prediction}</span>
          {([true, false] as const).map((held) => (
            <button
              key={String(held)}
              type="button"
              className={`btn btn-xs ${run.prediction_held === held ? "btn-primary" : ""}`}
              aria-pressed={run.prediction_held === held}
              onClick={() => change.mutate({ prediction_held: held })}
              data-testid={`prediction-${held ? "held" : "missed"}`}
            >
              {held ? "came true" : "did not"}
            </button>
          ))}
        </div>
      )}
      {run.reason && <p className="text-error">✕ {run.reason}</p>}
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-xs font-normal"
          onClick={() => {
            const name = freeName(view, `as run ${run.number}`);
            edits.mutate(
              { do: "scenario from run", run: run.id, name },
              { onSuccess: () => setScenario(name) },
            );
          }}
          data-testid="run-to-scenario"
        >
          <FilePlus2 size={12} /> Turn into a scenario
        </button>
        <a className="btn btn-xs font-normal" href={`/api/runs/${run.id}/table.csv`} download>
          All variables as CSV
        </a>
        {run.state === "done" && <GoOn run={run} />}
      </div>
      {other !== null && (
        <div>
          <label className="flex items-center gap-2">
            <Diff size={13} /> differs from
            <select
              className="select select-xs w-72"
              value={other}
              onChange={(event) => setOther(Number(event.target.value))}
              data-testid="differs-from"
            >
              {others.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.number}: {r.name}
                </option>
              ))}
            </select>
          </label>
          <WhatDiffers one={other} other={run.id} />
        </div>
      )}
    </div>
  );
}

/** Goes on from the end of a run to a later time, with the text and values that it had. */
function GoOn({ run }: { run: RunView }) {
  const cache = useQueryClient();
  const show = useShownRuns((s) => s.show);
  const [stop, setStop] = useState(String(Number((2 * (run.time_reached ?? 1)).toPrecision(6))));
  const go = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/runs/{run}/on", {
          params: { path: { run: run.id } },
          body: { stop: Number(stop) },
        }),
      ),
    onSuccess: (ordered) => {
      void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
      show(ordered.id);
    },
  });
  return (
    <span className="flex items-center gap-1">
      <button
        type="button"
        className="btn btn-xs font-normal"
        onClick={() => go.mutate()}
        disabled={go.isPending || !Number.isFinite(Number(stop))}
        data-testid="go-on"
      >
        Continue to
      </button>
      <input
        className="input input-xs mono w-20"
        value={stop}
        aria-label="Later time in s"
        onChange={(event) => setStop(event.target.value)}
        data-testid="go-on-stop"
      />{" "}
      s{go.error && <span className="text-error">✕ {asRefusal(go.error).sentence}</span>}
    </span>
  );
}

function WhatDiffers({ one, other }: { one: number; other: number }) {
  const answer = useQuery({
    queryKey: ["differences", one, other],
    queryFn: () =>
      ask(
        client.GET("/api/runs/{run}/differences/{other}", {
          params: { path: { run: one, other } },
        }),
      ),
    staleTime: 30_000,
  });
  if (!answer.data) return <p className="muted pt-1">Comparing…</p>;
  const { values, settings, changes, texts } = answer.data;
  const rows = [...values, ...settings, ...changes];
  if (rows.length + texts.length === 0)
    return <p className="muted pt-1">There are no differences.</p>;
  return (
    <div className="pt-1" data-testid="what-differs">
      <table className="mono text-[12px]">
        <tbody>
          {rows.map((row) => (
            <tr key={row.name}>
              <td className="pr-4">{row.name}</td>
              <td className="pr-1 text-right">{said(row.one)}</td>
              <td className="px-1">→</td>
              <td>{said(row.other)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {texts.map((text) => (
        <details key={text.file} className="pt-1">
          <summary>The text of {text.file} differs</summary>
          <Scrolled label={`Differences of ${text.file}`}>
            <pre className="mono text-[11.5px]">{text.lines.join("\n")}</pre>
          </Scrolled>
        </details>
      ))}
    </div>
  );
}

function said(value: unknown): string {
  return value === null || value === undefined ? "none" : JSON.stringify(value).replaceAll('"', "");
}

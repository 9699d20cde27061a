import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, Diff, FilePlus2, List, Pin, Square, X } from "lucide-react";
import { useMemo, useState } from "react";

import { ask, asRefusal, client, type ModelView, type RunView, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { ago } from "../format";
import { DraftInput } from "../ledger/draft-input";
import { useEdits } from "../sheet/use-edits";
import { ColourDot } from "./colour-dot";
import { claimCount, colourOf, freeName, outdated } from "./scenarios";
import { stateWords } from "./run-words";
import { useView } from "./state";

/** Height of a row, and rows that are drawn beyond those in view. */
const ROW = 30, BEYOND = 8;

/** The list of all runs of the model: shown, named, pinned, annotated, compared, deleted. */
export function RunMenu({ view, runs }: { view: ModelView; runs: RunView[] }) {
  const [open, setOpen] = useState(false);
  if (runs.length === 0) return null;
  return (
    <div className="relative shrink-0" onKeyDown={(e) => e.key === "Escape" && setOpen(false)}>
      <button type="button" className="btn btn-ghost btn-xs px-1.5" onClick={() => setOpen(!open)} aria-expanded={open} aria-label={`All runs (${runs.length})`} title="All runs" data-testid="run-menu">
        <List size={14} /> {runs.length} {runs.length === 1 ? "run" : "runs"}
      </button>
      {open && (
        <>
          <button type="button" className="fixed inset-0 z-20 cursor-default" onClick={() => setOpen(false)} aria-label="Close the list of runs" tabIndex={-1} />
          <RunList view={view} runs={runs} />
        </>
      )}
    </div>
  );
}

function RunList({ view, runs }: { view: ModelView; runs: RunView[] }) {
  const [words, setWords] = useState("");
  const [top, setTop] = useState(0);
  const [open, setOpen] = useState<number | null>(null);
  const [gone, setGone] = useState<RunView | null>(null);
  const found = useMemo(() => {
    const typed = words.trim().toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (run: RunView) => typed.every((word) => `${run.number} ${run.name} ${run.scenario} ${stateWords(run)} ${run.note} ${run.pinned ? "pinned" : ""}`.toLowerCase().includes(word));
    return [...runs.filter(fits)].sort((a, b) => Number(b.pinned) - Number(a.pinned));
  }, [runs, words]);
  const first = Math.max(0, Math.floor(top / ROW) - BEYOND);
  const last = Math.min(found.length, first + Math.ceil(320 / ROW) + 2 * BEYOND);
  const opened = runs.find((run) => run.id === open);
  return (
    <div className="fixed right-3 bottom-10 z-30 flex max-h-[80vh] w-[44rem] max-w-[95vw] flex-col border border-base-300 bg-base-100 shadow-lg" role="dialog" aria-label="Runs" data-testid="run-list">
      <div className="flex items-center gap-2 p-2">
        <input autoFocus className="input input-sm w-full" placeholder="Filter by name, scenario, state, note, pinned" aria-label="Filter runs" value={words} onChange={(event) => (setWords(event.target.value), setTop(0))} data-testid="run-filter" />
        <span className="muted shrink-0">
          {found.length} of {runs.length}
        </span>
      </div>
      {gone && <Bring run={gone} view={view} onDone={() => setGone(null)} />}
      <div className="overflow-y-auto" style={{ height: Math.min(320, Math.max(found.length, 1) * ROW) }} onScroll={(event) => setTop(event.currentTarget.scrollTop)} data-testid="run-scroll">
        <ul className="relative" style={{ height: found.length * ROW }}>
          {found.slice(first, last).map((run, i) => (
            <li key={run.id} className="absolute inset-x-0 flex items-center gap-1 px-2 hover:bg-base-200" style={{ top: (first + i) * ROW, height: ROW }} data-testid={`run-${run.number}`}>
              <RunLine run={run} view={view} open={open === run.id} onOpen={() => setOpen(open === run.id ? null : run.id)} onGone={() => setGone(run)} />
            </li>
          ))}
        </ul>
        {found.length === 0 && <p className="muted px-3">No run is like that.</p>}
      </div>
      {opened && <RunAbout key={opened.id} run={opened} view={view} runs={runs} />}
    </div>
  );
}

function useRunChange(run: RunView) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["RunWords"]) => ask(client.PATCH("/api/runs/{run}", { params: { path: { run: run.id } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) }),
  });
}

function RunLine({ run, view, open, onOpen, onGone }: { run: RunView; view: ModelView; open: boolean; onOpen: () => void; onGone: () => void }) {
  const shown = useView((s) => s.shown);
  const { show, hide } = useView.getState();
  const cache = useQueryClient();
  const on = shown.some((s) => s.run === run.id);
  const change = useRunChange(run);
  const refresh = () => void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
  const stop = useMutation({ mutationFn: () => ask(client.POST("/api/runs/{run}/stop", { params: { path: { run: run.id } } })), onSettled: refresh });
  const remove = useMutation({
    mutationFn: () => ask(client.DELETE("/api/runs/{run}", { params: { path: { run: run.id } } })),
    onSuccess: () => {
      hide(run.id);
      onGone();
    },
    onSettled: refresh,
  });
  const going = ["queued", "running", "stopping"].includes(run.state);
  const { held, failed, asked } = claimCount(run.claims);
  return (
    <>
      <button type="button" className="flex min-w-0 flex-1 items-center gap-2 text-left" onClick={() => (on ? hide(run.id) : show(run.id))} aria-pressed={on} aria-label={`${on ? "Hide" : "Show"} run ${run.number}, ${run.name}`}>
        <span className="w-4 shrink-0">{on && <Check size={13} />}</span>
        <span className="muted w-7 shrink-0 text-right">{run.number}</span>
        <ColourDot slot={colourOf(view, run)} />
        <span className="min-w-0 flex-1 truncate" title={run.name}>
          {run.name}
          {run.name !== run.scenario && <span className="muted"> · {run.scenario}</span>}
        </span>
        {asked > 0 && run.state === "done" && <span className={failed ? "text-error" : "muted"}>{`${held}/${asked}`}</span>}
        <span className={run.state === "failed" ? "text-error" : "muted"}>{outdated(view, run) && run.state === "done" ? "earlier model" : stateWords(run)}</span>
        <span className="muted w-16 shrink-0 text-right">{ago(run.created)}</span>
      </button>
      <button type="button" className={`btn btn-ghost btn-xs px-1 ${run.pinned ? "" : "opacity-50"}`} onClick={() => change.mutate({ pinned: !run.pinned })} aria-pressed={run.pinned} aria-label={`Pin run ${run.name}`} title="Pinned runs come first" data-testid={`pin-${run.number}`}>
        <Pin size={12} />
      </button>
      <button type="button" className="btn btn-ghost btn-xs px-1" onClick={onOpen} aria-expanded={open} aria-label={`More about run ${run.name}`} title="Name, note, what differs" data-testid={`about-run-${run.number}`}>
        …
      </button>
      {going ? (
        <button type="button" className="btn btn-ghost btn-xs px-1" onClick={() => stop.mutate()} aria-label={`Stop run ${run.name}`} title="Stop; what was computed is kept">
          <Square size={12} />
        </button>
      ) : (
        <button type="button" className="btn btn-ghost btn-xs px-1" onClick={() => remove.mutate()} aria-label={`Delete run ${run.name}`} title="Delete this run">
          <X size={12} />
        </button>
      )}
    </>
  );
}

function Bring({ run, view, onDone }: { run: RunView; view: ModelView; onDone: () => void }) {
  const cache = useQueryClient();
  const back = useMutation({
    mutationFn: () => ask(client.POST("/api/runs/{run}/restore", { params: { path: { run: run.id } } })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.runs(view.project, view.model) });
      onDone();
    },
  });
  return (
    <p className="rule-b px-3 py-1" role="status">
      Run {run.number} was deleted.{" "}
      <button type="button" className="link" onClick={() => back.mutate()} data-testid="bring-run-back">
        Bring it back
      </button>
    </p>
  );
}

/** One run in words: name, note, prediction, what it differs in from another one. */
function RunAbout({ run, view, runs }: { run: RunView; view: ModelView; runs: RunView[] }) {
  const change = useRunChange(run);
  const edits = useEdits(view, () => undefined);
  const setScenario = useView((s) => s.setScenario);
  const refusal = change.error ? asRefusal(change.error).sentence : null;
  const others = runs.filter((r) => r.id !== run.id);
  const [other, setOther] = useState<number | null>(others.find((r) => r.id < run.id)?.id ?? others[0]?.id ?? null);
  return (
    <div className="rule-t flex max-h-72 flex-col gap-2 overflow-y-auto p-3" data-testid="run-about">
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">name</span>
        <DraftInput value={run.name} label="Name of the run" testid="run-name" className="input input-sm w-full" refusal={refusal} onKeep={(name, done) => change.mutate({ name }, { onSuccess: done })} onAgain={change.reset} />
      </div>
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">note</span>
        <DraftInput value={run.note} label="Note on the run" testid="run-note" className="input input-sm w-full" placeholder="what you see in it" refusal={null} onKeep={(note, done) => change.mutate({ note }, { onSuccess: done })} onAgain={change.reset} />
      </div>
      {run.prediction && (
        <div className="flex items-center gap-2" data-testid="run-prediction">
          <span className="w-20 shrink-0">expected</span>
          <span className="min-w-0 flex-1 italic">{run.prediction}</span>
          {([true, false] as const).map((held) => (
            <button key={String(held)} type="button" className={`btn btn-xs ${run.prediction_held === held ? "btn-primary" : ""}`} aria-pressed={run.prediction_held === held} onClick={() => change.mutate({ prediction_held: held })} data-testid={`prediction-${held ? "held" : "missed"}`}>
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
            edits.mutate({ do: "scenario from run", run: run.id, name }, { onSuccess: () => setScenario(name) });
          }}
          data-testid="run-to-scenario"
        >
          <FilePlus2 size={12} /> Make it a scenario
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
            <select className="select select-xs w-72" value={other} onChange={(event) => setOther(Number(event.target.value))} data-testid="differs-from">
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
  const show = useView((s) => s.show);
  const [stop, setStop] = useState(String(Number((2 * (run.time_reached ?? 1)).toPrecision(6))));
  const go = useMutation({
    mutationFn: () => ask(client.POST("/api/runs/{run}/on", { params: { path: { run: run.id } }, body: { stop: Number(stop) } })),
    onSuccess: (ordered) => {
      void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
      show(ordered.id);
    },
  });
  return (
    <span className="flex items-center gap-1">
      <button type="button" className="btn btn-xs font-normal" onClick={() => go.mutate()} disabled={go.isPending || !Number.isFinite(Number(stop))} data-testid="go-on">
        Go on to
      </button>
      <input className="input input-xs mono w-20" value={stop} aria-label="Later time in s" onChange={(event) => setStop(event.target.value)} data-testid="go-on-stop" /> s
      {go.error && <span className="text-error">✕ {asRefusal(go.error).sentence}</span>}
    </span>
  );
}

function WhatDiffers({ one, other }: { one: number; other: number }) {
  const answer = useQuery({
    queryKey: ["differences", one, other],
    queryFn: () => ask(client.GET("/api/runs/{run}/differences/{other}", { params: { path: { run: one, other } } })),
    staleTime: 30_000,
  });
  if (!answer.data) return <p className="muted pt-1">Comparing…</p>;
  const { values, settings, changes, texts } = answer.data;
  const rows = [...values, ...settings, ...changes];
  if (rows.length + texts.length === 0) return <p className="muted pt-1">They differ in nothing.</p>;
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
          <pre className="mono overflow-x-auto text-[11.5px]">{text.lines.join("\n")}</pre>
        </details>
      ))}
    </div>
  );
}

function said(value: unknown): string {
  return value === null || value === undefined ? "none" : JSON.stringify(value).replaceAll('"', "");
}

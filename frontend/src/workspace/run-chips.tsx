import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Check, List, Square, X } from "lucide-react";
import { useState } from "react";

import { ask, client, type RunView } from "../api/client";
import { keys } from "../api/queries";
import { ago } from "../format";
import { stateWords } from "./run-words";
import { runColour, useView } from "./state";

function sign(state: string): string {
  return state === "done" ? "✓" : state === "failed" ? "✕" : state === "stopped" ? "■" : "…";
}

/** The shown runs as chips, each in its colour, and the list of all runs. */
export function RunChips({ runs }: { runs: RunView[] }) {
  const { shown, current, hide, makeCurrent } = useView();
  const chips = shown.flatMap((s) => runs.filter((r) => r.id === s.run).map((run) => ({ run, slot: s.slot })));
  return (
    <div className="flex min-w-0 flex-1 items-center gap-1" role="group" aria-label="Shown runs">
      {chips.map(({ run, slot }) => (
        <span
          key={run.id}
          className={`flex h-7 min-w-0 items-center border ${run.id === current ? "border-base-content" : "border-base-300"}`}
          data-testid="chip"
          data-run={run.id}
          data-state={run.state}
        >
          <button
            type="button"
            className="flex h-full min-w-0 items-center gap-1.5 px-2"
            onClick={() => makeCurrent(run.id)}
            aria-pressed={run.id === current}
            title={`Run ${run.number}: ${run.name}, ${stateWords(run)}${run.reason ? `. ${run.reason}` : ""}`}
          >
            <span className="inline-block size-2.5 shrink-0 rounded-full" style={{ background: runColour(slot) }} aria-hidden="true" />
            <span className="truncate">{run.name}</span>
            <span className={run.state === "failed" ? "text-error" : "muted"}>{run.state === "running" ? `${Math.round(run.progress * 100)} %` : sign(run.state)}</span>
          </button>
          <button type="button" className="muted h-full px-1 hover:text-base-content" onClick={() => hide(run.id)} aria-label={`Hide run ${run.name}`} title="Hide this run; it is kept">
            <X size={12} />
          </button>
        </span>
      ))}
      <RunMenu runs={runs} />
    </div>
  );
}

function RunMenu({ runs }: { runs: RunView[] }) {
  const [open, setOpen] = useState(false);
  const { shown, show, hide } = useView();
  if (runs.length === 0) return null;
  return (
    <div className="relative shrink-0" onKeyDown={(e) => e.key === "Escape" && setOpen(false)}>
      <button type="button" className="btn btn-ghost btn-sm px-2" onClick={() => setOpen(!open)} aria-expanded={open} aria-label={`All runs (${runs.length})`} title="All runs" data-testid="run-menu">
        <List size={15} /> {runs.length}
      </button>
      {open && (
        <>
          <button type="button" className="fixed inset-0 z-20 cursor-default" onClick={() => setOpen(false)} aria-label="Close the list of runs" tabIndex={-1} />
          <ul className={`absolute ${shown.length > 2 ? "right-0" : "left-0"} z-30 max-h-80 w-96 overflow-y-auto border border-base-300 bg-base-100 py-1 shadow-lg`} data-testid="run-list">
            {runs.map((run) => {
              const on = shown.some((s) => s.run === run.id);
              return (
                <li key={run.id} className="flex items-center gap-2 px-2 py-1 hover:bg-base-200">
                  <button type="button" className="flex min-w-0 flex-1 items-center gap-2 text-left" onClick={() => (on ? hide(run.id) : show(run.id))} aria-pressed={on}>
                    <span className="w-4 shrink-0">{on && <Check size={13} />}</span>
                    <span className="muted w-7 shrink-0 text-right">{run.number}</span>
                    <span className="min-w-0 flex-1 truncate" title={run.name}>
                      {run.name}
                    </span>
                    <span className={run.state === "failed" ? "text-error" : "muted"}>{stateWords(run)}</span>
                    <span className="muted w-16 shrink-0 text-right">{ago(run.created)}</span>
                  </button>
                  <RunActions run={run} />
                </li>
              );
            })}
          </ul>
        </>
      )}
    </div>
  );
}

function RunActions({ run }: { run: RunView }) {
  const cache = useQueryClient();
  const hide = useView((s) => s.hide);
  const refresh = () => void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
  const stop = useMutation({
    mutationFn: () => ask(client.POST("/api/runs/{run}/stop", { params: { path: { run: run.id } } })),
    onSettled: refresh,
  });
  const remove = useMutation({
    mutationFn: () => ask(client.DELETE("/api/runs/{run}", { params: { path: { run: run.id } } })),
    onSuccess: () => hide(run.id),
    onSettled: refresh,
  });
  const going = ["queued", "running", "stopping"].includes(run.state);
  if (going) {
    return (
      <button type="button" className="btn btn-ghost btn-xs px-1" onClick={() => stop.mutate()} aria-label={`Stop run ${run.name}`} title="Stop; what was computed is kept">
        <Square size={12} />
      </button>
    );
  }
  return (
    <>
      <a className="btn btn-ghost btn-xs px-1" href={`/api/runs/${run.id}/table.csv`} download title="Download all variables as CSV" aria-label={`Download run ${run.name} as CSV`}>
        CSV
      </a>
      <button type="button" className="btn btn-ghost btn-xs px-1" onClick={() => remove.mutate()} aria-label={`Delete run ${run.name}`} title="Delete this run">
        <X size={12} />
      </button>
    </>
  );
}

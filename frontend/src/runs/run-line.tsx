import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ArrowUpRight, Check, Pin, Square, X } from "lucide-react";
import { Link } from "react-router";

import { ask, client, type ModelView, type RunView } from "../api/client";
import { keys } from "../api/queries";
import { ago } from "../ui/format";
import { ColourDot } from "../ui/colour-dot";
import { stateWords } from "../ui/run-words";
import { claimCount, colourOf, outdated } from "../state/scenarios";
import { useShownRuns } from "../state/shown-runs";
import { useRunChange } from "./use-run-change";

/** A run as a row of the list: shown or hidden with a click, pinned, stopped, deleted. */
export function RunLine({
  run,
  view,
  open,
  onOpen,
  onGone,
}: {
  run: RunView;
  view: ModelView;
  open: boolean;
  onOpen: () => void;
  onGone: () => void;
}) {
  const shown = useShownRuns((s) => s.shown);
  const { show, hide } = useShownRuns.getState();
  const cache = useQueryClient();
  const on = shown.some((s) => s.run === run.id);
  const change = useRunChange(run);
  const refresh = () =>
    void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
  const stop = useMutation({
    mutationFn: () =>
      ask(client.POST("/api/runs/{run}/stop", { params: { path: { run: run.id } } })),
    onSettled: refresh,
  });
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
  if (run.model !== view.model) {
    return (
      <>
        <button
          type="button"
          className="flex min-w-0 flex-1 items-center gap-2 text-left"
          onClick={() => (on ? hide(run.id) : show(run.id, false))}
          aria-pressed={on}
          title={`${on ? "Take it off" : "Compare with it: draw it on"} the strips of ${view.model}`}
          data-testid={`compare-${run.model}-${run.number}`}
        >
          <span className="w-4 shrink-0">{on && <Check size={13} />}</span>
          <span className="muted w-7 shrink-0 text-right">{run.number}</span>
          <ColourDot slot={colourOf(view, run)} />
          <span className="shrink-0">{run.model.split(".").at(-1)}</span>
          <span className="min-w-0 flex-1 truncate">{run.name}</span>
          <span className={run.state === "failed" ? "text-error" : "muted"}>{stateWords(run)}</span>
          <span className="muted w-16 shrink-0 text-right">{ago(run.created)}</span>
        </button>
        <Link
          to={`/projects/${run.project}/models/${encodeURIComponent(run.model)}`}
          className="btn btn-ghost btn-xs px-1"
          title={`Open ${run.model}`}
          aria-label={`Open ${run.model}`}
        >
          <ArrowUpRight size={12} />
        </Link>
      </>
    );
  }
  return (
    <>
      <button
        type="button"
        className="flex min-w-0 flex-1 items-center gap-2 text-left"
        onClick={() => (on ? hide(run.id) : show(run.id))}
        aria-pressed={on}
        aria-label={`${on ? "Hide" : "Show"} run ${run.number}, ${run.name}`}
      >
        <span className="w-4 shrink-0">{on && <Check size={13} />}</span>
        <span className="muted w-7 shrink-0 text-right">{run.number}</span>
        <ColourDot slot={colourOf(view, run)} />
        <span className="min-w-0 flex-1 truncate" title={run.name}>
          {run.name}
          {run.name !== run.scenario && <span className="muted"> · {run.scenario}</span>}
        </span>
        {asked > 0 && run.state === "done" && (
          <span className={failed ? "text-error" : "muted"}>{`${held}/${asked}`}</span>
        )}
        <span className={run.state === "failed" ? "text-error" : "muted"}>
          {outdated(view, run) && run.state === "done" ? "earlier model" : stateWords(run)}
        </span>
        <span className="muted w-16 shrink-0 text-right">{ago(run.created)}</span>
      </button>
      <button
        type="button"
        className={`btn btn-ghost btn-xs px-1 ${run.pinned ? "" : "opacity-50"}`}
        onClick={() => change.mutate({ pinned: !run.pinned })}
        aria-pressed={run.pinned}
        aria-label={`Pin run ${run.name}`}
        title="Pinned runs come first"
        data-testid={`pin-${run.number}`}
      >
        <Pin size={12} />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1"
        onClick={onOpen}
        aria-expanded={open}
        aria-label={`More about run ${run.name}`}
        title="Name, note, what differs"
        data-testid={`about-run-${run.number}`}
      >
        …
      </button>
      {going ? (
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={() => stop.mutate()}
          aria-label={`Stop run ${run.name}`}
          title="Stop; what was computed is kept"
        >
          <Square size={12} />
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={() => remove.mutate()}
          aria-label={`Delete run ${run.name}`}
          title="Delete this run"
        >
          <X size={12} />
        </button>
      )}
    </>
  );
}

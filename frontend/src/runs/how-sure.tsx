import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Target } from "lucide-react";

import { ask, asRefusal, client, type RunView } from "../api/client";
import { FINISHED, keys } from "../api/queries";

const WORDS =
  "Computes this run once more, at a hundredth of its tolerance or half its fixed step; the digits that stay are certain";

/** One click that repeats a run more exactly, and says what came of it. */
export function HowSure({ run }: { run: RunView }) {
  const cache = useQueryClient();
  const order = useMutation({
    mutationFn: () =>
      ask(client.POST("/api/runs/{run}/more-exactly", { params: { path: { run: run.id } } })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) });
    },
  });
  const ordered = order.data;
  const exact = useQuery({
    queryKey: keys.run(ordered?.id ?? 0),
    queryFn: () => ask(client.GET("/api/runs/{run}", { params: { path: { run: ordered!.id } } })),
    enabled: ordered !== undefined,
  });
  if (run.repeats !== null || !FINISHED.includes(run.state) || run.points === 0) return null;
  if (run.checked_by !== null)
    return (
      <span
        className="muted whitespace-nowrap"
        title="Pale digits change when the run is computed more exactly"
        data-testid="sure"
      >
        ✓ computed more exactly
      </span>
    );
  const state = exact.data?.state;
  const failed = state === "failed" || state === "stopped";
  const waiting = order.isPending || (ordered !== undefined && !failed);
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1.5 font-normal whitespace-nowrap"
        disabled={waiting}
        onClick={() => order.mutate()}
        title={WORDS}
        data-testid="how-sure"
      >
        <Target size={12} /> {waiting ? "Computing more exactly…" : "How sure?"}
      </button>
      {(order.error !== null || failed) && (
        <span className="text-[12px] text-error" role="alert">
          ✕{" "}
          {order.error ? asRefusal(order.error).sentence : exact.data?.reason || "It was stopped."}
        </span>
      )}
    </>
  );
}
